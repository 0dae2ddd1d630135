package dasein.core.light.photo;

import dasein.core.image.Image;
import java.util.ArrayDeque;
import java.util.Arrays;
import java.util.List;
import java.util.function.IntFunction;

/**
 * The light of one view from several exposures: the mean of what each says, weighed by how sure it is (photons, readout
 * and the step from code to code), never with a sample that is cut off. Where something moved between the exposures one
 * photograph alone counts.
 */
public final class Merge {
    /** Variance of linear light: shot noise and readout of a small sensor at white 1, and half a code of rounding. */
    private static final double PHOTON = 2e-4, READ = 4e-6, ROUNDING = 0.6;
    /** Codes from which a sample counts less, and not at all; the second leaves room for what compression does. */
    private static final float FADING = 0.9f, CUT = 0.965f;

    private static final int BLOCK = 4;
    /** Two photographs disagree about a block when their means differ by this part, and by this many deviations. */
    private static final double MOVED = 0.12, SURE = 5;

    private Merge() {}

    /**
     * @param light radiance; white of the exposure 1 is 1
     * @param clipped pixels that are cut off in every photograph: there the light is at least that
     * @param moved part of the picture where something moved
     */
    public record Result(Image light, boolean[] clipped, double moved) {}

    /** @param b photographs that lie on each other */
    public static Result of(Bracket b, Response response) {
        int[] all = {0, b.width()};
        return of(b, response, y -> all);
    }

    /** @param span of a row: from which pixel to before which it is wanted; the rest stays black */
    public static Result of(Bracket b, Response response, IntFunction<int[]> span) {
        int w = b.width(), h = b.height();
        Tables tables = Tables.of(response);
        byte[] only = b.photos().size() > 1 ? moving(b, tables) : null;
        int across = (w + BLOCK - 1) / BLOCK;
        Image out = new Image(w, h, 3);
        boolean[] clipped = new boolean[w * h];
        int shortest = b.byExposure().get(0);
        byte[][] beside = b.photos().stream().map(p -> beside(p, span)).toArray(byte[][]::new);
        Image.rows(h, y -> {
            int[] here = span.apply(y);
            for (int x = Math.max(0, here[0]); x < Math.min(w, here[1]); x++) {
                int i = y * w + x, alone = only == null ? 0 : only[y / BLOCK * across + x / BLOCK];
                for (int c = 0; c < 3; c++) {
                    float v = mean(b, tables, beside, c, i, alone);
                    // The one that alone counts may be cut off just there; the others are better than nothing.
                    if (Float.isNaN(v) && alone != 0) v = mean(b, tables, beside, c, i, 0);
                    if (Float.isNaN(v)) {
                        Photo p = b.photos().get(shortest);
                        v = (float) (light(p, response, c, p.at(c, i)) / b.exposures()[shortest]);
                        clipped[i] = true;
                    }
                    out.planes[c][i] = v;
                }
            }
        });
        double moved = 0;
        if (only != null) for (byte k : only) if (k != 0) moved += 1.0 / only.length;
        return new Result(out, clipped, moved);
    }

    /**
     * Light, its variance and how much it counts, by colour and 16-bit code; of 8-bit photographs only every 257th is
     * ever looked at.
     */
    private record Tables(float[][] light, float[][] variance, float[][] weight) {
        static Tables of(Response r) {
            float[][] light = new float[3][1 << 16], variance = new float[3][1 << 16], weight = new float[3][1 << 16];
            for (int c = 0; c < 3; c++)
                for (int z = 0; z < 1 << 16; z++) {
                    float v = z * (1 / 65535f);
                    double l = r.light(c, v), q = ROUNDING * r.step(c, v);
                    light[c][z] = (float) l;
                    variance[c][z] = (float) (PHOTON * l + READ + q * q);
                    if (v < CUT) weight[c][z] = Math.min(1, (CUT - v) / (CUT - FADING)) / variance[c][z];
                }
            return new Tables(light, variance, weight);
        }
    }

