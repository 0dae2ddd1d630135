package dasein.core.track;

import dasein.core.image.Pyramid;

/**
 * Inverse-compositional alignment of square regions (Baker and Matthews 2004) with gain and bias taken out by matching mean and
 * contrast at every step. Cubic (Catmull-Rom) interpolation, since linear draws results towards pixel centres. One for each
 * worker thread: it owns its scratch arrays.
 */
final class Aligner {
    private static final int MAX_STEPS = 20;
    private static final double STEP_DONE = 0.01;
    /** A region whose grey levels spread less than this (of 255) has nothing to hold on to. */
    private static final double FLATTEST = 0.5;

    private final int r;
    private final int n;
    private final float[] big;
    private final float[] t;
    private final float[] gx;
    private final float[] gy;
    private final float[] v;
    private final float[] rowsTmp;
    double x, y;
    /** Normalised correlation of the last alignment, [-1, 1]. */
    double correlation;

    Aligner(int r) {
        this.r = r;
        n = 2 * r + 1;
        big = new float[(n + 2) * (n + 2)];
        t = new float[n * n];
        gx = new float[n * n];
        gy = new float[n * n];
        v = new float[n * n];
        rowsTmp = new float[(n + 5) * (n + 2)];
    }

    /** A mark's look: values with a border of one pixel, for gradients. */
    float[] patch(Pyramid p, double cx, double cy) {
        float[] out = new float[(n + 2) * (n + 2)];
        return window(p, 0, Pyramid.toLevel(cx, 0), Pyramid.toLevel(cy, 0), r + 1, out) ? out : null;
    }

    /** Samples the (2 half + 1)^2 window centred on index coordinates; false when it reaches over the border. */
    private boolean window(Pyramid p, int level, double cx, double cy, int half, float[] out) {
        int w = p.sizes.get(level)[0], h = p.sizes.get(level)[1], m = 2 * half + 1;
        int x0 = (int) Math.floor(cx) - half, y0 = (int) Math.floor(cy) - half;
        if (x0 < 1 || y0 < 1 || x0 + m + 2 > w || y0 + m + 2 > h) return false;
        float[] s = p.planes.get(level);
        float a = (float) (cx - Math.floor(cx)), b = (float) (cy - Math.floor(cy));
        float a0 = ((-0.5f * a + 1) * a - 0.5f) * a, a1 = (1.5f * a - 2.5f) * a * a + 1, a2 = ((-1.5f * a + 2) * a + 0.5f) * a, a3 = (0.5f * a - 0.5f) * a * a;
        float b0 = ((-0.5f * b + 1) * b - 0.5f) * b, b1 = (1.5f * b - 2.5f) * b * b + 1, b2 = ((-1.5f * b + 2) * b + 0.5f) * b, b3 = (0.5f * b - 0.5f) * b * b;
        float[] tmp = rowsTmp;
        for (int j = 0; j < m + 3; j++) {
            int q = (y0 - 1 + j) * w + x0 - 1;
            for (int i = 0; i < m; i++, q++) tmp[j * m + i] = a0 * s[q] + a1 * s[q + 1] + a2 * s[q + 2] + a3 * s[q + 3];
        }
        for (int j = 0; j < m; j++) {
            int q = j * m;
            for (int i = 0; i < m; i++, q++) out[q] = b0 * tmp[q] + b1 * tmp[q + m] + b2 * tmp[q + 2 * m] + b3 * tmp[q + 3 * m];
        }
        return true;
    }

    private void splitTemplate(float[] patch) {
        int m = n + 2;
        for (int j = 0; j < n; j++) {
            for (int i = 0; i < n; i++) {
                int q = (j + 1) * m + i + 1, o = j * n + i;
                t[o] = patch[q];
                gx[o] = 0.5f * (patch[q + 1] - patch[q - 1]);
                gy[o] = 0.5f * (patch[q + m] - patch[q - m]);
            }
        }
    }

