package dasein.core.comp.step;

import dasein.core.image.Filters;
import dasein.core.render.pass.Passes;
import java.util.stream.IntStream;

/**
 * Softens shadow the more the further it lies from where performers touch the set: as real ones are, sharp at the foot
 * and soft at the head. Softened a few times by more and more; of each place two of those are mixed.
 */
final class Penumbra {
    /** Sigma beyond which nothing is softened further, pixels of the full-size plate. */
    static final double SOFTEST = 48;

    private static final int LEVELS = 5;
    /** Less open than this a place is touched. */
    private static final float TOUCHED = 0.75f;
    /** Steps straight and across of a distance that is counted pixel by pixel (Borgefors 1986: 3 and 4 thirds). */
    private static final float STRAIGHT = 1, ACROSS = 4 / 3f;

    private final Passes p;
    private final double softest;

    Penumbra(Passes p, double scale) {
        this.p = p;
        softest = SOFTEST * scale;
    }

    /** @param dark written; @param soft sigma where performers touch; @param grows sigma for every pixel from there */
    void soften(float[][] dark, double soft, double grows) {
        if (soft >= softest) soft = 0.99 * softest;
        double least = soft;
        int w = p.width, h = p.height;
        float[] far = distance();
        // From one level to the next the sigma is doubled, about.
        double[] sigma = new double[LEVELS];
        sigma[0] = least;
        for (int k = 1; k < LEVELS; k++) sigma[k] = least + (softest - least) * Math.pow(2, k - LEVELS + 1.0);
        IntStream.range(0, 3).parallel().forEach(c -> {
            float[][] level = new float[LEVELS][];
            for (int k = 0; k < LEVELS; k++)
                level[k] = sigma[k] > 0 ? Filters.spread(dark[c], w, h, sigma[k]) : dark[c].clone();
            for (int i = 0; i < far.length; i++) {
                double s = Math.min(softest, least + grows * far[i]);
                int k = 0;
                while (k < LEVELS - 2 && s > sigma[k + 1]) k++;
                // So mixed, their variances add up to the one that is wanted.
                double a = sigma[k] * sigma[k], b = sigma[k + 1] * sigma[k + 1];
                float t = (float) Math.max(0, Math.min(1, (s * s - a) / (b - a)));
                dark[c][i] = level[k][i] + t * (level[k + 1][i] - level[k][i]);
            }
        });
    }

    /** Pixels from the nearest place that is touched; where none is, from the performers themselves. */
    private float[] distance() {
        int w = p.width, h = p.height;
        float[] d = new float[w * h];
        boolean any = false;
        for (int i = 0; i < d.length; i++) {
            boolean touched = p.matters(i) && p.alpha[i] < 0.5f && p.ao[i] < TOUCHED;
            d[i] = touched ? 0 : w + h;
            any |= touched;
        }
        if (!any) for (int i = 0; i < d.length; i++) d[i] = p.alpha[i] > 0.5f ? 0 : w + h;
        for (int y = 0; y < h; y++)
            for (int x = 0; x < w; x++) {
                int i = y * w + x;
                if (x > 0) d[i] = Math.min(d[i], d[i - 1] + STRAIGHT);
                if (y == 0) continue;
                d[i] = Math.min(d[i], d[i - w] + STRAIGHT);
                if (x > 0) d[i] = Math.min(d[i], d[i - w - 1] + ACROSS);
                if (x < w - 1) d[i] = Math.min(d[i], d[i - w + 1] + ACROSS);
            }
        for (int y = h - 1; y >= 0; y--)
            for (int x = w - 1; x >= 0; x--) {
                int i = y * w + x;
                if (x < w - 1) d[i] = Math.min(d[i], d[i + 1] + STRAIGHT);
                if (y == h - 1) continue;
                d[i] = Math.min(d[i], d[i + w] + STRAIGHT);
                if (x < w - 1) d[i] = Math.min(d[i], d[i + w + 1] + ACROSS);
                if (x > 0) d[i] = Math.min(d[i], d[i + w - 1] + ACROSS);
            }
        return d;
    }
}
