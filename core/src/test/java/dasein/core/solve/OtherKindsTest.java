package dasein.core.solve;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import dasein.core.NoSolution;
import dasein.core.Progress;
import dasein.core.lens.Lens;
import dasein.core.math.Pose;
import dasein.core.math.Quat;
import dasein.core.math.Vec3;
import dasein.core.plate.Rate;
import dasein.core.solve.StillSolver.Axis;
import dasein.core.solve.StillSolver.Line;
import dasein.core.track.Track;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.Test;

/**
 * A frame matched by its lines, things that move by themselves, solves that go on, and what is said of their
 * uncertainty; all of known truth.
 */
class OtherKindsTest {
    private static final Rate RATE = new Rate(24, 1);

    /** Edges of a room along its axes, seen by a known camera, their ends laid with some error of the hand. */
    private static List<Line> lines(Quat toWorld, double focal, double hand, long seed, Axis... axes) {
        Lens lens = new Lens(focal, 640, 360, 0, 0);
        Pose pose = new Pose(toWorld, new Vec3(0, 1.6, 0));
        Random r = new Random(seed);
        List<Line> out = new ArrayList<>();
        for (Axis a : axes) {
            for (int made = 0; made < 3; ) {
                Vec3 from = pose.toWorld(lens.ray(100 + 1080 * r.nextDouble(), 80 + 560 * r.nextDouble())
                        .times(4 + 6 * r.nextDouble()));
                double[] p = lens.project(pose.toLocal(from)),
                        q = lens.project(pose.toLocal(from.plus(a.direction.times(2.5))));
                if (p == null
                        || q == null
                        || q[0] < 0
                        || q[1] < 0
                        || q[0] > 1280
                        || q[1] > 720
                        || Math.hypot(p[0] - q[0], p[1] - q[1]) < 120) continue;
                out.add(new Line(
                        a,
                        p[0] + hand * r.nextGaussian(),
                        p[1] + hand * r.nextGaussian(),
                        q[0] + hand * r.nextGaussian(),
                        q[1] + hand * r.nextGaussian()));
                made++;
            }
        }
        return out;
    }

    @Test
    void linesOfTheSetGiveThePerspective() {
        Quat turn =
                Quat.axisAngle(Vec3.Y, 0.5).times(Quat.axisAngle(Vec3.X, -0.12)).times(Quat.axisAngle(Vec3.Z, 0.02));
        SolvedCamera exact = StillSolver.solve(
                lines(turn, 1300, 0, 3, Axis.X, Axis.Y, Axis.Z),
                CameraMatch.NONE,
                LensTerms.Ask.NEVER,
                1280,
                720,
                RATE,
                1,
                3,
                0);
        assertThat(exact.lens().focalPx()).isCloseTo(1300, within(0.5));
        assertThat(Math.toDegrees(exact.frames().get(0).pose().rotation().angleTo(turn)))
                .isLessThan(0.02);
        assertThat(exact.frames()).hasSize(3);
        int inside = 0;
        for (int seed = 0; seed < 10; seed++) {
            SolvedCamera s = StillSolver.solve(
                    lines(turn, 1300, 0.7, seed, Axis.X, Axis.Z, Axis.Y),
                    CameraMatch.NONE,
                    LensTerms.Ask.NEVER,
                    1280,
                    720,
                    RATE,
                    1,
                    1,
                    0);
            assertThat(Math.abs(s.lens().focalPx() / 1300 - 1)).isLessThan(0.12);
            if (Math.abs(s.lens().focalPx() - 1300) < 2 * s.focalOff()) inside++;
        }
        assertThat(inside).as("within twice its own stated deviation").isGreaterThanOrEqualTo(8);
    }

