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
import java.util.Arrays;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Shots at the edge of what can be solved, of known truth. */
class HardShotsTest {
    private static final Rate RATE = new Rate(24, 1);
    private static final Lens LENS = new Lens(1100, 640, 360, -0.08, 0);

    private static SolvedCamera solved(KnownShot shot, String name) {
        long t = System.nanoTime();
        SolvedCamera s =
                CameraSolver.solve(shot.tracks, shot.width, shot.height, RATE, SolveSettings.UNKNOWN, Progress.NONE);
        System.out.printf(
                "%s: %d frames of %d as %s, held-out %.2f px, rms %.2f, focal %.1f, %.1f s%n",
                name,
                s.frames().size(),
                shot.frames,
                s.kind(),
                shot.heldOutPx(s),
                s.rmsPx(),
                s.lens().focalPx(),
                (System.nanoTime() - t) / 1e9);
        return s;
    }

    @Test
    void halfOfTheTracksLie() {
        KnownShot shot = new KnownShot(80, 400, 0.3, 0.5, 7, LENS, KnownShot.handHeld(1), t -> 1, 3, 15);
        SolvedCamera s = solved(shot, "half lying");
        assertThat(s.frames()).hasSize(80);
        assertThat(shot.heldOutPx(s)).isLessThan(0.5);
        assertThat(shot.compare(s).rotationDeg()).isLessThan(0.1);
    }

    /** Eight marks on a thing near the camera, all seen throughout: little, but enough with a known lens. */
    @Test
    void eightTracksAreEnoughWithAKnownLens() {
        Random r = new Random(5);
        int n = 48;
        List<Pose> poses = new ArrayList<>();
        for (int f = 0; f < n; f++)
            poses.add(new Pose(Quat.fromRotationVector(0, 0.22 * f / 24.0, 0), new Vec3(1.2 * f / 24.0 - 1.2, 1.6, 0)));
        List<Track> tracks = new ArrayList<>();
        Lens lens = new Lens(1100, 640, 360, 0, 0);
        for (int i = 1; tracks.size() < 8; i++) {
            Vec3 p = new Vec3(3 * r.nextDouble() - 1.5, 3 * r.nextDouble(), -5 - 3 * r.nextDouble());
            double[] x = new double[n], y = new double[n];
            boolean in = true;
            for (int f = 0; f < n; f++) {
                double[] q = lens.project(poses.get(f).toLocal(p));
                in &= q != null && q[0] > 0 && q[1] > 0 && q[0] < 1280 && q[1] < 720;
                if (!in) break;
                x[f] = q[0] + 0.2 * r.nextGaussian();
                y[f] = q[1] + 0.2 * r.nextGaussian();
            }
            if (in)
                tracks.add(new Track(
                        i, java.util.stream.IntStream.rangeClosed(1, n).toArray(), x, y));
        }
        SolveSettings held =
                new SolveSettings(SolveSettings.Kind.AUTO, SolveSettings.Focal.HELD, 1100, LensTerms.NONE, 0, 1);
        SolvedCamera s = CameraSolver.solve(tracks, 1280, 720, RATE, held, Progress.NONE);
        SolvedCamera w = s.in(KnownShot.align(s, poses));
        double rot = w.frames().stream()
                .mapToDouble(f -> Math.toDegrees(
                        f.pose().rotation().angleTo(poses.get(f.frame() - 1).rotation())))
                .max()
                .orElse(9);
        System.out.printf("eight tracks: %s, rms %.2f, rotation at most %.2f deg%n", s.kind(), s.rmsPx(), rot);
        assertThat(s.frames()).hasSize(n);
        assertThat(rot).isLessThan(1);
    }

    /** Something drives across a third of the frame: its marks agree with one another, but not with the rest. */
    @ParameterizedTest
    @ValueSource(longs = {13, 14, 15})
    void aThirdOfTheMarksIsOnAMover(long seed) {
        KnownShot shot = new KnownShot(72, 300, 0.3, 0, seed, LENS, KnownShot.handHeld(1), t -> 1, 3, 15);
        Random r = new Random(seed - 11);
        List<Track> all = new ArrayList<>(shot.tracks);
        for (int i = 0; i < 80; i++) {
            Vec3 at = new Vec3(3 * r.nextDouble() - 2, 0.3 + 2 * r.nextDouble(), -6 - 2 * r.nextDouble());
            double[] x = new double[72], y = new double[72];
            int[] f = new int[72];
            int n = 0;
            for (int k = 0; k < 72; k++) {
                double[] q =
                        LENS.project(shot.poses.get(k).toLocal(at.plus(new Vec3(1.4 * k / 24.0, 0, 0.5 * k / 24.0))));
                if (q == null || q[0] < 0 || q[1] < 0 || q[0] > 1280 || q[1] > 720) break;
                f[n] = k + 1;
                x[n] = q[0] + 0.3 * r.nextGaussian();
                y[n++] = q[1] + 0.3 * r.nextGaussian();
            }
            if (n > 10) all.add(new Track(10_000 + i, Arrays.copyOf(f, n), Arrays.copyOf(x, n), Arrays.copyOf(y, n)));
        }
        SolvedCamera s = CameraSolver.solve(all, shot.width, shot.height, RATE, SolveSettings.UNKNOWN, Progress.NONE);
        System.out.printf(
                "mover: held-out %.2f px, %d of %d points on the mover%n",
                shot.heldOutPx(s),
                s.points().stream().filter(p -> p.id() >= 10_000).count(),
                s.points().size());
        assertThat(shot.heldOutPx(s)).isLessThan(0.5);
        assertThat(shot.compare(s).pathPart()).isLessThan(0.01);
    }

    /** Stands for a second, then walks: one solve. */
    @Test
    void standsThenWalks() {
        KnownShot shot = new KnownShot(
                96,
                400,
                0.3,
                0.1,
                3,
                LENS,
                t -> new Pose(
                        Quat.fromRotationVector(0.01 * Math.sin(3 * t), 0.05 * Math.max(0, t - 1), 0),
                        new Vec3(Math.max(0, t - 1) * 0.7, 1.6, 0.002 * Math.sin(7 * t))),
                t -> 1,
                3,
                15);
        SolvedCamera s = solved(shot, "stands, then walks");
        assertThat(s.frames()).hasSize(96);
        assertThat(shot.heldOutPx(s)).isLessThan(0.5);
    }

    @Test
    void aThousandFrames() {
        KnownShot shot = new KnownShot(
                1000,
                2800,
                0.3,
                0.1,
                17,
                LENS,
                t -> new Pose(
                        Quat.axisAngle(Vec3.Y, 0.3 * Math.sin(0.2 * t))
                                .times(Quat.axisAngle(Vec3.X, 0.02 * Math.sin(3 * t))),
                        new Vec3(0.5 * t, 1.6 + 0.03 * Math.sin(8 * t), -0.15 * t)),
                t -> 1,
                3,
                15);
        SolvedCamera s = solved(shot, "1000 frames");
        assertThat(s.frames()).hasSize(1000);
        assertThat(shot.heldOutPx(s)).isLessThan(0.5);
    }
}
