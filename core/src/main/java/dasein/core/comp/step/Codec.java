package dasein.core.comp.step;

import dasein.core.comp.CompRecipe;
import dasein.core.comp.Param;
import dasein.core.image.CodeTable;
import dasein.core.image.Image;
import java.util.List;

/**
 * What the plate's codec did to the plate is done to the performer, too: fine texture that is weaker than the codec's
 * step is lost, and what is stronger comes in steps; colours are kept coarser than brightness. In blocks of 8 x 8
 * pixels, after the cosine transform, with the rounding that such codecs have; where the performer covers the plate in
 * part, in that part.
 */
public final class Codec implements Step.Whole {
    /** Step of the quantiser, in codes of 0 to 1. */
    public static final Param STEP =
            Param.of("codecStep", "codec's step, %", 0, 20).sliding(0, 8, 0.05).percent();
    /** 1 where the plate stores colours at half its width and height. */
    public static final Param HALF =
            new Param("codecHalfColour", "colours at half size", 0, new Param.Range(0, 1), new Param.Range(0, 1), 1, 1);

    private static final int N = 8;
    /** Codecs round down what is less than this much more than a step (common practice for pictures between others). */
    private static final double ROUND = 1 / 6.0;

    private static final float[] COS = new float[N * N];

    static {
        for (int k = 0; k < N; k++)
            for (int x = 0; x < N; x++)
                COS[k * N + x] =
                        (float) (Math.sqrt((k == 0 ? 1.0 : 2.0) / N) * Math.cos(Math.PI * (2 * x + 1) * k / (2 * N)));
    }

    @Override
    public Group group() {
        return Group.CODEC;
    }

    @Override
    public List<Param> params() {
        return List.of(STEP, HALF);
    }

    @Override
    public void apply(Layers l, CompRecipe r) {
        float step = (float) r.get(STEP);
        if (!(step > 0) || l.width == 0) return;
        boolean half = r.get(HALF) >= 0.5;
        int w = l.passes.width, h = l.passes.height;
        int cell = half ? 2 * N : N,
                x0 = l.x0 / cell,
                x1 = (l.x0 + l.width - 1) / cell,
                y0 = l.y0 / cell,
                y1 = (l.y0 + l.height - 1) / cell;
        CodeTable codes = CodeTable.of(l.encoding);
        // The blocks lie on the picture's own grid, as the codec's do.
        Image.rows(y1 - y0 + 1, k -> {
            float[][] v = new float[3][cell * cell];
            float[] small = new float[N * N], work = new float[N * N];
            for (int b = x0; b <= x1; b++) {
                int left = b * cell, top = (y0 + k) * cell;
                if (covers(l, left, top, cell)) block(l, codes, left, top, cell, step, half, v, small, work, w, h);
            }
        });
    }

    private static boolean covers(Layers l, int left, int top, int cell) {
        for (int y = Math.max(top, l.y0); y < Math.min(top + cell, l.y0 + l.height); y++)
            for (int x = Math.max(left, l.x0); x < Math.min(left + cell, l.x0 + l.width); x++)
                if (l.cg[3][(y - l.y0) * l.width + x - l.x0] > 0) return true;
        return false;
    }

    private static void block(
            Layers l,
            CodeTable codes,
            int left,
            int top,
            int cell,
            float step,
            boolean half,
            float[][] v,
            float[] small,
            float[] work,
            int w,
            int h) {
        float[][] f = l.frame.planes;
        for (int y = 0; y < cell; y++)
            for (int x = 0; x < cell; x++) {
                int i = Math.min(h - 1, top + y) * w + Math.min(w - 1, left + x), o = y * cell + x;
                float red = codes.encode(f[0][i]), green = codes.encode(f[1][i]), blue = codes.encode(f[2][i]);
                v[0][o] = 0.2126f * red + 0.7152f * green + 0.0722f * blue;
                v[1][o] = (blue - v[0][o]) / 1.8556f;
                v[2][o] = (red - v[0][o]) / 1.5748f;
            }
        for (int c = 0; c < 3; c++) {
            if (c > 0 && half) {
                for (int y = 0; y < N; y++)
                    for (int x = 0; x < N; x++) {
                        int o = 2 * y * cell + 2 * x;
                        small[y * N + x] = (v[c][o] + v[c][o + 1] + v[c][o + cell] + v[c][o + cell + 1]) / 4;
                    }
                coded(small, 0, N, step, work);
                for (int y = 0; y < cell; y++)
                    for (int x = 0; x < cell; x++) v[c][y * cell + x] = between(small, x / 2f - 0.25f, y / 2f - 0.25f);
            } else
                for (int y = 0; y < cell; y += N)
                    for (int x = 0; x < cell; x += N) coded(v[c], y * cell + x, cell, step, work);
        }
        for (int y = Math.max(top, l.y0); y < Math.min(top + cell, l.y0 + l.height); y++)
            for (int x = Math.max(left, l.x0); x < Math.min(left + cell, l.x0 + l.width); x++) {
                float a = Math.min(1, l.cg[3][(y - l.y0) * l.width + x - l.x0]);
                if (!(a > 0)) continue;
                int i = y * w + x, o = (y - top) * cell + x - left;
                float red = v[0][o] + 1.5748f * v[2][o],
                        blue = v[0][o] + 1.8556f * v[1][o],
                        green = (v[0][o] - 0.2126f * red - 0.0722f * blue) / 0.7152f;
                f[0][i] += a * (Math.max(0, codes.decode(red)) - f[0][i]);
                f[1][i] += a * (Math.max(0, codes.decode(green)) - f[1][i]);
                f[2][i] += a * (Math.max(0, codes.decode(blue)) - f[2][i]);
            }
    }

    private static float between(float[] s, float x, float y) {
        float u = Math.max(0, Math.min(N - 1, x)), t = Math.max(0, Math.min(N - 1, y));
        int x0 = Math.min(N - 2, (int) u), y0 = Math.min(N - 2, (int) t);
        float a = u - x0, b = t - y0;
        int o = y0 * N + x0;
        return (1 - b) * ((1 - a) * s[o] + a * s[o + 1]) + b * ((1 - a) * s[o + N] + a * s[o + N + 1]);
    }

    /** A block there and back: all but its mean, which codecs keep finely, in steps. */
    static void coded(float[] v, int at, int stride, float step, float[] work) {
        for (int y = 0; y < N; y++)
            for (int k = 0; k < N; k++) {
                float s = 0;
                for (int x = 0; x < N; x++) s += COS[k * N + x] * v[at + y * stride + x];
                work[y * N + k] = s;
            }
        for (int k = 0; k < N; k++) column(work, k, step);
        for (int y = 0; y < N; y++)
            for (int x = 0; x < N; x++) {
                float s = 0;
                for (int k = 0; k < N; k++) s += COS[k * N + x] * work[y * N + k];
                v[at + y * stride + x] = s;
            }
    }

    private static void column(float[] work, int k, float step) {
        float[] c = new float[N];
        for (int j = 0; j < N; j++) for (int y = 0; y < N; y++) c[j] += COS[j * N + y] * work[y * N + k];
        for (int j = 0; j < N; j++)
            if (j + k > 0) {
                float level = (float) Math.floor(Math.abs(c[j]) / step + ROUND);
                c[j] = Math.copySign(level * step, c[j]);
            }
        for (int y = 0; y < N; y++) {
            float s = 0;
            for (int j = 0; j < N; j++) s += COS[j * N + y] * c[j];
            work[y * N + k] = s;
        }
    }
}
