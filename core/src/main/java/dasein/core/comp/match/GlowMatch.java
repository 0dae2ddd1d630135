package dasein.core.comp.match;

import dasein.core.NoSolution;
import dasein.core.comp.step.Glow;
import dasein.core.comp.step.Group;
import dasein.core.image.Image;
import dasein.core.math.Medians;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;

/**
 * Sets the glow by the plate's own lamps and glints: around what is cut off at white lies light, more than further
 * away, which a Gaussian spread of that light explains. How bright what is cut off really was nobody knows; what is set
 * is right for a performer's light that is as bright as the plate's white.
 */
final class GlowMatch implements Match {
    private static final int FRAMES = 3, LEAST_AREA = 4, MOST_AREA = 1500, LEAST = 2;
    /** Part of white from which on a pixel is taken to be cut off, and from which on its light is scattered. */
    private static final double WHITE = 0.97, ABOVE = 0.5;
    /** Rings around what is cut off, pixels; the last ones tell what is behind. */
    private static final int RINGS = 60, BEHIND = 45, FREE = 2;

    private static final double FAINT = 0.003;

    @Override
    public String key() {
        return "glow";
    }

    @Override
    public Group group() {
        return Group.LENS;
    }

    /**
     * A source: radius of a disc of its area, and what lies around it over what is behind, by distance from its edge.
     */
    record Source(double radius, double[] around) {}

    @Override
    public Outcome of(Taken t) {
        List<Source> sources = new ArrayList<>();
        double white = t.encoding().decode(1);
        for (int k = 0; k < FRAMES; k++) look(t.plate().apply(t.spread(FRAMES)[k]), white, sources);
        if (sources.size() < LEAST)
            throw new NoSolution("the plate has no small lamp or glint that is cut off at white with room around it");
        double[] f = fit(sources, white);
        String plate = f[0] * (1 - ABOVE) < FAINT
                ? "hardly any around " + sources.size() + " lamps and glints"
                : String.format(
                        Locale.ROOT,
                        "%.1f %% +- %.1f over %.0f px, of %d lamps and glints",
                        100 * f[0],
                        100 * f[2],
                        f[1],
                        sources.size());
        return new Outcome(
                t.now()
                        .with(Glow.AMOUNT, Glow.AMOUNT.held(f[0] * (1 - ABOVE) < FAINT ? 0 : f[0]))
                        .with(Glow.ABOVE, Glow.ABOVE.held(ABOVE * white))
                        .with(Glow.SPREAD, Glow.SPREAD.held(f[1])),
                plate,
                String.format(Locale.ROOT, "%.1f %%", 100 * t.now().get(Glow.AMOUNT)));
    }

    static void look(Image im, double white, List<Source> out) {
        int w = im.width, h = im.height;
        float[] y = im.luminance();
        boolean[] cut = new boolean[w * h], seen = new boolean[w * h];
        for (int i = 0; i < cut.length; i++)
            cut[i] = Math.max(im.planes[0][i], Math.max(im.planes[1][i], im.planes[2][i])) >= WHITE * white;
        for (int i = 0; i < cut.length; i++) {
            if (!cut[i] || seen[i]) continue;
            ArrayDeque<Integer> open = new ArrayDeque<>(List.of(i));
            List<Integer> all = new ArrayList<>();
            seen[i] = true;
            while (!open.isEmpty()) {
                int p = open.poll();
                all.add(p);
                for (int d : new int[] {-1, 1, -w, w}) {
                    int q = p + d;
                    if (q < 0 || q >= cut.length || !cut[q] || seen[q] || Math.abs(q % w - p % w) > 1) continue;
                    seen[q] = true;
                    open.add(q);
                }
            }
            if (all.size() < LEAST_AREA || all.size() > MOST_AREA) continue;
            double cx = all.stream().mapToInt(p -> p % w).average().orElse(0),
                    cy = all.stream().mapToInt(p -> p / w).average().orElse(0),
                    radius = Math.sqrt(all.size() / Math.PI);
            Source s = around(y, cut, w, h, cx, cy, radius);
            if (s != null) out.add(s);
        }
    }

    /** Medians of rings, which a thing beside it does not move; null where it is not alone. */
    private static Source around(float[] y, boolean[] cut, int w, int h, double cx, double cy, double radius) {
        int reach = (int) Math.ceil(radius) + RINGS;
        if (cx < reach || cy < reach || cx >= w - reach || cy >= h - reach) return null;
        List<List<Double>> rings = new ArrayList<>();
        for (int k = 0; k < RINGS; k++) rings.add(new ArrayList<>());
        for (int j = (int) cy - reach; j <= cy + reach; j++)
            for (int i = (int) cx - reach; i <= cx + reach; i++) {
                double d = Math.hypot(i - cx, j - cy) - radius;
                if (d < FREE || d >= RINGS) continue;
                if (cut[j * w + i]) return null;
                rings.get((int) d).add((double) y[j * w + i]);
            }
        double[] v = new double[RINGS];
        for (int k = FREE; k < RINGS; k++)
            v[k] = Medians.of(rings.get(k).stream().mapToDouble(d -> d).toArray());
        double behind = 0;
        for (int k = BEHIND; k < RINGS; k++) behind += v[k] / (RINGS - BEHIND);
        for (int k = FREE; k < RINGS; k++) v[k] -= behind;
        return new Source(radius, v);
    }

    /** @return part of the light that is spread, sigma of its spread in pixels, uncertainty of the part */
    static double[] fit(List<Source> sources, double white) {
        double[] best = {0, 12, 0};
        double least = Double.MAX_VALUE;
        for (double sigma = 2; sigma <= 25; sigma *= 1.05) {
            double bb = 0, bv = 0, vv = 0;
            int n = 0;
            for (Source s : sources) {
                double far = disc(s.radius + (BEHIND + RINGS) / 2.0, s.radius, sigma);
                for (int k = FREE; k < BEHIND; k++) {
                    double b = (1 - ABOVE) * white * (disc(s.radius + k + 0.5, s.radius, sigma) - far);
                    bb += b * b;
                    bv += b * s.around[k];
                    vv += s.around[k] * s.around[k];
                    n++;
                }
            }
            double amount = Math.max(0, bv / bb), left = vv - 2 * amount * bv + amount * amount * bb;
            if (left >= least) continue;
            least = left;
            best = new double[] {amount, sigma, Math.sqrt(Math.max(0, left) / n / bb)};
        }
        return best;
    }

    /** What a Gaussian makes of a disc of light, at a distance from its middle. */
    static double disc(double far, double radius, double sigma) {
        double sum = 0;
        int rings = 8, round = 24;
        for (int i = 0; i < rings; i++)
            for (int k = 0; k < round; k++) {
                double r = radius * (i + 0.5) / rings,
                        a = 2 * Math.PI * k / round,
                        dx = far - r * Math.cos(a),
                        dy = r * Math.sin(a);
                sum += r
                        * (radius / rings)
                        * (2 * Math.PI / round)
                        * Math.exp(-(dx * dx + dy * dy) / (2 * sigma * sigma));
            }
        return sum / (2 * Math.PI * sigma * sigma);
    }
}
