package dasein.core.solve;

import java.util.ArrayList;
import java.util.List;
import java.util.Random;

/**
 * Whether the camera stood while most of what it saw moved: leaves, water, people. Marks that keep their places, even a
 * minority, say that it did not turn; a camera that went on without turning would move all others along lines through
 * one point of the picture (the epipole: Hartley and Zisserman 2004, section 9.3.1). Where they do no such thing, they
 * move by themselves.
 *
 * @param fixedPart of the marks, those that keep their places over the median pair of frames
 * @param alongPart of the others, those that move along such lines
 */
record Standstill(double fixedPart, double alongPart) {
    /** A mark that moves less, and one that moves more than this between two frames, pixels. */
    private static final double FIXED_PX = 1, MOVES_PX = 2.5;
    /** Distance from the line up to which a mark moves along it, pixels. */
    private static final double ALONG_PX = 1;

    private static final double LEAST_FIXED = 0.1, LEAST_ALONG = 0.6;
    private static final int FEWEST_FIXED = 6, FEWEST_MOVING = 8, PAIRS = 7, SAMPLES = 120;

    boolean stood() {
        return fixedPart >= LEAST_FIXED && alongPart < LEAST_ALONG;
    }

    static Standstill of(Observations obs) {
        for (int gap = obs.frames / 2; gap >= Math.min(6, obs.frames - 1); gap /= 2) {
            List<double[]> looked = new ArrayList<>();
            Random r = new Random(5);
            for (int k = 0; k < PAIRS; k++) {
                int a = k * (obs.frames - 1 - gap) / (PAIRS - 1);
                double[] one = pair(obs, a, a + gap, r);
                if (one != null) looked.add(one);
            }
            if (2 * looked.size() > PAIRS)
                return new Standstill(
                        Homography.median(looked.stream().mapToDouble(p -> p[0]).toArray()),
                        Homography.median(looked.stream().mapToDouble(p -> p[1]).toArray()));
        }
        return new Standstill(0, 1);
    }

    /** Parts of marks that are fixed, and of the others that move along; null where too few are seen. */
    private static double[] pair(Observations obs, int a, int b, Random r) {
        int[] common = obs.common(a, b);
        List<double[]> moving = new ArrayList<>();
        int fixed = 0;
        for (int t : common) {
            int i = obs.at(t, a), j = obs.at(t, b);
            double dx = obs.x[t][j] - obs.x[t][i], dy = obs.y[t][j] - obs.y[t][i], d = Math.hypot(dx, dy);
            if (d < FIXED_PX) fixed++;
            else if (d > MOVES_PX) moving.add(new double[] {obs.x[t][i], obs.y[t][i], obs.x[t][j], obs.y[t][j]});
        }
        if (fixed < FEWEST_FIXED || moving.size() < FEWEST_MOVING)
            return common.length < FEWEST_FIXED + FEWEST_MOVING
                    ? null
                    : new double[] {(double) fixed / common.length, 1};
        double[][] lines = moving.stream().map(Standstill::line).toArray(double[][]::new);
        int most = 0;
        for (int k = 0; k < SAMPLES; k++) {
            int[] pick = TwoView.sample(lines.length, 2, r);
            double[] e = cross(lines[pick[0]], lines[pick[1]]);
            int along = (int) moving.stream().filter(m -> along(m, e)).count();
            most = Math.max(most, along);
        }
        return new double[] {(double) fixed / common.length, (double) most / moving.size()};
    }

    /** The line on which a mark moved: homogeneous, through both of its places. */
    private static double[] line(double[] m) {
        return cross(new double[] {m[0], m[1], 1}, new double[] {m[2], m[3], 1});
    }

    private static double[] cross(double[] a, double[] b) {
        return new double[] {a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]};
    }

    /** Whether a mark went along the line through its first place and the epipole. */
    private static boolean along(double[] m, double[] epipole) {
        double[] l = cross(new double[] {m[0], m[1], 1}, epipole);
        double n = Math.hypot(l[0], l[1]);
        return n > 1e-9 && Math.abs(l[0] * m[2] + l[1] * m[3] + l[2]) / n < ALONG_PX;
    }
}
