package dasein.core.image;

/**
 * Carries what is known around a hole evenly over it: the smoothest surface through its rim, nearly, by averages of
 * ever coarser pixels that are handed down again (Gortler et al. 1996, "The lumigraph", section 3.4, pull-push). So a
 * patch takes on the light of what surrounds it (after Perez et al. 2003, "Poisson image editing").
 */
public final class Membrane {
    private Membrane() {}

    /**
     * @param value written to where {@code known} is below 1; values where known is 0 are not looked at
     * @param known [0, 1], written to
     */
    public static void fill(float[] value, float[] known, int w, int h) {
        if (w == 1 && h == 1) return;
        int cw = (w + 1) / 2, ch = (h + 1) / 2;
        float[] v = new float[cw * ch], k = new float[cw * ch];
        for (int y = 0; y < ch; y++)
            for (int x = 0; x < cw; x++) {
                float sum = 0, weight = 0;
                for (int j = 2 * y; j < Math.min(h, 2 * y + 2); j++)
                    for (int i = 2 * x; i < Math.min(w, 2 * x + 2); i++) {
                        sum += known[j * w + i] * value[j * w + i];
                        weight += known[j * w + i];
                    }
                v[y * cw + x] = weight > 0 ? sum / weight : 0;
                k[y * cw + x] = Math.min(1, weight);
            }
        fill(v, k, cw, ch);
        for (int y = 0; y < h; y++)
            for (int x = 0; x < w; x++) {
                int o = y * w + x;
                if (known[o] >= 1) continue;
                // Bilinear between the coarse pixels' middles.
                double fx = Math.max(0, Math.min(cw - 1, (x + 0.5) / 2 - 0.5)),
                        fy = Math.max(0, Math.min(ch - 1, (y + 0.5) / 2 - 0.5));
                int x0 = (int) fx, y0 = (int) fy, x1 = Math.min(cw - 1, x0 + 1), y1 = Math.min(ch - 1, y0 + 1);
                double a = fx - x0, b = fy - y0;
                double coarse = (1 - b) * ((1 - a) * v[y0 * cw + x0] + a * v[y0 * cw + x1])
                        + b * ((1 - a) * v[y1 * cw + x0] + a * v[y1 * cw + x1]);
                value[o] = (float) (known[o] * value[o] + (1 - known[o]) * coarse);
                known[o] = 1;
            }
    }
}
