package dasein.core.solve;

import dasein.core.NoSolution;
import dasein.core.Progress;
import dasein.core.lens.Lens;
import dasein.core.math.Pose;
import dasein.core.math.Quat;
import dasein.core.math.Similarity;
import dasein.core.math.Vec3;
import dasein.core.plate.Rate;
import dasein.core.track.Track;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.stream.IntStream;

/**
 * The moving solve: start from a good handful of frames, grow both ways over keyframes (resection, triangulation,
 * bundle), fill in the frames between, then adjust everything together with outliers taken out and good marks let in
 * again.
 */
final class MovingSolver {
    /** Rays of a point must differ by this much at some pair of frames before it is believed. */
    private static final double LEAST_ANGLE = Math.toRadians(0.6);

    private static final int LEAST_POINTS = 6;
    private static final int FEWEST_FRAMES = CameraSolver.FEWEST_FRAMES, FEWEST_TRACKS = CameraSolver.FEWEST_TRACKS;
    /** Marks further than this from where they should be never count, in pixels. */
    private static final double WIDEST_PX = 4;

    private static final double TIGHTEST_PX = 1.0;
    /** How often terms of the lens are chosen anew at the end. */
    private static final int MOST_CHOICES = 2;

    private final Observations obs;
    private final int width, height;
    private final Rate rate;
    private final SolveSettings settings;
    private final Random random;
    private final FreeTerms terms;
    private final Rigid[] cam;
    private final double[][] point;
    private final boolean[][] used;
    private Lens lens;
    /** Logarithm of each frame's focal length over the lens's. */
    private final double[] zoom;

    private Adjustment last;
    private double parallax;
    /** Whether everything lies in the frame of the survey. */
    private boolean measured;

    private MovingSolver(List<Track> tracks, int width, int height, Rate rate, SolveSettings settings) {
        obs = new Observations(tracks);
        this.width = width;
        this.height = height;
        this.rate = rate;
        this.settings = settings;
        random = new Random(settings.seed());
        terms = new FreeTerms(settings, width, height);
        zoom = new double[obs.frames];
        cam = new Rigid[obs.frames];
        point = new double[obs.tracks()][];
        used = new boolean[obs.tracks()][];
        for (int t = 0; t < used.length; t++) used[t] = new boolean[obs.frame[t].length];
    }

    /** @throws NoSolution with the reason in a sentence */
    static SolvedCamera solve(
            List<Track> tracks, int width, int height, Rate rate, SolveSettings settings, Progress progress) {
        if (tracks.size() < FEWEST_TRACKS)
            throw new NoSolution(
                    "there are only " + tracks.size() + " tracks; a moving camera needs at least " + FEWEST_TRACKS);
        MovingSolver s = new MovingSolver(tracks, width, height, rate, settings);
        if (s.obs.frames < FEWEST_FRAMES)
            throw new NoSolution(
                    "there are only " + s.obs.frames + " frames; a moving camera needs at least " + FEWEST_FRAMES);
        return s.run(progress);
    }

    /**
     * Errors at which marks stop counting when a solve goes on: where nearly nothing changed, and where all marks were
     * shifted a little.
     */
    static final double[] SAME = {1.5}, SHIFTED = {6, 1.5};

    /** From a solve of nearly the same tracks, at once to its end. */
    static SolvedCamera again(
            SolvedCamera before, List<Track> tracks, SolveSettings settings, double[] widest, Progress progress) {
        MovingSolver s = new MovingSolver(tracks, before.width(), before.height(), before.rate(), settings);
        s.lens = before.lens();
        s.parallax = before.parallaxPx();
        for (SolvedCamera.Frame f : before.frames()) {
            int k = f.frame() - s.obs.firstFrame;
            if (k < 0 || k >= s.obs.frames || f.tracks() == 0) continue;
            s.cam[k] = rigid(f.pose());
            if (settings.zooms()) s.zoom[k] = Math.log(f.focalPx() / s.lens.focalPx());
        }
        if (s.solved().length < FEWEST_FRAMES)
            return solve(tracks, before.width(), before.height(), before.rate(), settings, progress);
        s.triangulate();
        s.terms.from(s.lens);
        s.fillBetween(progress.part(0, 0.1));
        s.finish(progress.part(0.1, 1), widest, Bundle.QUITE_SETTLED);
        return s.result();
    }

