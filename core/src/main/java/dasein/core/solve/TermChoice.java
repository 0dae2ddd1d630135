package dasein.core.solve;

import dasein.core.lens.Lens;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.function.ToDoubleFunction;
import java.util.stream.IntStream;

/**
 * Which terms of the lens the marks determine. From the normal equations with all of them free, cameras and points
 * eliminated, follows what any part of them would cost; the best by the Bayesian information criterion (Schwarz 1978)
 * is taken. Marks of one track err alike from frame to frame, so they count for fewer: with a correlation r from frame
 * to frame n are worth n (1 - r) / (1 + r) (Bartlett 1946, for a process of first order).
 *
 * @param free the bundle's unknowns of the lens that are to be solved
 * @param said what was taken and why, for a person
 */
record TermChoice(boolean[] free, String said) {
    private static final int[][] GROUPS = {
        {Bundle.K1}, {Bundle.K2}, {Bundle.K3}, {Bundle.P1, Bundle.P2}, {Bundle.CENTRE_X, Bundle.CENTRE_Y}
    };
    private static final String[] NAMES = {"k1", "k2", "k3", "tangential", "centre"};
    private static final int RADIAL = 3;
    /** A focal length that a term makes less certain than this part, and by so much, speaks against the term. */
    private static final double FOCAL_SURE = 0.01, FOCAL_WORSE = 1.5;
    /** Frame to frame correlation is believed up to here. */
    private static final double MOST_ALIKE = 0.95;
    /** Up to this part of the way to the corners a lens must show everything once. */
    private static final double UNFOLDED = 0.8;
    /** A centre is not looked for further out than this part of the width. */
    private static final double CENTRE_PART = 0.1;

    /**
     * @param now adjusted with some of the terms; @param width, height of the picture, pixels
     * @return null where nothing can be said: the equations are singular
     */
    static TermChoice of(Bundle now, LensTerms terms, int width, int height) {
        boolean[] most = now.free.lens().clone();
        for (int i = 0; i < Bundle.LENS; i++) if (i != Bundle.FOCAL) most[i] = terms.ask(i) != LensTerms.Ask.NEVER;
        Reduced r = Reduced.of(now.with(most), width, height);
        if (r == null) return null;
        double[] all = r.best(most);
        double n = now.obsCam.length,
                left = r.cost(all),
                variance = Spread.variance(now) * left / r.cost,
                alike = alike(now),
                // Of one coordinate, as it counts when marks err alike.
                counts = (1 + alike) / (1 - alike);
        if (!(variance > 0)) return null;
        List<boolean[]> sets = sets(terms, now.free.lens()[Bundle.FOCAL]);
        double sure = Double.MAX_VALUE;
        // Every lens bends lines a little: what k1 leaves open of the focal length is open, and where that is much, how
        // it bends is no less so.
        for (boolean[] s : sets)
            if (s[Bundle.K1] == most[Bundle.K1]) sure = Math.min(sure, r.focalOff(s, variance * counts));
        boolean[] best = null;
        double least = Double.MAX_VALUE;
        for (boolean[] s : sets) {
            double[] x = r.best(s);
            if (sure > FOCAL_SURE && s[Bundle.K1] != most[Bundle.K1]) continue;
            if (!central(r.lens(x), width, height)) continue;
            if (r.focalOff(s, variance * counts) > Math.max(FOCAL_SURE, FOCAL_WORSE * sure)) continue;
            double score = r.cost(x) / (variance * counts) + count(s) * Math.log(2 * n);
            if (score >= least) continue;
            least = score;
            best = s;
        }
        if (best == null) return null;
        return new TermChoice(
                best,
                said(
                        terms,
                        best,
                        set -> Math.sqrt(r.cost(r.best(set)) / n),
                        String.format(Locale.ROOT, "%,.0f sightings", n)));
    }

    private static boolean central(Lens l, int width, int height) {
        return Math.abs(l.centreX() - width / 2.0) < CENTRE_PART * width
                && Math.abs(l.centreY() - height / 2.0) < CENTRE_PART * width;
    }

    /** A lens whose picture unfolds nearly to its corners, and whose centre lies where centres do. */
    static boolean sane(Lens l, int width, int height) {
        if (!(l.focalPx() > 0) || !central(l, width, height)) return false;
        for (int k = 0; k < 4; k++) {
            double x = width * (0.5 + UNFOLDED * (k % 2 - 0.5)), y = height * (0.5 + UNFOLDED * (k / 2 - 0.5));
            double[] u = l.undistort(x, y), back = l.distortToPixel(u[0], u[1]);
            if (!(Math.hypot(back[0] - x, back[1] - y) < 0.5)) return false;
        }
        return true;
    }

