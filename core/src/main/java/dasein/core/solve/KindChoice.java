package dasein.core.solve;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Random;

/**
 * What the tracks say the camera did. For some pairs of frames the plane-to-plane map, which is all a turning camera
 * leaves, is held against the epipolar geometry of a moving one by the geometric robust information criterion (GRIC,
 * Torr 1998), a strong distortion taken out first.
 *
 * @param pairs pairs looked at; @param moving how many of them a moving camera explains better
 * @param parallaxPx what a camera that only turned would leave at the median mark of the median pair
 * @param travelPx how far the median mark travels
 * @param turnedPx what turning with one focal length leaves at the median mark of the median pair: over one plane any
 *     map from plane to plane leaves nothing, this one does
 * @param stand whether the camera stood while most of what it saw moved
 */
record KindChoice(int pairs, int moving, double parallaxPx, double travelPx, double turnedPx, Standstill stand) {
    private static final int LEAST_COMMON = 16, FEWEST = 8;
    /** Noise of a mark, pixels. */
    private static final double SIGMA = 0.5;
    /** Travel of a camera that stands still, and the parallax below which nobody can tell a moving one, pixels. */
    private static final double STILL = 0.6, LEAST_PARALLAX = 1.0;
    /** Radial distortions tried: a point at the corner moves outwards by this part. */
    private static final double[] BENT = {0, 0.03, 0.06, 0.1, 0.16, -0.04};

    boolean still() {
        return travelPx < STILL || stand.stood();
    }

    boolean moves() {
        return !still() && parallaxPx >= LEAST_PARALLAX && (pairs == 0 || 2 * moving > pairs);
    }

    /** @param kind as it was solved, where nobody said how */
    String reason(String kind) {
        if (!still() && !moves() && kind.equals("moving"))
            return String.format(
                    Locale.ROOT,
                    "The camera moved over one plane, or nearly: from frame to frame a plane's map leaves %.1f px at "
                            + "the median mark, turning with one focal length %.1f px.",
                    parallaxPx,
                    turnedPx);
        if (moves() && kind.equals("nodal"))
            return String.format(
                    Locale.ROOT,
                    "The camera turned in place, or nearly: the marks show %.1f px of what may be parallax, but with "
                            + "its lens a camera that only turned explains them as well.",
                    parallaxPx);
        return reason();
    }

    String reason() {
        if (stand.stood())
            return String.format(
                    Locale.ROOT,
                    "%.0f %% of the marks keep their places, and the others move each in its own way: the camera "
                            + "stands still. Match the frame's perspective instead, or mask what moves by itself.",
                    100 * stand.fixedPart());
        if (still())
            return String.format(
                    Locale.ROOT,
                    "The median mark travels only %.1f px: the camera stands still. Match the frame's "
                            + "perspective instead, or give marks that move.",
                    travelPx);
        if (!moves() && 2 * moving > pairs)
            return String.format(
                    Locale.ROOT,
                    "The camera turned in place: a camera that only turned would leave %.1f px at the median mark, "
                            + "which is too little to tell one that moved.",
                    parallaxPx);
        String figures = String.format(
                Locale.ROOT,
                "a camera that only turned would leave %.1f px at the median mark, and %d of %d pairs of "
                        + "frames are explained better by one that moved",
                parallaxPx,
                moving,
                pairs);
        return (moves() ? "The camera moved: " : "The camera turned in place: ") + figures + ".";
    }

