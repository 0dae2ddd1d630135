package dasein.core.solve;

import org.ejml.simple.SimpleMatrix;
import org.ejml.simple.SimpleSVD;

/** The plane-to-plane map between two views, fitted robustly: what it leaves over is parallax. */
final class Homography {
    private static final int REWEIGHTINGS = 6;

    private Homography() {}

    /**
     * Median distance in pixels that the best homography from a to b leaves: near zero when the camera only turned or
     * saw a plane. Direct linear transform (Hartley and Zisserman 4.1), re-weighted towards the smaller residuals.
     */
    static double parallax(double[][] a, double[][] b) {
        return median(left(a, b));
    }

    /** What that homography leaves at every mark, pixels. */
    static double[] left(double[][] a, double[][] b) {
        int n = a.length;
        double[] na = normaliser(a), nb = normaliser(b), w = new double[n], left = new double[n];
        java.util.Arrays.fill(w, 1);
        for (int round = 0; round < REWEIGHTINGS; round++) {
            SimpleMatrix ata = new SimpleMatrix(9, 9);
            for (int i = 0; i < n; i++) {
                double x = (a[i][0] - na[0]) * na[2],
                        y = (a[i][1] - na[1]) * na[2],
                        u = (b[i][0] - nb[0]) * nb[2],
                        v = (b[i][1] - nb[1]) * nb[2];
                double[][] rows = {{-x, -y, -1, 0, 0, 0, u * x, u * y, u}, {0, 0, 0, -x, -y, -1, v * x, v * y, v}};
                for (double[] r : rows)
                    for (int j = 0; j < 9; j++)
                        for (int k = 0; k < 9; k++) ata.set(j, k, ata.get(j, k) + w[i] * r[j] * r[k]);
            }
            SimpleSVD<SimpleMatrix> svd = ata.svd();
            SimpleMatrix h = svd.getV().extractVector(false, 8);
            for (int i = 0; i < n; i++) {
                double x = (a[i][0] - na[0]) * na[2], y = (a[i][1] - na[1]) * na[2];
                double d = h.get(6) * x + h.get(7) * y + h.get(8);
                double u = (h.get(0) * x + h.get(1) * y + h.get(2)) / d / nb[2] + nb[0],
                        v = (h.get(3) * x + h.get(4) * y + h.get(5)) / d / nb[2] + nb[1];
                left[i] = Math.hypot(u - b[i][0], v - b[i][1]);
            }
            double m = median(left);
            for (int i = 0; i < n; i++) w[i] = 1 / (1 + left[i] * left[i] / (m * m + 1e-6));
        }
        return left;
    }

    private static double[] normaliser(double[][] p) {
        double x = 0, y = 0, d = 0;
        for (double[] q : p) {
            x += q[0] / p.length;
            y += q[1] / p.length;
        }
        for (double[] q : p) d += Math.hypot(q[0] - x, q[1] - y) / p.length;
        return new double[] {x, y, Math.sqrt(2) / Math.max(d, 1e-9)};
    }

    static double median(double[] v) {
        double[] s = v.clone();
        java.util.Arrays.sort(s);
        return s.length == 0 ? 0 : s[s.length / 2];
    }
}
