package dasein.core.comp.step;

import dasein.core.comp.CompRecipe;
import dasein.core.comp.Param;
import dasein.core.render.pass.Balance;
import dasein.core.render.pass.Passes;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;

/**
 * Gives lights that were rendered apart other levels, before anything else is done: on performers, in their shadow, and
 * in what they give and mirror; and lets the shadow that each of them throws be denser or lighter by itself. Which
 * lights there are is said by the shot, so its numbers are declared by name.
 */
public final class Lights {
    public static final String GROUP = "Lights";
    private static final String PREFIX = "light_", SHADE = "shade_";

    private Lights() {}

    /** Whether a number of the comp is the level of a light, or the density of its shadow. */
    public static boolean level(String number) {
        return number.matches("(" + PREFIX + "|" + SHADE + ")[a-z0-9]{1,40}");
    }

    /** @param light its name in the passes; @param label for people */
    public static Param shade(String light, String label) {
        return Param.of(SHADE + light, "shadow of " + label, 1, 3).sliding(0, 1.5, 0.01);
    }

    /** @param light its name in the passes; @param label for people */
    public static Param level(String light, String label) {
        return Param.of(PREFIX + light, label, 1, 20).sliding(0, 3, 0.01);
    }

    /** The number of that name. */
    public static Param named(String number) {
        boolean shade = number.startsWith(SHADE);
        String light = number.substring((shade ? SHADE : PREFIX).length());
        return shade ? shade(light, light) : level(light, light);
    }

    public static Passes apply(Passes p, CompRecipe r) {
        Map<String, float[]> levels = new HashMap<>();
        Map<String, Float> shades = new HashMap<>();
        for (Param n : r.lights()) {
            float k = (float) r.get(n);
            if (k == 1) continue;
            if (n.name().startsWith(SHADE)) shades.put(n.name().substring(SHADE.length()), k);
            else levels.put(n.name().substring(PREFIX.length()), new float[] {k, k, k});
        }
        Passes out = levels.isEmpty() ? p : Balance.of(p, levels);
        return shades.isEmpty() ? out : Balance.shaded(p, out, levels, shades);
    }

    /** Those a shot's comp has numbers for, and the labels of those that people see. */
    public static List<Param> of(Map<String, String> labels) {
        return Stream.concat(
                        labels.entrySet().stream().map(e -> level(e.getKey(), e.getValue())),
                        labels.entrySet().stream().map(e -> shade(e.getKey(), e.getValue())))
                .toList();
    }
}
