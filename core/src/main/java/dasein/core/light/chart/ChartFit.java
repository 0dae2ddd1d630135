package dasein.core.light.chart;

import dasein.core.BadInput;
import java.util.Arrays;
import org.ejml.simple.SimpleMatrix;

/**
 * The matrix that brings a camera's linear light to scene-linear Rec. 709, found together with how unevenly the chart
 * was lit: {@code M p_i s(x_i, y_i) = r_i + v}, where p is the photograph's light, r the chart's reflectance, log s a
 * polynomial of second degree over the chart with mean 0, and v the veil that gloss and flare lay over it. Residuals
 * are distances in Lab, so that dark patches count as they are seen; a patch that is cut off is left out.
 */
public final class ChartFit {
    private static final int ROUNDS = 60;
    private static final int FIELD = 5, VEIL = 9 + FIELD, UNKNOWNS = VEIL + 1;
    /** In Lab units for a field of one stop: keeps noise from being explained by bends in the light. */
    private static final double TILT_COST = 0.6, BEND_COST = 4;
    /** In Lab units for a veil of white. */
    private static final double VEIL_COST = 60;

    private static final int LEAST_PATCHES = 15;

    /**
     * @param matrix row-major 3x3, from the photograph's linear light to reflectance in Rec. 709
     * @param field log of what evens the light out, by x, y, x^2, xy, y^2 over the chart from -1 to 1
     * @param veil what gloss and flare lay over all patches, in reflectance
     * @param deltaE CIEDE2000 of each patch; NaN where it was left out
     */
    public record Fit(double[] matrix, double[] field, double veil, double[] deltaE) {
        public double mean() {
            return Arrays.stream(deltaE).filter(d -> !Double.isNaN(d)).average().orElse(Double.NaN);
        }

        public double worst() {
            return Arrays.stream(deltaE).filter(d -> !Double.isNaN(d)).max().orElse(Double.NaN);
        }

        /** By how many stops the brightest lit patch outdoes the darkest. */
        public double uneven() {
            double least = Double.MAX_VALUE, most = -Double.MAX_VALUE;
            for (int i = 0; i < Patches.COUNT; i++) {
                double f = log(field, 0, i);
                least = Math.min(least, f);
                most = Math.max(most, f);
            }
            return (most - least) / Math.log(2);
        }
    }

    private ChartFit() {}

    /**
     * @param patches 24 times linear red, green and blue of the photograph, in the chart's order
     * @param cut patches that are cut off by the camera
     * @throws BadInput when too few are left, or no matrix fits
     */
    public static Fit of(double[][] patches, boolean[] cut, Patches chart) {
        int left = 0;
        for (boolean c : cut) if (!c) left++;
        if (left < LEAST_PATCHES)
            throw new BadInput("only " + left + " of the chart's 24 patches are not cut off by the exposure; "
                    + LEAST_PATCHES + " are needed");
        double[] x = start(patches, cut, chart);
        double lambda = 1e-3, cost = cost(residuals(x, patches, cut, chart));
        for (int round = 0; round < ROUNDS && lambda < 1e9; round++) {
            double[] r = residuals(x, patches, cut, chart);
            SimpleMatrix j = new SimpleMatrix(r.length, UNKNOWNS);
            for (int k = 0; k < UNKNOWNS; k++) {
                double h = 1e-6 * Math.max(1e-3, Math.abs(x[k])), keep = x[k];
                x[k] = keep + h;
                double[] q = residuals(x, patches, cut, chart);
                x[k] = keep;
                for (int i = 0; i < r.length; i++) j.set(i, k, (q[i] - r[i]) / h);
            }
            SimpleMatrix jt = j.transpose(), n = jt.mult(j), g = jt.mult(new SimpleMatrix(r.length, 1, true, r));
            for (int k = 0; k < UNKNOWNS; k++) n.set(k, k, n.get(k, k) * (1 + lambda) + 1e-12);
            SimpleMatrix step = n.solve(g);
            double[] next = x.clone();
            for (int k = 0; k < UNKNOWNS; k++) next[k] -= step.get(k);
            double there = cost(residuals(next, patches, cut, chart));
            if (there < cost) {
                boolean done = cost - there < 1e-9 * cost;
                x = next;
                cost = there;
                lambda = Math.max(1e-9, lambda / 5);
                if (done) break;
            } else {
                lambda *= 5;
            }
        }
        double[] field = Arrays.copyOfRange(x, 9, VEIL), matrix = Arrays.copyOf(x, 9), d = new double[Patches.COUNT];
        for (int i = 0; i < Patches.COUNT; i++) {
            d[i] = cut[i] ? Double.NaN : Lab.difference(chart.lab(i), lab(x, patches[i], i));
        }
        for (double v : x) if (!Double.isFinite(v)) throw new BadInput("no matrix fits the chart's colours");
        return new Fit(matrix, field, x[VEIL], d);
    }