    /** Moves the region at (ax, ay) of a to where it is in b, starting from (bx, by); false when it is lost. Result in x, y. */
    boolean follow(Pyramid a, double ax, double ay, Pyramid b, double bx, double by) {
        int top = a.levels() - 1;
        double dx = bx - ax, dy = by - ay;
        boolean any = false;
        for (int l = top; l >= 0; l--) {
            double lx = Pyramid.toLevel(ax, l), ly = Pyramid.toLevel(ay, l);
            if (!window(a, l, lx, ly, r + 1, big)) continue;
            splitTemplate(big);
            double k = 1.0 / (1 << l), px = lx + dx * k, py = ly + dy * k;
            if (!shift(b, l, px, py)) {
                if (l == 0) return false;
                continue;
            }
            // A coarse level may be misled; it may not throw the region further than its own size.
            if (Math.hypot(x - px, y - py) > n) {
                if (l == 0) return false;
                continue;
            }
            dx = (x - lx) / k;
            dy = (y - ly) / k;
            any = l == 0;
        }
        if (!any) return false;
        x = ax + dx;
        y = ay + dy;
        return true;
    }

    /** Translation of the present template on one level; works in index coordinates. */
    private boolean shift(Pyramid b, int level, double px, double py) {
        double sxx = 0, sxy = 0, syy = 0, mt = 0, vt = 0;
        int count = n * n;
        for (int i = 0; i < count; i++) {
            sxx += gx[i] * gx[i];
            sxy += gx[i] * gy[i];
            syy += gy[i] * gy[i];
            mt += t[i];
        }
        mt /= count;
        for (int i = 0; i < count; i++) vt += (t[i] - mt) * (t[i] - mt);
        double det = sxx * syy - sxy * sxy, st = Math.sqrt(vt / count);
        if (det < 1e-6 || st < FLATTEST) return false;
        for (int step = 0; step < MAX_STEPS; step++) {
            if (!window(b, level, px, py, r, v)) return false;
            double mv = 0, vv = 0, cross = 0;
            for (int i = 0; i < count; i++) mv += v[i];
            mv /= count;
            for (int i = 0; i < count; i++) {
                double d = v[i] - mv;
                vv += d * d;
                cross += d * (t[i] - mt);
            }
            double sv = Math.sqrt(vv / count);
            if (sv < 0.3 * FLATTEST) return false;
            correlation = cross / Math.sqrt(vv * vt);
            double gain = Math.min(Math.max(st / sv, 0.4), 2.5), ex = 0, ey = 0;
            for (int i = 0; i < count; i++) {
                double e = (v[i] - mv) * gain - (t[i] - mt);
                ex += e * gx[i];
                ey += e * gy[i];
            }
            double ux = (syy * ex - sxy * ey) / det, uy = (sxx * ey - sxy * ex) / det;
            px -= ux;
            py -= uy;
            if (ux * ux + uy * uy < STEP_DONE * STEP_DONE) break;
        }
        x = px;
        y = py;
        return true;
    }