    private SolvedCamera run(Progress progress) {
        progress.at(0.02, "looking for frames to start from");
        Seed seed = Seed.find(obs, width, height, settings);
        parallax = seed.parallax;
        lens = seed.lens;
        for (int k = 0; k < seed.frames.length; k++) cam[seed.frames[k]] = seed.cams[k];
        for (int i = 0; i < seed.tracks.length; i++) point[seed.tracks[i]] = seed.points[i];
        admit(WIDEST_PX);
        progress.at(
                0.2,
                "started from frames " + (seed.frames[0] + obs.firstFrame) + " to "
                        + (seed.frames[seed.frames.length - 1] + obs.firstFrame));
        growKeyframes(seed, progress.part(0.2, 0.6));
        fillBetween(progress.part(0.6, 0.7));
        terms.from(lens);
        finish(progress.part(0.7, 1));
        return result();
    }

    private void growKeyframes(Seed seed, Progress progress) {
        int step = obs.keyStep(), lo = seed.frames[0], hi = seed.frames[seed.frames.length - 1];
        triangulate();
        int added = 0, sinceBundle = 0, failedUp = 0, failedDown = 0;
        // Between the starting frames first, then outwards, whichever side sees more of what is known.
        for (int f = lo + step; f < hi; f += step) if (cam[f] == null) resect(f);
        bundle(12, Bundle.SETTLED);
        admit(WIDEST_PX);
        triangulate();
        while (true) {
            int up = hi + step * (1 + failedUp), down = lo - step * (1 + failedDown);
            if (hi < obs.frames - 1) up = Math.min(up, obs.frames - 1);
            if (lo > 0) down = Math.max(down, 0);
            boolean canUp = up < obs.frames && up > hi && failedUp < 4,
                    canDown = down >= 0 && down < lo && failedDown < 4;
            if (!canUp && !canDown) break;
            boolean goUp = canUp && (!canDown || known(up) >= known(down));
            int f = goUp ? up : down;
            if (resect(f)) {
                if (goUp) {
                    hi = f;
                    failedUp = 0;
                } else {
                    lo = f;
                    failedDown = 0;
                }
                triangulate();
                added++;
                if (++sinceBundle >= Math.max(2, added / 5)) {
                    bundle(8, Bundle.SETTLED);
                    admit(WIDEST_PX);
                    triangulate();
                    sinceBundle = 0;
                }
            } else if (goUp) {
                failedUp = up == obs.frames - 1 ? 9 : failedUp + 1;
            } else {
                failedDown = down == 0 ? 9 : failedDown + 1;
            }
            progress.at(
                    (double) (hi - lo) / obs.frames,
                    "solving frames " + (lo + obs.firstFrame) + " to " + (hi + obs.firstFrame));
        }
        bundle(15, Bundle.SETTLED);
        admit(WIDEST_PX);
    }

    private int known(int f) {
        return (int) Arrays.stream(obs.seen[f]).filter(t -> point[t] != null).count();
    }

    private Lens lensOf(int f) {
        return zoom[f] == 0 ? lens : lens.withFocal(lens.focalPx() * Math.exp(zoom[f]));
    }

    /** The solved frame nearest to one. */
    private int nearest(int f) {
        for (int d = 0; d < obs.frames; d++) {
            if (f - d >= 0 && cam[f - d] != null) return f - d;
            if (f + d < obs.frames && cam[f + d] != null) return f + d;
        }
        return f;
    }

    private int[] solved() {
        return IntStream.range(0, obs.frames).filter(f -> cam[f] != null).toArray();
    }

