package dasein.core.solve;

import dasein.core.NoSolution;
import dasein.core.lens.Lens;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.List;
import java.util.Random;
import java.util.stream.IntStream;

/**
 * Where the solve starts: several pairs of frames with parallax, each with several focal lengths, are tried through the
 * five-point method and a small bundle over the pair and frames between; the one that explains most is kept.
 */
final class Seed {
    private static final int PAIRS = 3;
    /** Marks that two frames must share; with fewer tracks in all, nearly all of them. */
    private static final int LEAST_COMMON = 20, FEWEST = 7;
    /**
     * With less parallax than this (px, at the median mark of the best pair) the camera cannot be told from one that
     * only turned.
     */
    static final double LEAST_PARALLAX = 1.0;
    /** Focal lengths tried when it is unknown, in picture widths. */
    private static final double[] FAN = {0.6, 0.85, 1.2, 1.7, 2.5};

    private static final double TOLERANCE_PX = 1.5;
    /** Two views of a plane have two answers that fit alike: so many tries, of which the frames between choose. */
    private static final int TWINS = 4;

    final int[] frames;
    final Rigid[] cams;
    final int[] tracks;
    final double[][] points;
    final Lens lens;
    final double quality;
    double parallax;

    private Seed(int[] frames, Rigid[] cams, int[] tracks, double[][] points, Lens lens, double quality) {
        this.frames = frames;
        this.cams = cams;
        this.tracks = tracks;
        this.points = points;
        this.lens = lens;
        this.quality = quality;
    }

    private record Pair(int a, int b, double parallax, double score) {}

    static Seed find(Observations obs, int width, int height, SolveSettings settings) {
        List<Pair> pairs = pairs(obs, width, height);
        double most = pairs.stream().mapToDouble(Pair::parallax).max().orElse(0);
        boolean flat = most < LEAST_PARALLAX;
        if (flat) {
            // One plane leaves no parallax by any map from plane to plane; by turning alone it does.
            pairs = overOnePlane(pairs, obs, width, height, settings);
            most = pairs.stream().mapToDouble(Pair::parallax).max().orElse(0);
            if (most < LEAST_PARALLAX)
                throw new NoSolution(String.format(
                        "the marks show only %.1f px of parallax: the camera seems to have only turned, or not "
                                + "to have moved; "
                                + "such shots cannot be solved as moving",
                        most));
        }
        double[] focals = settings.known()
                ? new double[] {settings.focalPx()}
                : Arrays.stream(FAN).map(k -> k * width).toArray();
        List<Object[]> trials = new ArrayList<>();
        for (int p = 0; p < Math.min(PAIRS, pairs.size()); p++)
            for (double f : focals)
                for (int k = 0; k < (flat ? TWINS : 1); k++) trials.add(new Object[] {pairs.get(p), f});
        Seed best = IntStream.range(0, trials.size())
                .parallel()
                .mapToObj(i -> attempt(
                        obs,
                        (Pair) trials.get(i)[0],
                        (double) trials.get(i)[1],
                        width,
                        height,
                        settings,
                        new Random(settings.seed() * 31 + i)))
                .filter(s -> s != null)
                .max(Comparator.comparingDouble(s -> s.quality))
                .orElse(null);
        if (best == null)
            throw new NoSolution(
                    "no two frames of the shot agree on how the camera moved: the tracks may be too few, or "
                            + "most of them lie on moving things");
        best.parallax = most;
        return best;
    }

    /** Pairs worth trying, best first. */
    private static List<Pair> pairs(Observations obs, int width, int height) {
        List<Pair> all = new ArrayList<>();
        int n = obs.frames,
                step = Math.max(1, n / 12),
                least = Math.min(LEAST_COMMON, Math.max(FEWEST, obs.tracks() * 3 / 4));
        for (int a = 0; a < n; a += step) {
            int last = -1;
            for (double g = Math.max(2, n / 16.0); a + g < n; g *= 1.5) {
                int b = a + (int) g;
                if (b == last) continue;
                last = b;
                int[] common = obs.common(a, b);
                if (common.length < least) break;
                double[][] p = place(obs, common, a), q = place(obs, common, b);
                double left = Homography.parallax(p, q);
                all.add(new Pair(
                        a,
                        b,
                        left,
                        Math.min(left, 0.02 * width) * Math.sqrt(common.length) * spread(q, width, height)));
            }
        }
        if (all.isEmpty())
            throw new NoSolution("no two frames share enough tracks: there are too few tracks to solve the camera");
        all.sort(Comparator.comparingDouble(Pair::score).reversed());
        return all;
    }

    /** The same pairs by what turning leaves in them, with the one focal length by which it leaves least. */
    private static List<Pair> overOnePlane(
            List<Pair> pairs, Observations obs, int width, int height, SolveSettings settings) {
        List<double[][][]> places = pairs.stream()
                .map(p -> {
                    int[] common = obs.common(p.a, p.b);
                    return new double[][][] {place(obs, common, p.a), place(obs, common, p.b)};
                })
                .toList();
        double focal = Turning.best(places, settings.known() ? settings.focalPx() : 0, width, height)
                .focalPx();
        List<Pair> out = new ArrayList<>();
        for (int i = 0; i < pairs.size(); i++) {
            double[][] a = places.get(i)[0], b = places.get(i)[1];
            double left = Homography.median(Turning.left(a, b, focal, width, height));
            out.add(new Pair(
                    pairs.get(i).a,
                    pairs.get(i).b,
                    left,
                    Math.min(left, 0.05 * width) * Math.sqrt(a.length) * spread(b, width, height)));
        }
        out.sort(Comparator.comparingDouble(Pair::score).reversed());
        return out;
    }

