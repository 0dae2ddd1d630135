package dasein.core.comp.step;

import dasein.core.comp.CompRecipe;
import dasein.core.comp.Param;
import dasein.core.image.Filters;
import java.util.List;
import java.util.stream.IntStream;

/**
 * Sharpens performers as the camera sharpened the plate: adds so many times what a Gaussian takes away. Coverage is
 * sharpened along with light, beyond 0 and 1: so the plate beside a performer's edge gets the halo that the camera
 * would have drawn there, and nothing else of it changes (common practice; in scene-linear light).
 */
public final class Sharpen implements Step.Whole {
    public static final Param AMOUNT =
            Param.of("sharpen", "sharpened, times", 0, 5).sliding(0, 2, 0.01);
    /** Sigma in pixels of the full-size plate. */
    public static final Param SPREAD = Param.of("sharpenPx", "halos, px", 1, 20).sliding(0.3, 4, 0.05);

    @Override
    public Group group() {
        return Group.LENS;
    }

    @Override
    public boolean ofPerformer() {
        return true;
    }

    @Override
    public String title() {
        return "Halos of sharpening";
    }

    @Override
    public List<Param> params() {
        return List.of(AMOUNT, SPREAD);
    }

    @Override
    public void apply(Layers l, CompRecipe r) {
        float k = (float) r.get(AMOUNT);
        double sigma = r.get(SPREAD) * l.scale;
        if (!(k > 0) || !(sigma > 0)) return;
        IntStream.range(0, 4).parallel().forEach(c -> {
            float[] cg = l.cg[c], soft = Filters.gaussian(cg, l.width, l.height, sigma);
            for (int o = 0; o < cg.length; o++) cg[o] += k * (cg[o] - soft[o]);
        });
    }

    static int margin(CompRecipe r, double scale) {
        return r.get(AMOUNT) > 0 ? Softness.margin(r.get(SPREAD) * scale) : 0;
    }
}
