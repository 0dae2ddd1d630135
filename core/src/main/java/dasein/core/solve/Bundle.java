package dasein.core.solve;

import dasein.core.lens.Lens;
import java.util.stream.IntStream;
import org.ejml.data.DMatrixRMaj;
import org.ejml.dense.row.factory.LinearSolverFactory_DDRM;
import org.ejml.interfaces.linsol.LinearSolverDense;

/**
 * Bundle adjustment: Levenberg-Marquardt over camera poses, points and one shared lens, points eliminated by the Schur complement
 * (Triggs et al. 2000), Cauchy loss by re-weighting. The gauge is left to the damping. Deterministic: sums are formed in a
 * fixed number of parts whatever the number of threads.
 */
final class Bundle {
    private static final int PARTS = 2;
    /** A step that lowers the cost by less than this part of it is the last. */
    private static final double SETTLED = 2e-5;

    final Rigid[] cams;
    final double[][] points;
    Lens lens;
    /** Observations sorted by point: camera, point, pixel. */
    final int[] obsCam;
    final int[] obsPoint;
    final double[] obsX;
    final double[] obsY;
    private final int[] firstOfPoint;
    /** Which of log focal, k1, k2 are solved for. */
    private final boolean[] free;
    private final int lensSize;
    double scale;

    /** obsPoint must be rising, and obsCam within each point. {@code free}: log focal length, k1, k2. */
    Bundle(Rigid[] cams, double[][] points, Lens lens, int[] obsCam, int[] obsPoint, double[] obsX, double[] obsY, boolean[] free) {
        this.cams = cams;
        this.points = points;
        this.lens = lens;
        this.obsCam = obsCam;
        this.obsPoint = obsPoint;
        this.obsX = obsX;
        this.obsY = obsY;
        this.free = free;
        int l = 0;
        for (boolean f : free) if (f) l++;
        lensSize = l;
        firstOfPoint = new int[points.length + 1];
        for (int p : obsPoint) firstOfPoint[p + 1]++;
        for (int p = 0; p < points.length; p++) firstOfPoint[p + 1] += firstOfPoint[p];
    }

    /** Reprojection error of observation o in pixels, into e; false when the point is behind the camera. */
    boolean residual(int o, double[] e) { return residual(cams[obsCam[o]], points[obsPoint[o]], lens, o, e); }

    private boolean residual(Rigid cam, double[] p, Lens l, int o, double[] e) {
        double[] r = cam.r, c = cam.c;
        double dx = p[0] - p[3] * c[0], dy = p[1] - p[3] * c[1], dz = p[2] - p[3] * c[2];
        double z = r[6] * dx + r[7] * dy + r[8] * dz;
        if (z <= 1e-12) {
            e[0] = e[1] = 1e3;
            return false;
        }
        double x = (r[0] * dx + r[1] * dy + r[2] * dz) / z, y = (r[3] * dx + r[4] * dy + r[5] * dz) / z;
        double r2 = x * x + y * y, d = l.focalPx() * (1 + r2 * (l.k1() + r2 * l.k2()));
        e[0] = l.centreX() + x * d - obsX[o];
        e[1] = l.centreY() + y * d - obsY[o];
        return true;
    }

    double cost(Rigid[] cs, double[][] ps, Lens l) {
        double[] part = new double[PARTS];
        IntStream.range(0, PARTS).parallel().forEach(k -> {
            double[] e = new double[2];
            double s = 0;
            for (int o = from(obsCam.length, k), end = from(obsCam.length, k + 1); o < end; o++) {
                residual(cs[obsCam[o]], ps[obsPoint[o]], l, o, e);
                s += Math.log1p((e[0] * e[0] + e[1] * e[1]) / (scale * scale));
            }
            part[k] = s;
        });
        double s = 0;
        for (double v : part) s += v;
        return s * scale * scale;
    }

    private static int from(int n, int part) { return (int) ((long) n * part / PARTS); }