    /** Two axes are enough; with the focal length given, so is a frontal view in which one pair hardly converges. */
    @Test
    void fewerLinesAreEnoughWithAKnownFocalLength() {
        Quat turn = Quat.axisAngle(Vec3.Y, 0.35).times(Quat.axisAngle(Vec3.X, -0.05));
        SolvedCamera two = StillSolver.solve(
                lines(turn, 1500, 0, 5, Axis.X, Axis.Z),
                CameraMatch.NONE,
                LensTerms.Ask.NEVER,
                1280,
                720,
                RATE,
                1,
                1,
                0);
        assertThat(two.lens().focalPx()).isCloseTo(1500, within(2.0));
        Quat frontal = Quat.axisAngle(Vec3.X, -0.06);
        SolvedCamera held = StillSolver.solve(
                lines(frontal, 1500, 0, 6, Axis.X, Axis.Z),
                CameraMatch.NONE,
                LensTerms.Ask.NEVER,
                1280,
                720,
                RATE,
                1,
                1,
                1500);
        assertThat(Math.toDegrees(held.frames().get(0).pose().rotation().angleTo(frontal)))
                .isLessThan(0.05);
        assertThatThrownBy(() -> StillSolver.solve(
                        lines(frontal, 1500, 0.7, 6, Axis.X, Axis.Y),
                        CameraMatch.NONE,
                        LensTerms.Ask.NEVER,
                        1280,
                        720,
                        RATE,
                        1,
                        1,
                        0))
                .isInstanceOf(NoSolution.class)
                .hasMessageContaining("hardly run together");
        assertThatThrownBy(() -> StillSolver.solve(
                        lines(turn, 1500, 0, 5, Axis.X),
                        CameraMatch.NONE,
                        LensTerms.Ask.NEVER,
                        1280,
                        720,
                        RATE,
                        1,
                        1,
                        0))
                .isInstanceOf(NoSolution.class)
                .hasMessageContaining("along one only");
    }

    /** A box of marks drives and turns through the shot of a camera that itself moves. */
    @Test
    void aThingThatMovesIsSolvedBeforeAMovingCamera() {
        Lens lens = new Lens(1100, 640, 360, -0.08, 0);
        List<SolvedCamera.Frame> cams = new ArrayList<>();
        List<Pose> thing = new ArrayList<>();
        int n = 60;
        for (int f = 1; f <= n; f++) {
            double t = f / 24.0;
            cams.add(new SolvedCamera.Frame(
                    f,
                    new Pose(Quat.fromRotationVector(0.01 * Math.sin(3 * t), 0.05 * t, 0), new Vec3(0.3 * t, 1.6, 0)),
                    1100,
                    0.3,
                    100));
            thing.add(new Pose(Quat.axisAngle(Vec3.Y, 0.5 * t), new Vec3(-1.5 + 1.1 * t, 0.8, -7 - 0.4 * t)));
        }
        SolvedCamera camera = new SolvedCamera(1280, 720, RATE, "moving", 0.3, 20, lens, cams, List.of());
        Random r = new Random(4);
        List<Track> tracks = new ArrayList<>();
        List<Vec3> places = new ArrayList<>();
        for (int i = 0; i < 80; i++) {
            Vec3 p = new Vec3(2.4 * r.nextDouble() - 1.2, 1.4 * r.nextDouble() - 0.7, 2.4 * r.nextDouble() - 1.2);
            double[] x = new double[n], y = new double[n];
            int[] fs = new int[n];
            for (int f = 0; f < n; f++) {
                double[] q =
                        lens.project(cams.get(f).pose().toLocal(thing.get(f).toWorld(p)));
                fs[f] = f + 1;
                x[f] = q[0] + 0.2 * r.nextGaussian();
                y[f] = q[1] + 0.2 * r.nextGaussian();
            }
            tracks.add(new Track(i + 1, fs, x, y));
            places.add(p);
        }
        Vec3 middle = new Vec3(median(places, Vec3::x), median(places, Vec3::y), median(places, Vec3::z));
        double distance =
                thing.get(0).toWorld(middle).distance(cams.get(0).pose().position());
        ObjectSolver.Result s = ObjectSolver.solve(tracks, camera, distance, Progress.NONE);
        assertThat(s.frames()).hasSize(n);
        Quat first = thing.get(0).rotation().conjugate().times(Quat.IDENTITY),
                own = s.frames().get(0).objectToWorld().rotation();
        for (int f = 0; f < n; f += 6) {
            // How it turned since the first frame, and where its middle is.
            Quat want = thing.get(f).rotation().times(thing.get(0).rotation().conjugate()),
                    got = s.frames().get(f).objectToWorld().rotation().times(own.conjugate());
            assertThat(Math.toDegrees(want.angleTo(got)))
                    .as("turn at frame " + (f + 1))
                    .isLessThan(0.5);
            assertThat(s.frames()
                            .get(f)
                            .objectToWorld()
                            .position()
                            .distance(thing.get(f).toWorld(middle)))
                    .as("place at frame " + (f + 1))
                    .isLessThan(0.05);
        }
    }

    private static double median(List<Vec3> p, java.util.function.ToDoubleFunction<Vec3> of) {
        return Homography.median(p.stream().mapToDouble(of).toArray());
    }

