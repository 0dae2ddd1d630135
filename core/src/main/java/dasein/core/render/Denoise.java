package dasein.core.render;

import dasein.core.image.Filters;
import dasein.core.image.Image;

/**
 * Edge-avoiding a-trous wavelet filter (Dammertz et al. 2010) steered by the estimated variance (Schied et al. 2017):
 * where the estimate is good already it leaves the picture alone. Colour is filtered with the albedo divided out, so
 * that texture stays.
 */
final class Denoise {
    private static final float[] KERNEL = {1 / 16f, 1 / 4f, 3 / 8f, 1 / 4f, 1 / 16f};
    /** Differences up to this many standard deviations of the noise are smoothed over. */
    private static final float SIGMAS = 2f;

    private static final float ALBEDO_FLOOR = 0.02f;

    private final int w;
    private final int h;

    Denoise(int w, int h) {
        this.w = w;
        this.h = h;
    }

    /** Filters premultiplied colour in place, guided by normal (times alpha), depth and albedo. */
    void colour(float[][] rgb, float[] alpha, float[][] albedo, float[][] normal, float[] depth, float[] variance) {
        int n = w * h;
        float[][] light = new float[3][n];
        float[] var = new float[n];
        for (int p = 0; p < n; p++) {
            if (alpha[p] <= 0) continue;
            float l = 0;
            for (int c = 0; c < 3; c++) {
                light[c][p] = rgb[c][p] / (alpha[p] * (albedo[c][p] + ALBEDO_FLOOR));
                l += albedo[c][p] / 3;
            }
            float k = 1 / (alpha[p] * (l + ALBEDO_FLOOR));
            var[p] = variance[p] * k * k;
        }
        Guide guide = (p, q) -> {
            if (depth[p] == Float.POSITIVE_INFINITY || depth[q] == Float.POSITIVE_INFINITY) return 0;
            float dot = normal[0][p] * normal[0][q] + normal[1][p] * normal[1][q] + normal[2][p] * normal[2][q];
            float m = alpha[p] * alpha[q];
            float d = Math.max(0, Math.min(1, dot / Math.max(m, 1e-4f)));
            d *= d;
            d *= d;
            d *= d;
            d *= d;
            float z = (depth[p] - depth[q]) / (0.02f * depth[p]);
            float a = 0;
            for (int c = 0; c < 3; c++) a += (albedo[c][p] - albedo[c][q]) * (albedo[c][p] - albedo[c][q]);
            return d / (1 + z * z) / (1 + 40 * a);
        };
        float[][] smooth = passes(light, alpha, smoothVariance(var, alpha), guide, 4);
        for (int p = 0; p < n; p++) {
            if (alpha[p] > 0)
                for (int c = 0; c < 3; c++) rgb[c][p] = smooth[c][p] * alpha[p] * (albedo[c][p] + ALBEDO_FLOOR);
        }
    }

    /**
     * Filters quantities on a catcher in place; only their own noise guides. A null variance is taken from the
     * neighbourhood.
     */
    void flat(float[][] planes, float[] weight, float[] variance, int levels) {
        float[] var = variance == null ? localVariance(planes[0]) : smoothVariance(variance, weight);
        float[][] out = passes(planes, weight, var, null, levels);
        for (int c = 0; c < planes.length; c++) System.arraycopy(out[c], 0, planes[c], 0, w * h);
    }

    private interface Guide {
        float weight(int p, int q);
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

    private float[][] passes(float[][] in, float[] weight, float[] variance, Guide guide, int levels) {
        float[][] src = in;
        float[] var = variance;
        for (int level = 0; level < levels; level++) {
            int step = 1 << level;
            float[][] from = src, to = new float[in.length][w * h];
            float[] v = var, nextVar = new float[w * h], lum = from.length == 1 ? from[0] : levels(from);
            Image.rows(h, y -> {
                float[] acc = new float[from.length];
                for (int x = 0; x < w; x++) {
                    int p = y * w + x;
                    if (weight[p] <= 0) continue;
                    if (v[p] <= 0) {
                        for (int c = 0; c < from.length; c++) to[c][p] = from[c][p];
                        continue;
                    }
                    float l = lum[p], inv = 1 / (SIGMAS * SIGMAS * v[p] + 1e-10f), sum = 0, sumVar = 0;
                    java.util.Arrays.fill(acc, 0);
                    for (int j = -2; j <= 2; j++) {
                        int yy = y + j * step;
                        if (yy < 0 || yy >= h) continue;
                        for (int i = -2; i <= 2; i++) {
                            int xx = x + i * step;
                            if (xx < 0 || xx >= w) continue;
                            int q = yy * w + xx;
                            if (weight[q] <= 0) continue;
                            float d = lum[q] - l, k = KERNEL[i + 2] * KERNEL[j + 2] * weight[q];
                            // Falls off like a Gaussian but cheaper, and never quite forgets a pixel far off: outliers
                            // are pulled in.
                            float e = d * d * inv;
                            k /= 1 + e + e * e;
                            if (guide != null && p != q) k *= guide.weight(p, q);
                            sum += k;
                            sumVar += k * k * v[q];
                            for (int c = 0; c < acc.length; c++) acc[c] += k * from[c][q];
                        }
                    }
                    if (sum <= 0) {
                        for (int c = 0; c < from.length; c++) to[c][p] = from[c][p];
                        continue;
                    }
                    for (int c = 0; c < acc.length; c++) to[c][p] = acc[c] / sum;
                    nextVar[p] = sumVar / (sum * sum);
                }
            });
            src = to;
            var = nextVar;
        }
        return src;
    }

    private static float[] levels(float[][] p) {
        float[] out = new float[p[0].length];
        for (int i = 0; i < out.length; i++) out[i] = 0.25f * p[0][i] + 0.5f * p[1][i] + 0.25f * p[2][i];
        return out;
    }
}