    /** Runs up to {@code steps} accepted or refused steps; returns the final cost. */
    double solve(int steps, double scalePx) {
        scale = scalePx;
        double cost = cost(cams, points, lens), lambda = 1e-4;
        int nc = cams.length, size = 6 * nc + lensSize;
        for (int step = 0; step < steps; step++) {
            Normal[] parts = new Normal[PARTS];
            double damp = lambda;
            IntStream.range(0, PARTS).parallel().forEach(k -> parts[k] = accumulate(from(points.length, k), from(points.length, k + 1), damp));
            Normal n = parts[0];
            for (int k = 1; k < PARTS; k++) n.add(parts[k]);
            DMatrixRMaj s = n.s;
            for (int i = 0; i < size; i++) {
                for (int j = 0; j < i; j++) s.data[i * size + j] = s.data[j * size + i];
                s.data[i * size + i] += lambda * n.diag[i] + 1e-12 * n.diag[i] + 1e-20;
            }
            LinearSolverDense<DMatrixRMaj> chol = LinearSolverFactory_DDRM.chol(size);
            DMatrixRMaj x = new DMatrixRMaj(size, 1);
            boolean ok = chol.setA(s);
            if (ok) chol.solve(new DMatrixRMaj(size, 1, true, n.g), x);
            Rigid[] nextCams = new Rigid[nc];
            double[][] nextPoints = new double[points.length][];
            Lens nextLens = lens;
            double nextCost = Double.POSITIVE_INFINITY;
            if (ok && Double.isFinite(x.get(0))) {
                for (int c = 0; c < nc; c++) nextCams[c] = cams[c].moved(-x.get(6 * c), -x.get(6 * c + 1), -x.get(6 * c + 2), -x.get(6 * c + 3), -x.get(6 * c + 4), -x.get(6 * c + 5));
                nextLens = lensStep(x);
                for (Normal part : parts) backSubstitute(part, x, nextPoints);
                nextCost = cost(nextCams, nextPoints, nextLens);
            }
            if (nextCost < cost) {
                boolean still = cost - nextCost < SETTLED * cost;
                System.arraycopy(nextCams, 0, cams, 0, nc);
                System.arraycopy(nextPoints, 0, points, 0, points.length);
                lens = nextLens;
                cost = nextCost;
                lambda = Math.max(lambda * 0.2, 1e-9);
                if (still) break;
            } else {
                lambda *= 8;
                if (lambda > 1e6) break;
            }
        }
        return cost;
    }

    private Lens lensStep(DMatrixRMaj x) {
        int i = 6 * cams.length;
        double f = lens.focalPx(), k1 = lens.k1(), k2 = lens.k2();
        if (free[0]) f *= Math.exp(Math.max(-0.3, Math.min(0.3, -x.get(i++))));
        if (free[1]) k1 -= x.get(i++);
        if (free[2]) k2 -= x.get(i);
        return new Lens(f, lens.centreX(), lens.centreY(), k1, k2);
    }

    /** Reduced normal equations of a range of points, and what is needed to find those points afterwards. */
    private static final class Normal {
        int from;
        int to;
        DMatrixRMaj s;
        double[] g;
        double[] diag;
        /** For each point: inverse of V (9), V^-1 g_p (3). */
        double[] back;
        /** For each observation W (6x3) of the range, then for each point its lens block (3x3). */
        double[] w;
        double[] wl;
        double[] basis;

        void add(Normal o) {
            for (int i = 0; i < s.data.length; i++) s.data[i] += o.s.data[i];
            for (int i = 0; i < g.length; i++) {
                g[i] += o.g[i];
                diag[i] += o.diag[i];
            }
        }
    }