    private static double[][] place(Observations obs, int[] tracks, int f) {
        double[][] p = new double[tracks.length][];
        for (int i = 0; i < p.length; i++) {
            int k = obs.at(tracks[i], f);
            p[i] = new double[] {obs.x[tracks[i]][k], obs.y[tracks[i]][k]};
        }
        return p;
    }

    /** Part of a 6 x 4 grid that holds a mark. */
    private static double spread(double[][] p, int width, int height) {
        long cells = 0;
        for (double[] q : p)
            cells |= 1L
                    << Math.max(0, Math.min(3, (int) (q[1] * 4 / height))) * 6
                            + Math.max(0, Math.min(5, (int) (q[0] * 6 / width)));
        return Long.bitCount(cells) / 24.0;
    }

    private static Seed attempt(
            Observations obs, Pair pair, double focal, int width, int height, SolveSettings settings, Random rnd) {
        Lens lens = new Lens(focal, width / 2.0, height / 2.0, 0, 0);
        int[] common = obs.common(pair.a, pair.b);
        double[][] a = undistorted(lens, place(obs, common, pair.a)), b = undistorted(lens, place(obs, common, pair.b));
        TwoView.Result two = TwoView.relative(a, b, TOLERANCE_PX / focal, 100, rnd);
        int fewest = Math.min(12, Math.max(6, common.length * 3 / 4));
        if (two == null || two.inliers() < fewest) return null;
        List<Integer> rows = new ArrayList<>();
        List<double[]> points = new ArrayList<>();
        List<Rigid> both = List.of(Rigid.identity(), two.second());
        for (int i = 0; i < common.length; i++) {
            if (!two.inlier()[i]) continue;
            double[] p = Triangulation.linear(both, List.of(a[i], b[i]));
            if (p == null || both.get(0).toCamera(p)[2] <= 0 || both.get(1).toCamera(p)[2] <= 0) continue;
            rows.add(common[i]);
            points.add(p);
        }
        if (rows.size() < fewest) return null;
        int[] frames = IntStream.of(
                        pair.a, (3 * pair.a + pair.b) / 4, (pair.a + pair.b) / 2, (pair.a + 3 * pair.b) / 4, pair.b)
                .distinct()
                .toArray();
        Rigid[] cams = new Rigid[frames.length];
        cams[0] = both.get(0);
        cams[frames.length - 1] = both.get(1);
        for (int k = 1; k + 1 < frames.length; k++) {
            List<double[]> p = new ArrayList<>(), o = new ArrayList<>();
            for (int i = 0; i < rows.size(); i++) {
                int at = obs.at(rows.get(i), frames[k]);
                if (at < 0) continue;
                p.add(points.get(i));
                o.add(lens.undistort(obs.x[rows.get(i)][at], obs.y[rows.get(i)][at]));
            }
            cams[k] = Resection.ransac(p, o, 3 * TOLERANCE_PX / focal, 60, Math.min(8, fewest), rnd);
            if (cams[k] == null) return null;
        }
        return bundled(
                obs,
                frames,
                cams,
                rows.stream().mapToInt(i -> i).toArray(),
                points.toArray(double[][]::new),
                lens,
                settings,
                common.length);
    }

    private static Seed bundled(
            Observations obs,
            int[] frames,
            Rigid[] cams,
            int[] rows,
            double[][] points,
            Lens lens,
            SolveSettings settings,
            int common) {
        int n = 0;
        int[] cam = new int[rows.length * frames.length], point = new int[cam.length];
        double[] x = new double[cam.length], y = new double[cam.length];
        for (int i = 0; i < rows.length; i++) {
            for (int k = 0; k < frames.length; k++) {
                int at = obs.at(rows[i], frames[k]);
                if (at < 0) continue;
                cam[n] = k;
                point[n] = i;
                x[n] = obs.x[rows[i]][at];
                y[n++] = obs.y[rows[i]][at];
            }
        }
        boolean[] free = settings.firstLens();
        Bundle b = new Bundle(
                cams,
                points,
                lens,
                Arrays.copyOf(cam, n),
                Arrays.copyOf(point, n),
                Arrays.copyOf(x, n),
                Arrays.copyOf(y, n),
                free);
        b.solve(30, 1.0);
        double f = b.lens.focalPx(), w = 2 * lens.centreX();
        if (!(f > 0.25 * w && f < 12 * w) || Math.abs(b.lens.k1()) > 1) return null;
        Jacobian residuals = new Jacobian(b);
        double[] e = new double[2], err = new double[n];
        int good = 0;
        for (int o = 0; o < n; o++) {
            residuals.residual(o, e);
            err[o] = Math.hypot(e[0], e[1]);
            if (err[o] < TOLERANCE_PX) good++;
        }
        double explained = (double) good / (common * frames.length);
        return new Seed(frames, b.cams, rows, b.points, b.lens, explained / (0.3 + Homography.median(err)));
    }

    private static double[][] undistorted(Lens lens, double[][] p) {
        double[][] q = new double[p.length][];
        for (int i = 0; i < p.length; i++) q[i] = lens.undistort(p[i][0], p[i][1]);
        return q;
    }
}
