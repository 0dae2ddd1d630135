package dasein.core.track;

import dasein.core.image.Pyramid;
import org.ejml.data.DMatrixRMaj;
import org.ejml.dense.row.CommonOps_DDRM;

/**
 * Inverse-compositional alignment (Baker and Matthews 2004) of any set of pixels under a shift, a similarity, an affine
 * map or a homography, gain and bias taken out unless the light stays the same, coarse to fine. Pixels may be hidden in
 * a frame; the rest then decides. Maps are 3x3 row-major from offsets in the reference frame (relative to its centre)
 * to places in the picture, both in continuous pixels of the full size.
 */
final class PatchAligner {
    private static final int MAX_STEPS = 30;
    private static final double DONE = 0.005;
    private static final int FEWEST = 24;

    private final int parameters;
    private final int levels;
    /** Offsets of the sample points for each level, u and v in turn, in pixels of the full size. */
    private final double[][] uv;

    private final double[][] t;
    private final double[][][] steepest;
    private final DMatrixRMaj[] inverse;
    private final double[] energy;
    private final boolean changingLight;
    double correlation;

    /**
     * @param reference frame the pixels are taken from
     * @param points offsets from the centre, u and v in turn, pixels of the full size
     * @param changingLight gain and bias are taken out
     */
    PatchAligner(
            Pyramid reference,
            double cx,
            double cy,
            double[] points,
            HandMark.Motion motion,
            int levels,
            boolean changingLight) {
        this(reference, cx, cy, points, motion, levels, changingLight, null);
    }

    /** @param hidden pixels of the reference frame that do not count; null for none */
    PatchAligner(
            Pyramid reference,
            double cx,
            double cy,
            double[] points,
            HandMark.Motion motion,
            int levels,
            boolean changingLight,
            boolean[] hidden) {
        parameters = motion.parameters;
        this.changingLight = changingLight;
        this.levels = Math.min(levels, reference.levels());
        uv = new double[this.levels][];
        t = new double[this.levels][];
        steepest = new double[this.levels][][];
        inverse = new DMatrixRMaj[this.levels];
        energy = new double[this.levels];
        for (int l = 0; l < this.levels; l++)
            prepare(reference, l, cx, cy, seen(reference, l, cx, cy, thinned(points, l), hidden));
    }

    /** Square of side 2 half + 1. */
    static double[] square(int half) {
        int n = 2 * half + 1;
        double[] p = new double[2 * n * n];
        for (int i = 0; i < n * n; i++) {
            p[2 * i] = i % n - half;
            p[2 * i + 1] = i / n - half;
        }
        return p;
    }

    /** On a coarse level neighbouring points fall together: every so many rows and columns are enough. */
    private static double[] thinned(double[] p, int level) {
        if (level == 0) return p;
        int step = 1 << level, k = 0;
        double[] out = new double[p.length];
        for (int i = 0; i < p.length; i += 2) {
            if (Math.floorMod((int) Math.round(p[i]), step) != 0
                    || Math.floorMod((int) Math.round(p[i + 1]), step) != 0) continue;
            out[k++] = p[i];
            out[k++] = p[i + 1];
        }
        return java.util.Arrays.copyOf(out, k);
    }

    private static double[] seen(Pyramid p, int l, double cx, double cy, double[] points, boolean[] hidden) {
        if (hidden == null) return points;
        double[] out = new double[points.length];
        int k = 0;
        for (int i = 0; i < points.length; i += 2) {
            if (touches(hidden, p.width(0), p.height(0), cx + points[i], cy + points[i + 1], l)) continue;
            out[k++] = points[i];
            out[k++] = points[i + 1];
        }
        return java.util.Arrays.copyOf(out, k);
    }

