package dasein.core.comp.step;

import dasein.core.comp.CompRecipe;
import dasein.core.comp.Param;
import java.util.List;

/** Adds the mirror image of performers in wet ground. */
public final class Reflection implements Step.OnFrame {
    public static final Param REFLECTION =
            Param.of("reflection", "reflection", 1, 5).sliding(0, 2, 0.01);

    @Override
    public Group group() {
        return Group.REFLECTION;
    }

    @Override
    public List<Param> params() {
        return List.of(REFLECTION);
    }

    @Override
    public void row(Layers.Row row, CompRecipe r) {
        float k = (float) r.get(REFLECTION);
        float[][] light = row.of.passes.reflection, frame = row.of.frame.planes;
        for (int c = 0; c < 3; c++) {
            for (int n = 0; n < row.count; n++) {
                int i = row.first + row.changed[n];
                frame[c][i] += k * light[c][i];
            }
        }
    }
}
