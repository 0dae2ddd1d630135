package dasein.core.solve;

import java.util.Random;
import org.ejml.simple.SimpleMatrix;

/**
 * The epipolar geometry of two views of unknown lenses, by random samples of eight (Hartley and Zisserman 11.2, 11.6).
 */
final class Fundamental {
    private static final int ROUNDS = 2000;

    private Fundamental() {}

    /** Fundamental matrix with most support; null when too few agree. */
    static double[] ransac(double[][] a, double[][] b, double tolerance, Random rnd) {
        return ransac(a, b, null, tolerance, rnd);
    }

    /** @param weight of each pair in the count of those that agree; null when all count the same */
    static double[] ransac(double[][] a, double[][] b, double[] weight, double tolerance, Random rnd) {
        int n = a.length;
        double[] best = null;
        double score = 0, t2 = tolerance * tolerance;
        for (int r = 0; r < ROUNDS; r++) {
            int[] pick = TwoView.sample(n, 8, rnd);
            double[] e = minimal(a, b, pick);
            if (e == null) continue;
            double s = 0;
            for (int i = 0; i < n; i++)
                s += (weight == null ? 1 : weight[i]) * Math.max(0, 1 - TwoView.sampson(e, a[i], b[i]) / t2);
            if (s > score) {
                score = s;
                best = e;
            }
        }
        for (int round = 0; round < 3 && best != null; round++) {
            double[] now = best;
            int[] in = java.util.stream.IntStream.range(0, n)
                    .filter(i -> TwoView.sampson(now, a[i], b[i]) < t2)
                    .toArray();
            if (in.length < Math.max(Math.min(12, n), n / 3)) return null;
            best = eightPoint(a, b, in);
        }
        return best;
    }

    /**
     * The one matrix that eight pairs leave, by elimination with full pivoting. Its rank is not brought down to two: to
     * count those that agree it serves as well, and needs no singular values.
     */
    private static double[] minimal(double[][] a, double[][] b, int[] pick) {
        double[] na = normaliser(a, pick), nb = normaliser(b, pick);
        double[][] m = new double[8][];
        for (int k = 0; k < 8; k++) {
            int i = pick[k];
            double x = (a[i][0] - na[0]) * na[2],
                    y = (a[i][1] - na[1]) * na[2],
                    u = (b[i][0] - nb[0]) * nb[2],
                    v = (b[i][1] - nb[1]) * nb[2];
            m[k] = new double[] {u * x, u * y, u, v * x, v * y, v, x, y, 1};
        }
        int[] column = {0, 1, 2, 3, 4, 5, 6, 7, 8};
        for (int k = 0; k < 8; k++) {
            int row = k, at = k;
            for (int i = k; i < 8; i++)
                for (int j = k; j < 9; j++)
                    if (Math.abs(m[i][column[j]]) > Math.abs(m[row][column[at]])) {
                        row = i;
                        at = j;
                    }
            double[] swap = m[k];
            m[k] = m[row];
            m[row] = swap;
            int c = column[k];
            column[k] = column[at];
            column[at] = c;
            double pivot = m[k][column[k]];
            if (Math.abs(pivot) < 1e-10) return null;
            for (int i = 0; i < 8; i++) {
                if (i == k) continue;
                double f = m[i][column[k]] / pivot;
                for (int j = k; j < 9; j++) m[i][column[j]] -= f * m[k][column[j]];
            }
        }
        double[] f = new double[9];
        f[column[8]] = 1;
        for (int k = 0; k < 8; k++) f[column[k]] = -m[k][column[8]] / m[k][column[k]];
        // Out of the normalisation: Tb' F Ta with T = [s 0 -s cx; 0 s -s cy; 0 0 1].
        double[] g = new double[9];
        for (int r = 0; r < 3; r++) {
            g[3 * r] = f[3 * r] * na[2];
            g[3 * r + 1] = f[3 * r + 1] * na[2];
            g[3 * r + 2] = f[3 * r + 2] - na[2] * (f[3 * r] * na[0] + f[3 * r + 1] * na[1]);
        }
        double[] out = new double[9];
        for (int c = 0; c < 3; c++) {
            out[c] = g[c] * nb[2];
            out[3 + c] = g[3 + c] * nb[2];
            out[6 + c] = g[6 + c] - nb[2] * (g[c] * nb[0] + g[3 + c] * nb[1]);
        }
        return out;
    }

    private static double[] eightPoint(double[][] a, double[][] b, int[] pick) {
        // Hartley's normalisation keeps the linear system well conditioned.
        double[] na = normaliser(a, pick), nb = normaliser(b, pick);
        SimpleMatrix m = new SimpleMatrix(9, 9);
        double[] r = new double[9];
        for (int i : pick) {
            double x = (a[i][0] - na[0]) * na[2],
                    y = (a[i][1] - na[1]) * na[2],
                    u = (b[i][0] - nb[0]) * nb[2],
                    v = (b[i][1] - nb[1]) * nb[2];
            r[0] = u * x;
            r[1] = u * y;
            r[2] = u;
            r[3] = v * x;
            r[4] = v * y;
            r[5] = v;
            r[6] = x;
            r[7] = y;
            r[8] = 1;
            for (int p = 0; p < 9; p++) for (int q = 0; q < 9; q++) m.set(p, q, m.get(p, q) + r[p] * r[q]);
        }
        SimpleMatrix f = m.svd().getV().extractVector(false, 8);
        f.reshape(3, 3);
        var svd = f.svd();
        SimpleMatrix w = svd.getW();
        w.set(2, 2, 0);
        SimpleMatrix ta = new SimpleMatrix(3, 3, true, na[2], 0, -na[0] * na[2], 0, na[2], -na[1] * na[2], 0, 0, 1),
                tb = new SimpleMatrix(3, 3, true, nb[2], 0, -nb[0] * nb[2], 0, nb[2], -nb[1] * nb[2], 0, 0, 1);
        SimpleMatrix e = tb.transpose()
                .mult(svd.getU().mult(w).mult(svd.getV().transpose()))
                .mult(ta);
        double[] out = new double[9];
        for (int i = 0; i < 9; i++) out[i] = e.get(i / 3, i % 3);
        return out;
    }

    private static double[] normaliser(double[][] p, int[] pick) {
        double x = 0, y = 0, d = 0;
        for (int i : pick) {
            x += p[i][0] / pick.length;
            y += p[i][1] / pick.length;
        }
        for (int i : pick) d += Math.hypot(p[i][0] - x, p[i][1] - y) / pick.length;
        return new double[] {x, y, Math.sqrt(2) / Math.max(d, 1e-12)};
    }
}
