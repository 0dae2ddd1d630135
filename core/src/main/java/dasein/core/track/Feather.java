package dasein.core.track;

import java.awt.geom.FlatteningPathIterator;
import java.awt.geom.Path2D;
import java.awt.geom.PathIterator;
import java.util.List;

/**
 * Fades a mask outward by a width that changes along its outline: from each place of the outline it falls evenly to
 * nothing over the width there, and where several places reach, the most counts.
 */
final class Feather {
    /** A step along the outline, in pixels and as a part of the width. */
    private static final double STEP = 0.5, PART = 0.1;

    private static final double FLAT = 0.1;

    private final float[] mask;
    private final int width, height;

    /** @param mask is written to */
    Feather(float[] mask, int width, int height) {
        this.mask = mask;
        this.width = width;
        this.height = height;
    }

    /**
     * @param points x and y in turn, in pixels of the mask, which the outline passes in order
     * @param widths of the points, in pixels of the plate; {@code scale}: pixels of the mask for one of those
     */
    void along(Path2D outline, double[] points, List<Double> widths, double scale) {
        int n = widths.size(), piece = -1;
        double[] v = new double[6];
        double x = 0, y = 0;
        // A piece of the outline lies between two points; flattened, it is several straight ones.
        for (PathIterator it = outline.getPathIterator(null); !it.isDone(); it.next(), piece++) {
            int kind = it.currentSegment(v);
            if (kind == PathIterator.SEG_MOVETO) {
                x = v[0];
                y = v[1];
                continue;
            }
            if (kind == PathIterator.SEG_CLOSE && piece >= n) break;
            Path2D one = new Path2D.Double();
            one.moveTo(x, y);
            if (kind == PathIterator.SEG_CUBICTO) one.curveTo(v[0], v[1], v[2], v[3], v[4], v[5]);
            else if (kind == PathIterator.SEG_CLOSE) one.lineTo(points[0], points[1]);
            else one.lineTo(v[0], v[1]);
            double from = widths.get(piece % n) * scale, to = widths.get((piece + 1) % n) * scale;
            double[] end = piece(one, from, to);
            x = end[0];
            y = end[1];
        }
    }

    private double[] piece(Path2D one, double from, double to) {
        double length = 0, done = 0;
        double[] v = new double[6], last = new double[2];
        for (int round = 0; round < 2; round++) {
            for (PathIterator it = new FlatteningPathIterator(one.getPathIterator(null), FLAT);
                    !it.isDone();
                    it.next()) {
                if (it.currentSegment(v) == PathIterator.SEG_LINETO) {
                    double l = Math.hypot(v[0] - last[0], v[1] - last[1]);
                    if (round == 0) length += l;
                    else {
                        straight(last, v, from + done / length * (to - from), from + (done + l) / length * (to - from));
                        done += l;
                    }
                }
                last[0] = v[0];
                last[1] = v[1];
            }
            if (!(length > 0)) break;
        }
        return last;
    }

    private void straight(double[] a, double[] b, double from, double to) {
        double l = Math.hypot(b[0] - a[0], b[1] - a[1]);
        for (double s = 0; s <= l; ) {
            double t = l > 0 ? s / l : 0, w = from + t * (to - from);
            stamp(a[0] + t * (b[0] - a[0]), a[1] + t * (b[1] - a[1]), w);
            s += Math.max(STEP, PART * w);
        }
    }

    private void stamp(double cx, double cy, double w) {
        if (!(w > 0)) return;
        int top = Math.max(0, (int) (cy - w)), bottom = Math.min(height - 1, (int) (cy + w));
        for (int y = top; y <= bottom; y++) {
            double dy = y + 0.5 - cy, across = Math.sqrt(Math.max(0, w * w - dy * dy));
            int left = Math.max(0, (int) (cx - across)), right = Math.min(width - 1, (int) (cx + across));
            for (int x = left; x <= right; x++) {
                float v = (float) (1 - Math.hypot(x + 0.5 - cx, dy) / w);
                if (v > mask[y * width + x]) mask[y * width + x] = v;
            }
        }
    }
}
