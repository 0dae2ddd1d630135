package dasein.core.track;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Set;
import java.util.stream.IntStream;

/**
 * Corner strength (smaller eigenvalue of the structure tensor over a 7 x 7 window, Shi and Tomasi 1994) and an even
 * choice of its peaks. Works cell by cell, so that only cells without a mark cost anything.
 */
final class Corners {
    private static final int WINDOW = 3;
    private static final int MARGIN = WINDOW + 2;
    /** So many rows of every so many are looked at for what is strong. */
    private static final int SOME = 12, SOME_OF = 48;

    private final float[] grey;
    private final int w;
    private final int h;

    Corners(float[] grey, int w, int h) {
        this.grey = grey;
        this.w = w;
        this.h = h;
    }

    /**
     * Strengths of the pixels x0..x1-1, y0..y1-1, row by row; the rectangle must stay {@link #MARGIN} away from the
     * border.
     */
    private float[] strength(int x0, int y0, int x1, int y1) {
        int gw = x1 - x0 + 2 * WINDOW, gh = y1 - y0 + 2 * WINDOW, nw = x1 - x0;
        float[] xx = new float[gw], xy = new float[gw], yy = new float[gw];
        // Sums along rows, kept for as many rows as the window is high.
        int keep = 2 * WINDOW + 1;
        float[][] rx = new float[keep][nw], rm = new float[keep][nw], ry = new float[keep][nw];
        float[] sx = new float[nw], sm = new float[nw], sy = new float[nw], out = new float[nw * (y1 - y0)];
        for (int j = 0; j < gh; j++) {
            int i0 = (y0 - WINDOW + j) * w + x0 - WINDOW;
            for (int k = 0; k < gw; k++) {
                int i = i0 + k;
                float gx = grey[i + 1] - grey[i - 1], gy = grey[i + w] - grey[i - w];
                xx[k] = gx * gx;
                xy[k] = gx * gy;
                yy[k] = gy * gy;
            }
            float[] a = rx[j % keep], b = rm[j % keep], c = ry[j % keep];
            // What leaves the window is taken off before it is overwritten.
            if (j >= keep)
                for (int k = 0; k < nw; k++) {
                    sx[k] -= a[k];
                    sm[k] -= b[k];
                    sy[k] -= c[k];
                }
            across(xx, a);
            across(xy, b);
            across(yy, c);
            for (int k = 0; k < nw; k++) {
                sx[k] += a[k];
                sm[k] += b[k];
                sy[k] += c[k];
            }
            if (j < keep - 1) continue;
            int o = (j - keep + 1) * nw;
            for (int k = 0; k < nw; k++) {
                float half = sx[k] + sy[k], d = sx[k] - sy[k];
                // A quarter for the central differences, a half from the formula.
                out[o + k] = 0.125f * (half - (float) Math.sqrt(d * d + 4 * sm[k] * sm[k]));
            }
        }
        return out;
    }

    private static void across(float[] s, float[] d) {
        for (int k = 0; k < d.length; k++)
            d[k] = s[k] + s[k + 1] + s[k + 2] + s[k + 3] + s[k + 4] + s[k + 5] + s[k + 6];
    }

    /** A strong corner of this picture: the 99.5th percentile over some of its rows. */
    float strong() {
        int bands = Math.max(1, h / SOME_OF);
        float[][] found = new float[bands][];
        IntStream.range(0, bands).parallel().forEach(b -> {
            int from = Math.max(MARGIN, h * b / bands + SOME_OF / 2), to = Math.min(h - MARGIN, from + SOME);
            if (to <= from || w <= 2 * MARGIN) {
                found[b] = new float[0];
                return;
            }
            float[] s = strength(MARGIN, from, w - MARGIN, to), some = new float[s.length / 3];
            for (int i = 0; i < some.length; i++) some[i] = s[3 * i];
            found[b] = some;
        });
        int n = Arrays.stream(found).mapToInt(f -> f.length).sum(), k = 0;
        if (n == 0) return 0;
        float[] all = new float[n];
        for (float[] f : found) {
            System.arraycopy(f, 0, all, k, f.length);
            k += f.length;
        }
        return ranked(all, (int) (n * 0.995));
    }

