package dasein.core.solve;

import java.util.stream.IntStream;

/**
 * The normal equations of a bundle with its points eliminated by the Schur complement (Triggs et al. 2000): formed in a
 * fixed number of parts whatever the number of threads, so that sums are the same.
 */
final class Normals {
    private final Bundle of;
    private final Jacobian jacobian;

    Normals(Bundle of) {
        this.of = of;
        jacobian = new Jacobian(of);
    }

    /**
     * The reduced normal equations with wishes, undamped but for the points; {@code parts} are filled and keep what
     * points need.
     */
    Part all(double lambda, Part[] parts) {
        IntStream.range(0, Bundle.PARTS)
                .parallel()
                .forEach(k -> parts[k] =
                        accumulate(Bundle.from(of.points.length, k), Bundle.from(of.points.length, k + 1), lambda));
        Part n = new Part();
        n.s = parts[0].s;
        n.g = parts[0].g.clone();
        n.diag = parts[0].diag.clone();
        for (int k = 1; k < Bundle.PARTS; k++) {
            n.s.add(parts[k].s);
            for (int i = 0; i < of.size; i++) {
                n.g[i] += parts[k].g[i];
                n.diag[i] += parts[k].diag[i];
            }
        }
        if (of.penalties == null) return n;
        for (Bundle.Penalty q : of.penalties.of(of, of.cams, of.zoom, of.lens)) {
            for (int i = 0; i < q.at().length; i++) {
                n.g[q.at()[i]] += q.slope()[i] * q.value();
                n.diag[q.at()[i]] += q.slope()[i] * q.slope()[i];
                for (int j = 0; j <= i; j++) n.s.add(q.at()[i], q.at()[j], q.slope()[i] * q.slope()[j]);
            }
        }
        return n;
    }

    /** Reduced normal equations of a range of points, and what is needed to find those points afterwards. */
    static final class Part {
        int from;
        int to;
        Skyline s;
        double[] g;
        double[] diag;
        /** For each point: inverse of V (9), V^-1 g_p (3). */
        double[] back;
        /** For each observation W (block x 3) of the range, then for each point its lens block (lens x 3). */
        double[] w;

        double[] wl;
        double[] basis;
    }

