package dasein.core.solve;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import dasein.core.Progress;
import dasein.core.lens.Lens;
import dasein.core.math.Pose;
import dasein.core.math.Quat;
import dasein.core.math.Vec3;
import dasein.core.plate.Rate;
import dasein.core.track.Track;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.Test;

/** Rows that are read one after the other, with a camera that is known: no solve is needed to see what is taken off. */
class RollingShutterTest {
    private static final Lens LENS = new Lens(1000, 640, 360, -0.05, 0);
    private static final double YAW = 0.02, SPEED = 0.05;

    /** Turns and goes evenly, so that between two frames it is exactly where interpolation says. */
    private static Pose even(double frame) {
        return new Pose(Quat.axisAngle(Vec3.Y, YAW * frame), new Vec3(SPEED * frame, 1.6, 0));
    }

    private static SolvedCamera camera(int frames, List<SolvedCamera.Point> points) {
        List<SolvedCamera.Frame> of = new ArrayList<>();
        for (int f = 1; f <= frames; f++) of.add(new SolvedCamera.Frame(f, even(f), 1000, 0.3, points.size()));
        return new SolvedCamera(1280, 720, new Rate(24, 1), "moving", 0.3, 9, LENS, of, points);
    }

    /** Where a camera that reads its rows one after the other sees a point: the row decides the moment. */
    private static double[] rolled(int frame, double readout, Vec3 p) {
        double[] q = LENS.project(even(frame).toLocal(p));
        for (int k = 0; k < 30; k++)
            q = LENS.project(even(frame + readout * (q[1] / 720 - 0.5)).toLocal(p));
        return q;
    }

    private static List<Vec3> places() {
        List<Vec3> out = new ArrayList<>();
        for (double x : new double[] {-2, 0, 2.5})
            for (double y : new double[] {0.3, 1.6, 3})
                for (double z : new double[] {-5, -9}) out.add(new Vec3(x, y, z));
        return out;
    }

    private static List<Track> seen(double readout, int frames) {
        List<Track> out = new ArrayList<>();
        for (Vec3 p : places()) {
            int[] f = new int[frames];
            double[] x = new double[frames], y = new double[frames];
            for (int k = 0; k < frames; k++) {
                double[] q = rolled(k + 1, readout, p);
                f[k] = k + 1;
                x[k] = q[0];
                y[k] = q[1];
            }
            out.add(new Track(out.size() + 1, f, x, y));
        }
        return out;
    }

    private static List<SolvedCamera.Point> points() {
        List<SolvedCamera.Point> out = new ArrayList<>();
        for (Vec3 p : places()) out.add(new SolvedCamera.Point(out.size() + 1, p, 0.3));
        return out;
    }

    @Test
    void marksComeBackToWhereTheMiddleRowsMomentPutsThem() {
        SolvedCamera c = camera(8, points());
        for (double readout : new double[] {0.5, 1, -0.7}) {
            double before = 0, after = 0;
            List<Track> rolled = seen(readout, 8), back = RollingShutter.corrected(rolled, c, readout);
            for (int i = 0; i < rolled.size(); i++) {
                Vec3 p = places().get(i);
                // The first and last frames have a neighbour on one side only; even motion makes that no difference.
                for (int k = 0; k < 8; k++) {
                    double[] want = LENS.project(even(k + 1).toLocal(p));
                    before = Math.max(
                            before,
                            Math.hypot(
                                    rolled.get(i).x()[k] - want[0],
                                    rolled.get(i).y()[k] - want[1]));
                    after = Math.max(
                            after,
                            Math.hypot(back.get(i).x()[k] - want[0], back.get(i).y()[k] - want[1]));
                }
            }
            assertThat(before).as("it mattered").isGreaterThan(3);
            assertThat(after).as("readout " + readout).isLessThan(0.01);
        }
    }

    @Test
    void noReadoutChangesNothing() {
        List<Track> t = seen(0, 5);
        List<Track> same = RollingShutter.corrected(t, camera(5, points()), 0);
        for (int i = 0; i < t.size(); i++) {
            assertThat(same.get(i).x()).isEqualTo(t.get(i).x());
            assertThat(same.get(i).y()).isEqualTo(t.get(i).y());
        }
    }

    /** A mark without a point is taken for far away: exact when the camera only turns. */
    @Test
    void aMarkWithoutAPointIsFarAway() {
        Vec3 far = new Vec3(200, 600, -4000);
        double[] q = rolled(3, 0.8, far), want = LENS.project(even(3).toLocal(far));
        Track t = new Track(77, new int[] {3}, new double[] {q[0]}, new double[] {q[1]});
        Track back =
                RollingShutter.corrected(List.of(t), camera(6, points()), 0.8).get(0);
        assertThat(Math.hypot(q[0] - want[0], q[1] - want[1])).isGreaterThan(1);
        assertThat(Math.hypot(back.x()[0] - want[0], back.y()[0] - want[1])).isLessThan(0.05);
    }

    @Test
    void betweenFramesTheCameraIsWhereItsMotionPutsIt() {
        SolvedCamera c = camera(5, List.of());
        for (double dt : new double[] {-0.5, -0.2, 0, 0.3, 0.5}) {
            for (int f = 1; f <= 5; f++) {
                Pose p = RollingShutter.at(c, f, dt), want = even(f + dt);
                assertThat(p.position().distance(want.position())).isLessThan(1e-9);
                assertThat(p.rotation().angleTo(want.rotation())).isLessThan(1e-7);
            }
        }
        // A frame by itself has no motion.
        SolvedCamera alone = camera(1, List.of());
        assertThat(RollingShutter.at(alone, 1, 0.5)).isEqualTo(even(1));
    }

    /** Where the camera hardly moves, rows tell nothing: no readout is made up. */
    @Test
    void aStillCameraTellsNoReadout() {
        List<SolvedCamera.Frame> of = new ArrayList<>();
        List<Track> tracks = new ArrayList<>();
        for (int f = 1; f <= 6; f++) of.add(new SolvedCamera.Frame(f, even(0), 1000, 0.3, 9));
        for (Vec3 p : places()) {
            double[] q = LENS.project(even(0).toLocal(p)), x = new double[6], y = new double[6];
            java.util.Random r = new java.util.Random(tracks.size());
            for (int k = 0; k < 6; k++) {
                x[k] = q[0] + 0.2 * r.nextGaussian();
                y[k] = q[1] + 0.2 * r.nextGaussian();
            }
            tracks.add(new Track(tracks.size() + 1, new int[] {1, 2, 3, 4, 5, 6}, x, y));
        }
        SolvedCamera still = new SolvedCamera(1280, 720, new Rate(24, 1), "moving", 0.3, 9, LENS, of, points());
        SolvedCamera s =
                RollingShutter.solve(still, tracks, Hints.SOLVE_READOUT, (before, marks) -> before, Progress.NONE);
        assertThat(s.readout()).isCloseTo(0, within(1e-12));
        assertThat(s.remarks()).anyMatch(m -> m.contains("says nothing of the readout"));
        assertThat(s.remarks()).noneMatch(RollingShutter::saysReadout);
        // A given one is taken as it is.
        assertThat(RollingShutter.solve(still, tracks, 0.4, (before, marks) -> before, Progress.NONE)
                        .readout())
                .isEqualTo(0.4);
    }
}
