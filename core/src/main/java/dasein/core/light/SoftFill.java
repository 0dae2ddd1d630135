package dasein.core.light;

import dasein.core.image.Image;

/**
 * Fills texels of a lat-long map softly from around them: means of means, coarser the farther what is known lies (pull
 * and push, Gortler and others 1996). Columns wrap round.
 */
public final class SoftFill {
    private SoftFill() {}

    /** @param missing texels to be filled; when all are, nothing is changed */
    public static void fill(Image map, boolean[] missing) {
        int w = map.width, from = map.height, to = 0;
        for (int y = 0; y < map.height; y++)
            for (int x = 0; x < w; x++)
                if (missing[y * w + x]) {
                    from = Math.min(from, y);
                    to = y + 1;
                    break;
                }
        if (to == 0) return;
        // What lies farther off than the hole is high hardly counts.
        int margin = to - from + 16;
        from = Math.max(0, from - margin);
        to = Math.min(map.height, to + margin);
        int n = (to - from) * w, first = from * w;
        float[] known = new float[n];
        for (int i = 0; i < n; i++) known[i] = missing[first + i] ? 0 : 1;
        float[][] planes = new float[map.channels()][];
        for (int c = 0; c < planes.length; c++) {
            planes[c] = java.util.Arrays.copyOfRange(map.planes[c], first, first + n);
            for (int i = 0; i < n; i++) if (known[i] == 0) planes[c][i] = 0;
        }
        float[][] full = filled(planes, known, w, to - from);
        for (int c = 0; c < planes.length; c++)
            for (int i = 0; i < n; i++) if (known[i] == 0) map.planes[c][first + i] = full[c][i];
    }

    /** @param planes weighed by {@code known} already */
    private static float[][] filled(float[][] planes, float[] known, int w, int h) {
        boolean all = true;
        for (float k : known) all &= k >= 1;
        if (all || w <= 2 || h <= 1) return planes;
        int w2 = (w + 1) / 2, h2 = (h + 1) / 2;
        float[][] small = new float[planes.length][w2 * h2];
        float[] near = new float[w2 * h2];
        Image.bands(h2, (from, to) -> {
            float[] v = new float[planes.length];
            for (int y = from; y < to; y++)
                for (int x = 0; x < w2; x++) {
                    float sum = 0;
                    java.util.Arrays.fill(v, 0);
                    for (int j = -1; j <= 2; j++)
                        for (int i = -1; i <= 2; i++) {
                            int sy = 2 * y + j;
                            if (sy < 0 || sy >= h) continue;
                            int s = sy * w + Math.floorMod(2 * x + i, w);
                            float k = (j == -1 || j == 2 ? 1 : 3) * (i == -1 || i == 2 ? 1 : 3) / 64f;
                            sum += k * known[s];
                            for (int c = 0; c < v.length; c++) v[c] += k * planes[c][s];
                        }
                    int at = y * w2 + x;
                    // More than enough is enough: a texel that is known counts once.
                    float scale = sum > 0 ? Math.min(1, 4 * sum) / sum : 0;
                    near[at] = sum * scale;
                    for (int c = 0; c < v.length; c++) small[c][at] = v[c] * scale;
                }
        });
        float[][] low = filled(small, near, w2, h2);
        float[][] out = new float[planes.length][w * h];
        Image.rows(h, y -> {
            for (int x = 0; x < w; x++) {
                int i = y * w + x;
                // What is known stands as it is.
                for (int c = 0; c < planes.length; c++)
                    out[c][i] = known[i] >= 1
                            ? planes[c][i]
                            : planes[c][i] + (1 - known[i]) * smooth(low[c], x, y, w, w2, h2);
            }
        });
        return out;
    }

    private static float smooth(float[] p, int x, int y, int w, int w2, int h2) {
        double fx = (x + 0.5) / 2 - 0.5, fy = Math.max(0, Math.min(h2 - 1, (y + 0.5) / 2 - 0.5));
        int x0 = (int) Math.floor(fx), y0 = Math.min((int) fy, Math.max(0, h2 - 2));
        float a = (float) (fx - x0), b = (float) (fy - y0);
        int xa = Math.floorMod(x0, w2),
                xb = Math.floorMod(x0 + 1, w2),
                ya = y0 * w2,
                yb = Math.min(y0 + 1, h2 - 1) * w2;
        return (p[ya + xa] * (1 - a) + p[ya + xb] * a) * (1 - b) + (p[yb + xa] * (1 - a) + p[yb + xb] * a) * b;
    }
}
