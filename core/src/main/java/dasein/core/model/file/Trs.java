package dasein.core.model.file;

import dasein.core.math.Quat;

/**
 * A map taken apart into move, turn and size along the turned axes, as glTF 2.0 (3.5.2) wants a node's; shear is lost.
 *
 * @param turn x, y, z, w
 */
record Trs(float[] move, float[] turn, float[] size) {
    /** @param a 3x4, row-major. A mirrored map has a negative first size. */
    static Trs of(double[] a) {
        double det = a[0] * (a[5] * a[10] - a[6] * a[9])
                - a[1] * (a[4] * a[10] - a[6] * a[8])
                + a[2] * (a[4] * a[9] - a[5] * a[8]);
        float[] s = new float[3];
        for (int k = 0; k < 3; k++)
            s[k] = (float) Math.sqrt(a[k] * a[k] + a[4 + k] * a[4 + k] + a[8 + k] * a[8 + k])
                    * (k == 0 && det < 0 ? -1 : 1);
        if (s[0] * s[1] * s[2] == 0)
            return new Trs(new float[] {(float) a[3], (float) a[7], (float) a[11]}, new float[] {0, 0, 0, 1}, s);
        double[] q = new double[9];
        for (int i = 0; i < 3; i++) for (int k = 0; k < 3; k++) q[3 * i + k] = a[4 * i + k] / s[k];
        Quat u = Quat.fromMatrix(q);
        return new Trs(
                new float[] {(float) a[3], (float) a[7], (float) a[11]},
                new float[] {(float) u.x(), (float) u.y(), (float) u.z(), (float) u.w()},
                s);
    }
}
