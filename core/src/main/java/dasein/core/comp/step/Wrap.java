package dasein.core.comp.step;

import dasein.core.comp.CompRecipe;
import dasein.core.comp.Param;
import dasein.core.image.Filters;
import dasein.core.image.Image;
import java.util.List;
import java.util.stream.IntStream;

/**
 * Bright surroundings are scattered by the lens over a performer's edge, as over everything in the plate: a part of the
 * light beside it, spread, is added where it covers the plate.
 */
public final class Wrap implements Step.Whole {
    public static final Param WRAP =
            Param.of("wrap", "light wrap, %", 0, 100).sliding(0, 30, 0.5).percent();
    /** Sigma in pixels of the full-size plate. */
    public static final Param SPREAD =
            Param.of("wrapPx", "wrap's spread, px", 8, 200).sliding(1, 40, 0.5);

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
        return "Light wrap";
    }

    @Override
    public List<Param> params() {
        return List.of(WRAP, SPREAD);
    }

    @Override
    public void apply(Layers l, CompRecipe r) {
        float wrap = (float) r.get(WRAP);
        double spread = r.get(SPREAD) * l.scale;
        if (!(wrap > 0) || !(spread > 0) || l.width == 0) return;
        float[] alpha = l.cg[3];
        float[][] beside = new float[3][l.width * l.height];
        Image.rows(l.height, y -> {
            for (int x = 0, o = y * l.width, i = (y + l.y0) * l.passes.width + l.x0; x < l.width; x++, o++, i++)
                for (int c = 0; c < 3; c++) beside[c][o] = l.frame.planes[c][i] * Math.max(0, 1 - alpha[o]);
        });
        IntStream.range(0, 3).parallel().forEach(c -> {
            float[] spilled = Filters.spread(beside[c], l.width, l.height, spread);
            for (int o = 0; o < spilled.length; o++) l.cg[c][o] += wrap * alpha[o] * spilled[o];
        });
    }

    static int margin(CompRecipe r, double scale) {
        return r.get(WRAP) > 0 ? Softness.margin(r.get(SPREAD) * scale) : 0;
    }
}
