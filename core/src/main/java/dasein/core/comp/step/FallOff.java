package dasein.core.comp.step;

import dasein.core.comp.CompRecipe;
import dasein.core.comp.Param;
import java.util.List;

/** The lens gives less light to the corners: by the square of the distance from the middle, in full at the corner. */
public final class FallOff implements Step.OnPerformer {
    public static final Param CORNER = Param.of("fallOff", "darker in corners, %", 0, 95)
            .sliding(0, 60, 0.5)
            .percent();

    @Override
    public Group group() {
        return Group.LENS;
    }

    @Override
    public String title() {
        return "Darker corners";
    }

    @Override
    public List<Param> params() {
        return List.of(CORNER);
    }

    @Override
    public void row(Layers l, CompRecipe r, int from, int to) {
        double corner = r.get(CORNER);
        if (!(corner > 0)) return;
        double cx = l.passes.width / 2.0, cy = l.passes.height / 2.0, all = cx * cx + cy * cy;
        double y = from / l.width + l.y0 + 0.5 - cy;
        for (int o = from; o < to; o++) {
            double x = l.x0 + o - from + 0.5 - cx;
            float k = (float) (1 - corner * (x * x + y * y) / all);
            for (int c = 0; c < 3; c++) l.cg[c][o] *= k;
        }
    }
}
