package dasein.core.comp.step;

import dasein.core.comp.CompRecipe;
import dasein.core.comp.Param;
import java.util.List;

/**
 * Nothing of a performer is brighter than what the plate's camera could still tell apart: from the knee on light comes
 * ever nearer to the ceiling, without a corner, and never beyond it. After the lens, which spreads light that is cut
 * off only behind it.
 */
public final class Whites implements Step.OnPerformer {
    /** Scene-linear; 0: as bright as it is. */
    public static final Param WHITES =
            Param.of("whites", "whites end at (0: open)", 0, 20).sliding(0, 4, 0.01);

    /** Part of the ceiling up to which light stays as it is. */
    private static final float KNEE = 0.8f;

    @Override
    public Group group() {
        return Group.PERFORMER;
    }

    @Override
    public List<Param> params() {
        return List.of(WHITES);
    }

    @Override
    public void row(Layers l, CompRecipe r, int from, int to) {
        float top = (float) r.get(WHITES), knee = KNEE * top, room = top - knee;
        if (!(top > 0)) return;
        for (int c = 0; c < 3; c++)
            for (int o = from; o < to; o++) {
                float v = l.cg[c][o];
                if (v > knee) l.cg[c][o] = top - room * (float) Math.exp((knee - v) / room);
            }
    }
}
