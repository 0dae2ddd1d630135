package dasein.core.comp.match;

import dasein.core.NoSolution;
import dasein.core.image.Cubic;
import dasein.core.image.Encoding;
import dasein.core.image.Image;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Random;

/**
 * How sharply edges are drawn, as by ISO 12233 from the spread of slanted edges: across a straight edge between two
 * even sides the picture rises as the integral of a Gaussian, whose sigma in pixels is looked for. Most edges of the
 * world are not sharp themselves; so of all that are found those count that are drawn most sharply.
 */
public final class EdgeMeasure {
    /** Pixels to each side, and from where on the sides must be even; step along the profile. */
    private static final double SIDE = 6, EVEN_FROM = 3.5, STEP = 0.5;

    private static final int TAPS = (int) (2 * SIDE / STEP) + 1;
    /** Least rise in codes; how much the sides may vary, over the rise; part of the edges that counts. */
    private static final double LEAST_RISE = 0.08, EVEN = 0.12, SHARPEST = 0.2;

    private static final int LEAST = 20, MOST_TRIED = 4000;
    private static final double LEAST_SIGMA = 0.2, MOST_SIGMA = 4, GRAIN = 0.05, ROUGH = 1.3, FINE = 1.06;

    /**
     * @param sigma pixels, of brightness; @param uncertainty one sigma of it; @param colour sigma in each colour on the
     *     same edges; @param edges that were found
     */
    public record Found(double sigma, double uncertainty, double[] colour, int edges) {}

    /** @param luma sigma of brightness; @param ux, uy unit, across it */
    record Edge(double luma, double[] colour, double x, double y, double ux, double uy) {}

    List<Edge> edges() {
        return edges;
    }

    private final List<Edge> edges = new ArrayList<>();

    /** Looks at a frame, scene-linear. @param where 0 for places that are left out; null for everywhere */
    public void look(Image im, Encoding e, float[] where) {
        look(Codes.of(im, e), where);
    }

    /** Looks at one plane as if it were a picture, such as coverage. */
    public void look(float[] plane, int w, int h) {
        look(new Codes(w, h, new float[][] {plane, plane, plane}, plane), null);
    }

    private void look(Codes im, float[] where) {
        List<Integer> places = steep(im, where, (int) SIDE + 2);
        edges.addAll(places.parallelStream()
                .map(k -> edge(im, k % im.width(), k / im.width()))
                .filter(java.util.Objects::nonNull)
                .toList());
    }

    /** A place on an edge, pixel numbers, and its way across; unit, towards the brighter side. */
    record Place(int x, int y, double ux, double uy) {}

    /** Places where a picture is steepest, at most some thousand, as many pixels from the border. */
    static List<Place> places(Codes im, int margin) {
        return steep(im, null, margin).stream()
                .map(p -> {
                    double[] u = across(im, p);
                    return new Place(p % im.width(), p / im.width(), u[0], u[1]);
                })
                .filter(p -> !Double.isNaN(p.ux))
                .toList();
    }

    private static List<Integer> steep(Codes im, float[] where, int margin) {
        int w = im.width(), h = im.height();
        Cubic between = new Cubic(w, h);
        List<Integer> places = new ArrayList<>();
        float[] y = im.luma();
        for (int j = margin; j < h - margin; j++)
            for (int i = margin; i < w - margin; i++) {
                int p = j * w + i;
                if (where != null && !(where[p] > 0)) continue;
                double gx = (y[p + 1] - y[p - 1]) / 2, gy = (y[p + w] - y[p - w]) / 2, g = Math.hypot(gx, gy);
                // Steep, and steepest along its own way.
                if (g < LEAST_RISE / 8) continue;
                double ux = gx / g, uy = gy / g;
                if (slope(y, between, i + ux, j + uy, ux, uy) > g || slope(y, between, i - ux, j - uy, ux, uy) > g)
                    continue;
                places.add(p);
            }
        java.util.Collections.shuffle(places, new Random(5));
        return places.subList(0, Math.min(MOST_TRIED, places.size()));
    }

    /** Its way from a few pixels around, so that grain does not turn it. */
    private static double[] across(Codes im, int p) {
        int w = im.width();
        float[] y = im.luma();
        double gx = 0, gy = 0;
        for (int b = -1; b <= 1; b++)
            for (int a = -1; a <= 1; a++) {
                int q = p + b * w + a;
                gx += y[q + 1] - y[q - 1];
                gy += y[q + w] - y[q - w];
            }
        double g = Math.hypot(gx, gy);
        return new double[] {gx / g, gy / g};
    }

    private static double slope(float[] y, Cubic between, double x, double v, double ux, double uy) {
        between.at((float) (x + ux), (float) (v + uy));
        double after = between.of(y);
        between.at((float) (x - ux), (float) (v - uy));
        return (after - between.of(y)) / 2;
    }

    private static Edge edge(Codes im, int i, int j) {
        float[] y = im.luma();
        double[] u = across(im, j * im.width() + i);
        if (Double.isNaN(u[0])) return null;
        Cubic between = new Cubic(im.width(), im.height());
        double luma = sigma(y, between, i, j, u[0], u[1]);
        if (!(luma > 0)) return null;
        double[] colour = new double[3];
        for (int c = 0; c < 3; c++) colour[c] = sigma(im.planes()[c], between, i, j, u[0], u[1]);
        return new Edge(luma, colour, i + 0.5, j + 0.5, u[0], u[1]);
    }

