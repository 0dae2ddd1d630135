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
 * Lifts performers' blacks to the plate's, by low percentiles of both: of the plate where it stands in the picture as
 * the performer does, in height, because what is far off lies higher in it and behind more air.
 */
final class BlacksMatch implements Match {
    private static final double PART = 0.005;
    private static final int LEAST = 200;
    /** Beyond the performer's own rows, over their number. */
    private static final double AROUND = 0.25;
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
        int n = 0, top = p.height, bottom = 0;
        double gain = t.now().get(Gain.GAIN);
        for (int i = 0; i < own.length; i++) {
            if (!(p.alpha[i] > 0.98)) continue;
            own[n++] = (float) (gain * luma(p.beauty, i));
            top = Math.min(top, i / p.width);
            bottom = Math.max(bottom, i / p.width + 1);
        }
        if (n < LEAST) throw new BadInput("too little of a performer is seen in this frame: " + n + " pixels");
        Image im = t.plate().apply(t.frame());
        int rows = bottom - top,
                from = Math.max(0, (int) ((top - AROUND * rows) * im.height / p.height)),
                to = Math.min(im.height, (int) Math.ceil((bottom + AROUND * rows) * im.height / p.height));
        float[] y = new float[im.width * im.height];
        for (int i = 0; i < y.length; i++) y[i] = luma(im.planes, i);
        float[] plate =
                Arrays.copyOfRange(Filters.gaussian(y, im.width, im.height, CALM), from * im.width, to * im.width);
        double low = percentile(plate, plate.length), dark = percentile(own, n), lift = (low - dark) / (1 - dark);
        return new Outcome(
                t.now().with(Blacks.BLACKS, Blacks.BLACKS.held(Math.max(0, lift))),
                said(t, low),
                said(t, dark + (1 - dark) * t.now().get(Blacks.BLACKS)));
    }

    private static String said(Taken t, double linear) {
        return String.format(
                Locale.ROOT, "darkest %.1f %% of the codes", 100 * t.encoding().encode(linear));
    }

    private static float luma(float[][] p, int i) {
        return 0.2126f * p[0][i] + 0.7152f * p[1][i] + 0.0722f * p[2][i];
    }

    private static double percentile(float[] v, int n) {
        float[] s = Arrays.copyOf(v, n);
        Arrays.sort(s);
        return s[(int) (PART * (n - 1))];
    }
}
