package dasein.core.image;

/**
 * Grey pyramid for tracking: level 0 is the picture smoothed by 1-2-1 both ways (sigma 0.7 px, against noise and
 * aliasing), each next level the one below smoothed by the binomial 1-4-6-4-1 / 16 and halved. A point at continuous x
 * on level 0 has index (x - 0.5) / 2^k on level k, because the even samples are the ones kept; see {@link #toLevel}.
 * Can be filled again and again: arrays of this size are dear to make.
 */
public final class Pyramid {
    /** A level is not halved again when it is narrower than this. */
    private static final int SMALLEST = 48;

    private final float[][] planes;
    private final int[] widths;
    private final int[] heights;

    public Pyramid(int width, int height, int levels) {
        int n = 1;
        for (int w = width, h = height; n < levels && Math.min(w, h) >= SMALLEST; n++) {
            w = (w + 1) / 2;
            h = (h + 1) / 2;
        }
        planes = new float[n][];
        widths = new int[n];
        heights = new int[n];
        for (int l = 0, w = width, h = height; l < n; l++, w = (w + 1) / 2, h = (h + 1) / 2) {
            planes[l] = new float[w * h];
            widths[l] = w;
            heights[l] = h;
        }
    }

    public float[] plane(int level) {
        return planes[level];
    }

    public int width(int level) {
        return widths[level];
    }

    public int height(int level) {
        return heights[level];
    }

    public int levels() {
        return planes.length;
    }

    /** From brightness codes row by row. */
    public Pyramid fill(float[] grey) {
        smooth(grey);
        for (int l = 1; l < planes.length; l++) halve(l);
        return this;
    }

    private void smooth(float[] s) {
        int w = widths[0], h = heights[0];
        float[] d = planes[0];
        Image.bands(h, (from, to) -> {
            float[] mid = new float[w];
            for (int y = from; y < to; y++) {
                int a = Math.max(y - 1, 0) * w, b = y * w, c = Math.min(y + 1, h - 1) * w;
                for (int x = 0; x < w; x++) mid[x] = (s[a + x] + s[c + x] + 2 * s[b + x]) * (1 / 16f);
                for (int x = 1; x < w - 1; x++) d[b + x] = mid[x - 1] + mid[x + 1] + 2 * mid[x];
                d[b] = 3 * mid[0] + mid[1];
                d[b + w - 1] = 3 * mid[w - 1] + mid[w - 2];
            }
        });
    }

    /** Down the columns first: that pass runs over whole rows at once, and only half of them remain for the other. */
    private void halve(int level) {
        int w = widths[level - 1], h = heights[level - 1], nw = widths[level], nh = heights[level];
        float[] s = planes[level - 1], d = planes[level];
        Image.bands(nh, (from, to) -> {
            float[] mid = new float[w];
            for (int y = from; y < to; y++) {
                int c = 2 * y,
                        a0 = Math.max(c - 2, 0) * w,
                        a1 = Math.max(c - 1, 0) * w,
                        a2 = c * w,
                        a3 = Math.min(c + 1, h - 1) * w,
                        a4 = Math.min(c + 2, h - 1) * w;
                for (int x = 0; x < w; x++)
                    mid[x] = (s[a0 + x] + s[a4 + x] + 4 * (s[a1 + x] + s[a3 + x]) + 6 * s[a2 + x]) * (1 / 256f);
                int o = y * nw, inner = (w - 3) / 2;
                for (int x = 1; x <= inner; x++) {
                    int q = 2 * x;
                    d[o + x] = mid[q - 2] + mid[q + 2] + 4 * (mid[q - 1] + mid[q + 1]) + 6 * mid[q];
                }
                d[o] = clamped(mid, 0);
                for (int x = Math.max(1, inner + 1); x < nw; x++) d[o + x] = clamped(mid, 2 * x);
            }
        });
    }

    private static float clamped(float[] row, int c) {
        int e = row.length - 1;
        return row[Math.max(c - 2, 0)]
                + row[Math.min(c + 2, e)]
                + 4 * (row[Math.max(c - 1, 0)] + row[Math.min(c + 1, e)])
                + 6 * row[c];
    }

    /**
     * Index coordinate (pixel centre = whole number) on level l of a continuous level-0 coordinate. Even samples are
     * kept when halving.
     */
    public static double toLevel(double continuous, int level) {
        return (continuous - 0.5) / (1 << level);
    }
}