    /** What lies across an edge: so many pixels to each side of a place, by steps of so many. */
    static double[] profile(
            float[] y, Cubic between, double x, double v, double ux, double uy, double side, double step) {
        double[] out = new double[(int) (2 * side / step) + 1];
        for (int k = 0; k < out.length; k++) {
            double t = -side + k * step;
            // Three beside each other: straight edges are alike there, and grain is less.
            for (int b = -1; b <= 1; b++) {
                between.at((float) (x + t * ux - b * uy), (float) (v + t * uy + b * ux));
                out[k] += between.of(y) / 3;
            }
        }
        return out;
    }

    /** Of the Gaussian that draws this edge; 0 where it is none between even sides. */
    private static double sigma(float[] y, Cubic between, double x, double v, double ux, double uy) {
        double[] profile = profile(y, between, x, v, ux, uy, SIDE, STEP);
        int even = (int) ((SIDE - EVEN_FROM) / STEP) + 1;
        double low = mean(profile, 0, even), high = mean(profile, TAPS - even, TAPS), rise = high - low;
        if (Math.abs(rise) < LEAST_RISE) return 0;
        if (off(profile, 0, even, low) > EVEN * Math.abs(rise)
                || off(profile, TAPS - even, TAPS, high) > EVEN * Math.abs(rise)) return 0;
        // Roughly, then finely about the best.
        double[] best = {0, 0, Double.POSITIVE_INFINITY};
        search(profile, low, rise, LEAST_SIGMA, MOST_SIGMA, ROUGH, -1, 1, 0.25, best);
        double s = best[0], t = best[1];
        search(profile, low, rise, s / ROUGH, s * ROUGH, FINE, t - 0.25, t + 0.25, 0.05, best);
        return Math.sqrt(best[2] / TAPS) > GRAIN * Math.abs(rise) ? 0 : best[0];
    }

    /** @param best sigma, middle and sum of squares that are left, bettered */
    private static void search(
            double[] profile,
            double low,
            double rise,
            double sFrom,
            double sTo,
            double sBy,
            double tFrom,
            double tTo,
            double tBy,
            double[] best) {
        for (double s = sFrom; s <= sTo; s *= sBy)
            for (double t = tFrom; t <= tTo + 1e-9; t += tBy) {
                double sum = 0;
                for (int k = 0; k < TAPS && sum < best[2]; k++) {
                    double d = low + rise * normal((-SIDE + k * STEP - t) / s) - profile[k];
                    sum += d * d;
                }
                if (sum >= best[2]) continue;
                best[0] = s;
                best[1] = t;
                best[2] = sum;
            }
    }

    private static double mean(double[] p, int from, int to) {
        double sum = 0;
        for (int k = from; k < to; k++) sum += p[k];
        return sum / (to - from);
    }

    private static double off(double[] p, int from, int to, double mean) {
        double most = 0;
        for (int k = from; k < to; k++) most = Math.max(most, Math.abs(p[k] - mean));
        return most;
    }

    /** The normal distribution's integral, by its table. */
    static double normal(double t) {
        double x = Math.max(0, Math.min(NORMAL.length - 1.001, (t + 5) * 100));
        int i = (int) x;
        return NORMAL[i] + (x - i) * (NORMAL[i + 1] - NORMAL[i]);
    }

    private static final double[] NORMAL = new double[1001];

    static {
        double sum = 0;
        for (int i = 1; i < NORMAL.length; i++) {
            double t = (i - 0.5) / 100 - 5;
            NORMAL[i] = sum += Math.exp(-t * t / 2) / Math.sqrt(2 * Math.PI) / 100;
        }
    }

    /** @throws NoSolution with a sentence when there are too few edges */
    public Found found() {
        if (edges.size() < LEAST)
            throw new NoSolution("there are too few clear edges to see how sharply they are drawn: " + edges.size()
                    + ", " + LEAST + " are needed");
        List<Edge> sorted = edges.stream()
                .sorted(java.util.Comparator.comparingDouble(Edge::luma))
                .toList();
        // By the rank around the sharpest fifth; the few below it are taken for chance.
        int n = sorted.size(),
                at = (int) (SHARPEST * n),
                from = at / 2,
                to = Math.min(n, at + Math.max(at / 2, LEAST / 2));
        List<Edge> these = sorted.subList(from, to);
        double[] colour = new double[3];
        for (int c = 0; c < 3; c++) {
            int ch = c;
            double[] ratio = these.stream()
                    .filter(e -> e.colour[ch] > 0)
                    .mapToDouble(e -> e.colour[ch] / e.luma)
                    .sorted()
                    .toArray();
            colour[c] = ratio.length < LEAST / 2 ? 1 : ratio[ratio.length / 2];
        }
        double[] s = these.stream().mapToDouble(Edge::luma).toArray();
        double mean = Arrays.stream(s).average().orElse(0),
                spread =
                        Math.sqrt(Arrays.stream(s)
                                        .map(v -> (v - mean) * (v - mean))
                                        .sum()
                                / s.length);
        for (int c = 0; c < 3; c++) colour[c] *= mean;
        return new Found(mean, spread / Math.sqrt(s.length), colour, n);
    }
}