    private Normal accumulate(int from, int to, double lambda) {
        int nc = cams.length, size = 6 * nc + lensSize, base = firstOfPoint[from];
        Normal n = new Normal();
        n.from = from;
        n.to = to;
        n.s = new DMatrixRMaj(size, size);
        n.g = new double[size];
        n.diag = new double[size];
        n.back = new double[12 * (to - from)];
        n.w = new double[18 * (firstOfPoint[to] - base)];
        n.wl = new double[9 * (to - from)];
        n.basis = new double[12 * (to - from)];
        double[] s = n.s.data, jc = new double[12], jp = new double[6], jl = new double[6], e = new double[2], vi = new double[9], yl = new double[9];
        int most = 0;
        for (int p = from; p < to; p++) most = Math.max(most, firstOfPoint[p + 1] - firstOfPoint[p]);
        double[][] rows = new double[3][6 * most];
        for (int p = from; p < to; p++) {
            int o0 = firstOfPoint[p], o1 = firstOfPoint[p + 1], b = 12 * (p - from), lw = 9 * (p - from);
            tangent(points[p], n.basis, b);
            double[] v = new double[9], gp = new double[3];
            for (int o = o0; o < o1; o++) {
                int w0 = 18 * (o - base);
                if (!jacobian(o, n.basis, b, e, jc, jp, jl)) continue;
                double w = 1 / (1 + (e[0] * e[0] + e[1] * e[1]) / (scale * scale));
                int c = 6 * obsCam[o], l = 6 * nc;
                for (int i = 0; i < 6; i++) {
                    n.g[c + i] += w * (jc[i] * e[0] + jc[6 + i] * e[1]);
                    for (int j = i; j < 6; j++) s[(c + i) * size + c + j] += w * (jc[i] * jc[j] + jc[6 + i] * jc[6 + j]);
                    for (int j = 0; j < lensSize; j++) s[(c + i) * size + l + j] += w * (jc[i] * jl[j] + jc[6 + i] * jl[3 + j]);
                    for (int j = 0; j < 3; j++) n.w[w0 + 3 * i + j] = w * (jc[i] * jp[j] + jc[6 + i] * jp[3 + j]);
                }
                for (int i = 0; i < lensSize; i++) {
                    n.g[l + i] += w * (jl[i] * e[0] + jl[3 + i] * e[1]);
                    for (int j = i; j < lensSize; j++) s[(l + i) * size + l + j] += w * (jl[i] * jl[j] + jl[3 + i] * jl[3 + j]);
                    for (int j = 0; j < 3; j++) n.wl[lw + 3 * i + j] += w * (jl[i] * jp[j] + jl[3 + i] * jp[3 + j]);
                }
                for (int i = 0; i < 3; i++) {
                    gp[i] += w * (jp[i] * e[0] + jp[3 + i] * e[1]);
                    for (int j = 0; j < 3; j++) v[3 * i + j] += w * (jp[i] * jp[j] + jp[3 + i] * jp[3 + j]);
                }
            }
            for (int i = 0; i < 3; i++) v[4 * i] += lambda * v[4 * i] + 1e-12 * (v[0] + v[4] + v[8]) + 1e-20;
            invert3(v, vi);
            System.arraycopy(vi, 0, n.back, b, 9);
            for (int i = 0; i < 3; i++) n.back[b + 9 + i] = vi[3 * i] * gp[0] + vi[3 * i + 1] * gp[1] + vi[3 * i + 2] * gp[2];
            reduce(n, s, size, o0, o1, base, p - from, vi, rows, yl);
        }
        // Diagonal of the unreduced matrix would be the textbook's damping; the reduced one's absolute value serves as well and needs no second array.
        for (int i = 0; i < size; i++) n.diag[i] = Math.abs(s[i * size + i]);
        return n;
    }

