package dasein.core.comp.step;

import dasein.core.comp.CompRecipe;
import dasein.core.comp.Param;
import java.util.List;

/** Multiplies the performer's light. */
public final class Gain implements Step.OnPerformer {
    public static final Param GAIN = Param.of("gain", "gain", 1, 20).sliding(0.25, 3, 0.01);

    @Override
    public String group() {
        return "Performer";
    }

    @Override
    public List<Param> params() {
        return List.of(GAIN);
    }

    @Override
    public void row(Layers l, CompRecipe r, int from, int to) {
        float gain = (float) r.get(GAIN);
        for (int c = 0; c < 3; c++) for (int o = from; o < to; o++) l.cg[c][o] *= gain;
    }
}
