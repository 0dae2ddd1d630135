package dasein.core.comp.step;

import dasein.core.comp.CompRecipe;
import dasein.core.comp.Param;
import java.util.List;

/**
 * The air between: the performer's light fades with its distance, and the haze's own colour takes its place
 * (Koschmieder 1924). Reflection and given light on the ground are the plate's, which has its haze.
 */
public final class Haze implements Step.OnPerformer {
    /** Part of the light that is lost over a hundred metres. */
    public static final Param HAZE =
            Param.of("haze", "lost in 100 m, %", 0, 99).sliding(0, 90, 0.5).percent();
    /** Scene-linear. */
    public static final Param RED = colour("hazeRed", "haze, red"),
            GREEN = colour("hazeGreen", "haze, green"),
            BLUE = colour("hazeBlue", "haze, blue");

    private static final double METRES = 100;

    private static Param colour(String name, String label) {
        return Param.of(name, label, 0.6, 20).sliding(0, 2, 0.01);
    }

    @Override
    public Group group() {
        return Group.HAZE;
    }

    @Override
    public List<Param> params() {
        return List.of(HAZE, RED, GREEN, BLUE);
    }

    @Override
    public void row(Layers l, CompRecipe r, int from, int to) {
        double haze = r.get(HAZE);
        if (!(haze > 0)) return;
        double rate = -Math.log(1 - haze) / METRES;
        float[] colour = {(float) r.get(RED), (float) r.get(GREEN), (float) r.get(BLUE)};
        int y = from / l.width + l.y0;
        for (int o = from; o < to; o++) {
            float far = l.passes.depth[y * l.passes.width + l.x0 + o - from], a = l.cg[3][o];
            if (!(a > 0) || !(far < Float.POSITIVE_INFINITY)) continue;
            float keeps = (float) Math.exp(-rate * far);
            for (int c = 0; c < 3; c++) l.cg[c][o] = keeps * l.cg[c][o] + (1 - keeps) * colour[c] * a;
        }
    }
}
