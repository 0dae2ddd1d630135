package dasein.core.comp.step;

import dasein.core.comp.CompRecipe;
import dasein.core.comp.Param;
import java.util.List;

/** Takes from the plate what performers keep from it: density 1 as rendered, a tint for each colour's strength. */
public final class Shadow implements Step.OnFrame {
    public static final Param DENSITY = Param.of("shadow", "density", 1, 3).sliding(0, 1.5, 0.01);
    public static final Param RED = tint("tintRed", "tint red");
    public static final Param GREEN = tint("tintGreen", "tint green");
    public static final Param BLUE = tint("tintBlue", "tint blue");

    @Override
    public String group() {
        return "Shadow and given light";
    }

    @Override
    public List<Param> params() {
        return List.of(DENSITY, RED, GREEN, BLUE);
    }

    private static Param tint(String name, String label) {
        return Param.of(name, label, 1, 3).sliding(0.5, 1.5, 0.01);
    }

    @Override
    public void row(Layers.Row row, CompRecipe r) {
        float[][] shadow = row.of.passes.shadow, frame = row.of.frame.planes;
        Param[] tints = {RED, GREEN, BLUE};
        for (int c = 0; c < 3; c++) {
            float k = (float) r.get(DENSITY) * (float) r.get(tints[c]);
            for (int n = 0; n < row.count; n++) {
                int i = row.first + row.changed[n];
                frame[c][i] *= Math.max(0, 1 - (1 - shadow[c][i]) * k);
            }
        }
    }
}
