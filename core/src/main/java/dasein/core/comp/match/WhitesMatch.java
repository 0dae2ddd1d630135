package dasein.core.comp.match;

import dasein.core.BadInput;
import dasein.core.comp.step.Gain;
import dasein.core.comp.step.Group;
import dasein.core.comp.step.Whites;
import dasein.core.image.Image;
import dasein.core.render.pass.Passes;
import java.util.Arrays;
import java.util.Locale;

/**
 * Ends performers' whites where the plate's end. A camera that has cut light off shows it: its brightest places are all
 * of one level. A plate in which nothing is cut off does not tell where it would have been.
 */
final class WhitesMatch implements Match {
    /** Part of a frame that counts as its brightest; how far, in codes, the very brightest may lie above that. */
    private static final double BRIGHTEST = 0.0003, PILE = 0.006;

    private static final int FRAMES = 3, LEAST = 200;

    @Override
    public String key() {
        return "whites";
    }

    @Override
    public Group group() {
        return Group.PERFORMER;
    }

    @Override
    public Outcome of(Taken t) {
        Passes p = t.passes();
        if (p == null) throw new BadInput("there are no passes of this frame yet whose whites could be compared");
        double own = 0, gain = t.now().get(Gain.GAIN);
        int seen = 0;
        for (int i = 0; i < p.alpha.length; i++) {
            if (!(p.alpha[i] > 0.98)) continue;
            seen++;
            own = Math.max(own, gain * brightest(p.beauty, i));
        }
        if (seen < LEAST) throw new BadInput("too little of a performer is seen in this frame: " + seen + " pixels");
        double top = 0, pile = 1;
        for (int f : t.spread(FRAMES)) {
            Image im = t.plate().apply(f);
            float[] most = new float[im.planes[0].length];
            for (int i = 0; i < most.length; i++) most[i] = brightest(im.planes, i);
            Arrays.sort(most);
            double high = most[most.length - 1],
                    many = most[(int) ((1 - BRIGHTEST) * (most.length - 1))],
                    over = t.encoding().encode(high) - t.encoding().encode(many);
            if (over < pile) {
                pile = over;
                top = many;
            }
        }
        double now = t.now().get(Whites.WHITES);
        String was = String.format(Locale.ROOT, "up to %.2f", now > 0 ? Math.min(now, own) : own);
        if (pile > PILE)
            return new Outcome(
                    t.now().with(Whites.WHITES, 0),
                    String.format(Locale.ROOT, "cuts nothing off: its brightest are %.1f %% apart", 100 * pile),
                    was);
        return new Outcome(
                t.now().with(Whites.WHITES, Whites.WHITES.held(top)),
                String.format(Locale.ROOT, "cut off at %.2f, within %.1f %%", top, 100 * pile),
                was);
    }

    private static float brightest(float[][] p, int i) {
        return Math.max(p[0][i], Math.max(p[1][i], p[2][i]));
    }
}
