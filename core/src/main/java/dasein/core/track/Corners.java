package dasein.core.track;

import dasein.core.image.Image;
import java.util.ArrayList;
import java.util.List;

/** Corner strength (smaller eigenvalue of the structure tensor over a 7 x 7 window) and an even choice of its peaks. */
final class Corners {
    private static final int WINDOW = 3;

    private final int w;
    private final int h;
    private final float[] strength;

    Corners(float[] grey, int w, int h) {
        this.w = w;
        this.h = h;
        float[] xx = new float[w * h], xy = new float[w * h], yy = new float[w * h];
        Image.rows(h, y -> {
            if (y == 0 || y == h - 1) return;
            for (int x = 1; x < w - 1; x++) {
                int i = y * w + x;
                float gx = 0.5f * (grey[i + 1] - grey[i - 1]), gy = 0.5f * (grey[i + w] - grey[i - w]);
                xx[i] = gx * gx;
                xy[i] = gx * gy;
                yy[i] = gy * gy;
            }
        });
        float[] a = box(xx), b = box(xy), c = box(yy);
        strength = new float[w * h];
        for (int i = 0; i < strength.length; i++) {
            float half = 0.5f * (a[i] + c[i]), d = 0.5f * (a[i] - c[i]);
            strength[i] = half - (float) Math.sqrt(d * d + b[i] * b[i]);
        }
    }

    private float[] box(float[] s) {
        float[] mid = new float[w * h], out = new float[w * h];
        Image.rows(h, y -> {
            for (int x = WINDOW; x < w - WINDOW; x++) {
                float sum = 0;
                for (int i = -WINDOW; i <= WINDOW; i++) sum += s[y * w + x + i];
                mid[y * w + x] = sum;
            }
        });
        Image.rows(h, y -> {
            if (y < WINDOW || y >= h - WINDOW) return;
            for (int i = -WINDOW; i <= WINDOW; i++) for (int x = 0; x < w; x++) out[y * w + x] += mid[(y + i) * w + x];
        });
        return out;
    }

    /** A strong corner of this picture: the 99.5th percentile. */
    float strong() {
        float[] some = new float[w * h / 7 + 1];
        int n = 0;
        for (int i = 0; i < strength.length; i += 7) some[n++] = strength[i];
        java.util.Arrays.sort(some, 0, n);
        return some[(int) (n * 0.995)];
    }

    /**
     * The best corner of every grid cell that has no mark yet, above {@code least}; a cell with nothing good stays empty.
     *
     * @param taken existing marks as x, y pairs; a new one keeps {@code cell / 2} away
     * @param mask true where not to look, or null
     */
    List<int[]> pick(int cell, float least, List<double[]> taken, boolean[] mask, int border) {
        int cx = (w + cell - 1) / cell, cy = (h + cell - 1) / cell;
        boolean[] full = new boolean[cx * cy];
        for (double[] t : taken) {
            int i = (int) (t[0] / cell), j = (int) (t[1] / cell);
            if (i >= 0 && j >= 0 && i < cx && j < cy) full[j * cx + i] = true;
        }
        int gap = Math.max(4, cell * 2 / 5);
        List<int[]> out = new ArrayList<>();
        List<double[]> all = new ArrayList<>(taken);
        for (int j = 0; j < cy; j++) {
            for (int i = 0; i < cx; i++) {
                if (full[j * cx + i]) continue;
                int best = -1;
                float value = least;
                for (int y = Math.max(j * cell, border); y < Math.min((j + 1) * cell, h - border); y++) {
                    for (int x = Math.max(i * cell, border); x < Math.min((i + 1) * cell, w - border); x++) {
                        int p = y * w + x;
                        float s = strength[p];
                        if (s <= value || mask != null && mask[p]) continue;
                        if (s < strength[p - 1] || s < strength[p + 1] || s < strength[p - w] || s < strength[p + w]) continue;
                        value = s;
                        best = p;
                    }
                }
                if (best < 0) continue;
                double bx = best % w + 0.5, by = best / w + 0.5;
                boolean close = false;
                for (double[] t : all) {
                    if (Math.abs(t[0] - bx) < gap && Math.abs(t[1] - by) < gap) {
                        close = true;
                        break;
                    }
                }
                if (close) continue;
                out.add(new int[] {best % w, best / w});
                all.add(new double[] {bx, by});
            }
        }
        return out;
    }
}