    private Part accumulate(int from, int to, double lambda) {
        int B = of.block, L = of.lensSize, base = of.firstOfPoint[from], l = B * of.cams.length;
        Part n = new Part();
        n.from = from;
        n.to = to;
        n.s = new Skyline(of.start);
        n.g = new double[of.size];
        n.diag = new double[of.size];
        n.back = new double[12 * (to - from)];
        n.w = new double[3 * B * (of.firstOfPoint[to] - base)];
        n.wl = new double[3 * L * (to - from)];
        n.basis = new double[12 * (to - from)];
        double[] s = n.s.a,
                jc = new double[2 * B],
                jp = new double[6],
                jl = new double[2 * L],
                e = new double[2],
                vi = new double[9],
                yl = new double[3];
        int[] at = n.s.base;
        int most = 0;
        for (int p = from; p < to; p++) most = Math.max(most, of.firstOfPoint[p + 1] - of.firstOfPoint[p]);
        double[][] rows = new double[3][B * most];
        for (int p = from; p < to; p++) {
            int o0 = of.firstOfPoint[p], o1 = of.firstOfPoint[p + 1], b = 12 * (p - from), lw = 3 * L * (p - from);
            Jacobian.tangent(of.points[p], n.basis, b);
            double[] v = new double[9], gp = new double[3];
            for (int o = o0; o < o1; o++) {
                int w0 = 3 * B * (o - base);
                if (!jacobian.of(o, n.basis, b, e, jc, jp, jl)) continue;
                double w = of.weight(o, e);
                int c = B * of.obsCam[o];
                for (int i = 0; i < B; i++) {
                    n.g[c + i] += w * (jc[i] * e[0] + jc[B + i] * e[1]);
                    for (int j = 0; j <= i; j++) s[at[c + i] + c + j] += w * (jc[i] * jc[j] + jc[B + i] * jc[B + j]);
                    for (int j = 0; j < 3; j++) n.w[w0 + 3 * i + j] = w * (jc[i] * jp[j] + jc[B + i] * jp[3 + j]);
                }
                for (int i = 0; i < L; i++) {
                    int row = at[l + i];
                    n.g[l + i] += w * (jl[i] * e[0] + jl[L + i] * e[1]);
                    for (int j = 0; j < B; j++) s[row + c + j] += w * (jl[i] * jc[j] + jl[L + i] * jc[B + j]);
                    for (int j = 0; j <= i; j++) s[row + l + j] += w * (jl[i] * jl[j] + jl[L + i] * jl[L + j]);
                    for (int j = 0; j < 3; j++) n.wl[lw + 3 * i + j] += w * (jl[i] * jp[j] + jl[L + i] * jp[3 + j]);
                }
                for (int i = 0; i < 3; i++) {
                    gp[i] += w * (jp[i] * e[0] + jp[3 + i] * e[1]);
                    for (int j = 0; j < 3; j++) v[3 * i + j] += w * (jp[i] * jp[j] + jp[3 + i] * jp[3 + j]);
                }
            }
            if (of.anchors[p] != null) anchor(of.anchors[p], of.points[p], n.basis, b, v, gp);
            for (int i = 0; i < 3; i++) v[4 * i] += lambda * v[4 * i] + 1e-12 * (v[0] + v[4] + v[8]) + 1e-20;
            invert3(v, vi);
            System.arraycopy(vi, 0, n.back, b, 9);
            for (int i = 0; i < 3; i++)
                n.back[b + 9 + i] = vi[3 * i] * gp[0] + vi[3 * i + 1] * gp[1] + vi[3 * i + 2] * gp[2];
            reduce(n, o0, o1, base, p - from, vi, rows, yl);
        }
        // Diagonal of the unreduced matrix would be the textbook's damping; the reduced one's absolute value serves as
        // well and needs no second array.
        for (int i = 0; i < of.size; i++) n.diag[i] = Math.abs(s[at[i] + i]);
        return n;
    }

    /**
     * What a known place adds to a point's own equations: d(p / w) = (dp - X dw) / w, turned into the tangent of the
     * 4-vector.
     */
    private static void anchor(Bundle.Anchor a, double[] p, double[] basis, int b, double[] v, double[] gp) {
        for (int k = 0; k < 3; k++) {
            double x = p[k] / p[3], e = (x - a.at()[k]) / a.step();
            double[] j = new double[3];
            for (int i = 0; i < 3; i++) j[i] = (basis[b + 3 * k + i] - x * basis[b + 9 + i]) / p[3] / a.step();
            for (int i = 0; i < 3; i++) {
                gp[i] += j[i] * e;
                for (int m = 0; m < 3; m++) v[3 * i + m] += j[i] * j[m];
            }
        }
    }

