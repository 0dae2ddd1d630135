package dasein.core.track;

/** Inverse of a symmetric positive definite 6x6 matrix by Cholesky, without allocation by the caller's hot loop. */
final class Spd6 {
    private Spd6() {}

    /** False when the matrix is not positive definite to working precision. */
    static boolean invert(double[] m, double[] out) {
        double[] l = new double[36];
        for (int i = 0; i < 6; i++) {
            for (int j = 0; j <= i; j++) {
                double s = m[i * 6 + j];
                for (int k = 0; k < j; k++) s -= l[i * 6 + k] * l[j * 6 + k];
                if (i == j) {
                    if (s <= 1e-12 * m[i * 6 + i]) return false;
                    l[i * 6 + i] = Math.sqrt(s);
                } else {
                    l[i * 6 + j] = s / l[j * 6 + j];
                }
            }
        }
        double[] y = new double[6];
        for (int c = 0; c < 6; c++) {
            for (int i = 0; i < 6; i++) {
                double s = i == c ? 1 : 0;
                for (int k = 0; k < i; k++) s -= l[i * 6 + k] * y[k];
                y[i] = s / l[i * 6 + i];
            }
            for (int i = 5; i >= 0; i--) {
                double s = y[i];
                for (int k = i + 1; k < 6; k++) s -= l[k * 6 + i] * out[k * 6 + c];
                out[i * 6 + c] = s / l[i * 6 + i];
            }
        }
        return true;
    }
}
