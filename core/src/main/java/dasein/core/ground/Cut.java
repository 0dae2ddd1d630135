package dasein.core.ground;

import java.util.ArrayList;
import java.util.List;

/** Flat outlines with parts cut out of them. All outlines are convex, corners x, z, either way round. */
public final class Cut {
    private static final double LEAST_AREA = 1e-9;

    private Cut() {}

    /**
     * What is left of some outlines when another is cut out: for each of its sides what lies beyond that side but not
     * beyond the sides before it, so that the rest is convex again.
     */
    public static List<double[][]> minus(List<double[][]> from, double[][] hole) {
        double[][] h = area(hole) < 0 ? reversed(hole) : hole;
        List<double[][]> out = new ArrayList<>();
        for (double[][] whole : from) {
            double[][] rest = whole;
            for (int i = 0; i < h.length && rest.length > 2; i++) {
                double[] a = h[i], b = h[(i + 1) % h.length];
                double[][] beyond = side(rest, a, b, -1);
                if (beyond.length > 2 && Math.abs(area(beyond)) > LEAST_AREA) out.add(beyond);
                rest = side(rest, a, b, 1);
            }
        }
        return out;
    }

    /** The part of a convex outline on one side of a line (Sutherland and Hodgman 1974); sign 1 for its left. */
    private static double[][] side(double[][] p, double[] a, double[] b, int sign) {
        List<double[]> out = new ArrayList<>();
        for (int i = 0; i < p.length; i++) {
            double[] q = p[i], r = p[(i + 1) % p.length];
            double dq = sign * ((b[0] - a[0]) * (q[1] - a[1]) - (b[1] - a[1]) * (q[0] - a[0])),
                    dr = sign * ((b[0] - a[0]) * (r[1] - a[1]) - (b[1] - a[1]) * (r[0] - a[0]));
            if (dq >= 0) out.add(q);
            if (dq > 0 && dr < 0 || dq < 0 && dr > 0) {
                double t = dq / (dq - dr);
                out.add(new double[] {q[0] + t * (r[0] - q[0]), q[1] + t * (r[1] - q[1])});
            }
        }
        return out.toArray(double[][]::new);
    }

    private static double[][] reversed(double[][] p) {
        double[][] r = new double[p.length][];
        for (int i = 0; i < p.length; i++) r[i] = p[p.length - 1 - i];
        return r;
    }

    /** Whether a place lies in a convex outline, its rim included. */
    public static boolean inside(double[][] o, double x, double z) {
        int left = 0, right = 0;
        for (int i = 0; i < o.length; i++) {
            double[] a = o[i], b = o[(i + 1) % o.length];
            double side = (b[0] - a[0]) * (z - a[1]) - (b[1] - a[1]) * (x - a[0]);
            if (side > 0) left++;
            if (side < 0) right++;
        }
        return left == 0 || right == 0;
    }

    /** Signed area: above 0 when the corners turn from x to z. */
    public static double area(double[][] p) {
        double s = 0;
        for (int i = 0; i < p.length; i++) {
            double[] a = p[i], b = p[(i + 1) % p.length];
            s += a[0] * b[1] - b[0] * a[1];
        }
        return s / 2;
    }
}