    /** Pose of frame f from the points known; a near solved frame gives a start that random samples must beat. */
    private boolean resect(int f) {
        if (settings.zooms()) zoom[f] = zoom[nearest(f)];
        Lens lens = lensOf(f);
        List<double[]> p = new ArrayList<>(), o = new ArrayList<>();
        for (int t : obs.seen[f]) {
            if (point[t] == null) continue;
            int k = obs.at(t, f);
            p.add(point[t]);
            o.add(lens.undistort(obs.x[t][k], obs.y[t][k]));
        }
        Rigid r = Resection.ransac(p, o, WIDEST_PX / lens.focalPx(), 80, Math.max(LEAST_POINTS, p.size() / 4), random);
        if (r == null) return false;
        cam[f] = Resection.refine(r, p, o, 1.0 / lens.focalPx(), 15);
        for (int t : obs.seen[f]) if (point[t] != null) used[t][obs.at(t, f)] = error(t, obs.at(t, f)) < WIDEST_PX;
        return true;
    }

    /** Points for tracks that have none yet and are seen by solved frames with enough between their rays. */
    private void triangulate() {
        IntStream.range(0, obs.tracks())
                .parallel()
                .filter(t -> point[t] == null)
                .forEach(t -> {
                    List<Rigid> cams = new ArrayList<>();
                    List<double[]> rays = new ArrayList<>();
                    List<Integer> at = new ArrayList<>();
                    for (int i = 0; i < obs.frame[t].length; i++) {
                        if (cam[obs.frame[t][i]] == null) continue;
                        cams.add(cam[obs.frame[t][i]]);
                        rays.add(lensOf(obs.frame[t][i]).undistort(obs.x[t][i], obs.y[t][i]));
                        at.add(i);
                    }
                    if (cams.size() < 3) return;
                    double[] p = Triangulation.linear(cams, rays);
                    if (p == null || Triangulation.angle(cams, p) < LEAST_ANGLE) return;
                    point[t] = p;
                    int good = 0;
                    for (int i : at) {
                        used[t][i] = error(t, i) < WIDEST_PX;
                        if (used[t][i]) good++;
                    }
                    if (good < 3 || good < 0.6 * at.size()) point[t] = null;
                });
    }

    /** Distance in pixels of observation i of track t from where the solve puts it. */
    private double error(int t, int i) {
        Rigid c = cam[obs.frame[t][i]];
        double[] q = c.toCamera(point[t]);
        // A point is known up to its sign when it lies near infinity; in front means z and w agree or w is about zero.
        if (q[2] <= 1e-12) return 1e6;
        double[] p = lensOf(obs.frame[t][i]).distortToPixel(q[0] / q[2], q[1] / q[2]);
        return Math.hypot(p[0] - obs.x[t][i], p[1] - obs.y[t][i]);
    }

    /**
     * Decides anew which observations count: within 3.9 robust standard deviations (3.5 of them with 1.3 to spare, from
     * the median of a Rayleigh distribution), at most {@code widest} pixels.
     */
    private void admit(double widest) {
        admit(widest, 0.4);
    }

    /** @param leastPart tracks with a smaller part of their observations in are distrusted as a whole */
    private void admit(double widest, double leastPart) {
        double[] all = new double[obs.sightings()];
        int n = 0;
        for (int t = 0; t < point.length; t++) {
            if (point[t] == null) continue;
            for (int i = 0; i < obs.frame[t].length; i++) if (cam[obs.frame[t][i]] != null) all[n++] = error(t, i);
        }
        // Median of a Rayleigh-distributed distance is 1.18 sigma.
        double limit =
                Math.max(TIGHTEST_PX, Math.min(widest, 3.5 * Homography.median(Arrays.copyOf(all, n)) / 1.18 * 1.3));
        for (int t = 0; t < point.length; t++) {
            if (point[t] == null) continue;
            int in = 0, total = 0;
            for (int i = 0; i < obs.frame[t].length; i++) {
                used[t][i] = false;
                if (cam[obs.frame[t][i]] == null) continue;
                total++;
                used[t][i] = error(t, i) < limit;
                if (used[t][i]) in++;
            }
            if (in < 3 && total >= 3 || in < 2 || in < leastPart * total) point[t] = null;
        }
    }

    private void bundle(int steps, double settled) {
        int[] frames = solved();
        Adjustment a = Adjustment.run(
                obs,
                cam,
                zoom,
                point,
                used,
                lens,
                frames,
                true,
                terms.free,
                settings,
                width,
                height,
                LEAST_POINTS,
                steps,
                settled,
                measured);
        if (a == null) return;
        lens = a.bundle().lens;
        last = a;
    }