    /** Every part of the terms that makes sense: of the radial ones a higher only with the lower. */
    static List<boolean[]> sets(LensTerms terms, boolean focal) {
        List<boolean[]> out = new ArrayList<>();
        for (int radial = 0; radial <= RADIAL; radial++)
            for (int t = 0; t < 2; t++)
                for (int c = 0; c < 2; c++) {
                    boolean[] with = {radial > 0, radial > 1, radial > 2, t > 0, c > 0};
                    boolean[] s = new boolean[Bundle.LENS];
                    s[Bundle.FOCAL] = focal;
                    for (int g = 0; g < GROUPS.length; g++) {
                        LensTerms.Ask ask = terms.ask(GROUPS[g][0]);
                        for (int i : GROUPS[g])
                            s[i] = ask == LensTerms.Ask.ALWAYS || ask == LensTerms.Ask.FIND && with[g];
                    }
                    if (out.stream().noneMatch(o -> java.util.Arrays.equals(o, s))) out.add(s);
                }
        return out;
    }

    static int count(boolean[] s) {
        return (int) IntStream.range(0, s.length).filter(i -> s[i]).count();
    }

    /** Correlation of what is left at neighbouring frames of the same track, 0 to {@link #MOST_ALIKE}. */
    private static double alike(Bundle b) {
        Jacobian residuals = new Jacobian(b);
        double[] e = new double[2], before = new double[2];
        double both = 0, own = 0;
        for (int p = 0; p < b.points.length; p++) {
            boolean known = false;
            for (int o = b.firstOfPoint[p]; o < b.firstOfPoint[p + 1]; o++) {
                boolean good = residuals.residual(o, e) && e[0] * e[0] + e[1] * e[1] < 9 * b.scale * b.scale;
                if (good && known && b.obsCam[o] == b.obsCam[o - 1] + 1) {
                    both += e[0] * before[0] + e[1] * before[1];
                    own += 0.5 * (e[0] * e[0] + e[1] * e[1] + before[0] * before[0] + before[1] * before[1]);
                }
                known = good;
                before[0] = e[0];
                before[1] = e[1];
            }
        }
        return own > 0 ? Math.max(0, Math.min(MOST_ALIKE, both / own)) : 0;
    }

    static int indexOf(List<boolean[]> sets, boolean[] one) {
        return IntStream.range(0, sets.size())
                .filter(k -> java.util.Arrays.equals(sets.get(k), one))
                .findFirst()
                .orElseThrow();
    }

    /** @param error that is left with some of the terms, pixels; @param over what they were judged by */
    static String said(LensTerms terms, boolean[] best, ToDoubleFunction<boolean[]> error, String over) {
        List<String> taken = new ArrayList<>(), not = new ArrayList<>();
        for (int g = 0; g < GROUPS.length; g++) {
            if (terms.ask(GROUPS[g][0]) != LensTerms.Ask.FIND) continue;
            if (!best[GROUPS[g][0]]) {
                not.add(NAMES[g]);
                continue;
            }
            boolean[] without = best.clone();
            for (int h = g; h < GROUPS.length; h++)
                if ((h == g || g < RADIAL && h < RADIAL) && terms.ask(GROUPS[h][0]) == LensTerms.Ask.FIND)
                    for (int i : GROUPS[h]) without[i] = false;
            taken.add(String.format(
                    Locale.ROOT,
                    "%s lowers the error from %.2f to %.2f px",
                    NAMES[g],
                    error.applyAsDouble(without),
                    error.applyAsDouble(best)));
        }
        String out = taken.isEmpty() ? "The lens is taken as straight" : "Of the lens " + String.join(", ", taken);
        if (!taken.isEmpty()) out += " over " + over;
        return out + (not.isEmpty() ? "." : "; " + String.join(", ", not) + " the marks do not determine.");
    }

    /**
     * Cost as it depends on the lens alone, everything else following: {@code cost - 2 g x + x M x} for a step x, which
     * is taken off; steps of terms that are left out bring them to rest.
     */
    private static final class Reduced {
        final double cost;
        private final double[][] m;
        private final double[] g, value;
        private final double focal;
        /** Place of each of the bundle's unknowns in m; -1 where it is held. */
        private final int[] at;