    @Test
    void aSolveGoesOnFromWhereItStands() {
        KnownShot shot = new KnownShot(110, 800, 0.3, 0.1, 0.8, 5);
        SolveSettings u = SolveSettings.UNKNOWN;
        long t0 = System.nanoTime();
        SolvedCamera s = CameraSolver.solve(shot.tracks, shot.width, shot.height, RATE, u, Progress.NONE);
        long t1 = System.nanoTime();
        List<Track> less = shot.tracks.subList(5, shot.tracks.size());
        SolvedCamera again = CameraSolver.again(s, less, u, Progress.NONE);
        long t2 = System.nanoTime();
        double alive = shot.tracks.stream().mapToInt(Track::length).sum() / 110.0;
        System.out.printf(
                "110 frames, %.0f marks a frame: solved in %.1f s, again without five tracks in %.1f s%n",
                alive, (t1 - t0) / 1e9, (t2 - t1) / 1e9);
        assertThat(shot.compare(again).pathPart()).isLessThan(0.005);
        assertThat(again.lens().focalPx()).isCloseTo(s.lens().focalPx(), within(0.5));
        assertThat(again.points().stream().anyMatch(p -> p.id() <= 5)).isFalse();
    }

    /** Smoothing takes shake out of the path and pays for it in pixels; none is taken out unasked. */
    @Test
    void smoothingIsPaidForInPixels() {
        Random shake = new Random(8);
        double[][] jolt = new double[60][3];
        for (double[] j : jolt) for (int k = 0; k < 3; k++) j[k] = 0.0004 * shake.nextGaussian();
        KnownShot shot = new KnownShot(
                60,
                260,
                0.3,
                0,
                4,
                new Lens(1100, 640, 360, -0.05, 0),
                t -> {
                    double[] j = jolt[(int) Math.round(24 * t)];
                    return new Pose(Quat.fromRotationVector(j[0], 0.08 * t + j[1], j[2]), new Vec3(0.8 * t, 1.6, 0));
                },
                t -> 1,
                3,
                15);
        SolveSettings u = SolveSettings.UNKNOWN;
        SolvedCamera as = CameraSolver.solve(shot.tracks, shot.width, shot.height, RATE, u, Progress.NONE);
        SolvedCamera smooth = CameraSolver.solve(
                shot.tracks,
                shot.width,
                shot.height,
                RATE,
                new SolveSettings(u.kind(), u.focal(), 0, u.terms(), 0.5, 1),
                Progress.NONE);
        double a = jerk(as), b = jerk(smooth);
        System.out.printf(
                "shake %.4f deg a frame and frame as solved, %.4f smoothed; %.2f to %.2f px%n",
                a, b, as.rmsPx(), smooth.rmsPx());
        assertThat(shot.compare(as).rotationDeg()).isLessThan(0.1);
        assertThat(b).isLessThan(0.6 * a);
        assertThat(smooth.rmsPx()).isGreaterThan(as.rmsPx());
    }

    private static double jerk(SolvedCamera s) {
        double sum = 0;
        for (int i = 1; i + 1 < s.frames().size(); i++) {
            Quat p = s.frames().get(i - 1).pose().rotation(),
                    q = s.frames().get(i).pose().rotation(),
                    r = s.frames().get(i + 1).pose().rotation();
            sum += Math.pow(
                    Math.toDegrees(p.conjugate().times(q).angleTo(q.conjugate().times(r))), 2);
        }
        return Math.sqrt(sum / (s.frames().size() - 2));
    }

    /** Some marks creep a little: too little to be thrown out at once, enough to be the worst. */
    @Test
    void cleaningStopsWhenItStopsHelping() {
        KnownShot shot = new KnownShot(
                80, 500, 0.25, 0, 21, new Lens(1100, 640, 360, -0.06, 0), KnownShot.handHeld(1), t -> 1, 3, 15);
        List<Track> creeping = new ArrayList<>();
        for (Track t : shot.tracks) {
            double[] x = t.x().clone();
            if (t.id() % 9 == 0) for (int i = 0; i < x.length; i++) x[i] += 0.75 * Math.sin(0.25 * i + t.id());
            creeping.add(new Track(t.id(), t.frames(), x, t.y()));
        }
        SolvedCamera s =
                CameraSolver.solve(creeping, shot.width, shot.height, RATE, SolveSettings.UNKNOWN, Progress.NONE);
        Cleaning.Cleaned c = Cleaning.clean(
                s, creeping, (before, left) -> CameraSolver.again(before, left, SolveSettings.UNKNOWN, Progress.NONE));
        System.out.println(c.log());
        assertThat(c.removed()).isNotEmpty();
        assertThat(c.removed().stream().filter(i -> i % 9 == 0).count())
                .as("most of what went did creep")
                .isGreaterThan(c.removed().size() * 7 / 10);
        assertThat(c.camera().rmsPx()).isLessThan(s.rmsPx());
        assertThat(shot.heldOutPx(c.camera())).isLessThan(0.5);
    }

