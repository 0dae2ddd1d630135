package dasein.core.solve;

import dasein.core.NoSolution;
import dasein.core.Progress;
import dasein.core.lens.Lens;
import dasein.core.math.Vec3;
import dasein.core.plate.Rate;
import dasein.core.track.Track;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Random;
import java.util.stream.IntStream;
import org.ejml.simple.SimpleMatrix;
import org.ejml.simple.SimpleSVD;

/**
 * The nodal solve: the camera turns about its own centre, marks are directions. Rotations are chained over keyframes
 * for several focal lengths, each adjusted together with the directions; the best is filled in between and adjusted as
 * a whole. A little parallax counts as noise.
 */
final class NodalSolver {
    private static final double[] FAN = {0.6, 0.85, 1.2, 1.7, 2.5, 4};
    private static final int LEAST_COMMON = 4, LEAST_MARKS = 3;
    private static final double WIDEST_PX = 4, TIGHTEST_PX = 1;
    /** Where the points of a camera that has no depth are put. */
    private static final double DISTANCE = 8;

    private final Observations obs;
    private final int width, height;
    private final SolveSettings settings;
    private final Rigid[] cam;
    private final double[] zoom;
    private final double[][] point;
    private final boolean[][] used;
    private Lens lens;
    private Adjustment last;
    private final FreeTerms terms;

    private NodalSolver(Observations obs, int width, int height, SolveSettings settings) {
        this.obs = obs;
        this.width = width;
        this.height = height;
        this.settings = settings;
        terms = new FreeTerms(settings, width, height);
        cam = new Rigid[obs.frames];
        zoom = new double[obs.frames];
        point = new double[obs.tracks()][];
        used = new boolean[obs.tracks()][];
        for (int t = 0; t < used.length; t++) used[t] = new boolean[obs.frame[t].length];
    }

    /** @param medianPx what is left at the median sighting of all marks, outliers among them */
    record Result(SolvedCamera camera, double medianPx) {}

    static Result solve(
            List<Track> tracks,
            int width,
            int height,
            Rate rate,
            SolveSettings settings,
            double parallax,
            Progress progress) {
        Observations obs = new Observations(tracks);
        double[] focals = settings.known()
                ? new double[] {settings.focalPx()}
                : Arrays.stream(FAN).map(k -> k * width).toArray();
        progress.at(0.05, "turning from frame to frame");
        NodalSolver best = null;
        double cost = Double.MAX_VALUE;
        for (double f : focals) {
            NodalSolver s = new NodalSolver(obs, width, height, settings);
            double c = s.begin(f);
            if (c < cost && s.sane()) {
                cost = c;
                best = s;
            }
            progress.at(
                    0.05 + 0.5 * (f / focals[focals.length - 1]), "tried a focal length of " + Math.round(f) + " px");
        }
        if (best == null)
            throw new NoSolution(
                    "the marks do not agree on how the camera turned: they are too few from frame to frame, "
                            + "or most of them lie on moving things");
        return best.finish(rate, parallax, progress.part(0.55, 1));
    }

    private boolean sane() {
        return lens.focalPx() > 0.25 * width && lens.focalPx() < 40 * width && Math.abs(lens.k1()) < 2;
    }

    private Lens lensOf(int f) {
        return zoom[f] == 0 ? lens : lens.withFocal(lens.focalPx() * Math.exp(zoom[f]));
    }

    private double[] ray(int t, int i) {
        double[] q = lensOf(obs.frame[t][i]).undistort(obs.x[t][i], obs.y[t][i]);
        double n = Math.sqrt(q[0] * q[0] + q[1] * q[1] + 1);
        return new double[] {q[0] / n, q[1] / n, 1 / n};
    }

    /** Keyframes chained and adjusted for one focal length. @return the cost an observation */
    private double begin(double focal) {
        lens = new Lens(focal, width / 2.0, height / 2.0, 0, 0);
        Random rnd = new Random(settings.seed());
        int step = obs.keyStep(), before = 0;
        cam[0] = Rigid.identity();
        for (int f = step; f < obs.frames; f = Math.min(f + step, f == obs.frames - 1 ? obs.frames : obs.frames - 1)) {
            if (turned(before, f, rnd)) {
                before = f;
                continue;
            }
            // Too fast for this step: by single frames, and over those in which too little is seen.
            for (int g = before + 1; g <= f; g++) if (turned(before, g, rnd)) before = g;
        }
        if (2 * before < obs.frames) return Double.MAX_VALUE;
        directions();
        Bundle b = bundle(settings.firstLens(), 15);
        if (b == null) return Double.MAX_VALUE;
        admit(WIDEST_PX);
        b = bundle(settings.firstLens(), 15);
        return b == null
                ? Double.MAX_VALUE
                : b.cost(b.cams, b.zoom, b.points, b.lens) / Math.max(1, b.obsX.length)
                        - 0.002 * b.obsX.length / Math.max(1, obs.sightings());
    }

