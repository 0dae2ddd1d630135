package dasein.core.solve;

import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import org.ejml.simple.SimpleMatrix;
import org.ejml.simple.SimpleSVD;

/** Camera pose from points of known position: three-point samples (Grunert), then robust least squares on all. */
final class Resection {
    private Resection() {}

    /**
     * @param points homogeneous points; @param obs undistorted normalised {x, y}; @param tolerance normalised units
     * @return null when fewer than {@code least} points agree
     */
    static Rigid ransac(
            List<double[]> points, List<double[]> obs, double tolerance, int rounds, int least, Random rnd) {
        int n = points.size();
        if (n < Math.max(4, least)) return null;
        List<Integer> near = new ArrayList<>();
        for (int i = 0; i < n; i++) if (Math.abs(points.get(i)[3]) > 1e-6) near.add(i);
        if (near.size() < 4) return null;
        double tol2 = tolerance * tolerance, bestScore = 0;
        Rigid best = null;
        for (int round = 0; round < rounds; round++) {
            int[] pick = TwoView.sample(near.size(), 3, rnd);
            double[][] p = new double[3][], q = new double[3][];
            for (int k = 0; k < 3; k++) {
                double[] h = points.get(near.get(pick[k]));
                p[k] = new double[] {h[0] / h[3], h[1] / h[3], h[2] / h[3]};
                q[k] = obs.get(near.get(pick[k]));
            }
            for (Rigid cam : threePoints(p, q)) {
                double score = score(cam, points, obs, tol2);
                if (score > bestScore) {
                    bestScore = score;
                    best = cam;
                }
            }
        }
        if (best == null) return null;
        Rigid better = refine(best, points, obs, tolerance, 10);
        if (score(better, points, obs, tol2) >= bestScore) best = better;
        int in = 0;
        for (int i = 0; i < n; i++) if (error2(best, points.get(i), obs.get(i)) < tol2) in++;
        return in >= least ? best : null;
    }

    private static double score(Rigid cam, List<double[]> points, List<double[]> obs, double tol2) {
        double s = 0;
        for (int i = 0; i < points.size(); i++) s += Math.max(0, 1 - error2(cam, points.get(i), obs.get(i)) / tol2);
        return s;
    }

    static double error2(Rigid cam, double[] p, double[] o) {
        double[] q = cam.toCamera(p);
        if (q[2] <= 0) return Double.MAX_VALUE;
        double x = q[0] / q[2] - o[0], y = q[1] / q[2] - o[1];
        return x * x + y * y;
    }

    /** All poses through three points; formulas and letters as in Haralick et al. 1994, section 2. */
    static List<Rigid> threePoints(double[][] p, double[][] obs) {
        List<Rigid> out = new ArrayList<>();
        double[][] j = new double[3][];
        for (int i = 0; i < 3; i++) {
            double n = Math.sqrt(obs[i][0] * obs[i][0] + obs[i][1] * obs[i][1] + 1);
            j[i] = new double[] {obs[i][0] / n, obs[i][1] / n, 1 / n};
        }
        double a2 = dist2(p[1], p[2]), b2 = dist2(p[0], p[2]), c2 = dist2(p[0], p[1]);
        if (a2 < 1e-18 || b2 < 1e-18 || c2 < 1e-18) return out;
        double ca = dot(j[1], j[2]), cb = dot(j[0], j[2]), cg = dot(j[0], j[1]);
        double k = (a2 - c2) / b2, l = (a2 + c2) / b2;
        double a4 = (k - 1) * (k - 1) - 4 * c2 / b2 * ca * ca;
        double a3 = 4 * (k * (1 - k) * cb - (1 - l) * ca * cg + 2 * c2 / b2 * ca * ca * cb);
        double aa2 = 2
                * (k * k
                        - 1
                        + 2 * k * k * cb * cb
                        + 2 * (b2 - c2) / b2 * ca * ca
                        - 4 * l * ca * cb * cg
                        + 2 * (b2 - a2) / b2 * cg * cg);
        double a1 = 4 * (-k * (1 + k) * cb + 2 * a2 / b2 * cg * cg * cb - (1 - l) * ca * cg);
        double a0 = (1 + k) * (1 + k) - 4 * a2 / b2 * cg * cg;
        for (double v : Polynomials.realRoots(a0, a1, aa2, a3, a4)) {
            double den = 2 * (cg - v * ca);
            if (v <= 0 || Math.abs(den) < 1e-12) continue;
            double u = ((-1 + k) * v * v - 2 * k * cb * v + 1 + k) / den;
            double s = 1 + v * v - 2 * v * cb;
            if (u <= 0 || s <= 0) continue;
            double s1 = Math.sqrt(b2 / s);
            double[] d = {s1, u * s1, v * s1};
            double[][] q = new double[3][3];
            for (int i = 0; i < 3; i++) for (int m = 0; m < 3; m++) q[i][m] = d[i] * j[i][m];
            Rigid cam = align(p, q);
            if (cam != null) out.add(cam);
        }
        return out;
    }

