package dasein.core.solve;

import java.util.Random;
import org.ejml.simple.SimpleMatrix;

/** The epipolar geometry of two views of unknown lenses, by random samples of eight (Hartley and Zisserman 11.2, 11.6). */
final class Fundamental {
    private static final int ROUNDS = 300;

    private Fundamental() {}

    /** Fundamental matrix with most support; null when too few agree. */
    static double[] ransac(double[][] a, double[][] b, double tolerance, Random rnd) {
        int n = a.length;
        double[] best = null;
        double score = 0, t2 = tolerance * tolerance;
        for (int r = 0; r < ROUNDS; r++) {
            int[] pick = TwoView.sample(n, 8, rnd);
            double[] e = eightPoint(a, b, pick);
            double s = 0;
            for (int i = 0; i < n; i++) s += Math.max(0, 1 - TwoView.sampson(e, a[i], b[i]) / t2);
            if (s > score) {
                score = s;
                best = e;
            }
        }
        for (int round = 0; round < 3 && best != null; round++) {
            double[] now = best;
            int[] in = java.util.stream.IntStream.range(0, n).filter(i -> TwoView.sampson(now, a[i], b[i]) < t2).toArray();
            if (in.length < Math.max(Math.min(12, n), n / 3)) return null;
            best = eightPoint(a, b, in);
        }
        return best;
    }

    private static double[] eightPoint(double[][] a, double[][] b, int[] pick) {
        // Hartley's normalisation keeps the linear system well conditioned.
        double[] na = normaliser(a, pick), nb = normaliser(b, pick);
        SimpleMatrix m = new SimpleMatrix(9, 9);
        double[] r = new double[9];
        for (int i : pick) {
            double x = (a[i][0] - na[0]) * na[2], y = (a[i][1] - na[1]) * na[2], u = (b[i][0] - nb[0]) * nb[2], v = (b[i][1] - nb[1]) * nb[2];
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
        SimpleMatrix ta = new SimpleMatrix(3, 3, true, na[2], 0, -na[0] * na[2], 0, na[2], -na[1] * na[2], 0, 0, 1), tb = new SimpleMatrix(3, 3, true, nb[2], 0, -nb[0] * nb[2], 0, nb[2], -nb[1] * nb[2], 0, 0, 1);
        SimpleMatrix e = tb.transpose().mult(svd.getU().mult(w).mult(svd.getV().transpose())).mult(ta);
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