    /**
     * The rotation of a frame from that of another one, by the marks they share; false when those are too few or do not
     * agree.
     */
    private boolean turned(int from, int to, Random rnd) {
        int[] common = obs.common(from, to);
        if (common.length < LEAST_COMMON) return false;
        double[] r = rotation(rays(common, from), rays(common, to), 3 / lens.focalPx(), rnd);
        if (r != null) cam[to] = new Rigid(Rigid.multiply(r, cam[from].r), new double[3]);
        return r != null;
    }

    private double[][] rays(int[] tracks, int f) {
        return Arrays.stream(tracks).mapToObj(t -> ray(t, obs.at(t, f))).toArray(double[][]::new);
    }

    /**
     * b = R a for most pairs of unit rays: samples of two, then re-weighted least squares (Kabsch 1976). Row-major, or
     * null.
     */
    private static double[] rotation(double[][] a, double[][] b, double tolerance, Random rnd) {
        int n = a.length;
        double[] best = null, w = new double[n];
        double most = 0;
        for (int k = 0; k < 40; k++) {
            int[] pick = TwoView.sample(n, 2, rnd);
            Arrays.fill(w, 0);
            w[pick[0]] = w[pick[1]] = 1;
            double[] r = kabsch(a, b, w);
            double s = 0;
            for (int i = 0; i < n; i++) s += Math.max(0, 1 - off2(r, a[i], b[i]) / (tolerance * tolerance));
            if (s > most) {
                most = s;
                best = r;
            }
        }
        if (best == null || most < Math.max(2.2, 0.2 * n)) return null;
        for (int round = 0; round < 5; round++) {
            for (int i = 0; i < n; i++) w[i] = 1 / (1 + 4 * off2(best, a[i], b[i]) / (tolerance * tolerance));
            best = kabsch(a, b, w);
        }
        return best;
    }

    private static double off2(double[] r, double[] a, double[] b) {
        double[] q = Rigid.apply(r, a[0], a[1], a[2]);
        double x = q[0] - b[0], y = q[1] - b[1], z = q[2] - b[2];
        return x * x + y * y + z * z;
    }

    private static double[] kabsch(double[][] a, double[][] b, double[] w) {
        SimpleMatrix h = new SimpleMatrix(3, 3);
        for (int i = 0; i < a.length; i++)
            if (w[i] > 0)
                for (int p = 0; p < 3; p++)
                    for (int q = 0; q < 3; q++) h.set(p, q, h.get(p, q) + w[i] * b[i][p] * a[i][q]);
        SimpleSVD<SimpleMatrix> svd = h.svd();
        double det = svd.getU().determinant() * svd.getV().determinant();
        SimpleMatrix r = svd.getU()
                .mult(SimpleMatrix.diag(1, 1, det < 0 ? -1 : 1))
                .mult(svd.getV().transpose());
        double[] out = new double[9];
        for (int i = 0; i < 9; i++) out[i] = r.get(i / 3, i % 3);
        return out;
    }

    /**
     * Directions of the marks that have none yet, from the frames whose rotation is known; robust by the median ray.
     */
    private void directions() {
        for (int t = 0; t < point.length; t++) {
            if (point[t] != null) continue;
            List<double[]> d = new ArrayList<>();
            List<Integer> at = new ArrayList<>();
            for (int i = 0; i < obs.frame[t].length; i++) {
                Rigid c = cam[obs.frame[t][i]];
                if (c == null) continue;
                double[] q = ray(t, i), r = c.r;
                d.add(new double[] {
                    r[0] * q[0] + r[3] * q[1] + r[6] * q[2],
                    r[1] * q[0] + r[4] * q[1] + r[7] * q[2],
                    r[2] * q[0] + r[5] * q[1] + r[8] * q[2]
                });
                at.add(i);
            }
            if (d.size() < 2) continue;
            double[] mean = new double[4];
            for (int k = 0; k < 3; k++) {
                int axis = k;
                mean[k] = Homography.median(d.stream().mapToDouble(v -> v[axis]).toArray());
            }
            double n = Math.sqrt(mean[0] * mean[0] + mean[1] * mean[1] + mean[2] * mean[2]);
            if (!(n > 0.1)) continue;
            for (int k = 0; k < 3; k++) mean[k] /= n;
            point[t] = mean;
            for (int i : at) used[t][i] = true;
        }
    }

    private double error(int t, int i) {
        double[] q = cam[obs.frame[t][i]].toCamera(point[t]);
        if (q[2] <= 1e-9) return 1e6;
        double[] p = lensOf(obs.frame[t][i]).distortToPixel(q[0] / q[2], q[1] / q[2]);
        return Math.hypot(p[0] - obs.x[t][i], p[1] - obs.y[t][i]);
    }

