package dasein.core.comp.match;

import dasein.core.NoSolution;
import dasein.core.image.Cubic;
import dasein.core.image.Encoding;
import dasein.core.image.Image;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.List;
import java.util.stream.Collectors;

/**
 * How a camera sharpens, from the profiles of edges in scene-linear light: an edge drawn by a Gaussian and sharpened by
 * what a wider one takes away runs as (1 + k) N(x / s) - k N(x / hypot(s, r)), N the normal distribution's integral; k,
 * r and s are looked for in the middle of the profiles that rise most steeply.
 */
final class HaloMeasure {
    /** Pixels to each side, from where on the sides are even, and steps of the profile and of the one that is kept. */
    private static final double SIDE = 8, EVEN_FROM = 5.5, STEP = 0.25, REACH = 6;

    private static final int TAPS = (int) (2 * SIDE / STEP) + 1, KEPT = (int) (2 * REACH / STEP) + 1;
    private static final double LEAST_RISE = 0.04, EVEN = 0.15, SHARPEST = 0.5;
    /** Pixels of a field, whose edges are likely one thing's; least edges in it, and least fields. */
    private static final int FIELD = 48, LEAST_EDGES = 4, LEAST = 8;

    /** @param field in which it lies; @param profile light from 0 to 1 about its middle; @param wide as it rises */
    private record Edge(int field, double[] profile, double wide) {}

    /** What the edges of one field have in common. */
    private record Field(double[] profile, double wide) {}

    /**
     * @param times of what the halo's Gaussian takes away; @param pixels its sigma; @param sigma of the edge itself
     *     (these three stand in for each other a little); @param over by how much of its rise an edge runs over;
     * @param sure the same by whichever side shows less of it, in the middle of all fields: what lies beside edges
     *     anyway does not lie on both sides; @param uncertainty one sigma of that; @param fields of edges that count
     */
    record Found(double times, double pixels, double sigma, double over, double sure, double uncertainty, int fields) {}

    /** By how much of its rise such an edge runs over. */
    static double over(double times, double pixels, double sigma) {
        double most = 0;
        for (double x = 0; x < REACH; x += STEP / 5) most = Math.max(most, at(x, times, pixels, sigma) - 1);
        return most;
    }

    /** Such an edge, so many pixels from its middle. */
    static double at(double x, double times, double pixels, double sigma) {
        return (1 + times) * EdgeMeasure.normal(x / sigma) - times * EdgeMeasure.normal(x / Math.hypot(sigma, pixels));
    }

    private final List<Edge> edges = new ArrayList<>();
    private int looked;

    void look(Image im, Encoding e) {
        List<EdgeMeasure.Place> places = EdgeMeasure.places(Codes.of(im, e), (int) SIDE + 2);
        int frame = looked++;
        float[] light = im.luminance();
        edges.addAll(places.parallelStream()
                .map(p -> edge(light, im.width, im.height, p, frame))
                .filter(k -> k != null)
                .toList());
    }

    private static Edge edge(float[] y, int w, int h, EdgeMeasure.Place at, int frame) {
        double[] p = EdgeMeasure.profile(y, new Cubic(w, h), at.x(), at.y(), at.ux(), at.uy(), SIDE, STEP);
        int even = (int) ((SIDE - EVEN_FROM) / STEP) + 1;
        double low = mean(p, 0, even), rise = mean(p, TAPS - even, TAPS) - low;
        if (!(rise > LEAST_RISE)) return null;
        for (int k = 0; k < even; k++)
            if (Math.abs(p[k] - low) > EVEN * rise || Math.abs(p[TAPS - 1 - k] - low - rise) > EVEN * rise) return null;
        for (int k = 0; k < TAPS; k++) p[k] = (p[k] - low) / rise;
        double quarter = crossing(p, 0.25), half = crossing(p, 0.5), three = crossing(p, 0.75);
        if (Double.isNaN(quarter + half + three) || Math.abs(half) > SIDE - REACH - STEP) return null;
        double[] kept = new double[KEPT];
        for (int k = 0; k < KEPT; k++) {
            double x = (half - REACH + k * STEP + SIDE) / STEP;
            int i = (int) x;
            kept[k] = p[i] + (x - i) * (p[i + 1] - p[i]);
        }
        int field = (frame * 1000 + at.y() / FIELD) * 1000 + at.x() / FIELD;
        return new Edge(field, kept, three - quarter);
    }

