package dasein.core.comp.match;

import dasein.core.NoSolution;
import dasein.core.math.Medians;
import dasein.core.math.PlaneSimilarity;
import dasein.core.track.Track;
import java.util.ArrayList;
import java.util.List;

/**
 * The unrest of the hand that held a camera, from marks of its plate: how the picture shifts and turns from frame to
 * frame, in the middle of what the marks say, less the way that it goes anyhow, which is what remains when a second of
 * it is averaged.
 *
 * @param across, down by frame, in parts of the picture's width and height; @param turnDeg clockwise
 */
public record HandShake(double[] across, double[] down, double[] turnDeg) {
    private static final int LEAST = 8, ROUNDS = 6;
    private static final double LEAST_PX = 0.02;

    /**
     * @param second frames that are averaged
     * @throws NoSolution when too few marks are seen in neighbouring frames
     */
    public static HandShake of(List<Track> tracks, int first, int last, int width, int height, double second) {
        int n = last - first + 1;
        double[] x = new double[n], y = new double[n], a = new double[n];
        for (int f = 1; f < n; f++) {
            int frame = first + f;
            List<double[]> pairs = new ArrayList<>();
            for (Track t : tracks) {
                int i = t.at(frame - 1), j = t.at(frame);
                if (i >= 0 && j >= 0)
                    pairs.add(new double[] {
                        t.x()[i] - width / 2.0, t.y()[i] - height / 2.0, t.x()[j] - width / 2.0, t.y()[j] - height / 2.0
                    });
            }
            if (pairs.size() < LEAST)
                throw new NoSolution("too few marks are seen from frame " + (frame - 1) + " to " + frame
                        + " to see how the hand moved");
            double[] step = step(pairs);
            x[f] = x[f - 1] + step[0];
            y[f] = y[f - 1] + step[1];
            a[f] = a[f - 1] + step[2];
        }
        double[] across = unrest(x, second), down = unrest(y, second), turned = unrest(a, second);
        for (int f = 0; f < n; f++) {
            // The picture that shifts to the right is looked at further left.
            across[f] /= -width;
            down[f] /= -height;
            turned[f] = Math.toDegrees(turned[f]);
        }
        return new HandShake(across, down, turned);
    }

    /**
     * Shift of the picture's middle, and turn: of the similarity that most of the marks follow, by least squares
     * weighted anew a few times (Huber 1981).
     *
     * @param pairs x, y before and after, from the picture's middle
     */
    private static double[] step(List<double[]> pairs) {
        int n = pairs.size();
        double[] w = new double[n], left = new double[n];
        java.util.Arrays.fill(w, 1);
        PlaneSimilarity s = null;
        for (int round = 0; round < ROUNDS; round++) {
            s = PlaneSimilarity.fit(pairs, w);
            for (int i = 0; i < n; i++) {
                double[] p = pairs.get(i), q = s.at(p[0], p[1]);
                left[i] = Math.hypot(q[0] - p[2], q[1] - p[3]);
            }
            double usual = Math.max(LEAST_PX, Medians.of(left));
            for (int i = 0; i < n; i++) w[i] = 1 / (1 + Math.pow(left[i] / usual, 4));
        }
        return new double[] {s.b(), s.bi(), s.turn()};
    }

    /** Less its mean over a second about each frame; at the ends as much of one as there is, evenly to both sides. */
    private static double[] unrest(double[] v, double second) {
        int half = (int) Math.max(1, Math.round(second / 2));
        double[] out = new double[v.length];
        for (int f = 0; f < v.length; f++) {
            int reach = Math.min(half, Math.min(f, v.length - 1 - f));
            double sum = 0;
            for (int k = f - reach; k <= f + reach; k++) sum += v[k];
            out[f] = v[f] - sum / (2 * reach + 1);
        }
        return out;
    }
}