    /** Of a pixel over the photographs, or of one alone; NaN when none may count. */
    private static float mean(Bracket b, Tables tables, byte[][] beside, int c, int i, int alone) {
        double sum = 0, total = 0;
        List<Photo> photos = b.photos();
        double[] exposures = b.exposures();
        for (int j = 0, n = photos.size(); j < n; j++) {
            if (alone != 0 && alone != j + 1) continue;
            Photo p = photos.get(j);
            float k, light;
            if (p.isLight()) {
                float v = p.at(c, i);
                k = lightWeight(v);
                light = Math.max(0, v);
            } else {
                int code = p.code(c, i);
                k = tables.weight[c][code];
                light = tables.light[c][code];
            }
            if (k == 0 || beside[j] != null && (beside[j][i] >> c & 1) != 0) continue;
            // Variance of what is divided by t falls with its square.
            double t = exposures[j];
            sum += k * t * light;
            total += k * t * t;
        }
        return total > 0 ? (float) (sum / total) : Float.NaN;
    }

    private static double light(Photo p, Response r, int c, float v) {
        return p.isLight() ? Math.max(0, v) : r.light(c, v);
    }

    private static float lightWeight(float v) {
        // Raw light is cut off at white; what goes beyond has no such limit.
        if (!(v >= 0) || v >= 0.985f && v <= 1.02f) return 0;
        return (float) (1 / (PHOTON * v + READ));
    }

    /** A bit a colour for pixels that touch one that is cut off: light and compression spill over. Null for light. */
    private static byte[] beside(Photo p, IntFunction<int[]> span) {
        if (p.isLight()) return null;
        int w = p.width, h = p.height;
        byte[] cut = new byte[w * h], out = new byte[w * h];
        int white = (int) (0.993 * 65535);
        Image.rows(h, y -> {
            for (int i = y * w; i < (y + 1) * w; i++)
                for (int c = 0; c < 3; c++) if (p.code(c, i) > white) cut[i] |= (byte) (1 << c);
        });
        Image.rows(h, y -> {
            int[] here = span.apply(y);
            for (int x = Math.max(0, here[0]); x < Math.min(w, here[1]); x++) {
                int bits = 0;
                for (int j = Math.max(0, y - 1); j <= Math.min(h - 1, y + 1); j++)
                    for (int i = Math.max(0, x - 1); i <= Math.min(w - 1, x + 1); i++) bits |= cut[j * w + i];
                out[y * w + x] = (byte) bits;
            }
        });
        return out;
    }

    /** For every block 0, or one more than the photograph that alone counts there. */
    private static byte[] moving(Bracket b, Tables tables) {
        int w = b.width(), h = b.height(), shots = b.photos().size();
        int across = (w + BLOCK - 1) / BLOCK, down = (h + BLOCK - 1) / BLOCK;
        // Green tells; each photograph's mean over what is well exposed in it and in the one it is held against.
        float[][] best = new float[shots][across * down];
        boolean[] odd = new boolean[across * down];
        Image.rows(down, by -> {
            float[][] v = new float[shots][BLOCK * BLOCK],
                    light = new float[shots][BLOCK * BLOCK],
                    variance = new float[shots][BLOCK * BLOCK];
            for (int bx = 0; bx < across; bx++) {
                int block = by * across + bx, n = 0;
                for (int y = by * BLOCK; y < Math.min(h, (by + 1) * BLOCK); y++)
                    for (int x = bx * BLOCK; x < Math.min(w, (bx + 1) * BLOCK); x++, n++)
                        for (int j = 0; j < shots; j++) {
                            Photo p = b.photos().get(j);
                            v[j][n] = p.at(1, y * w + x);
                            int code = p.isLight() ? 0 : p.code(1, y * w + x);
                            light[j][n] = p.isLight() ? Math.max(0, v[j][n]) : tables.light[1][code];
                            variance[j][n] =
                                    p.isLight() ? (float) (PHOTON * light[j][n] + READ) : tables.variance[1][code];
                        }
                int ref = -1;
                for (int j = 0; j < shots; j++) {
                    for (int i = 0; i < n; i++) best[j][block] += exposed(v[j][i]) / n;
                    if (ref < 0 || best[j][block] > best[ref][block]) ref = j;
                }
                for (int j = 0; j < shots; j++)
                    if (j != ref && disagree(b, v, light, variance, j, ref, n)) odd[block] = true;
            }
        });
        return alone(grown(odd, across, down), best, across, down);
    }

