package dasein.core.render;

import java.util.Arrays;

/** Where performers end in a picture. */
final class Edges {
    private Edges() {}

    /** Pixels that performers cover in part as far as is known, and those beside them. */
    static int[] along(Film film) {
        int w = film.width, h = film.height;
        boolean[] edge = new boolean[w * h];
        for (int y = 0; y < h; y++)
            for (int x = 0; x < w; x++) {
                int p = y * w + x;
                float a = film.alpha(p);
                // Where it changes from one to the next it does so somewhere between.
                edge[p] = a > 0 && a < 1
                        || x > 0 && film.alpha(p - 1) != a
                        || y > 0 && film.alpha(p - w) != a
                        || x < w - 1 && film.alpha(p + 1) != a
                        || y < h - 1 && film.alpha(p + w) != a;
            }
        return listed(edge);
    }

    private static int[] listed(boolean[] v) {
        int[] list = new int[v.length];
        int n = 0;
        for (int p = 0; p < v.length; p++) if (v[p]) list[n++] = p;
        return Arrays.copyOf(list, n);
    }

    /** Pixels that performers cover whole and that have one within {@code reach} which they do not. */
    static int[] behind(Film film, int reach) {
        int w = film.width, h = film.height;
        boolean[] open = new boolean[w * h];
        for (int p = 0; p < open.length; p++) open[p] = film.alpha(p) < 1;
        boolean[] near = across(across(open, w, h, 1, w, reach), h, w, w, 1, reach);
        for (int p = 0; p < near.length; p++) near[p] &= !open[p];
        return listed(near);
    }

    /** Whether any within reach is set, along lines of {@code length} whose places are {@code step} apart. */
    private static boolean[] across(boolean[] v, int length, int lines, int step, int stride, int reach) {
        boolean[] out = new boolean[v.length];
        for (int line = 0; line < lines; line++) {
            int base = line * stride, last = -reach - 1;
            for (int i = 0; i < length; i++) {
                if (v[base + i * step]) last = i;
                out[base + i * step] = i - last <= reach;
            }
            last = length + reach;
            for (int i = length - 1; i >= 0; i--) {
                if (v[base + i * step]) last = i;
                out[base + i * step] |= last - i <= reach;
            }
        }
        return out;
    }
}
