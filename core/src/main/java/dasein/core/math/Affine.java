package dasein.core.math;

/**
 * An affine map as twelve numbers, row-major 3x4: rotation, scale and shear at the left, translation in the last
 * column.
 */
public final class Affine {
    private Affine() {}

    public static double[] identity() {
        return new double[] {1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0};
    }

    /** Scale, then rotate (unit quaternion x, y, z, w), then move. */
    public static double[] of(float[] t, float[] r, float[] s) {
        double[] m = new Quat(r[0], r[1], r[2], r[3]).unit().matrix();
        return new double[] {
            m[0] * s[0],
            m[1] * s[1],
            m[2] * s[2],
            t[0],
            m[3] * s[0],
            m[4] * s[1],
            m[5] * s[2],
            t[1],
            m[6] * s[0],
            m[7] * s[1],
            m[8] * s[2],
            t[2]
        };
    }

    /** From the sixteen column-major numbers of glTF. */
    public static double[] ofColumnMajor(float[] m) {
        return new double[] {m[0], m[4], m[8], m[12], m[1], m[5], m[9], m[13], m[2], m[6], m[10], m[14]};
    }

    /** The turn in a map: its second axis kept, the third made square to it. */
    public static Quat rotation(double[] m) {
        Vec3 y = new Vec3(m[1], m[5], m[9]).unit(), z = new Vec3(m[2], m[6], m[10]);
        z = z.minus(y.times(z.dot(y))).unit();
        Vec3 x = y.cross(z);
        return Quat.fromMatrix(new double[] {x.x(), y.x(), z.x(), x.y(), y.y(), z.y(), x.z(), y.z(), z.z()});
    }

    /** Heading of what faces +Z there, degrees, counter-clockwise from above. */
    public static double headingDeg(double[] m) {
        return Math.toDegrees(Math.atan2(m[2], m[10]));
    }

    /** The map "first b, then a". */
    public static double[] times(double[] a, double[] b) {
        double[] m = new double[12];
        for (int i = 0; i < 3; i++) {
            for (int j = 0; j < 4; j++) {
                m[4 * i + j] = a[4 * i] * b[j]
                        + a[4 * i + 1] * b[4 + j]
                        + a[4 * i + 2] * b[8 + j]
                        + (j == 3 ? a[4 * i + 3] : 0);
            }
        }
        return m;
    }
}