    /** How well exposed a code is, 0 to 1. */
    private static float exposed(float v) {
        return v < 0.03f || v > 0.92f ? 0 : Math.min(1, Math.min(v / 0.25f, (0.92f - v) / 0.2f));
    }

    private static boolean disagree(
            Bracket b, float[][] v, float[][] light, float[][] variance, int j, int ref, int n) {
        double a = 0, c = 0, var = 0;
        int used = 0;
        double tj = b.exposures()[j], tr = b.exposures()[ref];
        for (int i = 0; i < n; i++) {
            float p = v[j][i], q = v[ref][i];
            if (p < 0.06f || p > 0.9f || q < 0.06f || q > 0.9f) continue;
            a += light[j][i] / tj;
            c += light[ref][i] / tr;
            var += variance[j][i] / (tj * tj) + variance[ref][i] / (tr * tr);
            used++;
        }
        if (used < n / 2 || used == 0) return false;
        double d = Math.abs(a - c);
        return d > MOVED * Math.max(a, c) && d > SURE * Math.sqrt(var);
    }

    /** Lone blocks are noise and edges; regions are widened, so that their borders belong to them. */
    private static boolean[] grown(boolean[] odd, int across, int down) {
        boolean[] out = new boolean[odd.length];
        for (int y = 0; y < down; y++)
            for (int x = 0; x < across; x++) {
                if (!odd[y * across + x]) continue;
                int near = 0;
                for (int j = -1; j <= 1; j++)
                    for (int i = -1; i <= 1; i++)
                        if (y + j >= 0 && y + j < down && x + i >= 0 && x + i < across && odd[(y + j) * across + x + i])
                            near++;
                if (near < 3) continue;
                for (int j = -2; j <= 2; j++)
                    for (int i = -2; i <= 2; i++)
                        if (y + j >= 0 && y + j < down && x + i >= 0 && x + i < across)
                            out[(y + j) * across + x + i] = true;
            }
        return out;
    }

    /** Each region is taken from the one photograph that shows it best. */
    private static byte[] alone(boolean[] moved, float[][] best, int across, int down) {
        byte[] out = new byte[moved.length];
        int[] region = new int[moved.length];
        for (int start = 0; start < moved.length; start++) {
            if (!moved[start] || out[start] != 0) continue;
            ArrayDeque<Integer> open = new ArrayDeque<>();
            int n = 0;
            open.add(start);
            out[start] = 1;
            double[] sum = new double[best.length];
            while (!open.isEmpty()) {
                int k = open.poll(), x = k % across, y = k / across;
                region[n++] = k;
                for (int j = 0; j < best.length; j++) sum[j] += best[j][k];
                for (int[] d : new int[][] {{1, 0}, {-1, 0}, {0, 1}, {0, -1}}) {
                    int nx = x + d[0], ny = y + d[1], m = ny * across + nx;
                    if (nx < 0 || ny < 0 || nx >= across || ny >= down || !moved[m] || out[m] != 0) continue;
                    out[m] = 1;
                    open.add(m);
                }
            }
            int top = 0;
            for (int j = 1; j < best.length; j++) if (sum[j] > sum[top]) top = j;
            for (int k : Arrays.copyOf(region, n)) out[k] = (byte) (top + 1);
        }
        return out;
    }
}
