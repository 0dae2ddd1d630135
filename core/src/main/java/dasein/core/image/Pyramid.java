package dasein.core.image;

import java.util.ArrayList;
import java.util.List;

/**
 * Grey pyramid for tracking: each level is the one below smoothed by the binomial 1-4-6-4-1 / 16 and halved. A point at
 * continuous x on level 0 has index (x - 0.5) / 2^k on level k, because the even samples are the ones kept; see {@link #toLevel}.
 */
public final class Pyramid {
    public final List<float[]> planes = new ArrayList<>();
    public final List<int[]> sizes = new ArrayList<>();

    public Pyramid(float[] grey, int width, int height, int levels) {
        planes.add(grey);
        sizes.add(new int[] {width, height});
        for (int l = 1; l < levels && Math.min(width, height) >= 48; l++) {
            int w = width, nw = (width + 1) / 2, nh = (height + 1) / 2, h = height;
            float[] s = planes.get(l - 1), mid = new float[nw * h], d = new float[nw * nh];
            Image.rows(h, y -> {
                int row = y * w;
                for (int x = 0; x < nw; x++) {
                    int c = 2 * x, a = Math.max(c - 2, 0), b = Math.max(c - 1, 0), e = Math.min(c + 1, w - 1), f = Math.min(c + 2, w - 1);
                    mid[y * nw + x] = (s[row + a] + s[row + f] + 4 * (s[row + b] + s[row + e]) + 6 * s[row + c]) * 0.0625f;
                }
            });
            Image.rows(nh, y -> {
                int c = 2 * y, a = Math.max(c - 2, 0) * nw, b = Math.max(c - 1, 0) * nw, e = Math.min(c + 1, h - 1) * nw, f = Math.min(c + 2, h - 1) * nw;
                c *= nw;
                for (int x = 0; x < nw; x++) {
                    d[y * nw + x] = (mid[a + x] + mid[f + x] + 4 * (mid[b + x] + mid[e + x]) + 6 * mid[c + x]) * 0.0625f;
                }
            });
            planes.add(d);
            sizes.add(new int[] {nw, nh});
            width = nw;
            height = nh;
        }
    }

    public int levels() { return planes.size(); }

    /** Index coordinate (pixel centre = whole number) on level l of a continuous level-0 coordinate. Even samples are kept when halving. */
    public static double toLevel(double continuous, int level) { return (continuous - 0.5) / (1 << level); }

    public static double fromLevel(double index, int level) { return index * (1 << level) + 0.5; }
}
