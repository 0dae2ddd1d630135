package dasein.core.comp.step;

import dasein.core.comp.CompRecipe;
import dasein.core.comp.Param;
import java.util.List;

/** Lays the performer over the plate; added light comes with alpha 0. */
public final class Over implements Step.OnFrame {

    @Override
    public Group group() {
        return Group.PERFORMER;
    }

    @Override
    public List<Param> params() {
        return List.of();
    }

    @Override
    public void row(Layers.Row row, CompRecipe r) {
        float[][] cg = row.of.cg, frame = row.of.frame.planes;
        for (int n = 0; n < row.count; n++) {
            int o = row.box(row.changed[n]), i = row.first + row.changed[n];
            if (!row.shows(o)) continue;
            for (int c = 0; c < 3; c++) frame[c][i] = frame[c][i] * (1 - cg[3][o]) + cg[c][o];
        }
    }
}
