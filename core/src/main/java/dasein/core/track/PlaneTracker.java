package dasein.core.track;

import dasein.core.Progress;
import dasein.core.image.Pyramid;
import java.awt.geom.Path2D;
import java.util.Arrays;
import java.util.TreeMap;
import java.util.function.IntFunction;

/**
 * Follows a drawn piece of a flat surface: all its pixels at once, under one homography, held against its look in the
 * frame it was drawn in. What it gives carries masks, patches and cards.
 */
public final class PlaneTracker {
    private static final int LEVELS = 6;
    private static final int MOST_POINTS = 5000;
    private static final int FEWEST_POINTS = 60;
    private static final double LOST = 0.7, RENEWED = 0.9;

    private final IntFunction<float[]> grey;
    private final int width, height;

    public PlaneTracker(IntFunction<float[]> grey, int width, int height) {
        this.grey = grey;
        this.width = width;
        this.height = height;
    }

    /**
     * @param piece its first key is the piece as drawn
     * @param hidden pixels of a frame that do not belong to the surface (parts masked out), or null; may be null itself
     * @return for each frame in which it was held the map from the drawn frame's pixels to that frame's, 3x3 row-major
     */
    public TreeMap<Integer, double[]> follow(
            DrawnMask piece,
            HandMark.Motion motion,
            int first,
            int last,
            IntFunction<boolean[]> hidden,
            Progress progress) {
        int from = piece.keys().get(0).frame();
        TreeMap<Integer, double[]> out = new TreeMap<>();
        out.put(from, new double[] {1, 0, 0, 0, 1, 0, 0, 0, 1});
        int all = Math.max(1, last - first);
        run(piece, motion, from, first, hidden, out, progress.part(0, (double) Math.max(0, from - first) / all));
        run(piece, motion, from, last, hidden, out, progress.part((double) Math.max(0, from - first) / all, 1));
        return out;
    }

    private void run(
            DrawnMask piece,
            HandMark.Motion motion,
            int from,
            int until,
            IntFunction<boolean[]> hidden,
            TreeMap<Integer, double[]> out,
            Progress progress) {
        int step = Integer.signum(until - from);
        if (step == 0) return;
        Pyramid[] store = {new Pyramid(width, height, LEVELS), new Pyramid(width, height, LEVELS)};
        Pyramid before = store[0].fill(grey.apply(from));
        double[] polygon = piece.at(from), base = {1, 0, 0, 0, 1, 0, 0, 0, 1}, total = base;
        Piece a = piece(before, piece.outline(polygon), polygon, motion, hidden == null ? null : hidden.apply(from));
        double[] velocity = {0, 0};
        for (int f = from + step, n = 1; a != null; f += step, n++) {
            Pyramid now = store[n % 2].fill(grey.apply(f));
            double[] guess = PatchAligner.compose(
                    new double[] {1, 0, velocity[0], 0, 1, velocity[1], 0, 0, 1},
                    PatchAligner.compose(total, a.toOffset(base)));
            boolean[] covered = hidden == null ? null : hidden.apply(f);
            double[] got = a.aligner.align(now, guess, covered);
            if (got == null || a.aligner.correlation < LOST) {
                // It has changed too much since it was drawn: its look of a frame ago goes on.
                base = total;
                a = piece(
                        before,
                        piece.outline(mapped(total, polygon)),
                        mapped(total, polygon),
                        motion,
                        hidden == null ? null : hidden.apply(f - step));
                if (a == null) return;
                got = a.aligner.align(
                        now, new double[] {1, 0, a.cx + velocity[0], 0, 1, a.cy + velocity[1], 0, 0, 1}, covered);
                if (got == null || a.aligner.correlation < RENEWED) return;
            }
            double[] next = PatchAligner.compose(
                    got, PatchAligner.compose(new double[] {1, 0, -a.cx, 0, 1, -a.cy, 0, 0, 1}, base));
            for (int i = 0; i < 9; i++) next[i] /= got[8] * base[8];
            double[] p = mapped(total, centre(polygon)), q = mapped(next, centre(polygon));
            velocity = new double[] {q[0] - p[0], q[1] - p[1]};
            total = next;
            out.put(f, total);
            progress.at((double) n / Math.abs(until - from), "following " + piece.name() + ", frame " + f);
            if (f == until) return;
            before = now;
        }
    }

    /** The pixels of a piece in the frame they are taken from. */
    private record Piece(PatchAligner aligner, double cx, double cy) {
        /** From the aligner's offsets to the drawn frame, given the way from there to the aligner's own frame. */
        double[] toOffset(double[] base) {
            return PatchAligner.compose(PatchAligner.inverted(base), new double[] {1, 0, cx, 0, 1, cy, 0, 0, 1});
        }
    }

    private Piece piece(Pyramid p, Path2D outline, double[] polygon, HandMark.Motion motion, boolean[] hidden) {
        double[] c = centre(polygon);
        double cx = Math.rint(c[0]) + 0.5, cy = Math.rint(c[1]) + 0.5, r = 0;
        for (int i = 0; i < polygon.length; i += 2)
            r = Math.max(r, Math.max(Math.abs(polygon[i] - cx), Math.abs(polygon[i + 1] - cy)));
        int reach = (int) Math.ceil(r), step = 1;
        double[] points = null;
        for (boolean fits = false; !fits; step *= 2) {
            int n = 0, room = 2 * reach / step + 3;
            points = new double[2 * room * room];
            for (int v = -reach / step * step; v <= reach; v += step) {
                for (int u = -reach / step * step; u <= reach; u += step) {
                    double x = cx + u, y = cy + v;
                    // A little inside the picture, so that a step of the search does not leave it at once.
                    if (x < 6 || y < 6 || x > width - 6 || y > height - 6 || !outline.contains(x, y)) continue;
                    points[n++] = u;
                    points[n++] = v;
                }
            }
            points = Arrays.copyOf(points, n);
            fits = n <= 2 * MOST_POINTS;
        }
        if (points.length < 2 * FEWEST_POINTS) return null;
        PatchAligner a = new PatchAligner(p, cx, cy, points, motion, LEVELS, true, hidden);
        return a.usable() ? new Piece(a, cx, cy) : null;
    }

    private static double[] centre(double[] polygon) {
        double x = 0, y = 0;
        for (int i = 0; i < polygon.length; i += 2) {
            x += 2 * polygon[i] / polygon.length;
            y += 2 * polygon[i + 1] / polygon.length;
        }
        return new double[] {x, y};
    }

    /** Points, x and y in turn, through a 3x3 map. */
    public static double[] mapped(double[] h, double[] xy) {
        double[] out = new double[xy.length];
        for (int i = 0; i < xy.length; i += 2) {
            double d = h[6] * xy[i] + h[7] * xy[i + 1] + h[8];
            out[i] = (h[0] * xy[i] + h[1] * xy[i + 1] + h[2]) / d;
            out[i + 1] = (h[3] * xy[i] + h[4] * xy[i + 1] + h[5]) / d;
        }
        return out;
    }
}
