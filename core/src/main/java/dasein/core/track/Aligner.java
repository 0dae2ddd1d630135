package dasein.core.track;

import dasein.core.image.Pyramid;

/**
 * Inverse-compositional alignment of square regions (Baker and Matthews 2004) with gain and bias taken out by matching
 * mean and contrast at every step. Cubic (Catmull-Rom) interpolation on the finest level, since linear draws results
 * towards pixel centres. One for each worker thread: it owns its scratch arrays.
 */
final class Aligner {
    private static final int MAX_STEPS = 20;
    static final double COARSE_DONE = 0.05, FINE_DONE = 0.01;
    /** A region whose grey levels spread less than this (of 255) has nothing to hold on to. */
    private static final double FLATTEST = 0.5;

    private static final double LEAST_GAIN = 0.4, MOST_GAIN = 2.5;

    private final int r;
    private final int n;
    private final float[] big;
    private final float[] v;
    private final float[] rowsTmp;
    private final Look scratch;
    private final double[] g = new double[6];
    private final double[] u = new double[6];
    double x, y;
    /** Normalised correlation of the last alignment, [-1, 1]. */
    double correlation;

    Aligner(int r) {
        this.r = r;
        n = 2 * r + 1;
        big = new float[(n + 2) * (n + 2)];
        v = new float[n * n];
        rowsTmp = new float[(n + 5) * (n + 2)];
        scratch = new Look(r);
    }

    /**
     * A mark's look at continuous coordinates, ready for {@link #refine}; null at the border or where there is nothing
     * to hold on to.
     */
    Look look(Pyramid p, double cx, double cy) {
        if (!cubic(p, 0, cx - 0.5, cy - 0.5, r + 1, big)) return null;
        Look k = new Look(r);
        k.set(big);
        if (k.contrast() < FLATTEST) return null;
        k.prepareAffine();
        return k.inverse == null ? null : k;
    }

    /** Samples the (2 half + 1)^2 window centred on index coordinates; false when it reaches over the border. */
    private boolean cubic(Pyramid p, int level, double cx, double cy, int half, float[] out) {
        int w = p.width(level), h = p.height(level), m = 2 * half + 1;
        int x0 = (int) Math.floor(cx) - half, y0 = (int) Math.floor(cy) - half;
        if (x0 < 1 || y0 < 1 || x0 + m + 2 > w || y0 + m + 2 > h) return false;
        float[] s = p.plane(level);
        float a = (float) (cx - Math.floor(cx)), b = (float) (cy - Math.floor(cy));
        float a0 = ((-0.5f * a + 1) * a - 0.5f) * a,
                a1 = (1.5f * a - 2.5f) * a * a + 1,
                a2 = ((-1.5f * a + 2) * a + 0.5f) * a,
                a3 = (0.5f * a - 0.5f) * a * a;
        float b0 = ((-0.5f * b + 1) * b - 0.5f) * b,
                b1 = (1.5f * b - 2.5f) * b * b + 1,
                b2 = ((-1.5f * b + 2) * b + 0.5f) * b,
                b3 = (0.5f * b - 0.5f) * b * b;
        float[] tmp = rowsTmp;
        for (int j = 0; j < m + 3; j++) {
            int q = (y0 - 1 + j) * w + x0 - 1;
            for (int i = 0, o = j * m; i < m; i++, q++, o++)
                tmp[o] = a0 * s[q] + a1 * s[q + 1] + a2 * s[q + 2] + a3 * s[q + 3];
        }
        for (int i = 0, e = m * m; i < e; i++)
            out[i] = b0 * tmp[i] + b1 * tmp[i + m] + b2 * tmp[i + 2 * m] + b3 * tmp[i + 3 * m];
        return true;
    }

    private boolean linear(Pyramid p, int level, double cx, double cy, int half, float[] out) {
        int w = p.width(level), h = p.height(level), m = 2 * half + 1;
        int x0 = (int) Math.floor(cx) - half, y0 = (int) Math.floor(cy) - half;
        if (x0 < 0 || y0 < 0 || x0 + m + 1 > w || y0 + m + 1 > h) return false;
        float[] s = p.plane(level);
        float a = (float) (cx - Math.floor(cx)),
                b = (float) (cy - Math.floor(cy)),
                c00 = (1 - a) * (1 - b),
                c10 = a * (1 - b),
                c01 = (1 - a) * b,
                c11 = a * b;
        for (int j = 0, o = 0; j < m; j++) {
            int q = (y0 + j) * w + x0, q1 = q + w;
            for (int i = 0; i < m; i++, q++, q1++, o++)
                out[o] = c00 * s[q] + c10 * s[q + 1] + c01 * s[q1] + c11 * s[q1 + 1];
        }
        return true;
    }

