package dasein.core.comp.step;

import dasein.core.comp.CompRecipe;
import dasein.core.comp.Param;
import dasein.core.image.Filters;
import java.util.List;
import java.util.stream.IntStream;

/**
 * Light of the performer's brightest parts is scattered in the lens and lies around them. As much is taken from them as
 * is given, so that no light is made.
 */
public final class Glow implements Step.Whole {
    public static final Param AMOUNT =
            Param.of("glow", "glow, %", 0, 100).sliding(0, 40, 0.5).percent();
    /** Scene-linear; above it light is scattered. */
    public static final Param ABOVE =
            Param.of("glowAbove", "of what is brighter than", 1, 100).sliding(0, 4, 0.05);
    /** Sigma in pixels of the full-size plate. */
    public static final Param SPREAD = Param.of("glowPx", "spread, px", 12, 200).sliding(1, 60, 0.5);

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
        return "Glow";
    }

    @Override
    public List<Param> params() {
        return List.of(AMOUNT, ABOVE, SPREAD);
    }

    @Override
    public void apply(Layers l, CompRecipe r) {
        double amount = r.get(AMOUNT), spread = r.get(SPREAD) * l.scale;
        if (!(amount > 0) || !(spread > 0)) return;
        float above = (float) r.get(ABOVE), k = (float) amount;
        IntStream.range(0, 3).parallel().forEach(c -> {
            float[] cg = l.cg[c], over = new float[cg.length];
            for (int o = 0; o < over.length; o++) over[o] = k * Math.max(0, cg[o] - above * l.cg[3][o]);
            float[] around = Filters.spread(over, l.width, l.height, spread);
            for (int o = 0; o < over.length; o++) cg[o] += around[o] - over[o];
        });
    }

    static int margin(CompRecipe r, double scale) {
        return r.get(AMOUNT) > 0 ? Softness.margin(r.get(SPREAD) * scale) : 0;
    }
}
