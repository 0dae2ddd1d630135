package dasein.core.comp.match;

import dasein.core.BadInput;
import dasein.core.comp.step.Blacks;
import dasein.core.comp.step.Gain;
import dasein.core.comp.step.Group;
import dasein.core.image.Filters;
import dasein.core.image.Image;
import dasein.core.render.pass.Passes;
import java.util.Arrays;
import java.util.BitSet;
import java.util.List;
import java.util.Locale;

/**
 * Lifts performers' blacks to the plate's floor. Air, flare and grading lift all that is dark to one level, which much
 * of the plate then has; where its darkest places differ from each other there is no floor, only nothing blacker, and a
 * dark performer may be darker than them. Air lifts what is far more: where enough solved points lie about as far as
 * the performer, the floor is looked for around them.
 */
final class BlacksMatch implements Match {
    /** Parts of the plate that are its very darkest, and its dark; of the performer its dark. */
    private static final double DARKEST = 0.0005, DARK = 0.01, OWN = 0.005;
    /** By how much, in codes, these may differ where there is a floor. */
    private static final double FLOOR = 0.012;

    /** Times, that what lies about as far may lie nearer or further; points of it there must be. */
    private static final double LIKE = 1.5;

    private static final int POINTS = 8;
    /** How far around such a point, in widths of the frame. */
    private static final double AROUND = 0.025;
    /** By how much, in codes, half of what lies around them is above a floor: an even surface is not dark for that. */
    private static final double ABOVE = 0.1;

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
        float[] own = new float[p.alpha.length], far = new float[p.alpha.length];
        int n = 0, m = 0;
        double gain = t.now().get(Gain.GAIN), now = t.now().get(Blacks.BLACKS);
        for (int i = 0; i < own.length; i++)
            if (p.alpha[i] > 0.98) {
                own[n++] = (float) (gain * luma(p.beauty, i));
                if (p.depth[i] < Float.POSITIVE_INFINITY) far[m++] = p.depth[i];
            }
        if (n < LEAST) throw new BadInput("too little of a performer is seen in this frame: " + n + " pixels");
        double metres = m == 0 ? 0 : percentile(far, m, 0.5);
        double[] low = new double[FRAMES], dark = new double[FRAMES];
        int alike = 0;
        for (int k = 0; k < FRAMES; k++) {
            int f = t.spread(FRAMES)[k];
            Image im = t.plate().apply(f);
            float[] calm = Filters.gaussian(im.luminance(), im.width, im.height, CALM),
                    there = around(calm, im, t.points().apply(f), metres);
            if (there != null && floored(there, t)) {
                calm = there;
                alike++;
            }
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
                String.format(Locale.ROOT, "floor %.1f %% +- %.1f", 100 * a, 50 * (b - a))
                        + (2 * alike > FRAMES ? String.format(Locale.ROOT, ", %.0f m away", metres) : ""),
                was);
    }

    /** What lies around points that are about as far; null where those are few. */
    private static float[] around(float[] of, Image im, List<SeenPoint> points, double metres) {
        List<SeenPoint> alike = points.stream()
                .filter(q -> q.metres() < LIKE * metres && q.metres() > metres / LIKE)
                .toList();
        if (alike.size() < POINTS) return null;
        double r = AROUND * im.width;
        BitSet there = new BitSet(of.length);
        for (SeenPoint q : alike)
            for (int y = (int) Math.max(0, q.y() - r); y < Math.min(im.height, q.y() + r); y++)
                there.set(
                        y * im.width + (int) Math.max(0, Math.min(im.width, q.x() - r)),
                        y * im.width + (int) Math.max(0, Math.min(im.width, q.x() + r)));
        float[] out = new float[there.cardinality()];
        int n = 0;
        for (int i = there.nextSetBit(0); i >= 0; i = there.nextSetBit(i + 1)) out[n++] = of[i];
        return out;
    }

    private static boolean floored(float[] v, Taken t) {
        double a = t.encoding().encode(percentile(v, v.length, DARKEST)),
                b = t.encoding().encode(percentile(v, v.length, DARK)),
                half = t.encoding().encode(percentile(v, v.length, 0.5));
        return b - a <= FLOOR && half - b > ABOVE;
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