    /**
     * Moves the region at (ax, ay) of a to where it is in b, starting from (bx, by) on level {@code top}; false when it
     * is lost. Result in x, y.
     *
     * @param done the last step is shorter than this, in pixels
     */
    boolean follow(Pyramid a, double ax, double ay, Pyramid b, double bx, double by, int top, double done) {
        double dx = bx - ax, dy = by - ay;
        for (int l = Math.min(top, a.levels() - 1); l >= 0; l--) {
            double lx = Pyramid.toLevel(ax, l), ly = Pyramid.toLevel(ay, l);
            boolean got = l == 0 ? cubic(a, l, lx, ly, r + 1, big) : linear(a, l, lx, ly, r + 1, big);
            if (!got) {
                if (l == 0) return false;
                continue;
            }
            scratch.set(big);
            double k = 1.0 / (1 << l), px = lx + dx * k, py = ly + dy * k;
            // A coarse level may be misled; it may not throw the region further than its own size.
            if (!shift(scratch, b, l, px, py, l == 0 ? done : COARSE_DONE)
                    || Math.abs(x - px) > n
                    || Math.abs(y - py) > n) {
                if (l == 0) return false;
                continue;
            }
            dx = (x - lx) / k;
            dy = (y - ly) / k;
        }
        x = ax + dx;
        y = ay + dy;
        return true;
    }

    /** Translation of a template on one level; works in index coordinates. */
    private boolean shift(Look k, Pyramid b, int level, double px, double py, double done) {
        double det = k.sxx * k.syy - k.sxy * k.sxy;
        if (det < 1e-6 || k.contrast() < FLATTEST) return false;
        float[] t = k.t, gx = k.gx, gy = k.gy, val = v;
        float mean = k.mean;
        int count = n * n;
        for (int step = 0; step < MAX_STEPS; step++) {
            if (!(level == 0 ? cubic(b, level, px, py, r, val) : linear(b, level, px, py, r, val))) return false;
            // All sums in one pass, over values with the template's mean taken out so that floats suffice.
            float s = 0, ss = 0, st = 0, sx = 0, sy = 0;
            for (int i = 0; i < count; i++) {
                float d = val[i] - mean;
                s += d;
                ss += d * d;
                st += d * t[i];
                sx += d * gx[i];
                sy += d * gy[i];
            }
            double m = s / count, vv = ss - s * m;
            if (vv < count * 0.09 * FLATTEST * FLATTEST) return false;
            correlation = st / Math.sqrt(vv * k.energy);
            double gain = gain(k.energy, vv),
                    ex = gain * (sx - m * k.sumX) - k.dotX,
                    ey = gain * (sy - m * k.sumY) - k.dotY;
            double ux = (k.syy * ex - k.sxy * ey) / det, uy = (k.sxx * ey - k.sxy * ex) / det;
            px -= ux;
            py -= uy;
            if (ux * ux + uy * uy < done * done) break;
        }
        x = px;
        y = py;
        return true;
    }

    private static double gain(double template, double image) {
        return Math.min(Math.max(Math.sqrt(template / image), LEAST_GAIN), MOST_GAIN);
    }

    /** Correlation of a look, shifted only, with the picture at whole-pixel index coordinates; 0 at the border. */
    double correlationAt(Look k, Pyramid p, int ix, int iy) {
        int w = p.width(0), h = p.height(0);
        if (ix < r || iy < r || ix + r >= w || iy + r >= h) return 0;
        float[] img = p.plane(0), t = k.t;
        float s = 0, ss = 0, st = 0;
        for (int j = -r, o = 0; j <= r; j++) {
            for (int i = 0, q = (iy + j) * w + ix - r; i < n; i++, q++, o++) {
                float d = img[q] - k.mean;
                s += d;
                ss += d * d;
                st += d * t[o];
            }
        }
        double vv = ss - (double) s * s / t.length;
        return vv < 1e-3 ? 0 : st / Math.sqrt(vv * k.energy);
    }

