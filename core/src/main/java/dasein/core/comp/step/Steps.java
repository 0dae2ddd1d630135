package dasein.core.comp.step;

import dasein.core.comp.Param;
import java.util.List;

/** The comp, step by step, in the order in which it is done. */
public final class Steps {
    public static final List<Step> ALL = List.of(
            new Gain(),
            new Saturation(),
            new Blacks(),
            new Softness(),
            new Shadow(),
            new Bounce(),
            new Reflection(),
            new Over(),
            new Grain());

    private static final List<Param> PARAMS =
            ALL.stream().flatMap(s -> s.params().stream()).toList();

    private Steps() {}

    /** Every number of the comp. */
    public static List<Param> params() {
        return PARAMS;
    }

    /** How far the performer may come to show beyond its own pixels. */
    public static int margin(dasein.core.comp.CompRecipe r, double scale) {
        return Softness.margin(r.get(Softness.SOFTNESS) * scale);
    }
}