    private void prepare(Pyramid p, int l, double cx, double cy, double[] points) {
        int n = points.length / 2;
        if (n < FEWEST) return;
        double s = 1 << l;
        double[] v = new double[n], gx = new double[n], gy = new double[n];
        double mean = 0;
        for (int i = 0; i < n; i++) {
            double x = (cx + points[2 * i] - 0.5) / s, y = (cy + points[2 * i + 1] - 0.5) / s;
            if (!inside(p, l, x, y)) return;
            v[i] = cubic(p, l, x, y);
            // Gradients in steps of this level's pixel, given for pixels of the full size.
            gx[i] = 0.5 * (cubic(p, l, x + 1, y) - cubic(p, l, x - 1, y)) / s;
            gy[i] = 0.5 * (cubic(p, l, x, y + 1) - cubic(p, l, x, y - 1)) / s;
            mean += v[i] / n;
        }
        double e = 0;
        for (int i = 0; i < n; i++) {
            v[i] -= mean;
            e += v[i] * v[i];
        }
        // Coarse levels only find the place.
        int m = l > 0 ? 2 : parameters;
        double[][] sd = new double[m][n];
        for (int i = 0; i < n; i++) {
            double a = points[2 * i], b = points[2 * i + 1], x = gx[i], y = gy[i];
            double[] row = m == 2
                    ? new double[] {x, y}
                    : m == 4
                            ? new double[] {x, y, x * a + y * b, y * a - x * b}
                            : m == 6
                                    ? new double[] {x, y, x * a, x * b, y * a, y * b}
                                    : new double[] {
                                        x, y, x * a, x * b, y * a, y * b, -a * (x * a + y * b), -b * (x * a + y * b)
                                    };
            for (int k = 0; k < m; k++) sd[k][i] = row[k];
        }
        // The mean is taken out of the picture at every step, so it is out of what a step can explain, too.
        for (double[] k : changingLight ? sd : new double[0][]) {
            double q = 0;
            for (double x : k) q += x / n;
            for (int i = 0; i < n; i++) k[i] -= q;
        }
        DMatrixRMaj h = new DMatrixRMaj(m, m), inv = new DMatrixRMaj(m, m);
        products(sd, null, h);
        if (e / n < 0.25 || !CommonOps_DDRM.invert(h, inv)) return;
        uv[l] = points;
        if (!changingLight) for (int i = 0; i < n; i++) v[i] += mean;
        t[l] = v;
        steepest[l] = sd;
        inverse[l] = inv;
        energy[l] = e;
    }

    /** @param left points that count; null for all */
    private static void products(double[][] sd, boolean[] left, DMatrixRMaj h) {
        for (int a = 0; a < sd.length; a++)
            for (int b = 0; b <= a; b++) {
                double q = 0;
                for (int i = 0; i < sd[0].length; i++) if (left == null || left[i]) q += sd[a][i] * sd[b][i];
                h.set(a, b, q);
                h.set(b, a, q);
            }
    }

    boolean usable() {
        return inverse[0] != null;
    }

    /**
     * Finds the pixels in another frame, starting from and returning a map.
     *
     * @return null when they were not found
     */
    double[] align(Pyramid p, double[] start) {
        return align(p, start, null);
    }

    /** @param hidden pixels of the full size that do not count, row by row, as wide as the pyramid; null for none */
    double[] align(Pyramid p, double[] start, boolean[] hidden) {
        double[] h = start.clone();
        for (int l = levels - 1; l >= 0; l--) {
            if (inverse[l] == null) continue;
            double[] got = level(p, l, h, hidden);
            if (got != null) h = got;
            else if (l == 0) return null;
        }
        return h;
    }

    private double[] level(Pyramid p, int l, double[] start, boolean[] hidden) {
        double[] h = start.clone(),
                v = new double[t[l].length],
                g = new double[steepest[l].length],
                u = new double[g.length];
        int n = v.length, m = g.length, count = n;
        double s = 1 << l, energyLeft = energy[l], meanLeft = 0;
        DMatrixRMaj inv = inverse[l];
        boolean[] left = hidden == null ? null : left(p, l, h, hidden);
        if (left != null) {
            count = 0;
            for (boolean b : left) if (b) count++;
            if (count < Math.max(FEWEST, n / 5)) return null;
            DMatrixRMaj some = new DMatrixRMaj(m, m);
            products(steepest[l], left, some);
            inv = new DMatrixRMaj(m, m);
            if (!CommonOps_DDRM.invert(some, inv)) return null;
        }
        if (left != null || !changingLight) {
            for (int i = 0; i < n; i++) if (left == null || left[i]) meanLeft += t[l][i] / count;
            energyLeft = 0;
            for (int i = 0; i < n; i++)
                if (left == null || left[i]) energyLeft += (t[l][i] - meanLeft) * (t[l][i] - meanLeft);
        }
        for (int step = 0; step < MAX_STEPS; step++) {
            double mean = 0, vv = 0, cross = 0;
            for (int i = 0; i < n; i++) {
                if (left != null && !left[i]) continue;
                double a = uv[l][2 * i],
                        b = uv[l][2 * i + 1],
                        d = h[6] * a + h[7] * b + h[8],
                        x = ((h[0] * a + h[1] * b + h[2]) / d - 0.5) / s,
                        y = ((h[3] * a + h[4] * b + h[5]) / d - 0.5) / s;
                if (!(d > 1e-6) || !inside(p, l, x, y)) return null;
                v[i] = cubic(p, l, x, y);
                mean += v[i] / count;
            }
            for (int i = 0; i < n; i++) {
                if (left != null && !left[i]) continue;
                double c = v[i] - mean;
                vv += c * c;
                cross += c * (t[l][i] - meanLeft);
            }
            if (vv < 1e-9 || energyLeft < 1e-9) return null;
            correlation = cross / Math.sqrt(vv * energyLeft);
            double gain = changingLight ? Math.sqrt(energyLeft / vv) : 1,
                    from = changingLight ? mean : 0,
                    to = changingLight ? meanLeft : 0;
            for (int k = 0; k < m; k++) {
                double q = 0;
                for (int i = 0; i < n; i++)
                    if (left == null || left[i]) q += (gain * (v[i] - from) - t[l][i] + to) * steepest[l][k][i];
                g[k] = q;
            }
            for (int k = 0; k < m; k++) {
                double q = 0;
                for (int z = 0; z < m; z++) q += inv.get(k, z) * g[z];
                u[k] = q;
            }
            h = compose(h, inverted(increment(u)));
            if (u[0] * u[0] + u[1] * u[1] < DONE * DONE * s * s) break;
        }
        return h;
    }