    /**
     * Takes W V^-1 W' and W V^-1 g of one point out of the reduced system. A point is mostly seen by neighbouring frames, whose
     * blocks lie side by side in a row of S: the three columns of W are laid out as long rows, so that the inner loop runs over
     * whole runs of frames.
     */
    private void reduce(Normal n, double[] s, int size, int o0, int o1, int base, int p, double[] vi, double[][] rows, double[] yl) {
        int l = 6 * cams.length, b = 12 * p, lw = 9 * p, m = o1 - o0;
        double g0 = n.back[b + 9], g1 = n.back[b + 10], g2 = n.back[b + 11];
        double[] w0 = rows[0], w1 = rows[1], w2 = rows[2];
        for (int q = 0; q < m; q++) {
            int at = 18 * (o0 + q - base);
            for (int j = 0; j < 6; j++) {
                w0[6 * q + j] = n.w[at + 3 * j];
                w1[6 * q + j] = n.w[at + 3 * j + 1];
                w2[6 * q + j] = n.w[at + 3 * j + 2];
            }
        }
        for (int o = 0; o < m; o++) {
            int c = 6 * obsCam[o0 + o];
            for (int i = 0; i < 6; i++) {
                double a0 = w0[6 * o + i], a1 = w1[6 * o + i], a2 = w2[6 * o + i];
                n.g[c + i] -= a0 * g0 + a1 * g1 + a2 * g2;
                double y0 = a0 * vi[0] + a1 * vi[3] + a2 * vi[6], y1 = a0 * vi[1] + a1 * vi[4] + a2 * vi[7], y2 = a0 * vi[2] + a1 * vi[5] + a2 * vi[8];
                int row = (c + i) * size;
                for (int q = o; q < m; ) {
                    int end = q + 1, first = obsCam[o0 + q];
                    while (end < m && obsCam[o0 + end] == first + end - q) end++;
                    subtract(s, row + 6 * first, w0, w1, w2, 6 * q, 6 * (end - q), y0, y1, y2);
                    q = end;
                }
                for (int j = 0; j < lensSize; j++) s[row + l + j] -= y0 * n.wl[lw + 3 * j] + y1 * n.wl[lw + 3 * j + 1] + y2 * n.wl[lw + 3 * j + 2];
            }
        }
        for (int i = 0; i < lensSize; i++) {
            double a0 = n.wl[lw + 3 * i], a1 = n.wl[lw + 3 * i + 1], a2 = n.wl[lw + 3 * i + 2];
            n.g[l + i] -= a0 * g0 + a1 * g1 + a2 * g2;
            for (int k = 0; k < 3; k++) yl[k] = a0 * vi[k] + a1 * vi[3 + k] + a2 * vi[6 + k];
            for (int j = i; j < lensSize; j++) s[(l + i) * size + l + j] -= yl[0] * n.wl[lw + 3 * j] + yl[1] * n.wl[lw + 3 * j + 1] + yl[2] * n.wl[lw + 3 * j + 2];
        }
    }

    private static void subtract(double[] s, int at, double[] w0, double[] w1, double[] w2, int from, int count, double y0, double y1, double y2) {
        for (int k = 0; k < count; k++) s[at + k] -= y0 * w0[from + k] + y1 * w1[from + k] + y2 * w2[from + k];
    }

    private void backSubstitute(Normal n, DMatrixRMaj x, double[][] next) {
        int base = firstOfPoint[n.from], l = 6 * cams.length;
        for (int p = n.from; p < n.to; p++) {
            int k = p - n.from, b = 12 * k;
            double[] r = new double[3];
            for (int o = firstOfPoint[p]; o < firstOfPoint[p + 1]; o++) {
                int w0 = 18 * (o - base), c = 6 * obsCam[o];
                for (int i = 0; i < 6; i++) for (int j = 0; j < 3; j++) r[j] += n.w[w0 + 3 * i + j] * x.get(c + i);
            }
            for (int i = 0; i < lensSize; i++) for (int j = 0; j < 3; j++) r[j] += n.wl[9 * k + 3 * i + j] * x.get(l + i);
            double[] d = new double[3];
            for (int i = 0; i < 3; i++) d[i] = n.back[b + 9 + i] - (n.back[b + 3 * i] * r[0] + n.back[b + 3 * i + 1] * r[1] + n.back[b + 3 * i + 2] * r[2]);
            double[] q = points[p].clone();
            double norm = 0;
            for (int i = 0; i < 4; i++) {
                q[i] -= n.basis[b + 3 * i] * d[0] + n.basis[b + 3 * i + 1] * d[1] + n.basis[b + 3 * i + 2] * d[2];
                norm += q[i] * q[i];
            }
            norm = Math.sqrt(norm);
            for (int i = 0; i < 4; i++) q[i] /= norm;
            next[p] = q;
        }
    }

    /** Three directions at right angles to unit 4-vector p: columns 2 to 4 of the Householder reflection that maps p to an axis. */
    private static void tangent(double[] p, double[] basis, int at) {
        int k = 0;
        for (int i = 1; i < 4; i++) if (Math.abs(p[i]) > Math.abs(p[k])) k = i;
        double sign = p[k] < 0 ? -1 : 1, beta = 1 / (1 + Math.abs(p[k]));
        for (int i = 0; i < 4; i++) {
            double vi = p[i] + (i == k ? sign : 0);
            for (int j = 0, col = 0; j < 4; j++) {
                if (j == k) continue;
                basis[at + 3 * i + col++] = (i == j ? 1 : 0) - beta * vi * p[j];
            }
        }
    }

