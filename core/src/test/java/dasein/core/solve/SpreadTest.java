package dasein.core.solve;

import static org.assertj.core.api.Assertions.assertThat;

import dasein.core.Progress;
import dasein.core.lens.Lens;
import dasein.core.math.Pose;
import dasein.core.math.Quat;
import dasein.core.math.Vec3;
import dasein.core.plate.Rate;
import dasein.core.track.Track;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.Test;

/**
 * What a solve says of its own uncertainty, against how far it really is off over many solves; and its first choice.
 */
class SpreadTest {
    private static final Lens LENS = new Lens(1100, 640, 360, -0.05, 0);
    private static final int FRAMES = 30;

    private static Pose pose(int f) {
        double t = f / 24.0;
        return new Pose(
                Quat.fromRotationVector(0.02 * Math.sin(3 * t), 0.06 * t, 0),
                new Vec3(0.9 * t, 1.6 + 0.05 * Math.sin(4 * t), -0.3 * t));
    }

    private static List<Vec3> places() {
        Random r = new Random(77);
        List<Vec3> out = new ArrayList<>();
        while (out.size() < 60) {
            Vec3 p = pose(1 + r.nextInt(FRAMES))
                    .toWorld(LENS.ray(60 + 1160 * r.nextDouble(), 40 + 640 * r.nextDouble())
                            .times(3 + 9 * r.nextDouble()));
            out.add(p);
        }
        return out;
    }

    private static List<Track> seen(List<Vec3> places, double noise, Random r) {
        List<Track> out = new ArrayList<>();
        for (Vec3 p : places) {
            List<Integer> f = new ArrayList<>();
            List<double[]> q = new ArrayList<>();
            for (int n = 1; n <= FRAMES; n++) {
                double[] k = LENS.project(pose(n).toLocal(p));
                if (k == null || k[0] < 0 || k[1] < 0 || k[0] > 1280 || k[1] > 720) continue;
                f.add(n);
                q.add(new double[] {k[0] + noise * r.nextGaussian(), k[1] + noise * r.nextGaussian()});
            }
            if (f.size() > 9)
                out.add(new Track(
                        out.size() + 1,
                        f.stream().mapToInt(k -> k).toArray(),
                        q.stream().mapToDouble(k -> k[0]).toArray(),
                        q.stream().mapToDouble(k -> k[1]).toArray()));
        }
        return out;
    }

    /** Over two dozen takes of other noise: turns, places of cameras and focal length lie where they were said to. */
    @Test
    void statedDeviationsAreThoseThatHappen() {
        List<Vec3> places = places();
        List<Pose> truth = new ArrayList<>();
        for (int f = 1; f <= FRAMES; f++) truth.add(pose(f));
        int takes = 24;
        double turns = 0, focal = 0, points = 0;
        int n = 0, m = 0;
        for (int take = 0; take < takes; take++) {
            SolvedCamera s = CameraSolver.solve(
                    seen(places, 0.4, new Random(take)),
                    1280,
                    720,
                    new Rate(24, 1),
                    SolveSettings.UNKNOWN.with(SolveSettings.Kind.MOVING),
                    Progress.NONE);
            focal += Math.pow((s.lens().focalPx() - 1100) / s.focalOff(), 2) / takes;
            // Said against the first frame, so the first frame is laid over the true one.
            Quat lay =
                    truth.get(0).rotation().times(s.frame(1).pose().rotation().conjugate());
            for (int f = 10; f <= FRAMES; f += 10) {
                double off = Math.toDegrees(lay.times(s.frame(f).pose().rotation())
                        .angleTo(truth.get(f - 1).rotation()));
                turns += Math.pow(off / s.frame(f).offDeg(), 2);
                n++;
            }
            double scale =
                    truth.get(0).position().distance(truth.get(FRAMES - 1).position())
                            / s.frame(1)
                                    .pose()
                                    .position()
                                    .distance(s.frame(FRAMES).pose().position());
            List<Track> tracks = seen(places, 0, new Random(0));
            for (SolvedCamera.Point p : s.points()) {
                if (p.id() % 7 != 0 || Double.isNaN(p.off())) continue;
                // The place in the first camera's own axes, against the true one.
                Vec3 got = s.frame(1).pose().toLocal(p.position()).times(scale),
                        want = truth.get(0).toLocal(placeOf(places, tracks, p.id()));
                points += Math.pow(got.distance(want) / (scale * p.off()), 2);
                m++;
            }
        }
        System.out.printf(
                "stated deviations over %d takes: focal length %.2f, turns %.2f, places %.2f times as far off%n",
                takes, Math.sqrt(focal), Math.sqrt(turns / n), Math.sqrt(points / m));
        assertThat(Math.sqrt(focal)).isBetween(0.5, 1.7);
        // Three numbers together are off by up to the root of three of one.
        assertThat(Math.sqrt(turns / n)).isBetween(0.5, 1.8);
        assertThat(Math.sqrt(points / m)).isBetween(0.5, 2.2);
    }