    /**
     * What a solve says of its focal length holds as a rate: where the footage hardly determines it, the error lies
     * where it was said to.
     */
    @Test
    void statedUncertaintyIsTrueAsARate() {
        double sum = 0;
        int inside = 0, n = 10;
        for (int seed = 0; seed < n; seed++) {
            KnownShot shot = new KnownShot(
                    36,
                    90,
                    0.5,
                    0,
                    seed,
                    new Lens(2600, 640, 360, -0.02, 0),
                    t -> new Pose(
                            Quat.fromRotationVector(0.004 * Math.sin(3 * t), 0.03 * t, 0), new Vec3(0.9 * t, 1.6, 0)),
                    t -> 1,
                    9,
                    30);
            SolvedCamera s = CameraSolver.solve(
                    shot.tracks,
                    shot.width,
                    shot.height,
                    RATE,
                    SolveSettings.UNKNOWN.with(SolveSettings.Kind.MOVING),
                    Progress.NONE);
            double z = (s.lens().focalPx() - 2600) / s.focalOff();
            sum += z * z / n;
            if (Math.abs(z) < 2) inside++;
        }
        System.out.printf(
                "focal length over %d seeds: %d within two stated deviations, RMS of the ratio %.2f%n",
                n, inside, Math.sqrt(sum));
        assertThat(inside).isGreaterThanOrEqualTo(8);
        assertThat(Math.sqrt(sum)).isBetween(0.4, 1.9);
    }

    @Test
    void nonsenseIsRefusedWithTheReason() {
        List<Track> still = new ArrayList<>(), line = new ArrayList<>();
        Random r = new Random(2);
        for (int i = 1; i <= 40; i++) {
            int[] f = java.util.stream.IntStream.rangeClosed(1, 30).toArray();
            double x = 1200 * r.nextDouble(), y = 700 * r.nextDouble();
            double[] a = new double[30], b = new double[30];
            for (int k = 0; k < 30; k++) {
                a[k] = x + 0.05 * r.nextGaussian();
                b[k] = y + 0.05 * r.nextGaussian();
            }
            still.add(new Track(i, f, a, b));
            double[] c = Arrays.stream(f).mapToDouble(k -> x + 3 * k).toArray(),
                    d =
                            Arrays.stream(f)
                                    .mapToDouble(k -> 300 + 0.1 * (x + 3 * k))
                                    .toArray();
            line.add(new Track(i, f, c, d));
        }
        assertThatThrownBy(() -> CameraSolver.solve(still, 1280, 720, RATE, SolveSettings.UNKNOWN, Progress.NONE))
                .isInstanceOf(NoSolution.class)
                .hasMessageContaining("stands still");
        assertThatThrownBy(() -> CameraSolver.solve(line, 1280, 720, RATE, SolveSettings.UNKNOWN, Progress.NONE))
                .isInstanceOf(NoSolution.class);
    }

    /** A focal length given three times too long, and held: the marks cannot agree, and that is said. */
    @Test
    void aWrongFocalLengthIsNoticed() {
        KnownShot shot = new KnownShot(
                60,
                250,
                0.3,
                0.1,
                9,
                new Lens(1100, 640, 360, -0.05, 0),
                t -> new Pose(
                        Quat.fromRotationVector(0.03 * Math.sin(3 * t), 0.15 * t, 0.02 * t),
                        new Vec3(0.8 * t, 1.6, -0.5 * t)),
                t -> 1,
                3,
                15);
        try {
            SolvedCamera s = CameraSolver.solve(
                    shot.tracks, shot.width, shot.height, RATE, SolveSettings.UNKNOWN.withFocal(3300), Progress.NONE);
            assertThat(s.remarks()).anySatisfy(m -> assertThat(m).contains("may be wrong"));
        } catch (NoSolution e) {
            assertThat(e.getMessage()).isNotEmpty();
        }
    }
}
