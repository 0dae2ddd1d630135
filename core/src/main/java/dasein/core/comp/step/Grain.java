package dasein.core.comp.step;

import dasein.core.comp.CompRecipe;
import dasein.core.comp.Param;
import dasein.core.image.Encoding;
import dasein.core.math.Sobol;
import java.util.List;

/**
 * Lays the plate's grain on the performer: standard deviation in code values of 0 to 1. Two thirds of it are common to
 * the colours, as in footage that was stored with less colour than brightness detail.
 */
public final class Grain implements Step.OnFrame {
    public static final Param GRAIN =
            Param.of("grain", "grain, %", 0.008, 20).sliding(0, 5, 0.05).percent();

    @Override
    public String group() {
        return "Performer";
    }

    @Override
    public List<Param> params() {
        return List.of(GRAIN);
    }

    @Override
    public void row(Layers.Row row, CompRecipe r) {
        float grain = (float) r.get(GRAIN);
        if (!(grain > 0)) return;
        Layers l = row.of;
        float[][] frame = l.frame.planes;
        float[] alpha = l.cg[3];
        for (int n = 0; n < row.count; n++) {
            int x = row.changed[n], o = row.box(x), i = row.first + x;
            if (o < 0 || !(alpha[o] > 0)) continue;
            for (int c = 0; c < 3; c++)
                frame[c][i] = grained(frame[c][i], alpha[o] * grain, x, row.y, c, l.seed, l.encoding);
        }
    }

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