    /** Tracks are numbered in the order in which their places were seen long enough. */
    private static Vec3 placeOf(List<Vec3> places, List<Track> tracks, int id) {
        Track t = tracks.get(id - 1);
        for (Vec3 p : places) {
            double[] q = LENS.project(pose(t.frames()[0]).toLocal(p));
            if (q != null && Math.hypot(q[0] - t.x()[0], q[1] - t.y()[0]) < 1e-6) return p;
        }
        throw new IllegalStateException();
    }

    // --- kinds -------------------------------------------------------------------------------------------------------

    private static KindChoice choice(KnownShot.Move move, double noise) {
        KnownShot k = new KnownShot(60, 220, noise, 0, 5, LENS, move, t -> 1, 3, 12);
        return KindChoice.of(new Observations(k.tracks), 1280, 720);
    }

    @Test
    void whatTheCameraDidIsToldFromItsMarks() {
        KindChoice moved = choice(KnownShot.handHeld(1), 0.3),
                turned = choice(t -> new Pose(Quat.axisAngle(Vec3.Y, 0.15 * t), new Vec3(0, 1.6, 0)), 0.3),
                still = choice(t -> new Pose(Quat.IDENTITY, new Vec3(0, 1.6, 0)), 0.1);
        assertThat(moved.moves()).isTrue();
        assertThat(moved.parallaxPx()).isGreaterThan(5);
        assertThat(moved.reason()).startsWith("The camera moved");
        assertThat(turned.moves()).isFalse();
        assertThat(turned.still()).isFalse();
        assertThat(turned.parallaxPx()).isLessThan(1);
        assertThat(turned.reason()).startsWith("The camera turned in place");
        assertThat(still.still()).isTrue();
        assertThat(still.reason()).contains("stands still");
    }

    /** A bent lens makes straight maps bend: it must not be taken for a move. */
    @Test
    void aBentLensIsNoMove() {
        KnownShot k = new KnownShot(
                60,
                220,
                0.2,
                0,
                5,
                new Lens(1100, 640, 360, -0.2, 0),
                t -> new Pose(Quat.axisAngle(Vec3.Y, 0.15 * t), new Vec3(0, 1.6, 0)),
                t -> 1,
                3,
                12);
        assertThat(KindChoice.of(new Observations(k.tracks), 1280, 720).moves()).isFalse();
    }

    @Test
    void observationsAreTheTracksLaidOut() {
        Track a = new Track(5, new int[] {3, 4, 5}, new double[] {1, 2, 3}, new double[] {4, 5, 6}),
                b = new Track(9, new int[] {4, 6}, new double[] {7, 8}, new double[] {9, 10});
        Observations o = new Observations(List.of(a, b));
        assertThat(o.firstFrame).isEqualTo(3);
        assertThat(o.frames).isEqualTo(4);
        assertThat(o.sightings()).isEqualTo(5);
        assertThat(o.seen[1]).containsExactly(0, 1);
        assertThat(o.common(0, 2)).containsExactly(0);
        assertThat(o.common(2, 3)).isEmpty();
        assertThat(o.at(1, 3)).isEqualTo(1);
        assertThat(o.at(1, 2)).isNegative();
        List<Track> line = new ArrayList<>();
        for (int i = 0; i < 8; i++)
            line.add(
                    new Track(i, new int[] {1, 2}, new double[] {100 * i, 100 * i + 3}, new double[] {50 * i, 50 * i}));
        assertThat(new Observations(line).onOneLine(1280)).isTrue();
        line.add(new Track(9, new int[] {1, 2}, new double[] {100, 100}, new double[] {600, 600}));
        assertThat(new Observations(line).onOneLine(1280)).isFalse();
    }
}
