package dasein.core.track;

import java.util.List;
import java.util.Map;

/**
 * Drawn masks as pictures, blurred by their own motion as what they cover is.
 *
 * @param masks those that may be asked for; @param ways of those that are carried, see {@link PlaneTracker}
 * @param shutter part of a frame's time for which it is open, about the frame
 */
public record MaskShapes(List<DrawnMask> masks, Map<Integer, ? extends Map<Integer, double[]>> ways, double shutter) {
    public static final MaskShapes NONE = new MaskShapes(List.of(), Map.of(), 0);
    /** A moment of the blur for so many pixels of motion. */
    private static final double STEP = 1;

    private static final int MOST = 12;

    /** Of that number, or null when it is gone. */
    public DrawnMask of(int id) {
        return masks.stream().filter(m -> m.id() == id).findFirst().orElse(null);
    }

    /**
     * @param scale pixels of the picture for one of the plate
     * @return how much each pixel is masked, [0, 1], row by row; null where the mask is gone, or was lost by its
     *     carrier in this frame
     */
    public float[] at(int id, int frame, int width, int height, double scale) {
        DrawnMask m = of(id);
        if (m == null) return null;
        Map<Integer, double[]> way = ways.get(id);
        double[] middle = m.at((double) frame, way);
        if (middle == null) return null;
        double[] open = m.at(frame - shutter / 2, way), close = m.at(frame + shutter / 2, way);
        double moved = 0;
        if (open != null && close != null)
            for (int i = 0; i < open.length; i += 2)
                moved = Math.max(moved, scale * Math.hypot(close[i] - open[i], close[i + 1] - open[i + 1]));
        int n = (int) Math.min(MOST, Math.ceil(moved / STEP));
        if (n < 2) return m.raster(middle, width, height, scale);
        float[] sum = new float[width * height];
        for (int k = 0; k < n; k++) {
            double[] p = m.at(frame + shutter * ((k + 0.5) / n - 0.5), way);
            float[] one = m.raster(p == null ? middle : p, width, height, scale);
            for (int i = 0; i < sum.length; i++) sum[i] += one[i] / n;
        }
        return sum;
    }

    /** Beyond these it covers nothing: left, top, right, bottom, pixels of the plate; null where it is not known. */
    public double[] bounds(int id, int frame) {
        DrawnMask m = of(id);
        if (m == null) return null;
        Map<Integer, double[]> way = ways.get(id);
        double[] box = {Double.MAX_VALUE, Double.MAX_VALUE, -Double.MAX_VALUE, -Double.MAX_VALUE};
        double wide = m.feathers().stream().mapToDouble(f -> f).max().orElse(2 * m.feather());
        for (double t : new double[] {frame - shutter / 2, frame, frame + shutter / 2}) {
            double[] p = m.at(t, way);
            if (p == null) continue;
            var b = m.outline(p).getBounds2D();
            box[0] = Math.min(box[0], b.getMinX() - wide - 1);
            box[1] = Math.min(box[1], b.getMinY() - wide - 1);
            box[2] = Math.max(box[2], b.getMaxX() + wide + 1);
            box[3] = Math.max(box[3], b.getMaxY() + wide + 1);
        }
        return box[0] < box[2] ? box : null;
    }
}