    /** Which points are not hidden where the map puts them. */
    private boolean[] left(Pyramid p, int l, double[] h, boolean[] hidden) {
        int w = p.width(0), hh = p.height(0);
        boolean[] out = new boolean[t[l].length];
        for (int i = 0; i < out.length; i++) {
            double a = uv[l][2 * i], b = uv[l][2 * i + 1], d = h[6] * a + h[7] * b + h[8];
            out[i] = !touches(hidden, w, hh, (h[0] * a + h[1] * b + h[2]) / d, (h[3] * a + h[4] * b + h[5]) / d, l);
        }
        return out;
    }

    /**
     * Whether what a level shows at a place has hidden pixels in it: its smoothing and the interpolation reach further
     * the coarser it is.
     */
    private static boolean touches(boolean[] hidden, int w, int h, double x, double y, int l) {
        int r = 2 + 2 * (1 << l);
        for (int j = -r; j <= r; j += r) {
            for (int i = -r; i <= r; i += r) {
                int u = (int) x + i, v = (int) y + j;
                if (u >= 0 && v >= 0 && u < w && v < h && hidden[v * w + u]) return true;
            }
        }
        return false;
    }

    private static double[] increment(double[] u) {
        return switch (u.length) {
            case 2 -> new double[] {1, 0, u[0], 0, 1, u[1], 0, 0, 1};
            case 4 -> new double[] {1 + u[2], -u[3], u[0], u[3], 1 + u[2], u[1], 0, 0, 1};
            case 6 -> new double[] {1 + u[2], u[3], u[0], u[4], 1 + u[5], u[1], 0, 0, 1};
            default -> new double[] {1 + u[2], u[3], u[0], u[4], 1 + u[5], u[1], u[6], u[7], 1};
        };
    }

    static double[] compose(double[] a, double[] b) {
        double[] c = new double[9];
        for (int i = 0; i < 3; i++)
            for (int j = 0; j < 3; j++)
                c[3 * i + j] = a[3 * i] * b[j] + a[3 * i + 1] * b[3 + j] + a[3 * i + 2] * b[6 + j];
        return c;
    }

    /** Inverse up to scale (the adjugate), scaled so that the last entry is one. */
    static double[] inverted(double[] m) {
        double[] r = {
            m[4] * m[8] - m[5] * m[7],
            m[2] * m[7] - m[1] * m[8],
            m[1] * m[5] - m[2] * m[4],
            m[5] * m[6] - m[3] * m[8],
            m[0] * m[8] - m[2] * m[6],
            m[2] * m[3] - m[0] * m[5],
            m[3] * m[7] - m[4] * m[6],
            m[1] * m[6] - m[0] * m[7],
            m[0] * m[4] - m[1] * m[3]
        };
        double k = r[8];
        for (int i = 0; i < 9; i++) r[i] /= k;
        return r;
    }

    private static boolean inside(Pyramid p, int l, double x, double y) {
        return x >= 2 && y >= 2 && x <= p.width(l) - 4 && y <= p.height(l) - 4;
    }

    private static double cubic(Pyramid p, int l, double x, double y) {
        int x0 = (int) x, y0 = (int) y, w = p.width(l);
        double a = x - x0, b = y - y0, sum = 0;
        float[] s = p.plane(l);
        double[] wx = {
            ((-0.5 * a + 1) * a - 0.5) * a,
            (1.5 * a - 2.5) * a * a + 1,
            ((-1.5 * a + 2) * a + 0.5) * a,
            (0.5 * a - 0.5) * a * a
        };
        double[] wy = {
            ((-0.5 * b + 1) * b - 0.5) * b,
            (1.5 * b - 2.5) * b * b + 1,
            ((-1.5 * b + 2) * b + 0.5) * b,
            (0.5 * b - 0.5) * b * b
        };
        for (int j = 0; j < 4; j++) {
            int q = (y0 - 1 + j) * w + x0 - 1;
            sum += wy[j] * (wx[0] * s[q] + wx[1] * s[q + 1] + wx[2] * s[q + 2] + wx[3] * s[q + 3]);
        }
        return sum;
    }
}
