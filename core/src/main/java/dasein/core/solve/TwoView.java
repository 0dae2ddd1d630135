package dasein.core.solve;

import java.util.List;
import java.util.Random;
import org.ejml.simple.SimpleMatrix;
import org.ejml.simple.SimpleSVD;

/** Relative pose of two views from pairs of undistorted normalised points. */
final class TwoView {
    private TwoView() {}

    record Result(Rigid second, boolean[] inlier, int inliers) {}

    /**
     * Essential matrix by random samples of five; {@code tolerance} is the Sampson distance in normalised units. Null
     * when nothing fits.
     */
    static Result relative(double[][] a, double[][] b, double tolerance, int rounds, Random rnd) {
        int n = a.length;
        if (n < 7) return null;
        double[] best = null;
        double bestScore = 0;
        double tol2 = tolerance * tolerance;
        for (int round = 0; round < rounds; round++) {
            double[][] sa = new double[5][], sb = new double[5][];
            int[] pick = sample(n, 5, rnd);
            for (int k = 0; k < 5; k++) {
                sa[k] = a[pick[k]];
                sb[k] = b[pick[k]];
            }
            for (double[] e : FivePoint.solve(sa, sb)) {
                double score = 0;
                for (int i = 0; i < n; i++) score += Math.max(0, 1 - sampson(e, a[i], b[i]) / tol2);
                if (score > bestScore) {
                    bestScore = score;
                    best = e;
                }
            }
        }
        if (best == null) return null;
        boolean[] in = new boolean[n];
        int count = 0;
        for (int i = 0; i < n; i++) {
            in[i] = sampson(best, a[i], b[i]) < tol2;
            if (in[i]) count++;
        }
        if (count < 6) return null;
        Rigid pose = decompose(best, a, b, in);
        return pose == null ? null : new Result(pose, in, count);
    }

    static int[] sample(int n, int k, Random rnd) {
        int[] p = new int[k];
        for (int i = 0; i < k; i++) {
            boolean again;
            do {
                p[i] = rnd.nextInt(n);
                again = false;
                for (int j = 0; j < i; j++) again |= p[j] == p[i];
            } while (again);
        }
        return p;
    }

    /** Squared Sampson distance (Hartley and Zisserman 11.9). */
    static double sampson(double[] e, double[] a, double[] b) {
        double x = e[0] * a[0] + e[1] * a[1] + e[2],
                y = e[3] * a[0] + e[4] * a[1] + e[5],
                z = e[6] * a[0] + e[7] * a[1] + e[8];
        double u = e[0] * b[0] + e[3] * b[1] + e[6], v = e[1] * b[0] + e[4] * b[1] + e[7];
        double d = b[0] * x + b[1] * y + z;
        return d * d / Math.max(x * x + y * y + u * u + v * v, 1e-300);
    }

    /** The one of four poses with most points in front of both cameras; baseline length 1. */
    private static Rigid decompose(double[] e, double[][] a, double[][] b, boolean[] in) {
        SimpleSVD<SimpleMatrix> svd = new SimpleMatrix(3, 3, true, e).svd();
        SimpleMatrix u = svd.getU(),
                v = svd.getV(),
                w = new SimpleMatrix(3, 3, true, new double[] {0, -1, 0, 1, 0, 0, 0, 0, 1});
        if (u.determinant() < 0) u = u.scale(-1);
        if (v.determinant() < 0) v = v.scale(-1);
        Rigid best = null;
        int bestCount = 0;
        for (int k = 0; k < 4; k++) {
            SimpleMatrix r = u.mult(k < 2 ? w : w.transpose()).mult(v.transpose());
            double s = k % 2 == 0 ? 1 : -1;
            double[] t = {s * u.get(0, 2), s * u.get(1, 2), s * u.get(2, 2)};
            double[] rm = new double[9];
            for (int i = 0; i < 9; i++) rm[i] = r.get(i / 3, i % 3);
            // x2 = R x1 + t, so the second centre is -R' t.
            double[] c = {
                -(rm[0] * t[0] + rm[3] * t[1] + rm[6] * t[2]),
                -(rm[1] * t[0] + rm[4] * t[1] + rm[7] * t[2]),
                -(rm[2] * t[0] + rm[5] * t[1] + rm[8] * t[2])
            };
            Rigid cam = new Rigid(rm, c);
            int front = 0;
            for (int i = 0; i < a.length; i += 1 + a.length / 200) {
                if (!in[i]) continue;
                double[] p = Triangulation.linear(List.of(Rigid.identity(), cam), List.of(a[i], b[i]));
                if (p != null && p[2] * p[3] > 0 && cam.toCamera(p)[2] * p[3] > 0) front++;
            }
            if (front > bestCount) {
                bestCount = front;
                best = cam;
            }
        }
        return best;
    }
}