    /** The value that would stand at place k were the array sorted (Hoare 1961); the array is partly sorted. */
    private static float ranked(float[] a, int k) {
        for (int from = 0, to = a.length - 1; from < to; ) {
            float pivot = a[from + to >>> 1];
            int i = from, j = to;
            while (i <= j) {
                while (a[i] < pivot) i++;
                while (a[j] > pivot) j--;
                if (i > j) break;
                float t = a[i];
                a[i++] = a[j];
                a[j--] = t;
            }
            if (k <= j) to = j;
            else if (k >= i) from = i;
            else break;
        }
        return a[k];
    }

    /**
     * The best corner of every grid cell that has no mark yet, above {@code least}; a cell with nothing good stays
     * empty.
     *
     * @param taken existing marks as x, y pairs; a new one keeps {@code gap} away
     * @param mask true where not to look, or null
     * @param barren cells by number not to look into; those found to hold nothing are added
     */
    List<int[]> pick(
            int cell, int gap, float least, List<double[]> taken, boolean[] mask, int border, Set<Integer> barren) {
        int cx = (w + cell - 1) / cell, cy = (h + cell - 1) / cell, edge = Math.max(border, MARGIN + 1);
        boolean[] full = new boolean[cx * cy];
        for (double[] t : taken) {
            int i = (int) (t[0] / cell), j = (int) (t[1] / cell);
            if (i >= 0 && j >= 0 && i < cx && j < cy) full[j * cx + i] = true;
        }
        int[] best = new int[cx * cy];
        Arrays.fill(best, -1);
        IntStream.range(0, cy).parallel().forEach(j -> {
            int y0 = Math.max(j * cell, edge), y1 = Math.min(j * cell + cell, h - edge);
            int[] open = IntStream.range(j * cx, j * cx + cx)
                    .filter(c -> !full[c] && !barren.contains(c))
                    .toArray();
            if (y1 <= y0 || open.length == 0) return;
            // Whole rows are cheaper a pixel than many small pieces of them.
            boolean whole = open.length > cx / 2;
            float[] row = whole ? strength(edge - 1, y0 - 1, w - edge + 1, y1 + 1) : null;
            for (int c : open) {
                int x0 = Math.max(c % cx * cell, edge), x1 = Math.min(c % cx * cell + cell, w - edge);
                if (x1 <= x0) continue;
                float[] s = whole ? row : strength(x0 - 1, y0 - 1, x1 + 1, y1 + 1);
                best[c] = best(
                        s,
                        whole ? edge - 1 : x0 - 1,
                        whole ? w - 2 * edge + 2 : x1 - x0 + 2,
                        x0,
                        y0,
                        x1,
                        y1,
                        least,
                        mask);
            }
        });
        for (int c = 0; c < best.length; c++) if (!full[c] && best[c] < 0) barren.add(c);
        List<int[]> out = new ArrayList<>();
        List<double[]> all = new ArrayList<>(taken);
        for (int p : best) {
            if (p < 0) continue;
            double bx = p % w + 0.5, by = p / w + 0.5;
            if (all.stream().anyMatch(t -> Math.abs(t[0] - bx) < gap && Math.abs(t[1] - by) < gap)) continue;
            out.add(new int[] {p % w, p / w});
            all.add(new double[] {bx, by});
        }
        return out;
    }

    /**
     * Place in the picture of the strongest local maximum of a cell, or -1; {@code s} begins at (left, y0 - 1) and is
     * {@code nw} wide.
     */
    private int best(float[] s, int left, int nw, int x0, int y0, int x1, int y1, float least, boolean[] mask) {
        int found = -1;
        float value = least;
        for (int y = y0; y < y1; y++) {
            for (int x = x0, i = (y - y0 + 1) * nw + x0 - left; x < x1; x++, i++) {
                float q = s[i];
                if (q <= value || mask != null && mask[y * w + x]) continue;
                if (q < s[i - 1] || q < s[i + 1] || q < s[i - nw] || q < s[i + nw]) continue;
                value = q;
                found = y * w + x;
            }
        }
        return found;
    }
}
