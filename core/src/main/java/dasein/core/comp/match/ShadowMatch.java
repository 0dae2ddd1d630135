package dasein.core.comp.match;

import dasein.core.BadInput;
import dasein.core.comp.CompRecipe;
import dasein.core.comp.step.Group;
import dasein.core.comp.step.Shadow;
import dasein.core.image.Filters;
import dasein.core.light.Clues;
import dasein.core.render.pass.Passes;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;

/**
 * Sets density and colour of the shadow by a real one: what is left of the light there, beside ground that is lit, is
 * to be left in the darkest of the performer's own shadow, each colour by itself.
 */
final class ShadowMatch implements Match {
    /** The part of the performer's shadow that is its darkest. */
    private static final double DARKEST = 0.05;
    /** Below this much shadow, over what is hidden of the sky, the sun has none to be matched. */
    private static final float LEAST = 0.15f;

    /** Pixels over which the sampler's noise is evened out, which would be the darkest. */
    private static final double NOISE = 1.5;

    private static final int PIXELS = 100;
    /** Open part of the sky, at least, where own shadow is compared: real shadows are marked on open ground. */
    private static final float OPEN = 0.8f;

    @Override
    public String key() {
        return "shadow";
    }

    @Override
    public Group group() {
        return Group.SHADOW;
    }

    @Override
    public Outcome of(Taken t) {
        List<Clues.Patch>
                lit = t.clues().patches().stream().filter(Clues.Patch::lit).toList(),
                dark = t.clues().patches().stream().filter(p -> !p.lit()).toList();
        if (lit.isEmpty() || dark.isEmpty())
            throw new BadInput("mark ground in the sun and in shadow in Light first, beside each other");
        if (t.passes() == null)
            throw new BadInput("there are no passes of this frame yet whose shadow could be compared");
        double[] real = new double[3], own = darkest(t.passes());
        double[] up = mean(t, lit), down = mean(t, dark);
        double[] k = new double[3];
        for (int c = 0; c < 3; c++) {
            real[c] = down[c] / Math.max(1e-6, up[c]);
            if (!(real[c] < 1))
                throw new BadInput("the ground that is marked as in shadow is not darker than that in the sun");
            k[c] = (1 - real[c]) / (1 - own[c]);
        }
        double density = Math.max(k[0], Math.max(k[1], k[2]));
        double[] left = new double[3];
        for (int c = 0; c < 3; c++) left[c] = 1 - k[c] / density;
        CompRecipe r = t.now()
                .with(Shadow.DENSITY, Shadow.DENSITY.held(density))
                .with(Shadow.RED, Shadow.RED.held(left[0]))
                .with(Shadow.GREEN, Shadow.GREEN.held(left[1]))
                .with(Shadow.BLUE, Shadow.BLUE.held(left[2]));
        return new Outcome(r, said(real), said(made(t.now(), own)));
    }

    private static double[] made(CompRecipe r, double[] own) {
        double[] left = {r.get(Shadow.RED), r.get(Shadow.GREEN), r.get(Shadow.BLUE)}, out = new double[3];
        for (int c = 0; c < 3; c++) out[c] = Math.max(0, 1 - (1 - own[c]) * r.get(Shadow.DENSITY) * (1 - left[c]));
        return out;
    }

    private static String said(double[] v) {
        return String.format(Locale.ROOT, "%.2f %.2f %.2f of the light left", v[0], v[1], v[2]);
    }

    private static double[] mean(Taken t, List<Clues.Patch> of) {
        double[] sum = new double[3];
        for (Clues.Patch p : of) {
            double[] one = Around.of(t.plate().apply(p.frame()), p.x(), p.y());
            for (int c = 0; c < 3 && one != null; c++) sum[c] += one[c] / of.size();
        }
        return sum;
    }

    /**
     * What is left of each colour in the darkest part of the sun's shadow beside performers, on ground that sees most
     * of the sky; right under them, where it is darker still, if that is all there is.
     */
    private static double[] darkest(Passes p) {
        try {
            return darkest(p, OPEN);
        } catch (BadInput tooFew) {
            return darkest(p, 0);
        }
    }

    private static double[] darkest(Passes p, float open) {
        float[][] even = new float[3][];
        for (int c = 0; c < 3; c++) even[c] = Filters.gaussian(p.shadow[c], p.width, p.height, NOISE);
        float[] ao = Filters.gaussian(p.ao, p.width, p.height, NOISE), under = new float[ao.length];
        for (int i = 0; i < ao.length; i++) under[i] = ao[i] < open ? 1 : 0;
        // What is darker still must not have run into what is compared.
        under = Filters.gaussian(under, p.width, p.height, NOISE);
        boolean[] counts = new boolean[ao.length];
        for (int i = 0; i < ao.length; i++)
            counts[i] = p.alpha[i] < 0.02 && under[i] < 0.01 && even[1][i] < (1 - LEAST) * ao[i];
        double[] out = new double[3];
        for (int c = 0; c < 3; c++) {
            float[] v = new float[ao.length];
            int n = 0;
            for (int i = 0; i < v.length; i++) if (counts[i]) v[n++] = even[c][i];
            if (n < PIXELS) throw new BadInput("performers cast hardly any shadow of the sun in this frame");
            v = Arrays.copyOf(v, n);
            Arrays.sort(v);
            out[c] = v[(int) (DARKEST * (n - 1))];
        }
        return out;
    }
}
