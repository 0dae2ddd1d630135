package dasein.core.comp;

import dasein.core.BadInput;
import dasein.core.comp.step.Blacks;
import dasein.core.comp.step.Bounce;
import dasein.core.comp.step.Gain;
import dasein.core.comp.step.Grain;
import dasein.core.comp.step.Reflection;
import dasein.core.comp.step.Saturation;
import dasein.core.comp.step.Shadow;
import dasein.core.comp.step.Softness;
import dasein.core.image.Encoding;
import dasein.core.image.Filters;
import dasein.core.image.Image;
import dasein.core.math.Sobol;
import dasein.core.render.pass.Passes;
import java.util.stream.IntStream;

/**
 * The comp as one loop, as it was before it became steps: what the steps must equal bit for bit. are handed through, so
 * that the frame equals the plate bit for bit there.
 */
final class OneLoop {
    private OneLoop() {}

    /**
     * @param plate scene-linear, of the passes' size
     * @param encoding of the plate, in whose code values grain is laid
     * @param seed of the grain: the frame number
     * @throws BadInput when sizes differ
     */
    public static Image frame(Image plate, Passes p, CompRecipe r, Encoding encoding, double sizeOfPlate, int seed) {
        int w = plate.width, h = plate.height;
        if (p.width != w || p.height != h)
            throw new BadInput("the passes are " + p.width + " x " + p.height + ", the plate " + w + " x " + h);
        Image out = plate.copy();
        float[][] cg = new float[3][];
        int[] box = influence(p);
        if (box == null) return out;
        float[] alpha = graded(p, r, cg, r.get(Softness.SOFTNESS) * sizeOfPlate, box);
        float[][] s = p.shadow, b = p.bounce, m = p.reflection;
        float density = (float) r.get(Shadow.DENSITY),
                bounce = (float) r.get(Bounce.BOUNCE),
                mirror = (float) r.get(Reflection.REFLECTION);
        float[] tint = new float[3];
        for (int c = 0; c < 3; c++)
            tint[c] = density * (float) r.get(new Param[] {Shadow.RED, Shadow.GREEN, Shadow.BLUE}[c]);
        float grain = (float) r.get(Grain.GRAIN);
        Image.rows(h, y -> {
            for (int i = y * w, end = i + w; i < end; i++) {
                float a = alpha[i];
                // Softness carries a performer's light beyond the pixels it was rendered in.
                boolean shown = a > 0 || cg[0][i] != 0 || cg[1][i] != 0 || cg[2][i] != 0;
                if (!shown && !p.matters(i)) continue;
                for (int c = 0; c < 3; c++) {
                    float v = out.planes[c][i] * Math.max(0, 1 - (1 - s[c][i]) * tint[c])
                            + bounce * b[c][i]
                            + mirror * m[c][i];
                    if (shown) {
                        v = v * (1 - a) + cg[c][i];
                        if (a > 0 && grain > 0) v = grained(v, a * grain, i % w, y, c, seed, encoding);
                    }
                    out.planes[c][i] = Math.max(v, 0);
                }
            }
        });
        return out;
    }

    /**
     * Rows and columns that performers and added light show in: x0, y0, x1, y1 (exclusive); null when nothing at all
     * shows.
     */
    private static int[] influence(Passes p) {
        int w = p.width, x0 = w, y0 = p.height, x1 = 0, y1 = 0;
        boolean any = false;
        for (int y = 0; y < p.height; y++) {
            for (int x = 0, i = y * w; x < w; x++, i++) {
                if (p.shows(i)) {
                    x0 = Math.min(x0, x);
                    x1 = Math.max(x1, x + 1);
                    y0 = Math.min(y0, y);
                    y1 = y + 1;
                }
                any |= p.matters(i);
            }
        }
        return x1 == 0 && !any ? null : new int[] {x0, y0, x1, y1};
    }

    /** The performer's colour after gain, saturation, blacks and softness (into cg), and its alpha. */
    private static float[] graded(Passes p, CompRecipe r, float[][] cg, double sigma, int[] box) {
        int w = p.width, h = p.height, n = w * h;
        float gain = (float) r.get(Gain.GAIN),
                sat = (float) r.get(Saturation.SATURATION),
                lift = (float) r.get(Blacks.BLACKS);
        for (int c = 0; c < 3; c++) cg[c] = new float[n];
        if (box[2] == 0) return p.alpha;
        int margin = sigma > 0 ? (int) Math.ceil(4 * sigma) + 1 : 0;
        int x0 = Math.max(0, box[0] - margin),
                y0 = Math.max(0, box[1] - margin),
                x1 = Math.min(w, box[2] + margin),
                y1 = Math.min(h, box[3] + margin),
                bw = x1 - x0,
                bh = y1 - y0;
        float[][] part = new float[4][bw * bh];
        Image.rows(bh, y -> {
            for (int x = 0, i = (y + y0) * w + x0, o = y * bw; x < bw; x++, i++, o++) {
                float a = p.alpha[i];
                if (!p.shows(i)) continue;
                float red = p.beauty[0][i] * gain,
                        green = p.beauty[1][i] * gain,
                        blue = p.beauty[2][i] * gain,
                        l = 0.2126f * red + 0.7152f * green + 0.0722f * blue;
                part[0][o] = (l + sat * (red - l)) * (1 - lift) + lift * a;
                part[1][o] = (l + sat * (green - l)) * (1 - lift) + lift * a;
                part[2][o] = (l + sat * (blue - l)) * (1 - lift) + lift * a;
                part[3][o] = a;
            }
        });
        if (sigma > 0) {
            IntStream.range(0, 4).parallel().forEach(c -> part[c] = Filters.gaussian(part[c], bw, bh, sigma));
        }
        float[] alpha = new float[n];
        for (int y = 0; y < bh; y++) {
            for (int c = 0; c < 4; c++) System.arraycopy(part[c], y * bw, c < 3 ? cg[c] : alpha, (y + y0) * w + x0, bw);
        }
        return alpha;
    }

    /**
     * Two thirds of the grain is common to the colours, as in footage that was stored with less colour than brightness
     * detail.
     */
    private static float grained(float v, float sigma, int x, int y, int c, int seed, Encoding e) {
        float g = 0.82f * soft(x, y, 3, seed) + 0.57f * soft(x, y, c, seed);
        return (float) e.decode(e.encode(v) + sigma * g);
    }

    /** Noise of unit variance with a grain about one and a half pixels across. */
    private static float soft(int x, int y, int c, int seed) {
        float sum = 0.80f * white(x, y, c, seed);
        sum += 0.30f
                * (white(x - 1, y, c, seed)
                        + white(x + 1, y, c, seed)
                        + white(x, y - 1, c, seed)
                        + white(x, y + 1, c, seed));
        return sum;
    }

    private static float white(int x, int y, int c, int seed) {
        int h = Sobol.hash(x * 0x9e3779b1 ^ Sobol.hash(y * 0x85ebca77 + c * 0x27d4eb2f ^ Sobol.hash(seed)));
        // Sum of four uniform bytes: near enough to a bell.
        int sum = (h & 255) + (h >>> 8 & 255) + (h >>> 16 & 255) + (h >>> 24);
        return (sum - 510) / 147.8f;
    }
}
