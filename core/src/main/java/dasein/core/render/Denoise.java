package dasein.core.render;

import dasein.core.image.Filters;
import dasein.core.image.Image;
import java.util.Arrays;

/**
 * Edge-avoiding a-trous wavelet filter (Dammertz et al. 2010) steered by the estimated variance (Schied et al. 2017):
 * where the estimate is good already it leaves the picture alone. Colour is filtered with the albedo divided out, so
 * that texture stays.
 */
final class Denoise {
    private static final float[] KERNEL = {1 / 16f, 1 / 4f, 3 / 8f, 1 / 4f, 1 / 16f};
    /**
     * Differences up to this many standard deviations of the noise are smoothed over: of a performer's light, of
     * shadow, and of given light, whose samples are rare and bright: held to less, the filter would take them for
     * outliers, and lose a quarter of the light. (Found by error and mean against 200 samples on the demo.)
     */
    static final float COLOUR = 2, SHADOW = 4, GIVEN = 16;

    /** More only smears what little noise adaptive sampling leaves on performers. */
    private static final int COLOUR_LEVELS = 2;

    /**
     * Pixels around a place in which it is judged what the filter does, and how much of its noise it may move. (Found
     * by blocks that come out worse than they went in, on the demo.)
     */
    private static final float AROUND = 4, EXPLAINED = 0.7f;

    private static final float ALBEDO_FLOOR = 0.02f, FAR = 1e6f;

    private final int w;
    private final int h;

    Denoise(int w, int h) {
        this.w = w;
        this.h = h;
    }

    /**
     * Filters premultiplied colour in place, guided by normal (times alpha), depth and albedo. What stands behind the
     * first three planes, again three colours each, is filtered by the same weights.
     */
    void colour(float[][] rgb, float[] alpha, float[][] albedo, float[][] normal, float[] depth, float[] variance) {
        int n = w * h;
        float[][] light = new float[rgb.length][n];
        float[] var = new float[n];
        for (int p = 0; p < n; p++) {
            if (alpha[p] <= 0) continue;
            float l = (albedo[0][p] + albedo[1][p] + albedo[2][p]) / 3;
            for (int c = 0; c < rgb.length; c++)
                light[c][p] = rgb[c][p] / (alpha[p] * (albedo[c % 3][p] + ALBEDO_FLOOR));
            float k = 1 / (alpha[p] * (l + ALBEDO_FLOOR));
            var[p] = variance[p] * k * k;
        }
        // What is nowhere is as far from everything: a number that can be counted with.
        float[] near = depth.clone();
        for (int p = 0; p < n; p++) near[p] = Math.min(near[p], FAR);
        Guide guide = new Guide(alpha, albedo, normal, near);
        float[][] smooth = passes(light, alpha, smoothVariance(var, alpha), guide, COLOUR, COLOUR_LEVELS);
        for (int p = 0; p < n; p++) {
            if (alpha[p] > 0)
                for (int c = 0; c < rgb.length; c++)
                    rgb[c][p] = smooth[c][p] * alpha[p] * (albedo[c % 3][p] + ALBEDO_FLOOR);
        }
    }

    /**
     * Filters quantities on a catcher in place; only their own noise guides, and of more than three planes that of the
     * first three. A null variance is taken from the neighbourhood.
     *
     * @param sigmas one of these
     */
    void flat(float[][] planes, float[] weight, float[] variance, float sigmas, int levels) {
        float[] var = variance == null ? localVariance(planes[0]) : smoothVariance(variance, weight);
        float[][] out = passes(planes, weight, var, null, sigmas, levels);
        if (sigmas == SHADOW) hold(planes, out, var, weight);
        for (int c = 0; c < planes.length; c++) System.arraycopy(out[c], 0, planes[c], 0, w * h);
    }

    /**
     * Where the filter moved things further than their noise explains it took something for noise that was none: there
     * less of it is taken, by the ratio of what was to be expected to what it moved (James and Stein 1961). All planes
     * alike, so that parts still add up. Of shadow, whose fine edges no guide tells of; given light is smooth, and its
     * rare bright samples would be kept for light.
     */
    private void hold(float[][] raw, float[][] smooth, float[] variance, float[] weight) {
        int n = w * h;
        float[] moved = new float[n], noise = new float[n];
        float[] from = raw.length == 1 ? raw[0] : levels(raw), to = smooth.length == 1 ? smooth[0] : levels(smooth);
        for (int i = 0; i < n; i++) {
            if (!(weight[i] > 0)) continue;
            float d = to[i] - from[i];
            moved[i] = d * d;
            noise[i] = variance[i];
        }
        float[] m = Filters.gaussian(moved, w, h, AROUND), v = Filters.gaussian(noise, w, h, AROUND);
        Image.bands(h, (y0, y1) -> {
            for (int i = y0 * w; i < y1 * w; i++) {
                float a = EXPLAINED * v[i];
                if (!(m[i] > a)) continue;
                a /= m[i];
                for (int c = 0; c < smooth.length; c++) smooth[c][i] = raw[c][i] + a * (smooth[c][i] - raw[c][i]);
            }
        });
    }

    /** What tells surfaces apart: normal (times alpha), depth and albedo. */
    private record Guide(float[] alpha, float[][] albedo, float[][] normal, float[] depth) {
        /** Multiplies a row's weights, of pixels from p on, by how alike they are to those from q on. */
        void weigh(float[] k, int x0, int x1, int p, int q) {
            float[] nx = normal[0], ny = normal[1], nz = normal[2], r = albedo[0], g = albedo[1], b = albedo[2];
            for (int x = x0; x < x1; x++) {
                int i = p + x, j = q + x;
                float d = (nx[i] * nx[j] + ny[i] * ny[j] + nz[i] * nz[j]) / Math.max(alpha[i] * alpha[j], 1e-4f);
                d = Math.max(0, Math.min(1, d));
                d *= d;
                d *= d;
                d *= d;
                d *= d;
                float z = (depth[i] - depth[j]) / (0.02f * depth[i]),
                        dr = r[i] - r[j],
                        dg = g[i] - g[j],
                        db = b[i] - b[j];
                k[x] *= d / ((1 + z * z) * (1 + 40 * (dr * dr + dg * dg + db * db)));
            }
        }
    }

