package dasein.core.light.photo;

import dasein.core.BadInput;
import dasein.core.image.Image;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import org.ejml.data.DMatrixRMaj;
import org.ejml.dense.row.CommonOps_DDRM;

/**
 * Gives a spot that every photograph cuts off its light back from what the lens spreads of it around the spot. A bright
 * point's glow falls off as {@code (1 + (r / a)^2)^-b} (Moffat, Astron. Astrophys. 3, 1969, p. 455), by which stars
 * that are cut off are measured too. Core and wings belong together only as far as the spot is not much larger than the
 * core: all falls that fit about as well are tried, and where they disagree about the light nothing is mended.
 */
public final class Flare {
    /** A pixel's light is off by this part of it. */
    private static final double OFF = 0.02;

    private static final double LEAST_CORE = 0.35, LEAST_FALL = 1.1, MOST_FALL = 5;
    private static final int CORES = 48, FALLS = 18, MOST = 6000, FINE = 5;
    /**
     * Falls within this over the count of samples of the best error fit as well; from this factor between them on the
     * light is not told.
     */
    private static final double AS_WELL = 9, TELLS = 4, ADDS = 1.2;

    private static final double[][] HEXAGON = new double[6][2];

    static {
        for (int k = 0; k < 6; k++) {
            HEXAGON[k][0] = Math.sqrt(2 / 3.0) * Math.cos(k * Math.PI / 3);
            HEXAGON[k][1] = Math.sqrt(2 / 3.0) * Math.sin(k * Math.PI / 3);
        }
    }

    private Flare() {}

    /**
     * @param light with the spot's own light in it; @param times by how much brighter the spot is now
     * @param least, most {@code times} by the falls that fit about as well
     */
    public record Mended(Image light, double times, double least, double most) {}

    /** A fall that was tried. @param of a colour: gain, the ground's level and slopes; @param sum the spot's light */
    private record Fall(double a, double b, double disc, double[][] of, double error, double sum) {
        /** Light of a pixel by the offset of its corner from the spot's middle. */
        double[] at(double left, double top) {
            double m = mean(a, b, disc, left, top);
            double[] out = new double[3];
            for (int c = 0; c < 3; c++)
                out[c] = of[c][0] * m + of[c][1] + of[c][2] * (left + 0.5) + of[c][3] * (top + 0.5);
            return out;
        }
    }

    /**
     * The largest spot mended.
     *
     * @param light of one view, three colours; @param clipped its pixels that are cut off
     * @param disc radius of what shines there, pixels; 0 for a point
     * @throws BadInput when nothing is cut off, too little is seen around it, or that does not tell its light
     */
    public static Mended of(Image light, boolean[] clipped, double disc) {
        List<Integer> spot = largest(clipped, light.width);
        if (spot.isEmpty()) throw new BadInput("nothing is cut off in every photograph: there is nothing to mend");
        double x = 0, y = 0, had = 0;
        for (int i : spot) {
            x += (i % light.width + 0.5) / spot.size();
            y += (i / light.width + 0.5) / spot.size();
            had += light.planes[0][i] + light.planes[1][i] + light.planes[2][i];
        }
        double radius = 0;
        for (int i : spot) radius = Math.max(radius, Math.hypot(i % light.width + 0.5 - x, i / light.width + 0.5 - y));
        if (disc > 0.8 * radius)
            throw new BadInput("what is cut off is hardly larger than what shines there: it has no glow that would "
                    + "tell its light");
        double[][] glow = glow(light, clipped, x, y, radius);
        if (glow[0].length < 60) throw new BadInput("too little is seen around what is cut off to tell its light");
        List<Fall> falls = new ArrayList<>();
        double most = Math.max(2, 2 * radius);
        for (int i = 0; i < CORES; i++) {
            double core = LEAST_CORE * Math.pow(most / LEAST_CORE, i / (CORES - 1.0));
            Fall f = steepest(glow, core, disc, spot, light.width, x, y);
            if (f != null) falls.add(f);
        }
        Fall best = falls.stream()
                .min((p, q) -> Double.compare(p.error, q.error))
                .orElseThrow(() -> new BadInput("there is no glow around what is cut off: it does not tell its light"));
        double low = Double.MAX_VALUE, high = 0;
        for (Fall f : falls)
            if (f.error <= best.error * (1 + AS_WELL / glow[0].length)) {
                low = Math.min(low, f.sum / had);
                high = Math.max(high, f.sum / had);
            }
        if (high > TELLS * low)
            throw new BadInput(String.format(
                    Locale.ROOT,
                    "the glow around what is cut off does not tell its light: %.1f to %.1f times what is seen",
                    Math.max(1, low),
                    Math.max(1, high)));
        Image out = light.copy();
        double now = 0;
        for (int i : spot) {
            double[] v = best.at(i % light.width - x, i / light.width - y);
            for (int c = 0; c < 3; c++) {
                out.planes[c][i] = Math.max(out.planes[c][i], (float) v[c]);
                now += out.planes[c][i];
            }
        }
        if (now < ADDS * had)
            throw new BadInput("the glow around what is cut off is no more than what is seen there gives: it does not "
                    + "tell its light");
        return new Mended(out, now / had, Math.max(1, low), Math.max(1, high));
    }