    /**
     * Aligns an anchor patch by an affine warp on the finest level. {@code warp} = {a, b, c, d}: offset (u, v) in the patch goes
     * to (a u + b v, c u + d v); it is updated. Starts at (sx, sy); true when it converged inside two pixels of the start.
     */
    boolean refine(float[] patch, double[] warp, Pyramid p, double sx, double sy) {
        splitTemplate(patch);
        int count = n * n;
        double mt = 0, vt = 0;
        for (int i = 0; i < count; i++) mt += t[i];
        mt /= count;
        for (int i = 0; i < count; i++) vt += (t[i] - mt) * (t[i] - mt);
        if (Math.sqrt(vt / count) < FLATTEST) return false;
        double[] hess = new double[36], inv = new double[36];
        double[] j = new double[6];
        for (int i = 0; i < count; i++) {
            row(i, j);
            for (int a = 0; a < 6; a++) for (int b = a; b < 6; b++) hess[a * 6 + b] += j[a] * j[b];
        }
        for (int a = 0; a < 6; a++) {
            for (int b = 0; b < a; b++) hess[a * 6 + b] = hess[b * 6 + a];
            // A region with an edge in one direction only must not shear freely.
            hess[a * 6 + a] *= a < 2 ? 1 : 1.02;
        }
        if (!Spd6.invert(hess, inv)) return false;
        double px = sx, py = sy, a = warp[0], b = warp[1], c = warp[2], d = warp[3];
        double[] g = new double[6], u = new double[6];
        boolean settled = false;
        for (int step = 0; step < 12 && !settled; step++) {
            if (!warped(p, px, py, a, b, c, d)) return false;
            double mv = 0, vv = 0, cross = 0;
            for (int i = 0; i < count; i++) mv += v[i];
            mv /= count;
            for (int i = 0; i < count; i++) {
                double e = v[i] - mv;
                vv += e * e;
                cross += e * (t[i] - mt);
            }
            if (vv < 1e-6) return false;
            correlation = cross / Math.sqrt(vv * vt);
            double gain = Math.min(Math.max(Math.sqrt(vt / vv), 0.4), 2.5);
            java.util.Arrays.fill(g, 0);
            for (int i = 0; i < count; i++) {
                double e = (v[i] - mv) * gain - (t[i] - mt);
                row(i, j);
                for (int k = 0; k < 6; k++) g[k] += e * j[k];
            }
            for (int k = 0; k < 6; k++) {
                u[k] = 0;
                for (int m = 0; m < 6; m++) u[k] += inv[k * 6 + m] * g[m];
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
            settled = u[0] * u[0] + u[1] * u[1] < STEP_DONE * STEP_DONE;
            if (Math.hypot(px - sx, py - sy) > 2) return false;
        }
        warp[0] = a;
        warp[1] = b;
        warp[2] = c;
        warp[3] = d;
        x = px;
        y = py;
        return true;
    }

    /** Steepest-descent row of pixel i for {tx, ty, a-1, b, c, d-1}. */
    private void row(int i, double[] j) {
        double u = i % n - r, w = i / n - r;
        j[0] = gx[i];
        j[1] = gy[i];
        j[2] = gx[i] * u;
        j[3] = gx[i] * w;
        j[4] = gy[i] * u;
        j[5] = gy[i] * w;
    }

    private boolean warped(Pyramid p, double cx, double cy, double a, double b, double c, double d) {
        int w = p.sizes.get(0)[0], h = p.sizes.get(0)[1];
        float[] s = p.planes.get(0);
        double reachX = r * (Math.abs(a) + Math.abs(b)), reachY = r * (Math.abs(c) + Math.abs(d)), ix = cx - 0.5, iy = cy - 0.5;
        if (ix - reachX < 2 || iy - reachY < 2 || ix + reachX > w - 4 || iy + reachY > h - 4) return false;
        int o = 0;
        for (int j = -r; j <= r; j++) {
            for (int i = -r; i <= r; i++, o++) {
                double fx = ix + a * i + b * j, fy = iy + c * i + d * j;
                int x0 = (int) fx, y0 = (int) fy;
                float u = (float) (fx - x0), q = (float) (fy - y0);
                float a0 = ((-0.5f * u + 1) * u - 0.5f) * u, a1 = (1.5f * u - 2.5f) * u * u + 1, a2 = ((-1.5f * u + 2) * u + 0.5f) * u, a3 = (0.5f * u - 0.5f) * u * u;
                float b0 = ((-0.5f * q + 1) * q - 0.5f) * q, b1 = (1.5f * q - 2.5f) * q * q + 1, b2 = ((-1.5f * q + 2) * q + 0.5f) * q, b3 = (0.5f * q - 0.5f) * q * q;
                int k = (y0 - 1) * w + x0 - 1;
                v[o] = b0 * (a0 * s[k] + a1 * s[k + 1] + a2 * s[k + 2] + a3 * s[k + 3])
                    + b1 * (a0 * s[k + w] + a1 * s[k + w + 1] + a2 * s[k + w + 2] + a3 * s[k + w + 3])
                    + b2 * (a0 * s[k + 2 * w] + a1 * s[k + 2 * w + 1] + a2 * s[k + 2 * w + 2] + a3 * s[k + 2 * w + 3])
                    + b3 * (a0 * s[k + 3 * w] + a1 * s[k + 3 * w + 1] + a2 * s[k + 3 * w + 2] + a3 * s[k + 3 * w + 3]);
            }
        }
        return true;
    }
}
