package dasein.core.track;

import java.util.TreeMap;

/**
 * What one or two marks say about how a picture moves: 3x3 maps from one frame's pixels to another's, row-major, as of
 * {@link PlaneTracker}.
 */
public final class MarkMotion {
    /** Two marks nearer than this say nothing about turn and size, pixels. */
    private static final double NEAREST = 2;

    private MarkMotion() {}

    /** A shift, in every frame in which the mark is seen; empty when it is not seen in {@code from}. */
    public static TreeMap<Integer, double[]> one(Track t, int from) {
        TreeMap<Integer, double[]> out = new TreeMap<>();
        int r = t.at(from);
        if (r >= 0)
            for (int i = 0; i < t.length(); i++)
                out.put(t.frames()[i], new double[] {1, 0, t.x()[i] - t.x()[r], 0, 1, t.y()[i] - t.y()[r], 0, 0, 1});
        return out;
    }

    /** Shift, turn and size: the one similarity that takes both marks along, in every frame in which both are seen. */
    public static TreeMap<Integer, double[]> two(Track t, Track u, int from) {
        TreeMap<Integer, double[]> out = new TreeMap<>();
        int rt = t.at(from), ru = u.at(from);
        if (rt < 0 || ru < 0) return out;
        double px = t.x()[rt], py = t.y()[rt], vx = u.x()[ru] - px, vy = u.y()[ru] - py, vv = vx * vx + vy * vy;
        if (vv < NEAREST * NEAREST) return out;
        for (int i = 0; i < t.length(); i++) {
            int k = u.at(t.frames()[i]);
            if (k < 0) continue;
            double wx = u.x()[k] - t.x()[i], wy = u.y()[k] - t.y()[i];
            // As complex numbers: w / v turns and sizes.
            double a = (wx * vx + wy * vy) / vv, b = (wy * vx - wx * vy) / vv;
            out.put(
                    t.frames()[i],
                    new double[] {a, -b, t.x()[i] - a * px + b * py, b, a, t.y()[i] - b * px - a * py, 0, 0, 1});
        }
        return out;
    }
}
