package dasein.core.comp.match;

import dasein.core.BadInput;
import dasein.core.NoSolution;
import dasein.core.comp.step.Group;
import dasein.core.comp.step.Shadow;
import dasein.core.image.Filters;
import dasein.core.image.Image;
import dasein.core.light.Clues;
import dasein.core.light.sun.Penumbra;
import dasein.core.render.pass.Passes;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Random;

/**
 * Softens performers' shadows as far as a real one's edge is softer. Both are measured across, the real one where a
 * stroke was drawn in Light, the own ones where they are steepest; widths add as their squares do. A shadow that is
 * softer than the real one cannot be made harder here: then its sun is too large.
 */
final class ShadowEdgeMatch implements Match {
    /** Half lengths of strokes over own edges, pixels: the first that reaches even light on both sides. */
    private static final int[] REACH = {6, 12, 24, 48};

    private static final int TRIED = 600, ENOUGH = 40, LEAST = 5;
    /** Least change of light over an edge; what of it may still be going on at its ends. */
    private static final float CHANGE = 0.15f, EVEN = 0.06f;
    /** The own one may be so much wider before it is said to be too soft. */
    private static final double WIDER = 1.15;
    /** Of the darkness of a shadow's core, that softening must leave. */
    private static final double LEAST_LEFT = 0.6;

    @Override
    public String key() {
        return "shadow edge";
    }

    @Override
    public Group group() {
        return Group.SHADOW;
    }

    @Override
    public boolean ready(Taken t) {
        return !t.clues().edges().isEmpty();
    }

    @Override
    public Outcome of(Taken t) {
        if (!ready(t)) throw new BadInput("draw a stroke across the edge of a real shadow in Light first");
        Passes p = t.passes();
        if (p == null) throw new BadInput("there are no passes of this frame yet whose shadow could be compared");
        List<Double> real = new ArrayList<>();
        for (Clues.Edge e : t.clues().edges())
            real.add(sigma(Penumbra.measure(
                    t.plate().apply(e.frame()),
                    new double[] {e.fromX(), e.fromY()},
                    new double[] {e.toX(), e.toY()},
                    Penumbra.PIXEL_BLUR)));
        Image plate = t.plate().apply(t.frame());
        double part = (double) p.width / plate.width;
        List<Double> own = own(p).stream().map(s -> s / part).toList();
        if (own.size() < LEAST)
            throw new NoSolution("performers' shadows have no edge in this frame that can be measured");
        double want = median(real), is = median(own), soft = Math.sqrt(Math.max(0, want * want - is * is));
        double left = left(p, soft * part);
        if (left < LEAST_LEFT)
            throw new BadInput(String.format(
                    Locale.ROOT,
                    "the real edge is drawn over %.1f px, performers' over %.1f: so much softer only %.0f %% of their "
                            + "shadow's darkness would be left, for what throws the real one stands much higher. Make "
                            + "the sun as large in Light, which softens each shadow by its own height",
                    want,
                    is,
                    100 * left));
        double now = t.now().get(Shadow.SOFT);
        String plain = String.format(Locale.ROOT, "%.1f px%s", want, spread(real));
        return new Outcome(
                t.now().with(Shadow.SOFT, Shadow.SOFT.held(soft)),
                is > WIDER * want ? plain + ", harder than the render's: its sun is too large, see Light" : plain,
                String.format(Locale.ROOT, "%.1f px%s", Math.hypot(is, now), spread(own)));
    }

    /** What is left of the darkest twentieth of performers' shadow once that is softened. */
    private static double left(Passes p, double sigma) {
        float[] dark = new float[p.alpha.length];
        for (int i = 0; i < dark.length; i++) dark[i] = 1 - p.shadow[1][i];
        float[] soft = Filters.gaussian(dark, p.width, p.height, sigma);
        double[] is = new double[2];
        for (int k = 0; k < 2; k++) {
            float[] from = k == 0 ? dark : soft, v = new float[dark.length];
            int n = 0;
            for (int i = 0; i < v.length; i++) if (dark[i] > CHANGE && p.alpha[i] < 0.01f) v[n++] = from[i];
            v = Arrays.copyOf(v, n);
            Arrays.sort(v);
            is[k] = n == 0 ? 1 : v[(int) (0.95 * (n - 1))];
        }
        return is[1] / is[0];
    }

    /** Standard deviation of a half circle's distribution (Wigner's) is half its radius. */
    private static double sigma(Penumbra.Edge e) {
        return e.radiusPx() / 2;
    }

    private static String spread(List<Double> of) {
        if (of.size() < 2) return ", of one edge";
        double m = median(of);
        double[] off = of.stream().mapToDouble(v -> Math.abs(v - m)).sorted().toArray();
        return String.format(Locale.ROOT, " +- %.1f, of %d edges", 1.48 * off[off.length / 2], of.size());
    }

    private static double median(List<Double> of) {
        double[] v = of.stream().mapToDouble(Double::doubleValue).sorted().toArray();
        return v[v.length / 2];
    }

    /** Of the edges of rendered shadows, pixels of the passes. */
    private static List<Double> own(Passes p) {
        int w = p.width, h = p.height, margin = REACH[REACH.length - 1] + 2;
        float[] s = p.shadow[1];
        List<Integer> places = new ArrayList<>();
        for (int y = margin; y < h - margin; y++)
            for (int x = margin; x < w - margin; x++) {
                int i = y * w + x;
                if (s[i] < 1 && Math.hypot(s[i + 2] - s[i - 2], s[i + 2 * w] - s[i - 2 * w]) > 0.02) places.add(i);
            }
        java.util.Collections.shuffle(places, new Random(3));
        Image light = new Image(w, h, s, s, s);
        List<Double> out = new ArrayList<>();
        for (int i : places.subList(0, Math.min(TRIED, places.size()))) {
            double gx = s[i + 2] - s[i - 2], gy = s[i + 2 * w] - s[i - 2 * w], g = Math.hypot(gx, gy);
            double radius = across(p, light, i % w + 0.5, i / w + 0.5, gx / g, gy / g);
            if (radius > 0) out.add(radius / 2);
            if (out.size() == ENOUGH) break;
        }
        return out;
    }

    /** Radius of the edge at a place with its way across; 0 where there is none between even sides on open ground. */
    private static double across(Passes p, Image light, double x, double y, double ux, double uy) {
        for (int reach : REACH) {
            float[] v = new float[2 * reach + 1];
            for (int k = -reach; k <= reach; k++) {
                double a = x + k * ux, b = y + k * uy;
                if (p.alpha[(int) b * p.width + (int) a] > 0.01f) return 0;
                v[k + reach] = light.sample(a, b, 0);
            }
            float change = v[2 * reach] - v[0];
            int end = Math.max(2, reach / 4);
            if (change < CHANGE) continue;
            if (Math.abs(v[end] - v[0]) > EVEN * change || Math.abs(v[2 * reach] - v[2 * reach - end]) > EVEN * change)
                continue;
            try {
                return Penumbra.measure(
                                light,
                                new double[] {x - reach * ux, y - reach * uy},
                                new double[] {x + reach * ux, y + reach * uy},
                                Penumbra.PIXEL_BLUR)
                        .radiusPx();
            } catch (BadInput none) {
                return 0;
            }
        }
        return 0;
    }
}