    static KindChoice of(Observations obs, int width, int height) {
        double[] travel = new double[obs.tracks()];
        for (int t = 0; t < travel.length; t++) {
            int e = obs.x[t].length - 1;
            for (int i = 0; i <= e; i += Math.max(1, e / 8))
                travel[t] = Math.max(travel[t], Math.hypot(obs.x[t][i] - obs.x[t][0], obs.y[t][i] - obs.y[t][0]));
            travel[t] = Math.max(travel[t], Math.hypot(obs.x[t][e] - obs.x[t][0], obs.y[t][e] - obs.y[t][0]));
        }
        List<double[][][]> pairs = pairs(obs);
        if (pairs.isEmpty())
            return new KindChoice(
                    0, 0, Double.POSITIVE_INFINITY, Homography.median(travel), Double.NaN, Standstill.of(obs));
        double bent = bent(pairs, width, height);
        int moving = 0;
        List<Double> parallax = new ArrayList<>();
        Random rnd = new Random(3);
        for (double[][][] p : pairs) {
            double[][] a = straight(p[0], bent, width, height), b = straight(p[1], bent, width, height);
            double[] plane = Homography.left(a, b);
            parallax.add(Homography.median(plane));
            double[][] na = scaled(a, width, height), nb = scaled(b, width, height);
            double[] f = Fundamental.ransac(na, nb, 2 * SIGMA / width, rnd);
            if (f == null) continue;
            double[] lines = new double[a.length];
            for (int i = 0; i < lines.length; i++) lines[i] = width * Math.sqrt(TwoView.sampson(f, na[i], nb[i]));
            if (gric(lines, 3, 7) < gric(plane, 2, 8)) moving++;
        }
        return new KindChoice(
                pairs.size(),
                moving,
                Homography.median(parallax.stream().mapToDouble(d -> d).toArray()),
                Homography.median(travel),
                Turning.best(
                                pairs.stream()
                                        .map(p -> new double[][][] {
                                            straight(p[0], bent, width, height), straight(p[1], bent, width, height)
                                        })
                                        .toList(),
                                0,
                                width,
                                height)
                        .leftPx(),
                Standstill.of(obs));
    }

    /**
     * The distortion with which turning explains most, if it explains clearly more than a straight lens: coarsely, then
     * finer.
     */
    private static double bent(List<double[][][]> pairs, int width, int height) {
        double straight = left(pairs, 0, width, height), best = straight, bent = 0;
        for (double k : BENT) {
            double sum = left(pairs, k, width, height);
            if (sum < best) {
                best = sum;
                bent = k;
            }
        }
        if (best > 0.8 * straight) return 0;
        for (double step = 0.015; step > 0.001; step *= 0.5) {
            for (double k : new double[] {bent - step, bent + step}) {
                double sum = left(pairs, k, width, height);
                if (sum < best) {
                    best = sum;
                    bent = k;
                }
            }
        }
        return bent;
    }

    private static double left(List<double[][][]> pairs, double k, int width, int height) {
        return pairs.parallelStream()
                .mapToDouble(p -> Math.min(
                        20, Homography.parallax(straight(p[0], k, width, height), straight(p[1], k, width, height))))
                .sum();
    }

    /**
     * Torr's criterion: robust residuals, then the price of the model's dimension and parameters; r = 4 coordinates a
     * pair.
     */
    private static double gric(double[] left, int dimension, int parameters) {
        double n = left.length, r = 4, sum = 0;
        for (double e : left) sum += Math.min(e * e / (SIGMA * SIGMA), 2 * (r - dimension));
        return sum + Math.log(r) * dimension * n + Math.log(r * n) * parameters;
    }

    /** Pairs of frames as far apart as enough marks are seen in both, over the whole shot. */
    private static List<double[][][]> pairs(Observations obs) {
        List<double[][][]> out = new ArrayList<>();
        int n = obs.frames, step = Math.max(1, n / 8);
        for (int a = 0; a + 1 < n; a += step) {
            int found = 0;
            for (int b = n - 1; b > a && found < 2; b -= Math.max(1, (b - a) / 5)) {
                int[] common = obs.common(a, b);
                if (common.length < Math.min(LEAST_COMMON, Math.max(FEWEST, obs.tracks() * 3 / 4))) continue;
                found++;
                out.add(new double[][][] {place(obs, common, a), place(obs, common, b)});
            }
        }
        return out;
    }

    private static double[][] place(Observations obs, int[] tracks, int f) {
        return Arrays.stream(tracks)
                .mapToObj(t -> new double[] {obs.x[t][obs.at(t, f)], obs.y[t][obs.at(t, f)]})
                .toArray(double[][]::new);
    }

    private static double[][] straight(double[][] p, double k, int width, int height) {
        double d2 = 0.25 * ((double) width * width + (double) height * height);
        return Arrays.stream(p)
                .map(q -> {
                    double x = q[0] - width / 2.0, y = q[1] - height / 2.0, s = 1 + k * (x * x + y * y) / d2;
                    return new double[] {width / 2.0 + s * x, height / 2.0 + s * y};
                })
                .toArray(double[][]::new);
    }

    private static double[][] scaled(double[][] p, int width, int height) {
        return Arrays.stream(p)
                .map(q -> new double[] {(q[0] - width / 2.0) / width, (q[1] - height / 2.0) / width})
                .toArray(double[][]::new);
    }
}
