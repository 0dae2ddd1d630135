package dasein.core.render;

import java.util.Arrays;

/** Where performers end in a picture. */
final class Edges {
    private Edges() {}

    /** Pixels that performers cover whole and that have one within {@code reach} which they do not. */
    static int[] behind(Film film, int reach) {
        int w = film.width, h = film.height;
        boolean[] open = new boolean[w * h];
        for (int p = 0; p < open.length; p++) open[p] = film.sum[Film.ALPHA][p] < film.count[p];
        boolean[] near = across(across(open, w, h, 1, w, reach), h, w, w, 1, reach);
        int[] list = new int[w * h];
        int n = 0;
        for (int p = 0; p < list.length; p++) if (near[p] && !open[p]) list[n++] = p;
        return Arrays.copyOf(list, n);
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
