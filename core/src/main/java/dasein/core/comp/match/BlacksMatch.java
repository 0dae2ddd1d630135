package dasein.core.comp.match;

import dasein.core.BadInput;
import dasein.core.comp.step.Blacks;
import dasein.core.comp.step.Gain;
import dasein.core.comp.step.Group;
import dasein.core.image.Filters;
import dasein.core.image.Image;
import dasein.core.render.pass.Passes;
import java.util.Arrays;
import java.util.Locale;

/**
 * Lifts performers' blacks to the plate's floor. Air, flare and grading lift all that is dark to one level, which much
 * of the plate then has; where its darkest places differ from each other there is no floor, only nothing blacker, and a
 * dark performer may be darker than them.
 */
final class BlacksMatch implements Match {
    /** Parts of the plate that are its very darkest, and its dark; of the performer its dark. */
    private static final double DARKEST = 0.0005, DARK = 0.01, OWN = 0.005;
    /** By how much, in codes, these may differ where there is a floor. */
    private static final double FLOOR = 0.012;

    private static final int LEAST = 200, FRAMES = 3;
    /** Pixels over which grain is averaged out. */
    private static final double CALM = 1.5;

    @Override
    public String key() {
        return "blacks";
    }

    @Override
    public Group group() {
        return Group.PERFORMER;
    }

    @Override
    public Outcome of(Taken t) {
        Passes p = t.passes();
        if (p == null) throw new BadInput("there are no passes of this frame yet whose blacks could be compared");
        float[] own = new float[p.alpha.length];
        int n = 0;
        double gain = t.now().get(Gain.GAIN), now = t.now().get(Blacks.BLACKS);
        for (int i = 0; i < own.length; i++) if (p.alpha[i] > 0.98) own[n++] = (float) (gain * luma(p.beauty, i));
        if (n < LEAST) throw new BadInput("too little of a performer is seen in this frame: " + n + " pixels");
        double[] low = new double[FRAMES], dark = new double[FRAMES];
        for (int k = 0; k < FRAMES; k++) {
            Image im = t.plate().apply(t.spread(FRAMES)[k]);
            float[] calm = Filters.gaussian(im.luminance(), im.width, im.height, CALM);
            low[k] = percentile(calm, calm.length, DARKEST);
            dark[k] = percentile(calm, calm.length, DARK);
        }
        Arrays.sort(low);
        Arrays.sort(dark);
        double floor = low[FRAMES / 2], ink = percentile(own, n, OWN);
        double a = t.encoding().encode(floor), b = t.encoding().encode(dark[FRAMES / 2]);
        String was = String.format(Locale.ROOT, "%.1f %%", 100 * t.encoding().encode(ink + (1 - ink) * now));
        if (b - a > FLOOR)
            return new Outcome(
                    t.now().with(Blacks.BLACKS, 0),
                    String.format(Locale.ROOT, "has no floor: its darks lie from %.1f to %.1f %%", 100 * a, 100 * b),
                    was);
        double lift = Math.max(0, (floor - ink) / (1 - ink));
        return new Outcome(
                t.now().with(Blacks.BLACKS, Blacks.BLACKS.held(lift)),
                String.format(Locale.ROOT, "floor %.1f %% +- %.1f", 100 * a, 50 * (b - a)),
                was);
    }

    private static float luma(float[][] p, int i) {
        return 0.2126f * p[0][i] + 0.7152f * p[1][i] + 0.0722f * p[2][i];
    }

    private static double percentile(float[] v, int n, double part) {
        float[] s = Arrays.copyOf(v, n);
        Arrays.sort(s);
        return s[(int) (part * (n - 1))];
    }
}
