package dasein.core.comp.step;

import dasein.core.comp.CompRecipe;
import dasein.core.comp.Param;
import java.util.List;

/** The performer from grey (0) over as rendered (1); luminance by ITU-R BT.709. */
public final class Saturation implements Step.OnPerformer {
    public static final Param SATURATION =
            Param.of("saturation", "saturation", 1, 3).sliding(0, 1.5, 0.01);

    @Override
    public Group group() {
        return Group.PERFORMER;
    }

    @Override
    public List<Param> params() {
        return List.of(SATURATION);
    }

    @Override
    public void row(Layers l, CompRecipe r, int from, int to) {
        float sat = (float) r.get(SATURATION);
        float[] red = l.cg[0], green = l.cg[1], blue = l.cg[2];
        for (int o = from; o < to; o++) {
            float y = 0.2126f * red[o] + 0.7152f * green[o] + 0.0722f * blue[o];
            red[o] = y + sat * (red[o] - y);
            green[o] = y + sat * (green[o] - y);
            blue[o] = y + sat * (blue[o] - y);
        }
    }
}
