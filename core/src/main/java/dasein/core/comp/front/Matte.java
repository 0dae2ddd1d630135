package dasein.core.comp.front;

import dasein.core.image.CodeTable;
import dasein.core.image.Encoding;
import dasein.core.image.Image;
import dasein.core.track.MaskShapes;
import java.util.ArrayList;
import java.util.List;
import java.util.function.Supplier;

/**
 * How much of each pixel of the plate stands in front.
 *
 * @param part [0, 1], row by row, of the plate's size; null where nothing does
 * @param lost sentences on what could not be found in this frame
 */
public record Matte(float[] part, List<String> lost) {
    public static final Matte NONE = new Matte(null, List.of());
    /** Brightness counts less than colour where colours are told apart. */
    private static final double LIGHT = 0.3;

    /** What a part of the picture has of it. @param width of the whole picture */
    public Matte part(int width, int left, int top, int w, int h) {
        if (part == null) return this;
        float[] out = new float[w * h];
        for (int y = 0; y < h; y++) System.arraycopy(part, (top + y) * width + left, out, y * w, w);
        return new Matte(out, lost);
    }

    /**
     * @param plate at the size of the passes, scene-linear; @param clean the same without what moves through it, or
     *     null where it is not known; asked for only when a key needs it
     * @param scale pixels of this picture for one of the plate
     */
    public static Matte of(
            List<Front> fronts,
            Image plate,
            Encoding encoding,
            Supplier<Image> clean,
            MaskShapes shapes,
            int frame,
            double scale) {
        List<String> lost = new ArrayList<>();
        float[] all = null;
        for (Front f : fronts) {
            if (!f.on()) continue;
            float[] one = one(f, plate, encoding, clean, shapes, frame, scale, lost);
            if (one == null) continue;
            if (all == null) all = one;
            else for (int i = 0; i < all.length; i++) all[i] = 1 - (1 - all[i]) * (1 - one[i]);
        }
        return new Matte(all, List.copyOf(lost));
    }

    private static float[] one(
            Front f,
            Image plate,
            Encoding encoding,
            Supplier<Image> clean,
            MaskShapes shapes,
            int frame,
            double scale,
            List<String> lost) {
        int w = plate.width, h = plate.height;
        float[] within = mask(f, f.within(), shapes, frame, w, h, scale, lost),
                hold = mask(f, f.hold(), shapes, frame, w, h, scale, lost),
                away = mask(f, f.away(), shapes, frame, w, h, scale, lost);
        boolean shape = f.key() == Front.Key.SHAPE;
        Image beside = f.key() == Front.Key.DIFFERENCE ? clean.get() : null;
        if (f.key() == Front.Key.DIFFERENCE && beside == null) {
            lost.add(f.name() + " needs a clean plate to differ from: make one under Plate repair");
            return null;
        }
        // A mask that is lost, or none where all of it is meant, finds nothing.
        boolean none = f.within() != 0 && within == null || shape && f.within() == 0;
        float[] out = new float[w * h];
        CodeTable codes = CodeTable.of(encoding);
        double[] c = {f.colour().get(0), f.colour().get(1), f.colour().get(2)};
        Image.bands(h, (from, to) -> {
            double[] p = new double[3], q = new double[3];
            for (int i = from * w; i < to * w; i++) {
                double v = 0;
                if (!none && (within == null || within[i] > 0)) {
                    double k = 1;
                    if (!shape) {
                        for (int n = 0; n < 3; n++) p[n] = codes.encode(plate.planes[n][i]);
                        if (beside != null) for (int n = 0; n < 3; n++) q[n] = codes.encode(beside.planes[n][i]);
                        k = found(f, p, beside == null ? c : q);
                        if (f.turned()) k = 1 - k;
                    }
                    v = within == null ? k : k * within[i];
                }
                if (hold != null) v = Math.max(v, hold[i]);
                if (away != null) v *= 1 - away[i];
                out[i] = (float) v;
            }
        });
        return out;
    }

    /** @param p code values; @param q those that it is told apart from */
    static double found(Front f, double[] p, double[] q) {
        double v = f.key() == Front.Key.BRIGHT || f.key() == Front.Key.DARK ? luma(p) : apart(p, q),
                t = Math.max(0, Math.min(1, (v - f.low()) / (f.high() - f.low())));
        return f.key() == Front.Key.DARK ? 1 - t : t;
    }

    /** How far two colours lie apart: the differences of blue and red to luma, Rec. 709, and a part of that of luma. */
    static double apart(double[] p, double[] q) {
        double y = luma(p) - luma(q), b = p[2] - q[2] - y, r = p[0] - q[0] - y;
        return Math.sqrt(b * b + r * r + LIGHT * LIGHT * y * y);
    }

    private static double luma(double[] p) {
        return 0.2126 * p[0] + 0.7152 * p[1] + 0.0722 * p[2];
    }

    private static float[] mask(
            Front f, int id, MaskShapes shapes, int frame, int w, int h, double scale, List<String> lost) {
        if (id == 0) return null;
        float[] m = shapes.at(id, frame, w, h, scale);
        if (m == null)
            lost.add(
                    shapes.of(id) == null
                            ? "the mask of " + f.name() + " is gone"
                            : shapes.of(id).name() + ", which " + f.name()
                                    + " uses, is lost by what carries it in frame " + frame);
        return m;
    }
}