    /**
     * Aligns a look by an affine warp on the finest level. {@code warp} = {a, b, c, d}: offset (u, v) in the region
     * goes to (a u + b v, c u + d v); it is updated, unless {@code shape} is false: then only the place is sought.
     * Starts at (sx, sy); true when it converged within {@code reach} pixels of the start.
     */
    boolean refine(Look k, double[] warp, Pyramid p, double sx, double sy, double reach, boolean shape) {
        double px = sx, py = sy, a = warp[0], b = warp[1], c = warp[2], d = warp[3];
        float[] t = k.t, gx = k.gx, gy = k.gy;
        float mean = k.mean;
        boolean settled = false;
        for (int step = 0; step < 12 && !settled; step++) {
            if (!warped(p, px, py, a, b, c, d)) return false;
            float s = 0, ss = 0, st = 0;
            double g0 = 0, g1 = 0, g2 = 0, g3 = 0, g4 = 0, g5 = 0;
            for (int j = -r, o = 0; j <= r; j++) {
                // Within a row v is constant: its two sums are multiplied once.
                float rx = 0, rxu = 0, ry = 0, ryu = 0;
                for (int i = -r; i <= r; i++, o++) {
                    float e = v[o] - mean, ex = e * gx[o], ey = e * gy[o];
                    s += e;
                    ss += e * e;
                    st += e * t[o];
                    rx += ex;
                    rxu += ex * i;
                    ry += ey;
                    ryu += ey * i;
                }
                g0 += rx;
                g1 += ry;
                g2 += rxu;
                g3 += rx * j;
                g4 += ryu;
                g5 += ry * j;
            }
            double m = s / t.length, vv = ss - s * m;
            if (vv < 1e-6) return false;
            correlation = st / Math.sqrt(vv * k.energy);
            double gain = gain(k.energy, vv);
            g[0] = g0;
            g[1] = g1;
            g[2] = g2;
            g[3] = g3;
            g[4] = g4;
            g[5] = g5;
            for (int i = 0; i < 6; i++) g[i] = gain * (g[i] - m * k.sum[i]) - k.dot[i];
            if (!shape) {
                double det = k.sxx * k.syy - k.sxy * k.sxy,
                        tx = (k.syy * g[0] - k.sxy * g[1]) / det,
                        ty = (k.sxx * g[1] - k.sxy * g[0]) / det;
                px -= a * tx + b * ty;
                py -= c * tx + d * ty;
                settled = tx * tx + ty * ty < FINE_DONE * FINE_DONE;
                if (Math.hypot(px - sx, py - sy) > reach) return false;
                continue;
            }
            for (int i = 0; i < 6; i++) {
                double q = 0;
                for (int z = 0; z < 6; z++) q += k.inverse[i * 6 + z] * g[z];
                u[i] = q;
            }
            // W <- W o (increment)^-1
            double ia = 1 + u[2], ib = u[3], ic = u[4], id = 1 + u[5], det = ia * id - ib * ic;
            if (det < 0.3 || det > 3) return false;
            double ja = id / det, jb = -ib / det, jc = -ic / det, jd = ia / det;
            double tx = -(ja * u[0] + jb * u[1]), ty = -(jc * u[0] + jd * u[1]);
            px += a * tx + b * ty;
            py += c * tx + d * ty;
            double na = a * ja + b * jc, nb = a * jb + b * jd, nc = c * ja + d * jc, nd = c * jb + d * jd;
            a = na;
            b = nb;
            c = nc;
            d = nd;
            settled = u[0] * u[0] + u[1] * u[1] < FINE_DONE * FINE_DONE;
            if (Math.hypot(px - sx, py - sy) > reach) return false;
        }
        warp[0] = a;
        warp[1] = b;
        warp[2] = c;
        warp[3] = d;
        x = px;
        y = py;
        return true;
    }

    private boolean warped(Pyramid p, double cx, double cy, double a, double b, double c, double d) {
        int w = p.width(0), h = p.height(0);
        float[] s = p.plane(0), out = v;
        double reachX = r * (Math.abs(a) + Math.abs(b)),
                reachY = r * (Math.abs(c) + Math.abs(d)),
                ix = cx - 0.5,
                iy = cy - 0.5;
        if (ix - reachX < 2 || iy - reachY < 2 || ix + reachX > w - 4 || iy + reachY > h - 4) return false;
        int o = 0;
        for (int j = -r; j <= r; j++) {
            // Inside the picture all coordinates are positive, so a cast is the floor.
            float fx = (float) (ix - a * r + b * j), fy = (float) (iy - c * r + d * j), da = (float) a, dc = (float) c;
            for (int i = 0; i < n; i++, o++) {
                float qx = fx + da * i, qy = fy + dc * i;
                int x0 = (int) qx, y0 = (int) qy;
                float u1 = qx - x0, q = qy - y0;
                float a0 = ((-0.5f * u1 + 1) * u1 - 0.5f) * u1,
                        a1 = (1.5f * u1 - 2.5f) * u1 * u1 + 1,
                        a2 = ((-1.5f * u1 + 2) * u1 + 0.5f) * u1,
                        a3 = (0.5f * u1 - 0.5f) * u1 * u1;
                float b0 = ((-0.5f * q + 1) * q - 0.5f) * q,
                        b1 = (1.5f * q - 2.5f) * q * q + 1,
                        b2 = ((-1.5f * q + 2) * q + 0.5f) * q,
                        b3 = (0.5f * q - 0.5f) * q * q;
                int k = (y0 - 1) * w + x0 - 1, k1 = k + w, k2 = k1 + w, k3 = k2 + w;
                out[o] = b0 * (a0 * s[k] + a1 * s[k + 1] + a2 * s[k + 2] + a3 * s[k + 3])
                        + b1 * (a0 * s[k1] + a1 * s[k1 + 1] + a2 * s[k1 + 2] + a3 * s[k1 + 3])
                        + b2 * (a0 * s[k2] + a1 * s[k2 + 1] + a2 * s[k2 + 2] + a3 * s[k2 + 3])
                        + b3 * (a0 * s[k3] + a1 * s[k3 + 1] + a2 * s[k3 + 2] + a3 * s[k3 + 3]);
            }
        }
        return true;
    }
}
