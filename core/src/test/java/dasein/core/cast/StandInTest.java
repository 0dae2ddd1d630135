package dasein.core.cast;

import static org.assertj.core.api.Assertions.assertThat;

import dasein.core.lens.Lens;
import dasein.core.math.Pose;
import dasein.core.math.Quat;
import dasein.core.math.Vec3;
import dasein.core.plate.Rate;
import dasein.core.solve.SolvedCamera;
import java.util.List;
import org.junit.jupiter.api.Test;

/** The stand-in is seen on the ground, whichever way the camera looks. */
class StandInTest {
    private static final Lens LENS = new Lens(1100, 640, 360, -0.05, 0);

    private static SolvedCamera camera(Vec3 eye, double heading, double tilt) {
        Pose p = new Pose(Quat.axisAngle(Vec3.Y, heading).times(Quat.axisAngle(Vec3.X, tilt)), eye);
        return new SolvedCamera(
                1280,
                720,
                new Rate(24, 1),
                "moving",
                0.3,
                20,
                LENS,
                List.of(new SolvedCamera.Frame(1, p, 1100, 0.3, 50)),
                List.of(),
                1,
                List.of());
    }

    @Test
    void itStandsWhereTheGroundIsSeen() {
        SolvedCamera c = camera(new Vec3(3, 1.6, -2), 0.7, -0.2);
        Vec3 at = StandIn.place(c);
        assertThat(at.y()).isZero();
        double[] px = LENS.project(c.frames().get(0).pose().toLocal(at));
        assertThat(px[0]).isBetween(630.0, 650.0);
        assertThat(px[1]).isBetween(0.70 * 720, 0.74 * 720);
    }

    /** Straight down, and over the horizon: still before the camera, neither under it nor out of sight. */
    @Test
    void itIsNeitherUnderTheCameraNorOutOfSight() {
        for (double tilt : new double[] {-1.5, -0.9, 0.3, 0.6}) {
            Vec3 eye = new Vec3(0, 1.6, 0), at = StandIn.place(camera(eye, 0, tilt));
            assertThat(Math.hypot(at.x(), at.z())).as("tilt " + tilt).isBetween(1.99, 12.01);
        }
    }
}
