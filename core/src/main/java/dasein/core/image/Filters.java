package dasein.core.image;

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
            int row = y * w;
            for (int x = 0; x < w; x++) {
                float s = 0;
                if (x >= r && x < w - r) {
                    for (int i = 0, p = row + x - r; i < k.length; i++, p++) s += k[i] * src[p];
                } else {
                    for (int i = 0; i < k.length; i++) s += k[i] * src[row + Math.min(Math.max(x + i - r, 0), w - 1)];
                }
                mid[row + x] = s;
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
}
