package dasein.core.comp.step;

import dasein.core.comp.CompRecipe;
import dasein.core.comp.Param;
import dasein.core.image.Filters;
import java.util.List;
import java.util.stream.IntStream;

/** Softens the performer as the plate's lens and coding do: Gaussian, sigma in pixels of the full-size plate. */
public final class Softness implements Step.Whole {
    public static final Param SOFTNESS =
            Param.of("softnessPx", "softness, px", 0.6, 20).sliding(0, 3, 0.05);

    @Override
    public String group() {
        return "Performer";
    }

    @Override
    public List<Param> params() {
        return List.of(SOFTNESS);
    }

    @Override
    public void apply(Layers l, CompRecipe r) {
        double sigma = r.get(SOFTNESS) * l.scale;
        if (sigma > 0)
            IntStream.range(0, 4)
                    .parallel()
                    .forEach(c -> l.cg[c] = Filters.gaussian(l.cg[c], l.width, l.height, sigma));
    }

    /** Beyond this nothing of a Gaussian is left that a float would show. */
    static int margin(double sigma) {
        return sigma > 0 ? (int) Math.ceil(4 * sigma) + 1 : 0;
    }
}