        private final int width, height;

        private Reduced(double cost, double[][] m, double[] g, double[] value, double focal, int[] at, int[] size) {
            this.cost = cost;
            this.m = m;
            this.g = g;
            this.value = value;
            this.focal = focal;
            this.at = at;
            width = size[0];
            height = size[1];
        }

        static Reduced of(Bundle b, int width, int height) {
            Normals.Part n = new Normals(b).all(0, new Normals.Part[Bundle.PARTS]);
            // The frame of everything is left to this; the lens does not depend on it.
            for (int i = 0; i < b.size; i++) n.s.add(i, i, 1e-9 * n.diag[i] + 1e-20);
            if (!n.s.factor()) return null;
            double[] y = n.g.clone();
            n.s.forward(y, 0);
            int l = b.lensSize, from = b.size - l;
            double[][] m = new double[l][l];
            double[] g = new double[l];
            // The lower right of the factor is that of the lens's own equations.
            for (int i = 0; i < l; i++) {
                for (int k = 0; k <= i; k++) g[i] += n.s.get(from + i, from + k) * y[from + k];
                for (int j = 0; j < l; j++)
                    for (int k = 0; k <= Math.min(i, j); k++)
                        m[i][j] += n.s.get(from + i, from + k) * n.s.get(from + j, from + k);
            }
            int[] at = new int[Bundle.LENS];
            for (int i = 0; i < at.length; i++) at[i] = b.lensAt(i) < 0 ? -1 : b.lensAt(i) - from;
            return new Reduced(
                    b.cost(b.cams, b.zoom, b.points, b.lens),
                    m,
                    g,
                    LensTerms.values(b.lens, width, height),
                    b.lens.focalPx(),
                    at,
                    new int[] {width, height});
        }

        /** The step with some terms free and the others brought to rest, by the bundle's numbers. */
        double[] best(boolean[] free) {
            double[] x = new double[Bundle.LENS];
            int[] in = IntStream.range(0, Bundle.LENS)
                    .filter(i -> at[i] >= 0 && free[i])
                    .toArray();
            for (int i = 0; i < x.length; i++) if (i != Bundle.FOCAL && !free[i]) x[i] = value[i];
            double[] b = new double[in.length];
            for (int i = 0; i < in.length; i++) {
                b[i] = g[at[in[i]]];
                for (int e = 0; e < x.length; e++) if (at[e] >= 0 && !free[e]) b[i] -= m[at[in[i]]][at[e]] * x[e];
            }
            double[] s = solve(part(in), b);
            for (int i = 0; i < in.length; i++) x[in[i]] = s[i];
            return x;
        }

        double cost(double[] x) {
            double c = cost;
            for (int i = 0; i < x.length; i++) {
                if (at[i] < 0) continue;
                c -= 2 * g[at[i]] * x[i];
                for (int j = 0; j < x.length; j++) if (at[j] >= 0) c += x[i] * m[at[i]][at[j]] * x[j];
            }
            return Math.max(1e-12, c);
        }

        Lens lens(double[] x) {
            double[] v = value.clone();
            for (int i = 0; i < v.length; i++) v[i] -= x[i];
            return LensTerms.lens(focal * Math.exp(Math.max(-1, Math.min(1, -x[Bundle.FOCAL]))), v, width, height);
        }

        /** Standard deviation of the focal length, as a part of it; 0 where it is held. */
        double focalOff(boolean[] free, double variance) {
            if (at[Bundle.FOCAL] < 0) return 0;
            int[] in = IntStream.range(0, Bundle.LENS)
                    .filter(i -> at[i] >= 0 && free[i])
                    .toArray();
            double[] b = new double[in.length];
            b[0] = 1;
            return Math.sqrt(Math.max(0, variance * solve(part(in), b)[0]));
        }

        private double[][] part(int[] in) {
            double[][] a = new double[in.length][in.length];
            for (int i = 0; i < in.length; i++) for (int j = 0; j < in.length; j++) a[i][j] = m[at[in[i]]][at[in[j]]];
            return a;
        }

        private static double[] solve(double[][] a, double[] b) {
            if (b.length == 0) return b;
            org.ejml.simple.SimpleMatrix x =
                    new org.ejml.simple.SimpleMatrix(a).solve(new org.ejml.simple.SimpleMatrix(b.length, 1, true, b));
            return x.getDDRM().data;
        }
    }
}
