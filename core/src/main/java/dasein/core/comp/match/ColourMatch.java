package dasein.core.comp.match;

import dasein.core.BadInput;
import dasein.core.comp.CompRecipe;
import dasein.core.comp.step.Gain;
import dasein.core.comp.step.Group;
import dasein.core.image.Image;
import dasein.core.render.pass.Passes;
import java.util.List;
import java.util.Locale;

/**
 * Sets performers' gain of each colour so that places which are to have the same colour in plate and render have it.
 */
final class ColourMatch implements Match {
    private static final float COVERED = 0.95f;

    @Override
    public String key() {
        return "colour";
    }

    @Override
    public Group group() {
        return Group.PERFORMER;
    }

    @Override
    public boolean ready(Taken t) {
        return t.pairs().stream().anyMatch(k -> k.frame() == t.frame());
    }

    @Override
    public Outcome of(Taken t) {
        Passes p = t.passes();
        if (p == null) throw new BadInput("there are no passes of this frame yet whose colours could be compared");
        List<ColourPair> pairs =
                t.pairs().stream().filter(k -> k.frame() == t.frame()).toList();
        if (pairs.isEmpty())
            throw new BadInput("pick a place of the plate and one of a performer that are to have the same colour, in "
                    + "this frame");
        Image plate = t.plate().apply(t.frame());
        double part = (double) p.width / plate.width;
        double[] log = new double[3], squares = new double[3];
        for (ColourPair k : pairs) {
            double[] there = Around.of(plate, k.x(), k.y()), own = own(p, k.ownX() * part, k.ownY() * part);
            if (there == null || own == null)
                throw new BadInput("of a pair one place is not on a performer in this frame; pick it again");
            for (int c = 0; c < 3; c++) {
                double r = Math.log(Math.max(1e-5, there[c]) / Math.max(1e-5, own[c]));
                log[c] += r / pairs.size();
                squares[c] += r * r / pairs.size();
            }
        }
        double[] k = new double[3];
        double off = 0;
        for (int c = 0; c < 3; c++) {
            k[c] = Math.exp(log[c]);
            if (pairs.size() > 1)
                off += k[c] * Math.sqrt(Math.max(0, squares[c] - log[c] * log[c]) / (pairs.size() - 1)) / 3;
        }
        double gain = 0.2126 * k[0] + 0.7152 * k[1] + 0.0722 * k[2];
        CompRecipe r = t.now()
                .with(Gain.GAIN, Gain.GAIN.held(gain))
                .with(Gain.RED, Gain.RED.held(k[0] / gain))
                .with(Gain.GREEN, Gain.GREEN.held(k[1] / gain))
                .with(Gain.BLUE, Gain.BLUE.held(k[2] / gain));
        String sure = pairs.size() > 1 ? String.format(Locale.ROOT, " +- %.2f", off) : ", of one pair";
        return new Outcome(r, said(k) + sure, said(now(t.now())));
    }

    private static double[] now(CompRecipe r) {
        double g = r.get(Gain.GAIN);
        return new double[] {g * r.get(Gain.RED), g * r.get(Gain.GREEN), g * r.get(Gain.BLUE)};
    }

    private static String said(double[] k) {
        return String.format(Locale.ROOT, "x %.2f %.2f %.2f", k[0], k[1], k[2]);
    }

    /** As it was rendered, without what it does not cover; null where it does not. */
    private static double[] own(Passes p, double x, double y) {
        double[] sum = new double[3];
        int n = 0;
        for (int j = (int) y - Around.HALF; j <= y + Around.HALF; j++)
            for (int i = (int) x - Around.HALF; i <= x + Around.HALF; i++) {
                if (i < 0 || j < 0 || i >= p.width || j >= p.height) continue;
                int o = j * p.width + i;
                if (p.alpha[o] < COVERED) continue;
                for (int c = 0; c < 3; c++) sum[c] += p.beauty[c][o] / p.alpha[o];
                n++;
            }
        if (n == 0) return null;
        for (int c = 0; c < 3; c++) sum[c] /= n;
        return sum;
    }
}