    /**
     * Takes W V^-1 W' and W V^-1 g of one point out of the reduced system. A point is mostly seen by neighbouring
     * frames, whose blocks lie side by side in a row of S: the three columns of W are laid out as long rows, so that
     * the inner loop runs over whole runs of frames.
     */
    private void reduce(Part n, int o0, int o1, int base, int p, double[] vi, double[][] rows, double[] yl) {
        int B = of.block, L = of.lensSize, l = B * of.cams.length, b = 12 * p, lw = 3 * L * p, m = o1 - o0;
        double g0 = n.back[b + 9], g1 = n.back[b + 10], g2 = n.back[b + 11];
        double[] w0 = rows[0], w1 = rows[1], w2 = rows[2], s = n.s.a;
        int[] at = n.s.base;
        for (int q = 0; q < m; q++) {
            int from = 3 * B * (o0 + q - base);
            for (int j = 0; j < B; j++) {
                w0[B * q + j] = n.w[from + 3 * j];
                w1[B * q + j] = n.w[from + 3 * j + 1];
                w2[B * q + j] = n.w[from + 3 * j + 2];
            }
        }
        for (int o = 0; o < m; o++) {
            int c = B * of.obsCam[o0 + o];
            for (int i = 0; i < B; i++) {
                double a0 = w0[B * o + i], a1 = w1[B * o + i], a2 = w2[B * o + i];
                n.g[c + i] -= a0 * g0 + a1 * g1 + a2 * g2;
                double y0 = a0 * vi[0] + a1 * vi[3] + a2 * vi[6],
                        y1 = a0 * vi[1] + a1 * vi[4] + a2 * vi[7],
                        y2 = a0 * vi[2] + a1 * vi[5] + a2 * vi[8];
                int row = at[c + i];
                // Earlier frames whole, of the own of.block what lies before the diagonal.
                subtract(s, row, w0, w1, w2, o, y0, y1, y2, o0);
                for (int j = 0; j <= i; j++)
                    s[row + c + j] -= y0 * w0[B * o + j] + y1 * w1[B * o + j] + y2 * w2[B * o + j];
            }
        }
        for (int i = 0; i < L; i++) {
            double a0 = n.wl[lw + 3 * i], a1 = n.wl[lw + 3 * i + 1], a2 = n.wl[lw + 3 * i + 2];
            n.g[l + i] -= a0 * g0 + a1 * g1 + a2 * g2;
            for (int k = 0; k < 3; k++) yl[k] = a0 * vi[k] + a1 * vi[3 + k] + a2 * vi[6 + k];
            int row = at[l + i];
            subtract(s, row, w0, w1, w2, m, yl[0], yl[1], yl[2], o0);
            for (int j = 0; j <= i; j++)
                s[row + l + j] -=
                        yl[0] * n.wl[lw + 3 * j] + yl[1] * n.wl[lw + 3 * j + 1] + yl[2] * n.wl[lw + 3 * j + 2];
        }
    }

    /** Takes the blocks of the first {@code m} observations of a point out of a row, run by run. */
    private void subtract(
            double[] s,
            int row,
            double[] w0,
            double[] w1,
            double[] w2,
            int m,
            double y0,
            double y1,
            double y2,
            int o0) {
        int B = of.block;
        for (int q = 0; q < m; ) {
            int end = q + 1, first = of.obsCam[o0 + q];
            while (end < m && of.obsCam[o0 + end] == first + end - q) end++;
            run(s, row + B * first, w0, w1, w2, B * q, B * (end - q), y0, y1, y2);
            q = end;
        }
    }

    private static void run(
            double[] s,
            int at,
            double[] w0,
            double[] w1,
            double[] w2,
            int from,
            int count,
            double y0,
            double y1,
            double y2) {
        for (int k = 0; k < count; k++) s[at + k] -= y0 * w0[from + k] + y1 * w1[from + k] + y2 * w2[from + k];
    }

    void backSubstitute(Part n, double[] x, double[][] next) {
        int base = of.firstOfPoint[n.from], B = of.block, L = of.lensSize, l = B * of.cams.length;
        for (int p = n.from; p < n.to; p++) {
            int k = p - n.from, b = 12 * k;
            double[] r = new double[3];
            for (int o = of.firstOfPoint[p]; o < of.firstOfPoint[p + 1]; o++) {
                int w0 = 3 * B * (o - base), c = B * of.obsCam[o];
                for (int i = 0; i < B; i++) for (int j = 0; j < 3; j++) r[j] += n.w[w0 + 3 * i + j] * x[c + i];
            }
            for (int i = 0; i < L; i++) for (int j = 0; j < 3; j++) r[j] += n.wl[3 * L * k + 3 * i + j] * x[l + i];
            double[] d = new double[3];
            for (int i = 0; i < 3; i++)
                d[i] = n.back[b + 9 + i]
                        - (n.back[b + 3 * i] * r[0] + n.back[b + 3 * i + 1] * r[1] + n.back[b + 3 * i + 2] * r[2]);
            double[] q = of.points[p].clone();
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

    private static void invert3(double[] m, double[] o) {
        double a = m[4] * m[8] - m[5] * m[7],
                b = m[5] * m[6] - m[3] * m[8],
                c = m[3] * m[7] - m[4] * m[6],
                det = m[0] * a + m[1] * b + m[2] * c;
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