    private boolean jacobian(int o, double[] basis, int b, double[] e, double[] jc, double[] jp, double[] jl) {
        Rigid cam = cams[obsCam[o]];
        double[] p = points[obsPoint[o]], r = cam.r, c = cam.c;
        if (!residual(o, e)) return false;
        double[] q = cam.toCamera(p);
        double iz = 1 / q[2], x = q[0] * iz, y = q[1] * iz, r2 = x * x + y * y, f = lens.focalPx();
        double d = 1 + r2 * (lens.k1() + r2 * lens.k2()), dd = lens.k1() + 2 * lens.k2() * r2;
        double uxx = f * (d + 2 * x * x * dd), uxy = f * 2 * x * y * dd, uyy = f * (d + 2 * y * y * dd);
        // d(u, v)/dq = [uxx uxy; uxy uyy] times [1 0 -x; 0 1 -y] / z
        double a0 = uxx * iz, a1 = uxy * iz, a2 = -(uxx * x + uxy * y) * iz, b0 = uxy * iz, b1 = uyy * iz, b2 = -(uxy * x + uyy * y) * iz;
        // dq/dw = -[q]x
        jc[0] = -a1 * q[2] + a2 * q[1];
        jc[1] = a0 * q[2] - a2 * q[0];
        jc[2] = -a0 * q[1] + a1 * q[0];
        jc[6] = -b1 * q[2] + b2 * q[1];
        jc[7] = b0 * q[2] - b2 * q[0];
        jc[8] = -b0 * q[1] + b1 * q[0];
        double t0 = 0, t1 = 0;
        double[] jx = new double[4], jy = new double[4];
        for (int k = 0; k < 3; k++) {
            jx[k] = a0 * r[k] + a1 * r[3 + k] + a2 * r[6 + k];
            jy[k] = b0 * r[k] + b1 * r[3 + k] + b2 * r[6 + k];
            jc[3 + k] = -p[3] * jx[k];
            jc[9 + k] = -p[3] * jy[k];
            t0 -= jx[k] * c[k];
            t1 -= jy[k] * c[k];
        }
        jx[3] = t0;
        jy[3] = t1;
        for (int k = 0; k < 3; k++) {
            jp[k] = jp[3 + k] = 0;
            for (int i = 0; i < 4; i++) {
                jp[k] += jx[i] * basis[b + 3 * i + k];
                jp[3 + k] += jy[i] * basis[b + 3 * i + k];
            }
        }
        int l = 0;
        if (free[0]) {
            jl[l] = f * x * d;
            jl[3 + l++] = f * y * d;
        }
        if (free[1]) {
            jl[l] = f * x * r2;
            jl[3 + l++] = f * y * r2;
        }
        if (free[2]) {
            jl[l] = f * x * r2 * r2;
            jl[3 + l] = f * y * r2 * r2;
        }
        return true;
    }

    private static void invert3(double[] m, double[] o) {
        double a = m[4] * m[8] - m[5] * m[7], b = m[5] * m[6] - m[3] * m[8], c = m[3] * m[7] - m[4] * m[6], det = m[0] * a + m[1] * b + m[2] * c;
        double k = Math.abs(det) < 1e-300 ? 0 : 1 / det;
        o[0] = a * k;
        o[1] = (m[2] * m[7] - m[1] * m[8]) * k;
        o[2] = (m[1] * m[5] - m[2] * m[4]) * k;
        o[3] = b * k;
        o[4] = (m[0] * m[8] - m[2] * m[6]) * k;
        o[5] = (m[2] * m[3] - m[0] * m[5]) * k;
        o[6] = c * k;
        o[7] = (m[1] * m[6] - m[0] * m[7]) * k;
        o[8] = (m[0] * m[4] - m[1] * m[3]) * k;
    }
}