    /** Where it rises through a height, pixels from the middle; no number where it does not do so once. */
    private static double crossing(double[] p, double height) {
        double at = Double.NaN;
        for (int k = 0; k + 1 < TAPS; k++) {
            if (!(p[k] < height && p[k + 1] >= height)) continue;
            if (!Double.isNaN(at)) return Double.NaN;
            at = -SIDE + STEP * (k + (height - p[k]) / (p[k + 1] - p[k]));
        }
        return at;
    }

    private static double mean(double[] p, int from, int to) {
        return Arrays.stream(p, from, to).average().orElse(0);
    }

    /** @throws NoSolution with a sentence when there are too few edges */
    Found found() {
        List<Field> fields = edges.stream().collect(Collectors.groupingBy(Edge::field)).values().stream()
                .filter(of -> of.size() >= LEAST_EDGES)
                .map(HaloMeasure::common)
                .sorted(Comparator.comparingDouble(Field::wide))
                .toList();
        List<Field> these =
                fields.subList(0, Math.min(fields.size(), Math.max(LEAST, (int) (SHARPEST * fields.size()))));
        if (these.size() < LEAST)
            throw new NoSolution("there are too few clear edges to see whether they have halos: in " + fields.size()
                    + " places, " + LEAST + " are needed");
        double[] whole = fit(middle(these.stream().map(Field::profile).toList()));
        double[] sure = these.parallelStream()
                .mapToDouble(f -> onBothSides(f.profile))
                .sorted()
                .toArray();
        double middle = sure[sure.length / 2];
        double[] off =
                Arrays.stream(sure).map(v -> Math.abs(v - middle)).sorted().toArray();
        // The median's own spread, from the median of deviations, of a normal distribution.
        double uncertainty = 1.2533 * 1.4826 * off[off.length / 2] / Math.sqrt(sure.length);
        return new Found(
                whole[0], whole[1], whole[2], over(whole[0], whole[1], whole[2]), middle, uncertainty, these.size());
    }

    /** The steepest half of a field's edges. */
    private static Field common(List<Edge> of) {
        List<Edge> steep = of.stream()
                .sorted(Comparator.comparingDouble(Edge::wide))
                .limit(Math.max(LEAST_EDGES, of.size() / 2))
                .toList();
        return new Field(middle(steep.stream().map(Edge::profile).toList()), steep.get(steep.size() / 2).wide);
    }

    /**
     * By how much an edge runs over by the half of its profile that shows less of it; below zero where it falls short.
     */
    private static double onBothSides(double[] p) {
        double[] f = fit(p);
        double least = Double.POSITIVE_INFINITY;
        for (int half = 0; half < 2; half++) {
            double top = 0, bottom = 0;
            for (int k = 0; k <= KEPT / 2; k++) {
                double x = -REACH + (half == 0 ? k : KEPT - 1 - k) * STEP, edge = at(x, 0, f[1], f[2]);
                double more = at(x, 1, f[1], f[2]) - edge;
                top += more * (p[half == 0 ? k : KEPT - 1 - k] - edge);
                bottom += more * more;
            }
            least = Math.min(least, top / bottom);
        }
        return Math.signum(least) * over(Math.abs(least), f[1], f[2]);
    }

    private static double[] middle(List<double[]> some) {
        double[] out = new double[KEPT];
        for (int k = 0; k < KEPT; k++) {
            int at = k;
            double[] v = some.stream().mapToDouble(e -> e[at]).sorted().toArray();
            out[k] = (v[(v.length - 1) / 2] + v[v.length / 2]) / 2;
        }
        return out;
    }

    /** @return times, halo's sigma, edge's sigma; for given sigmas times is a matter of least squares */
    private static double[] fit(double[] p) {
        double[] best = {0, 1, 1, Double.POSITIVE_INFINITY};
        for (double s = 0.3; s < 3.5; s *= 1.03)
            for (double r = 0.4; r < 4; r *= 1.06) {
                double wide = Math.hypot(s, r), top = 0, bottom = 0;
                double[] edge = new double[KEPT], more = new double[KEPT];
                for (int k = 0; k < KEPT; k++) {
                    double x = -REACH + k * STEP;
                    edge[k] = EdgeMeasure.normal(x / s);
                    more[k] = edge[k] - EdgeMeasure.normal(x / wide);
                    top += more[k] * (p[k] - edge[k]);
                    bottom += more[k] * more[k];
                }
                double times = Math.max(0, Math.min(4, top / bottom)), off = 0;
                for (int k = 0; k < KEPT; k++) {
                    double d = edge[k] + times * more[k] - p[k];
                    off += d * d;
                }
                if (off >= best[3]) continue;
                best = new double[] {times, r, s, off};
            }
        return best;
    }
}