    private float[] smoothVariance(float[] v, float[] weight) {
        float[] m = new float[w * h];
        for (int i = 0; i < m.length; i++) m[i] = weight[i] > 0 ? 1 : 0;
        float[] a = Filters.gaussian(v, w, h, 2), b = Filters.gaussian(m, w, h, 2);
        for (int i = 0; i < a.length; i++) a[i] = b[i] > 1e-4f ? a[i] / b[i] : 0;
        return a;
    }

    private float[] localVariance(float[] v) {
        float[] m = Filters.gaussian(v, w, h, 2), sq = new float[w * h];
        for (int i = 0; i < sq.length; i++) sq[i] = (v[i] - m[i]) * (v[i] - m[i]);
        return Filters.gaussian(sq, w, h, 2);
    }

    private float[][] passes(float[][] in, float[] weight, float[] variance, Guide guide, float sigmas, int levels) {
        float[][] src = in;
        float[] var = variance;
        for (int level = 0; level < levels; level++) {
            int step = 1 << level;
            float[][] from = src, to = new float[in.length][w * h];
            float[] v = var, nextVar = new float[w * h], lum = from.length == 1 ? from[0] : levels(from);
            Image.bands(h, (y0, y1) -> {
                Row row = new Row(w, h, step, sigmas, from, to, lum, weight, v, nextVar, guide);
                for (int y = y0; y < y1; y++) row.filter(y);
            });
            src = to;
            var = nextVar;
        }
        return src;
    }

    /** Rows, tap by tap: every loop runs along a row, so that the compiler takes many pixels at once. */
    private static final class Row {
        private final int w, h, step;
        private final float sigmas;
        private final float[][] from, to;
        private final float[] lum, weight, v, nextVar;
        private final Guide guide;
        private final float[] k, sum, sumVar, inv;
        private final float[][] acc;

        Row(
                int w,
                int h,
                int step,
                float sigmas,
                float[][] from,
                float[][] to,
                float[] lum,
                float[] weight,
                float[] v,
                float[] nextVar,
                Guide guide) {
            this.w = w;
            this.h = h;
            this.step = step;
            this.sigmas = sigmas;
            this.from = from;
            this.to = to;
            this.lum = lum;
            this.weight = weight;
            this.v = v;
            this.nextVar = nextVar;
            this.guide = guide;
            k = new float[w];
            sum = new float[w];
            sumVar = new float[w];
            inv = new float[w];
            acc = new float[from.length][w];
        }

        void filter(int y) {
            int p = y * w, first = w, last = -1;
            for (int x = 0; x < w; x++) {
                inv[x] = 1 / (sigmas * sigmas * v[p + x] + 1e-10f);
                if (!(weight[p + x] > 0 && v[p + x] > 0)) continue;
                first = Math.min(first, x);
                last = x;
            }
            Arrays.fill(sum, 0);
            Arrays.fill(sumVar, 0);
            for (float[] a : acc) Arrays.fill(a, 0);
            for (int j = -2; j <= 2; j++) {
                int yy = y + j * step;
                if (yy < 0 || yy >= h) continue;
                for (int i = -2; i <= 2; i++) {
                    int x0 = Math.max(first, -i * step), x1 = Math.min(last + 1, w - i * step);
                    boolean itself = i == 0 && j == 0;
                    if (x0 < x1) tap(p, yy * w + i * step, x0, x1, KERNEL[i + 2] * KERNEL[j + 2], itself);
                }
            }
            for (int x = 0; x < w; x++) {
                int at = p + x;
                if (!(weight[at] > 0)) continue;
                if (v[at] <= 0 || !(sum[x] > 0)) {
                    for (int c = 0; c < from.length; c++) to[c][at] = from[c][at];
                    continue;
                }
                for (int c = 0; c < from.length; c++) to[c][at] = acc[c][x] / sum[x];
                nextVar[at] = sumVar[x] / (sum[x] * sum[x]);
            }
        }

        private void tap(int p, int q, int x0, int x1, float kernel, boolean itself) {
            float[] k = this.k, inv = this.inv, sum = this.sum, sumVar = this.sumVar;
            float[] lum = this.lum, weight = this.weight, v = this.v;
            for (int x = x0; x < x1; x++) {
                float d = lum[q + x] - lum[p + x], e = d * d * inv[x];
                // Falls off like a Gaussian but cheaper, and never quite forgets a pixel far off: outliers are pulled
                // in.
                k[x] = kernel * weight[q + x] / (1 + e + e * e);
            }
            if (guide != null && !itself) guide.weigh(k, x0, x1, p, q);
            for (int x = x0; x < x1; x++) sum[x] += k[x];
            for (int x = x0; x < x1; x++) sumVar[x] += k[x] * k[x] * v[q + x];
            for (int c = 0; c < acc.length; c++) {
                float[] a = acc[c], f = from[c];
                for (int x = x0; x < x1; x++) a[x] += k[x] * f[q + x];
            }
        }
    }

    private static float[] levels(float[][] p) {
        float[] out = new float[p[0].length];
        for (int i = 0; i < out.length; i++) out[i] = 0.25f * p[0][i] + 0.5f * p[1][i] + 0.25f * p[2][i];
        return out;
    }
}