    private void fillBetween(Progress progress) {
        triangulate();
        for (int f = 0; f < obs.frames; f++) {
            if (cam[f] == null) resect(f);
            if ((f & 15) == 0) progress.at((double) f / obs.frames, "frame " + (f + obs.firstFrame));
        }
        // Frames beyond a gap may be in reach now.
        for (int f = obs.frames - 1; f >= 0; f--) if (cam[f] == null) resect(f);
    }

    private void finish(Progress progress) {
        finish(progress, new double[] {3, 2, 1.5}, Bundle.QUITE_SETTLED);
    }

    /** @param widest errors at which a mark stops counting, round by round */
    private void finish(Progress progress, double[] widest, double settled) {
        for (int round = 0; round < widest.length; round++) {
            triangulate();
            admit(widest[round], 0.8 - 0.15 * (widest.length - 1 - round));
            progress.at((double) round / widest.length, "adjusting everything together");
            if (round + 1 < widest.length) {
                bundle(10, Bundle.SETTLED);
                chooseTerms(false);
            } else {
                if (!settings.hints().measured().isEmpty()) intoSurvey();
                bundle(150, settled);
            }
        }
        for (int k = 0; k < MOST_CHOICES && chooseTerms(true); k++) {
            bundle(150, settled);
            triangulate();
            admit(widest[widest.length - 1], 0.8);
            bundle(150, settled);
        }
        admit(widest[widest.length - 1], 0.8);
        int[] ok = solved();
        if (ok.length < Math.max(FEWEST_FRAMES, obs.frames / 2)) {
            throw new NoSolution("only " + ok.length + " of " + obs.frames
                    + " frames could be solved; there are too few good tracks in the others");
        }
    }

    private boolean chooseTerms(boolean end) {
        Lens chosen = last == null ? null : terms.chosen(last.bundle(), end);
        if (chosen != null) lens = chosen;
        return chosen != null;
    }

    /** Brings cameras and points into the frame of the measured places, which count from then on. */
    private void intoSurvey() {
        List<Vec3> from = new ArrayList<>(), to = new ArrayList<>();
        for (Hints.Measured k : settings.hints().measured()) {
            for (int t = 0; t < point.length; t++) {
                if (obs.id[t] != k.track() || point[t] == null || Math.abs(point[t][3]) < 1e-9) continue;
                from.add(at(t));
                to.add(k.position());
            }
        }
        if (from.size() < 3)
            throw new NoSolution("of the measured tracks only " + from.size()
                    + " could be solved; three that do not lie on one line are the least");
        Similarity s = Similarity.fit(from, to);
        double spread =
                to.stream().mapToDouble(p -> p.distance(to.get(0))).max().orElse(0);
        if (!(s.scale() > 0) || !Double.isFinite(s.scale()) || spread < 1e-9)
            throw new NoSolution("the measured places all lie at one spot");
        double[] turn = s.rotation().matrix();
        for (int f = 0; f < cam.length; f++) {
            if (cam[f] == null) continue;
            double[] back = {turn[0], turn[3], turn[6], turn[1], turn[4], turn[7], turn[2], turn[5], turn[8]};
            cam[f] = new Rigid(
                    Rigid.multiply(cam[f].r, back), s.apply(Vec3.of(cam[f].c)).array());
        }
        for (int t = 0; t < point.length; t++) {
            if (point[t] == null) continue;
            // Homogeneous, so that points at infinity come along: X' = s R X + w t.
            Vec3 p = s.rotation()
                    .rotate(new Vec3(point[t][0], point[t][1], point[t][2]))
                    .times(s.scale())
                    .plus(s.translation().times(point[t][3]));
            double n = Math.sqrt(p.dot(p) + point[t][3] * point[t][3]);
            point[t] = new double[] {p.x() / n, p.y() / n, p.z() / n, point[t][3] / n};
        }
        measured = true;
    }

    private Vec3 at(int t) {
        return new Vec3(point[t][0] / point[t][3], point[t][1] / point[t][3], point[t][2] / point[t][3]);
    }

