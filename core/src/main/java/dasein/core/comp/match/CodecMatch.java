package dasein.core.comp.match;

import dasein.core.NoSolution;
import dasein.core.comp.step.Codec;
import dasein.core.comp.step.Group;
import dasein.core.math.Medians;
import java.util.Locale;

/** Sets how coarsely performers are coded by how coarsely the plate was, which its decoder tells. */
final class CodecMatch implements Match {
    private static final int FRAMES = 12;

    @Override
    public String key() {
        return "compression";
    }

    @Override
    public Group group() {
        return Group.CODEC;
    }

    @Override
    public Outcome of(Taken t) {
        double[] step = new double[FRAMES];
        int n = 0;
        for (int k = 0; k < FRAMES; k++) {
            double s = t.quantiser().applyAsDouble(t.spread(FRAMES)[k]);
            if (!Double.isNaN(s)) step[n++] = s;
        }
        if (n == 0) throw new NoSolution("the plate's file does not tell how coarsely it was coded");
        step = java.util.Arrays.copyOf(step, n);
        double s = Medians.of(step);
        return new Outcome(
                t.now().with(Codec.STEP, Codec.STEP.held(s)).with(Codec.HALF, t.halfColour() ? 1 : 0),
                String.format(
                        Locale.ROOT,
                        "steps of %.2f %% +- %.2f%s",
                        100 * s,
                        100 * Medians.spread(step),
                        t.halfColour() ? ", colours at half size" : ""),
                String.format(Locale.ROOT, "%.2f %%", 100 * t.now().get(Codec.STEP)));
    }
}