    private void admit(double widest) {
        double[] all = IntStream.range(0, point.length)
                .filter(t -> point[t] != null)
                .boxed()
                .flatMapToDouble(t -> IntStream.range(0, obs.frame[t].length)
                        .filter(i -> cam[obs.frame[t][i]] != null)
                        .mapToDouble(i -> error(t, i)))
                .toArray();
        double limit = Math.max(TIGHTEST_PX, Math.min(widest, 3.5 * Homography.median(all) / 1.18 * 1.3));
        for (int t = 0; t < point.length; t++) {
            if (point[t] == null) continue;
            int in = 0, total = 0;
            for (int i = 0; i < obs.frame[t].length; i++) {
                used[t][i] = cam[obs.frame[t][i]] != null && error(t, i) < limit;
                if (cam[obs.frame[t][i]] != null) total++;
                if (used[t][i]) in++;
            }
            if (in < 2 || in < 0.5 * total) point[t] = null;
        }
    }

    private Bundle bundle(boolean[] freeLens, int steps) {
        Adjustment a = Adjustment.run(
                obs,
                cam,
                zoom,
                point,
                used,
                lens,
                IntStream.range(0, obs.frames).filter(f -> cam[f] != null).toArray(),
                false,
                freeLens,
                settings,
                width,
                height,
                LEAST_MARKS,
                steps,
                Bundle.SETTLED,
                false);
        if (a == null) return null;
        lens = a.bundle().lens;
        last = a;
        return a.bundle();
    }

    private Result finish(Rate rate, double parallax, Progress progress) {
        Random rnd = new Random(settings.seed());
        directions();
        for (int f = 0; f < obs.frames; f++) {
            if (cam[f] != null) continue;
            zoom[f] = between(f);
            int[] known =
                    Arrays.stream(obs.seen[f]).filter(t -> point[t] != null).toArray();
            if (known.length < LEAST_MARKS) continue;
            double[][] a = Arrays.stream(known).mapToObj(t -> point[t]).toArray(double[][]::new), b = rays(known, f);
            double[] r = rotation(a, b, 3 / lensOf(f).focalPx(), rnd);
            if (r != null) cam[f] = new Rigid(r, new double[3]);
        }
        double[] widest = {3, 2, 1.5};
        terms.from(lens);
        for (int round = 0; round < widest.length; round++) {
            directions();
            admit(widest[round]);
            progress.at((double) round / widest.length, "adjusting everything together");
            if (bundle(terms.free, 15) == null) throw new NoSolution("too few marks agree on how the camera turned");
            if (chooseTerms(round + 1 == widest.length) && round + 1 == widest.length) bundle(terms.free, 15);
        }
        admit(widest[widest.length - 1]);
        // Tracks that were thrown out speak against it, too.
        double[] left = IntStream.range(0, point.length)
                .boxed()
                .flatMapToDouble(t -> IntStream.range(0, obs.frame[t].length)
                        .filter(i -> cam[obs.frame[t][i]] != null)
                        .mapToDouble(i -> point[t] == null ? 1e3 : error(t, i)))
                .toArray();
        return new Result(result(rate, parallax), Homography.median(left));
    }

    private boolean chooseTerms(boolean end) {
        Lens chosen = terms.chosen(last.bundle(), end);
        if (chosen != null) lens = chosen;
        return chosen != null;
    }

    /** A frame's zoom from those of the solved frames around it. */
    private double between(int f) {
        int a = f, b = f;
        while (a >= 0 && cam[a] == null) a--;
        while (b < obs.frames && cam[b] == null) b++;
        if (a < 0 || b >= obs.frames) return zoom[a < 0 ? b : a];
        return zoom[a] + (zoom[b] - zoom[a]) * (f - a) / (b - a);
    }

    private SolvedCamera result(Rate rate, double parallax) {
        if (last == null) throw new NoSolution("too few marks agree over the frames for the camera to be adjusted");
        Spread spread = Spread.of(last.bundle());
        boolean[] known = new boolean[point.length];
        for (int t = 0; t < known.length; t++) known[t] = point[t] != null;
        Tally tally = new Tally(obs, known, used, this::error);
        List<SolvedCamera.Point> points = new ArrayList<>();
        for (int t = 0; t < point.length; t++) {
            double[] p = point[t];
            if (!Double.isNaN(tally.trackRms[t]))
                points.add(new SolvedCamera.Point(
                        obs.id[t], new Vec3(DISTANCE * p[0], DISTANCE * p[1], DISTANCE * p[2]), tally.trackRms[t]));
        }
        if (tally.empty()) throw new NoSolution("the marks do not agree on how the camera turned");
        List<SolvedCamera.Frame> frames = new ArrayList<>();
        for (int k = 0; k < last.frames().length; k++) {
            int f = last.frames()[k];
            frames.add(new SolvedCamera.Frame(
                    f + obs.firstFrame,
                    MovingSolver.pose(cam[f]),
                    lensOf(f).focalPx(),
                    tally.frameRms(f),
                    tally.seen[f],
                    0,
                    spread.turnDeg()[k]));
        }
        SolvedCamera raw = new SolvedCamera(
                width,
                height,
                rate,
                "nodal",
                tally.rms(),
                parallax,
                lens.withFocal(frames.get(0).focalPx()),
                frames,
                points,
                spread.focalPart() * frames.get(0).focalPx(),
                terms.said().isEmpty() ? List.of() : List.of(terms.said()));
        return raw.in(MovingSolver.upright(raw));
    }
}
