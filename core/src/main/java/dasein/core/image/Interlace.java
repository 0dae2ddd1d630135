package dasein.core.image;

/**
 * One moment from a picture that holds two in alternate lines: the lines of one are kept, the others made from them
 * along the direction in which the picture changes least (edge-based line averaging; Doyle 1990, from memory).
 */
public final class Interlace {
    private static final int REACH = 2;

    private Interlace() {}

    /**
     * @param upper keeps lines 0, 2, 4 ...; else 1, 3, 5 ... The planes are changed in place; directions come from
     *     their sum.
     */
    public static void keep(int w, int h, boolean upper, float[]... planes) {
        if (h < 2) return;
        Image.rows(h, y -> {
            if (y % 2 == 0 == upper) return;
            int above = y > 0 ? y - 1 : y + 1, below = y + 1 < h ? y + 1 : y - 1;
            for (int x = 0; x < w; x++) {
                int best = 0;
                float least = Float.MAX_VALUE;
                for (int k = 0; k <= 2 * REACH; k++) {
                    // Straight down first: another direction must be truly better.
                    int d = (k + 1) / 2 * (k % 2 == 0 ? 1 : -1);
                    if (x - Math.abs(d) < 1 || x + Math.abs(d) >= w - 1) continue;
                    float off = 0;
                    for (float[] p : planes)
                        for (int s = -1; s <= 1; s++)
                            off += Math.abs(p[above * w + x + d + s] - p[below * w + x - d + s]);
                    if (off < 0.9f * least) {
                        least = off;
                        best = d;
                    }
                }
                for (float[] p : planes) p[y * w + x] = 0.5f * (p[above * w + x + best] + p[below * w + x - best]);
            }
        });
    }
}
