package dasein.core.comp.step;

import dasein.core.comp.CompRecipe;
import dasein.core.comp.Param;
import java.util.List;

/** Adds the light that performers give back to the set. */
public final class Bounce implements Step.OnFrame {
    public static final Param BOUNCE = Param.of("bounce", "bounce", 1, 5).sliding(0, 2, 0.01);

    @Override
    public Group group() {
        return Group.BOUNCE;
    }

    @Override
    public List<Param> params() {
        return List.of(BOUNCE);
    }

    @Override
    public void row(Layers.Row row, CompRecipe r) {
        float k = (float) r.get(BOUNCE);
        float[][] light = row.of.passes.bounce, frame = row.of.frame.planes;
        for (int c = 0; c < 3; c++) {
            for (int n = 0; n < row.count; n++) {
                int i = row.first + row.changed[n];
                frame[c][i] += k * light[c][i];
            }
        }
    }
}
