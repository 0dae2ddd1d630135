package dasein.core.comp.step;

import dasein.core.comp.CompRecipe;
import dasein.core.comp.Param;
import java.util.List;

/** Multiplies the performer's light, all of it and by colour. */
public final class Gain implements Step.OnPerformer {
    public static final Param GAIN = Param.of("gain", "gain", 1, 20).sliding(0.25, 3, 0.01);
    public static final Param RED = colour("gainRed", "gain of red"),
            GREEN = colour("gainGreen", "gain of green"),
            BLUE = colour("gainBlue", "gain of blue");

    private static Param colour(String name, String label) {
        return Param.of(name, label, 1, 5).sliding(0.5, 1.5, 0.005);
    }

    @Override
    public Group group() {
        return Group.PERFORMER;
    }

    @Override
    public List<Param> params() {
        return List.of(GAIN, RED, GREEN, BLUE);
    }

    @Override
    public void row(Layers l, CompRecipe r, int from, int to) {
        double gain = r.get(GAIN);
        float[] k = {(float) (gain * r.get(RED)), (float) (gain * r.get(GREEN)), (float) (gain * r.get(BLUE))};
        for (int c = 0; c < 3; c++) for (int o = from; o < to; o++) l.cg[c][o] *= k[c];
    }
}