    /** The light even: linear least squares, weighed by how steep Lab is at the patch. */
    static double[] start(double[][] patches, boolean[] cut, Patches chart) {
        SimpleMatrix n = new SimpleMatrix(3, 3), g = new SimpleMatrix(3, 3);
        double size = 0;
        for (double[] p : patches) size += (p[0] + p[1] + p[2]) / patches.length;
        for (int i = 0; i < Patches.COUNT; i++) {
            if (cut[i]) continue;
            double[] r = chart.linear(i), p = patches[i];
            double w = Math.pow(0.2126 * r[0] + 0.7152 * r[1] + 0.0722 * r[2] + 0.01, -4 / 3.0);
            for (int a = 0; a < 3; a++)
                for (int b = 0; b < 3; b++) {
                    n.set(a, b, n.get(a, b) + w * p[a] * p[b]);
                    g.set(a, b, g.get(a, b) + w * r[a] * p[b]);
                }
        }
        for (int a = 0; a < 3; a++) n.set(a, a, n.get(a, a) + 1e-9 * size * size);
        SimpleMatrix m = g.mult(n.invert());
        double[] x = new double[UNKNOWNS];
        for (int k = 0; k < 9; k++) x[k] = m.get(k / 3, k % 3);
        return x;
    }

    private static double cost(double[] r) {
        double s = 0;
        for (double v : r) s += v * v;
        return Double.isNaN(s) ? Double.MAX_VALUE : s;
    }

    private static double[] residuals(double[] x, double[][] patches, boolean[] cut, Patches chart) {
        double[] r = new double[3 * Patches.COUNT + FIELD + 1];
        for (int i = 0; i < Patches.COUNT; i++) {
            if (cut[i]) continue;
            double[] want = chart.lab(i), got = lab(x, patches[i], i);
            for (int k = 0; k < 3; k++) {
                double d = got[k] - want[k];
                // Saturated colours differ less to the eye than their Lab distance says (as CIE94 has it).
                r[3 * i + k] = k == 0 ? d : d / (1 + 0.02 * Math.hypot(want[1], want[2]));
            }
        }
        for (int k = 0; k < FIELD; k++) r[3 * Patches.COUNT + k] = (k < 2 ? TILT_COST : BEND_COST) * x[9 + k];
        r[r.length - 1] = VEIL_COST * x[VEIL];
        return r;
    }

    private static double[] lab(double[] x, double[] p, int patch) {
        double s = Math.exp(log(x, 9, patch));
        return Lab.of709(
                s * (x[0] * p[0] + x[1] * p[1] + x[2] * p[2]) - x[VEIL],
                s * (x[3] * p[0] + x[4] * p[1] + x[5] * p[2]) - x[VEIL],
                s * (x[6] * p[0] + x[7] * p[1] + x[8] * p[2]) - x[VEIL]);
    }

    /** The mean of the quadratic terms over the patches is taken out, so that the matrix keeps the level. */
    private static double log(double[] f, int from, int patch) {
        double u = (patch % 6 - 2.5) / 2.5, v = (patch / 6 - 1.5) / 1.5;
        return f[from] * u
                + f[from + 1] * v
                + f[from + 2] * (u * u - 7 / 15.0)
                + f[from + 3] * u * v
                + f[from + 4] * (v * v - 5 / 9.0);
    }
}
