package dasein.core.comp.step;

import dasein.core.comp.CompRecipe;
import dasein.core.comp.Param;
import java.util.List;

/** Lifts the performer's darkest parts to this level, scene-linear, as haze and flare do. */
public final class Blacks implements Step.OnPerformer {
    public static final Param BLACKS = Param.of("blacks", "blacks", 0, 0.5).sliding(0, 0.1, 0.001);

    @Override
    public Group group() {
        return Group.PERFORMER;
    }

    @Override
    public List<Param> params() {
        return List.of(BLACKS);
    }

    @Override
    public void row(Layers l, CompRecipe r, int from, int to) {
        float lift = (float) r.get(BLACKS);
        float[] alpha = l.cg[3];
        for (int c = 0; c < 3; c++)
            for (int o = from; o < to; o++) l.cg[c][o] = l.cg[c][o] * (1 - lift) + lift * alpha[o];
    }
}