    /**
     * Offsets across and down, then three colours, of pixels around the spot that are not cut off nor touch one that
     * is.
     */
    private static double[][] glow(Image light, boolean[] clipped, double x, double y, double radius) {
        double reach = 3 * radius + 8;
        int x0 = (int) Math.max(1, x - reach),
                x1 = (int) Math.min(light.width - 2, x + reach),
                y0 = (int) Math.max(1, y - reach),
                y1 = (int) Math.min(light.height - 2, y + reach);
        int step = (int) Math.max(1, Math.sqrt((double) (x1 - x0) * (y1 - y0) / MOST));
        List<double[]> all = new ArrayList<>();
        for (int v = y0; v <= y1; v += step)
            for (int u = x0; u <= x1; u += step) {
                double dx = u + 0.5 - x, dy = v + 0.5 - y;
                if (Math.hypot(dx, dy) > reach || touches(clipped, light.width, u, v)) continue;
                int i = v * light.width + u;
                all.add(new double[] {dx, dy, light.planes[0][i], light.planes[1][i], light.planes[2][i]});
            }
        double[][] out = new double[5][all.size()];
        for (int k = 0; k < all.size(); k++) for (int j = 0; j < 5; j++) out[j][k] = all.get(k)[j];
        return out;
    }

    private static boolean touches(boolean[] clipped, int w, int u, int v) {
        for (int dy = -1; dy <= 1; dy++)
            for (int dx = -1; dx <= 1; dx++) if (clipped[(v + dy) * w + u + dx]) return true;
        return false;
    }

    /** That of a core whose steepness fits best, by golden section; null where none fits. */
    private static Fall steepest(
            double[][] glow, double core, double disc, List<Integer> spot, int w, double x, double y) {
        double low = LEAST_FALL, high = MOST_FALL, golden = (Math.sqrt(5) - 1) / 2;
        Fall best = null;
        for (int k = 0; k < FALLS; k++) {
            double b1 = high - golden * (high - low), b2 = low + golden * (high - low);
            Fall f1 = fall(glow, core, b1, disc, spot, w, x, y), f2 = fall(glow, core, b2, disc, spot, w, x, y);
            Fall f = f2 == null || f1 != null && f1.error <= f2.error ? f1 : f2;
            if (f == null) return best;
            if (f == f1) high = b2;
            else low = b1;
            if (best == null || f.error < best.error) best = f;
        }
        return best;
    }

    /** Gain, level and slope of the ground by weighted least squares; null where a glow would be negative. */
    private static Fall fall(
            double[][] glow, double a, double b, double disc, List<Integer> spot, int w, double x, double y) {
        int n = glow[0].length;
        double[] m = new double[n], term = new double[4];
        for (int k = 0; k < n; k++) m[k] = fall(a, b, disc, glow[0][k], glow[1][k]);
        double[][] of = new double[3][];
        double error = 0;
        for (int c = 0; c < 3; c++) {
            double[] v = glow[c + 2];
            DMatrixRMaj normal = new DMatrixRMaj(4, 4), right = new DMatrixRMaj(4, 1), found = new DMatrixRMaj(4, 1);
            for (int k = 0; k < n; k++) {
                double q = weight(v[k]);
                term[0] = m[k];
                term[1] = 1;
                term[2] = glow[0][k];
                term[3] = glow[1][k];
                for (int i = 0; i < 4; i++) {
                    right.data[i] += q * term[i] * v[k];
                    for (int j = 0; j < 4; j++) normal.data[4 * i + j] += q * term[i] * term[j];
                }
            }
            if (!CommonOps_DDRM.solve(normal, right, found) || !(found.data[0] > 0)) return null;
            double[] f = found.data;
            for (int k = 0; k < n; k++) {
                double off = v[k] - f[0] * m[k] - f[1] - f[2] * glow[0][k] - f[3] * glow[1][k];
                error += weight(v[k]) * off * off / (3.0 * n);
            }
            of[c] = f;
        }
        Fall fall = new Fall(a, b, disc, of, error, 0);
        double sum = 0;
        for (int i : spot) for (double v : fall.at(i % w - x, i / w - y)) sum += v;
        return new Fall(a, b, disc, of, error, sum);
    }

    private static double weight(double v) {
        double s = OFF * Math.abs(v) + 1e-6;
        return 1 / (s * s);
    }

    /** Of a disc's light: by a rule of seven points, exact to the fifth degree (Radon 1948). */
    private static double fall(double a, double b, double disc, double u, double v) {
        double sum = Math.pow(1 + (u * u + v * v) / (a * a), -b);
        if (disc == 0) return sum;
        sum *= 0.25;
        for (double[] p : HEXAGON) {
            double x = u + disc * p[0], y = v + disc * p[1];
            sum += 0.125 * Math.pow(1 + (x * x + y * y) / (a * a), -b);
        }
        return sum;
    }

    /** The fall's mean over a pixel whose corner lies there. */
    private static double mean(double a, double b, double disc, double left, double top) {
        double sum = 0;
        for (int k = 0; k < FINE * FINE; k++) {
            double u = left + (k % FINE + 0.5) / FINE, v = top + (k / FINE + 0.5) / FINE;
            sum += fall(a, b, disc, u, v) / (FINE * FINE);
        }
        return sum;
    }

    private static List<Integer> largest(boolean[] clipped, int w) {
        boolean[] done = new boolean[clipped.length];
        List<Integer> best = List.of();
        for (int start = 0; start < clipped.length; start++) {
            if (!clipped[start] || done[start]) continue;
            List<Integer> all = new ArrayList<>();
            ArrayDeque<Integer> open = new ArrayDeque<>(List.of(start));
            done[start] = true;
            while (!open.isEmpty()) {
                int i = open.poll();
                all.add(i);
                for (int dy = -1; dy <= 1; dy++)
                    for (int dx = -1; dx <= 1; dx++) {
                        int x = i % w + dx, k = i + dy * w + dx;
                        if (x < 0 || x >= w || k < 0 || k >= clipped.length || !clipped[k] || done[k]) continue;
                        done[k] = true;
                        open.add(k);
                    }
            }
            if (all.size() > best.size()) best = all;
        }
        return best;
    }
}