    /** Rotation and centre with q = R (p - C), from three pairs (Kabsch). */
    private static Rigid align(double[][] p, double[][] q) {
        double[] mp = new double[3], mq = new double[3];
        for (int i = 0; i < 3; i++) {
            for (int k = 0; k < 3; k++) {
                mp[k] += p[i][k] / 3;
                mq[k] += q[i][k] / 3;
            }
        }
        SimpleMatrix h = new SimpleMatrix(3, 3);
        for (int i = 0; i < 3; i++)
            for (int a = 0; a < 3; a++)
                for (int b = 0; b < 3; b++) h.set(a, b, h.get(a, b) + (q[i][a] - mq[a]) * (p[i][b] - mp[b]));
        SimpleSVD<SimpleMatrix> svd = h.svd();
        double det = svd.getU().determinant() * svd.getV().determinant();
        SimpleMatrix r = svd.getU()
                .mult(SimpleMatrix.diag(1, 1, det < 0 ? -1 : 1))
                .mult(svd.getV().transpose());
        double[] rm = new double[9];
        for (int i = 0; i < 9; i++) rm[i] = r.get(i / 3, i % 3);
        double[] c = new double[3];
        for (int k = 0; k < 3; k++) c[k] = mp[k] - (rm[k] * mq[0] + rm[3 + k] * mq[1] + rm[6 + k] * mq[2]);
        return new Rigid(rm, c);
    }

    /** Robust (Cauchy) Gauss-Newton on the pose; {@code scale} in normalised units. */
    static Rigid refine(Rigid start, List<double[]> points, List<double[]> obs, double scale, int steps) {
        Rigid cam = start;
        double cost = cost(cam, points, obs, scale), lambda = 1e-4;
        for (int step = 0; step < steps; step++) {
            double[] h = new double[36], g = new double[6];
            for (int i = 0; i < points.size(); i++) {
                double[] p = points.get(i), q = cam.toCamera(p);
                if (q[2] <= 1e-9) continue;
                double iz = 1 / q[2], x = q[0] * iz, y = q[1] * iz, ex = x - obs.get(i)[0], ey = y - obs.get(i)[1];
                double w = 1 / (1 + (ex * ex + ey * ey) / (scale * scale));
                // d(x, y)/dq, then dq/dw = -[q]x and dq/dC = -w R.
                double[] jx = {-x * y, 1 + x * x, -y, 0, 0, 0}, jy = {-(1 + y * y), x * y, x, 0, 0, 0};
                for (int k = 0; k < 3; k++) {
                    jx[3 + k] = -p[3] * iz * (cam.r[k] - x * cam.r[6 + k]);
                    jy[3 + k] = -p[3] * iz * (cam.r[3 + k] - y * cam.r[6 + k]);
                }
                for (int a = 0; a < 6; a++) {
                    g[a] += w * (jx[a] * ex + jy[a] * ey);
                    for (int b = 0; b < 6; b++) h[6 * a + b] += w * (jx[a] * jx[b] + jy[a] * jy[b]);
                }
            }
            SimpleMatrix m = new SimpleMatrix(6, 6, true, h);
            for (int a = 0; a < 6; a++) m.set(a, a, m.get(a, a) * (1 + lambda) + 1e-15);
            SimpleMatrix d;
            try {
                d = m.solve(new SimpleMatrix(6, 1, true, g));
            } catch (RuntimeException e) {
                return cam;
            }
            Rigid next = cam.moved(-d.get(0), -d.get(1), -d.get(2), -d.get(3), -d.get(4), -d.get(5));
            double c = cost(next, points, obs, scale);
            if (c < cost) {
                boolean still = cost - c < 1e-9 * cost;
                cam = next;
                cost = c;
                lambda *= 0.2;
                if (still) break;
            } else {
                lambda *= 10;
            }
        }
        return cam;
    }

    private static double cost(Rigid cam, List<double[]> points, List<double[]> obs, double scale) {
        double s = 0;
        for (int i = 0; i < points.size(); i++)
            s += Math.log1p(Math.min(error2(cam, points.get(i), obs.get(i)), 1e6) / (scale * scale));
        return s;
    }

    private static double dot(double[] a, double[] b) {
        return a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
    }

    private static double dist2(double[] a, double[] b) {
        double x = a[0] - b[0], y = a[1] - b[1], z = a[2] - b[2];
        return x * x + y * y + z * z;
    }
}