    private SolvedCamera result() {
        if (last == null) throw new NoSolution("too few marks agree over the frames for the camera to be adjusted");
        Spread spread = Spread.of(last.bundle());
        Map<Integer, Double> off = new HashMap<>();
        for (int i = 0; i < last.rows().length; i++) off.put(last.rows()[i], spread.points()[i]);
        boolean[] near = new boolean[point.length];
        for (int t = 0; t < near.length; t++) near[t] = point[t] != null && Math.abs(point[t][3]) >= 1e-5;
        Tally tally = new Tally(obs, near, used, this::error);
        List<SolvedCamera.Point> points = new ArrayList<>();
        for (int t = 0; t < point.length; t++) {
            if (Double.isNaN(tally.trackRms[t])) continue;
            double[] p = point[t];
            points.add(new SolvedCamera.Point(
                    obs.id[t],
                    new Vec3(p[0] / p[3], p[1] / p[3], p[2] / p[3]),
                    tally.trackRms[t],
                    off.getOrDefault(t, Double.NaN)));
        }
        List<SolvedCamera.Frame> frames = new ArrayList<>();
        for (int f = 0, k = 0; f < obs.frames; f++) {
            if (cam[f] == null) continue;
            while (k + 1 < last.frames().length && last.frames()[k] < f) k++;
            frames.add(new SolvedCamera.Frame(
                    f + obs.firstFrame,
                    pose(cam[f]),
                    lensOf(f).focalPx(),
                    tally.frameRms(f),
                    tally.seen[f],
                    spread.place()[k],
                    spread.turnDeg()[k]));
        }
        if (tally.empty())
            throw new NoSolution(
                    settings.smoothPx() > 0
                            ? "smoothing as strong as " + settings.smoothPx()
                                    + " costs more than the marks can bear; lower it"
                            : "the tracks do not agree on any camera motion");
        SolvedCamera raw = new SolvedCamera(
                        width,
                        height,
                        rate,
                        "moving",
                        tally.rms(),
                        parallax,
                        lens.withFocal(frames.get(0).focalPx()),
                        frames,
                        points,
                        spread.focalPart() * frames.get(0).focalPx(),
                        said(spread.reach()))
                .with(spread.reach());
        if (!measured) return raw.in(upright(raw));
        List<String> said = new ArrayList<>(raw.remarks());
        said.add(Survey.said(settings.hints().measured(), points));
        return raw.asMeasured().with(said);
    }

    private List<String> said(Reach reach) {
        List<String> out = new ArrayList<>();
        if (!terms.said().isEmpty()) out.add(terms.said());
        if (reach != null && !reach.said().isEmpty()) out.add(reach.said());
        return out;
    }

    /** From the solver's axes (look +Z, y down) to the product's. */
    static Pose pose(Rigid c) {
        double[] r = c.r;
        double[] m = {r[0], -r[3], -r[6], r[1], -r[4], -r[7], r[2], -r[5], -r[8]};
        return new Pose(Quat.fromMatrix(m), Vec3.of(c.c));
    }

    /** The way back. */
    static Rigid rigid(Pose p) {
        double[] m = p.rotation().matrix();
        return new Rigid(
                new double[] {m[0], m[3], m[6], -m[1], -m[4], -m[7], -m[2], -m[5], -m[8]},
                p.position().array());
    }

    /**
     * Until the ground is set: up is the cameras' mean up, the first camera stands 1.6 above the origin, the median
     * point is 8 away.
     */
    static Similarity upright(SolvedCamera s) {
        Vec3 up = Vec3.ZERO;
        for (SolvedCamera.Frame f : s.frames()) up = up.plus(f.pose().rotation().rotate(Vec3.Y));
        Pose first = s.frames().get(0).pose();
        Quat turn = Quat.between(up.unit(), Vec3.Y);
        Vec3 look = turn.rotate(first.rotation().rotate(Vec3.Z));
        turn = Quat.axisAngle(Vec3.Y, -Math.atan2(look.x(), look.z())).times(turn);
        double[] d = s.points().stream()
                .mapToDouble(p -> p.position().distance(first.position()))
                .toArray();
        double scale = 8 / Math.max(Homography.median(d), 1e-9);
        return new Similarity(
                scale,
                turn,
                new Vec3(0, 1.6, 0).minus(turn.rotate(first.position()).times(scale)));
    }
}
