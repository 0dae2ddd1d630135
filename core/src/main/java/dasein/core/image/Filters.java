package dasein.core.image;

import java.util.stream.IntStream;

/** Separable filters on single planes, borders clamped. */
public final class Filters {
    private Filters() {}

    /** Gaussian of the given sigma in pixels, kernel cut at three sigma. Sigma 0 gives a copy. */
    public static float[] gaussian(float[] src, int w, int h, double sigma) {
        if (sigma <= 0) return src.clone();
        return separable(src, w, h, gaussianKernel(sigma));
    }

    /** Normalised kernel of odd length. */
    public static float[] gaussianKernel(double sigma) {
        int r = Math.max(1, (int) Math.ceil(3 * sigma));
        float[] k = new float[2 * r + 1];
        double sum = 0;
        for (int i = -r; i <= r; i++) sum += k[i + r] = (float) Math.exp(-0.5 * i * i / (sigma * sigma));
        for (int i = 0; i < k.length; i++) k[i] /= (float) sum;
        return k;
    }

    public static float[] separable(float[] src, int w, int h, float[] k) {
        int r = k.length / 2;
        float[] mid = new float[w * h], out = new float[w * h];
        Image.rows(h, y -> {
            int row = y * w, left = Math.min(r, w), right = Math.max(left, w - r);
            // Tap by tap over the whole row, which the machine does for several pixels at a time.
            for (int i = 0; i < k.length; i++) {
                float f = k[i];
                for (int x = left, p = row + x + i - r; x < right; x++, p++) mid[row + x] += f * src[p];
            }
            for (int x = 0; x < w; x = x + 1 == left ? right : x + 1) {
                for (int i = 0; i < k.length; i++)
                    mid[row + x] += k[i] * src[row + Math.min(Math.max(x + i - r, 0), w - 1)];
            }
        });
        Image.rows(h, y -> {
            int row = y * w;
            for (int i = 0; i < k.length; i++) {
                int from = Math.min(Math.max(y + i - r, 0), h - 1) * w;
                float f = k[i];
                for (int x = 0; x < w; x++) out[row + x] += f * mid[from + x];
            }
        });
        return out;
    }

    /** Below this sigma the Gaussian itself costs no more than {@link #spread}. */
    private static final double NARROW = 4;

    /** From this sigma on half as many rows and columns say the same. */
    private static final double WIDE = 8;
    /** Variance that means of two and straight lines between them add: 1/4 by the former, 3/4 by the latter. */
    private static final double HALVING = 1;

    private static final int MEANS = 4;

    /**
     * Almost a Gaussian, by running means one after the other (Kovesi 2010), so that its width costs nothing: for light
     * that is spread widely. Borders clamped. Narrow ones are the Gaussian itself.
     */
    public static float[] spread(float[] src, int w, int h, double sigma) {
        if (sigma < NARROW) return gaussian(src, w, h, sigma);
        if (sigma >= WIDE && Math.min(w, h) > 1) {
            int hw = (w + 1) / 2, hh = (h + 1) / 2;
            double rest = Math.sqrt(sigma * sigma - HALVING) / 2;
            return doubled(spread(halved(src, w, h, hw, hh), hw, hh, rest), hw, hh, w, h);
        }
        // Odd widths, some two less than the others, whose variances add up to the Gaussian's.
        double ideal = Math.sqrt(12 * sigma * sigma / MEANS + 1);
        int low = (int) Math.floor(ideal);
        if (low % 2 == 0) low--;
        int fewer = (int) Math.round(
                (12 * sigma * sigma - MEANS * (double) low * low - 4.0 * MEANS * low - 3.0 * MEANS) / (-4.0 * low - 4));
        float[] a = src.clone(), b = new float[src.length];
        for (int k = 0; k < MEANS; k++) {
            int r = (k < fewer ? low : low + 2) / 2;
            across(a, b, w, h, r);
            down(b, a, w, h, r);
        }
        return a;
    }

    /** Means of two by two; the last row and column of an odd side stand for themselves. */
    private static float[] halved(float[] src, int w, int h, int hw, int hh) {
        float[] out = new float[hw * hh];
        Image.rows(hh, y -> {
            int top = 2 * y * w, low = Math.min(h - 1, 2 * y + 1) * w;
            for (int x = 0; x < hw; x++) {
                int l = 2 * x, r = Math.min(w - 1, l + 1);
                out[y * hw + x] = 0.25f * (src[top + l] + src[top + r] + src[low + l] + src[low + r]);
            }
        });
        return out;
    }

    /** Straight between the middles of two by two. */
    private static float[] doubled(float[] half, int hw, int hh, int w, int h) {
        float[] out = new float[w * h];
        Image.rows(h, y -> {
            int near = y / 2, far = Math.max(0, Math.min(hh - 1, y % 2 == 0 ? near - 1 : near + 1));
            float[] row = new float[hw];
            for (int x = 0; x < hw; x++) row[x] = 0.75f * half[near * hw + x] + 0.25f * half[far * hw + x];
            for (int x = 0; x < w; x++) {
                int n = x / 2, f = Math.max(0, Math.min(hw - 1, x % 2 == 0 ? n - 1 : n + 1));
                out[y * w + x] = 0.75f * row[n] + 0.25f * row[f];
            }
        });
        return out;
    }

    private static void across(float[] from, float[] to, int w, int h, int r) {
        double k = 1.0 / (2 * r + 1);
        Image.rows(h, y -> {
            int row = y * w;
            double sum = 0;
            for (int x = -r - 1; x < r; x++) sum += from[row + Math.max(0, Math.min(w - 1, x))];
            for (int x = 0; x < w; x++) {
                sum += from[row + Math.min(w - 1, x + r)] - from[row + Math.max(0, x - r - 1)];
                to[row + x] = (float) (k * sum);
            }
        });
    }

    private static void down(float[] from, float[] to, int w, int h, int r) {
        double k = 1.0 / (2 * r + 1);
        // Columns side by side, a bundle of them at a time.
        int bundle = 64, bundles = (w + bundle - 1) / bundle;
        IntStream.range(0, bundles).parallel().forEach(b -> {
            int x0 = b * bundle, n = Math.min(bundle, w - x0);
            double[] sum = new double[n];
            for (int y = -r - 1; y < r; y++) {
                int at = Math.max(0, Math.min(h - 1, y)) * w + x0;
                for (int x = 0; x < n; x++) sum[x] += from[at + x];
            }
            for (int y = 0; y < h; y++) {
                int in = Math.min(h - 1, y + r) * w + x0, out = Math.max(0, y - r - 1) * w + x0, at = y * w + x0;
                for (int x = 0; x < n; x++) {
                    sum[x] += from[in + x] - from[out + x];
                    to[at + x] = (float) (k * sum[x]);
                }
            }
        });
    }
}
