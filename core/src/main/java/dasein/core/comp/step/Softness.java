package dasein.core.comp.step;

import dasein.core.comp.CompRecipe;
import dasein.core.comp.Param;
import dasein.core.image.Filters;
import java.util.List;
import java.util.stream.IntStream;

/**
 * Softens the performer as the plate's lens and coding do: Gaussian, sigma in pixels of the full-size plate; red and
 * blue, which lenses draw softer, by more. Coverage is softened as green is.
 */
public final class Softness implements Step.Whole {
    public static final Param SOFTNESS =
            Param.of("softnessPx", "softness, px", 0.6, 20).sliding(0, 3, 0.05);
    /** In quadrature to that of all. */
    public static final Param RED = more("softnessRedPx", "red besides, px"),
            BLUE = more("softnessBluePx", "blue besides, px");

    private static Param more(String name, String label) {
        return Param.of(name, label, 0, 20).sliding(0, 3, 0.05);
    }

    @Override
    public Group group() {
        return Group.LENS;
    }

    @Override
    public boolean ofPerformer() {
        return true;
    }

    @Override
    public List<Param> params() {
        return List.of(SOFTNESS, RED, BLUE);
    }

    @Override
    public void apply(Layers l, CompRecipe r) {
        double all = r.get(SOFTNESS), red = Math.hypot(all, r.get(RED)), blue = Math.hypot(all, r.get(BLUE));
        double[] sigma = {red, all, blue, all};
        IntStream.range(0, 4).parallel().forEach(c -> {
            double s = sigma[c] * l.scale;
            if (s > 0) l.cg[c] = Filters.gaussian(l.cg[c], l.width, l.height, s);
        });
    }

    static int margin(CompRecipe r, double scale) {
        double most = Math.max(r.get(RED), r.get(BLUE));
        return margin(Math.hypot(r.get(SOFTNESS), most) * scale);
    }

    /** Beyond this nothing of a Gaussian is left that a float would show. */
    static int margin(double sigma) {
        return sigma > 0 ? (int) Math.ceil(4 * sigma) + 1 : 0;
    }
}
