package dasein.core.comp.match;

import dasein.core.BadInput;
import dasein.core.NoSolution;
import dasein.core.comp.step.Group;
import dasein.core.comp.step.Haze;
import java.util.List;
import java.util.Locale;

/**
 * Sets the haze by dark places at known distances: there is seen what they show themselves and, the further the more,
 * the air's own light (Koschmieder 1924): {@code L(d) = D + (A - D) (1 - exp(-b d))} with one darkness D for all. With
 * two places D is taken to be the nearer's own.
 */
final class HazeMatch implements Match {
    private static final double LEAST = 1e-5, MOST = 0.2, STEP = 1.02;
    /** Part of the light over which the measured ones must be told apart. */
    private static final double TELLS = 0.01;

    @Override
    public String key() {
        return "haze";
    }

    @Override
    public Group group() {
        return Group.HAZE;
    }

    @Override
    public boolean ready(Taken t) {
        return !t.hazes().isEmpty();
    }

    @Override
    public Outcome of(Taken t) {
        List<HazePick> picks = t.hazes();
        if (picks.size() < 3)
            throw new BadInput(
                    "pick three or more dark places at known distances, near and far: there are " + picks.size());
        double[] d = picks.stream().mapToDouble(HazePick::metres).toArray();
        double[][] seen = new double[d.length][];
        for (int i = 0; i < d.length; i++) {
            seen[i] = Around.of(
                    t.plate().apply(picks.get(i).frame()),
                    picks.get(i).x(),
                    picks.get(i).y());
            if (seen[i] == null) throw new BadInput("a place that was picked lies outside the plate");
        }
        Fit f = fit(d, seen);
        double lost = 1 - Math.exp(-100 * f.rate);
        return new Outcome(
                t.now()
                        .with(Haze.HAZE, Haze.HAZE.held(lost))
                        .with(Haze.RED, Haze.RED.held(f.air[0]))
                        .with(Haze.GREEN, Haze.GREEN.held(f.air[1]))
                        .with(Haze.BLUE, Haze.BLUE.held(f.air[2])),
                String.format(
                        Locale.ROOT,
                        "%.0f %% lost in 100 m, light %.2f %.2f %.2f, off by %.1f %%",
                        100 * lost,
                        f.air[0],
                        f.air[1],
                        f.air[2],
                        100 * f.off),
                String.format(Locale.ROOT, "%.0f %%", 100 * t.now().get(Haze.HAZE)));
    }

    /** @param rate a metre; @param air its own light; @param off RMS that is left, over the air's light */
    record Fit(double rate, double[] air, double off) {}

    /** For every rate the air's light and the darkness are a straight line's; the rate that leaves least is taken. */
    static Fit fit(double[] d, double[][] seen) {
        Fit best = null;
        double far = 0, least = Double.MAX_VALUE;
        for (double v : d) far = Math.max(far, v);
        // Thinner air than loses a thousandth over the furthest place, and thicker than hides the nearest, tells
        // nothing.
        for (double b = Math.max(LEAST, 1e-3 / far); b < MOST; b *= STEP) {
            double[] air = new double[3];
            double left = 0, light = 0;
            boolean good = true;
            for (int c = 0; c < 3; c++) {
                double n = d.length, st = 0, stt = 0, sl = 0, stl = 0;
                for (int i = 0; i < d.length; i++) {
                    double x = 1 - Math.exp(-b * d[i]);
                    st += x;
                    stt += x * x;
                    sl += seen[i][c];
                    stl += x * seen[i][c];
                }
                double slope = (n * stl - st * sl) / (n * stt - st * st), dark = (sl - slope * st) / n;
                air[c] = dark + slope;
                light += air[c] / 3;
                good &= slope > 0 && dark > -0.02 && air[c] > 0;
                for (int i = 0; i < d.length; i++) {
                    double e = dark + slope * (1 - Math.exp(-b * d[i])) - seen[i][c];
                    left += e * e;
                }
            }
            double off = Math.sqrt(left / (3 * d.length)) / Math.max(1e-6, light);
            if (good && left < least) {
                least = left;
                best = new Fit(b, air, off);
            }
        }
        double low = Double.MAX_VALUE, high = 0;
        for (double[] s : seen) {
            low = Math.min(low, s[1]);
            high = Math.max(high, s[1]);
        }
        if (best == null || high - low < TELLS * best.air[1])
            throw new NoSolution(
                    "the places that were picked do not get brighter with their distance: no haze is seen");
        return best;
    }
}
