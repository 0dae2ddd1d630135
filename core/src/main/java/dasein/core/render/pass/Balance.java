package dasein.core.render.pass;

import dasein.core.image.Image;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;

/**
 * Lights given other levels after rendering: light adds up, so that a frame whose lights were kept apart is any sum of
 * them. Shadow is what is taken away of the light that arrives, both by light.
 */
public final class Balance {
    private Balance() {}

    /**
     * The passes as if lights had been brighter or darker. The colour of the ground, which was found from the plate by
     * the light it was rendered in, stays as it is.
     *
     * @param levels by the name of a light, of its straight and its indirect light alike; what is not named stays.
     *     Those that were not kept apart are passed over
     */
    public static Passes of(Passes p, Map<String, float[]> levels) {
        List<String> lights = new ArrayList<>();
        for (String l : p.lights()) if (levels.containsKey(base(l))) lights.add(l);
        if (lights.isEmpty()) return p;
        Map<Pass, float[][]> other = new HashMap<>();
        for (Pass sum : List.of(PassList.BEAUTY, PassList.BOUNCE, PassList.REFLECTION)) {
            float[][] all = copy(p.of(sum));
            for (String l : lights) more(all, p.of(sum.of(l)), levels.get(base(l)));
            other.put(sum, all);
        }
        other.put(PassList.SHADOW, shadow(p, lights, levels));
        return p.with(other);
    }

    /**
     * What a light's shadow takes of all light that arrives, more or less of it.
     *
     * @param balanced those passes by {@code levels}; @param shades density of a light's shadow by its name, 1 as it
     *     was rendered
     */
    public static Passes shaded(Passes p, Passes balanced, Map<String, float[]> levels, Map<String, Float> shades) {
        List<String> these = p.lights().stream().filter(shades::containsKey).toList();
        if (these.isEmpty()) return balanced;
        List<String> other = p.lights().stream().filter(levels::containsKey).toList();
        float[][] out = new float[3][];
        for (int c = 0; c < 3; c++) {
            out[c] = balanced.shadow[c].clone();
            for (int i = 0; i < out[c].length; i++) {
                if (p.shadow[c][i] == 1) continue;
                float there = 1, more = 0;
                for (String l : other) there += (levels.get(l)[c] - 1) * p.of("light." + l)[c][i];
                for (String l : these) {
                    float level = levels.containsKey(l) ? levels.get(l)[c] : 1;
                    more += (shades.get(l) - 1) * level * p.of("light." + l)[c][i] * (1 - p.of("shadow." + l)[c][i]);
                }
                if (there > 1e-6f) out[c][i] = Math.max(0, Math.min(1, out[c][i] - more / there));
            }
        }
        return balanced.with(Map.of(PassList.SHADOW, out));
    }

    private static String base(String light) {
        return light.endsWith(PassList.INDIRECT)
                ? light.substring(0, light.length() - PassList.INDIRECT.length())
                : light;
    }

    private static float[][] copy(float[][] v) {
        float[][] out = new float[v.length][];
        for (int c = 0; c < v.length; c++) out[c] = v[c].clone();
        return out;
    }

    private static void more(float[][] all, float[][] part, float[] level) {
        for (int c = 0; c < 3; c++) {
            float k = level[c] - 1;
            float[] to = all[c], from = part[c];
            for (int i = 0; i < to.length; i++) to[i] += k * from[i];
        }
    }

    /** What arrives of all lights with performers over without: 1 - sum of what is taken over sum of what there is. */
    private static float[][] shadow(Passes p, List<String> lights, Map<String, float[]> levels) {
        float[][] out = copy(p.shadow);
        Image.rows(p.height, y -> {
            for (int i = y * p.width, end = i + p.width; i < end; i++) {
                for (int c = 0; c < 3; c++) {
                    if (p.shadow[c][i] == 1) continue;
                    float taken = 1 - p.shadow[c][i], there = 1;
                    for (String l : lights) {
                        if (l.endsWith(PassList.INDIRECT)) continue;
                        float part = p.of("light." + l)[c][i], k = levels.get(l)[c] - 1;
                        taken += k * part * (1 - p.of("shadow." + l)[c][i]);
                        there += k * part;
                    }
                    out[c][i] = there > 1e-6f ? Math.max(0, Math.min(1, 1 - taken / there)) : 1;
                }
            }
        });
        return out;
    }
}
