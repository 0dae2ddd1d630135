package dasein.shoot;

import dasein.core.math.Pose;
import dasein.core.math.Quat;
import dasein.core.math.Vec3;

/** The strider's eye: a glowing core deep in a bowl that gives its light back, behind a domed glass. */
final class StriderEye {
    private static final Quat AHEAD = Quat.axisAngle(Vec3.X, Math.PI / 2);

    private final Vec3 head;

    StriderEye(Vec3 head) {
        this.head = head;
    }

    private Shape ahead(double z) {
        Shape s = new Shape();
        s.joint = Strider.HEAD;
        return ahead(s, z);
    }

    private Shape ahead(Shape s, double z) {
        s.at = new Pose(AHEAD, head.plus(new Vec3(0, 0, z)));
        return s;
    }

    /** Rim, the collar behind it, and rings that step down into the bowl. */
    Shape socket() {
        Shape s = ahead(0.285);
        s.torus(0.064, 0.011, 48, 14);
        ahead(s, 0.25);
        s.lathe(new double[] {0, 0.02, 0.035}, new double[] {0.062, 0.068, 0.070}, 40, 1, 0);
        for (int k = 0; k < 3; k++) ahead(s, 0.266 - 0.017 * k).torus(0.057 - 0.008 * k, 0.0035, 40, 8);
        return s;
    }

    Shape bowl() {
        Shape s = ahead(0.275);
        s.lathe(
                new double[] {0, -0.02, -0.045, -0.066, -0.080, -0.085},
                new double[] {0.062, 0.057, 0.046, 0.030, 0.013, 0},
                40,
                1,
                0);
        return s;
    }

    Shape core() {
        Shape s = ahead(0.212);
        s.lathe(
                new double[] {-0.016, -0.012, 0, 0.010, 0.016, 0.018},
                new double[] {0.008, 0.014, 0.019, 0.016, 0.008, 0},
                28,
                1,
                0);
        return s;
    }

    Shape lens() {
        Shape s = ahead(0.283);
        s.lathe(new double[] {0, 0.011, 0.020, 0.026, 0.028}, new double[] {0.062, 0.055, 0.040, 0.020, 0}, 40, 1, 0);
        return s;
    }
}
