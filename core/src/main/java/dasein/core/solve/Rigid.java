package dasein.core.solve;

/** A camera inside the solver: world X to camera R (X - C), looking along +Z with y down. R row-major. */
final class Rigid {
    final double[] r;
    final double[] c;

    Rigid(double[] r, double[] c) {
        this.r = r;
        this.c = c;
    }

    static Rigid identity() {
        return new Rigid(new double[] {1, 0, 0, 0, 1, 0, 0, 0, 1}, new double[3]);
    }

    Rigid copy() {
        return new Rigid(r.clone(), c.clone());
    }

    /** R x, with x a direction or X - w C already formed. */
    static double[] apply(double[] r, double x, double y, double z) {
        return new double[] {
            r[0] * x + r[1] * y + r[2] * z, r[3] * x + r[4] * y + r[5] * z, r[6] * x + r[7] * y + r[8] * z
        };
    }

    /** Camera coordinates of homogeneous p (not divided by w). */
    double[] toCamera(double[] p) {
        return apply(r, p[0] - p[3] * c[0], p[1] - p[3] * c[1], p[2] - p[3] * c[2]);
    }

    static double[] multiply(double[] a, double[] b) {
        double[] m = new double[9];
        for (int i = 0; i < 3; i++)
            for (int j = 0; j < 3; j++)
                m[3 * i + j] = a[3 * i] * b[j] + a[3 * i + 1] * b[3 + j] + a[3 * i + 2] * b[6 + j];
        return m;
    }

    /** Turned by the small rotation vector w on the left, moved by d. */
    Rigid moved(double wx, double wy, double wz, double dx, double dy, double dz) {
        double[] e = dasein.core.math.Quat.fromRotationVector(wx, wy, wz).matrix();
        double[] m = multiply(e, r);
        // Re-orthonormalise through the quaternion so that thousands of small turns do not drift.
        return new Rigid(dasein.core.math.Quat.fromMatrix(m).matrix(), new double[] {c[0] + dx, c[1] + dy, c[2] + dz});
    }
}
