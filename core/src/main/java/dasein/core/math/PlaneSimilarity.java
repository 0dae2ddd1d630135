package dasein.core.math;

import java.util.List;

/**
 * Shift, turn and size in the plane, as complex numbers: {@code to = a from + b}.
 *
 * @param a, ai real and imaginary part of a; @param b, bi of b
 */
public record PlaneSimilarity(double a, double ai, double b, double bi) {
    /**
     * Least squares. Where all lie in one place it is a shift.
     *
     * @param pairs x, y before and after; @param weights one a pair, null where all count alike
     */
    public static PlaneSimilarity fit(List<double[]> pairs, double[] weights) {
        double sum = 0, fx = 0, fy = 0, tx = 0, ty = 0;
        for (int i = 0; i < pairs.size(); i++) {
            double[] p = pairs.get(i);
            double w = weights == null ? 1 : weights[i];
            sum += w;
            fx += w * p[0];
            fy += w * p[1];
            tx += w * p[2];
            ty += w * p[3];
        }
        fx /= sum;
        fy /= sum;
        tx /= sum;
        ty /= sum;
        double dot = 0, cross = 0, all = 0;
        for (int i = 0; i < pairs.size(); i++) {
            double[] p = pairs.get(i);
            double w = weights == null ? 1 : weights[i], u = p[0] - fx, v = p[1] - fy, s = p[2] - tx, t = p[3] - ty;
            dot += w * (u * s + v * t);
            cross += w * (u * t - v * s);
            all += w * (u * u + v * v);
        }
        double re = all > 0 ? dot / all : 1, im = all > 0 ? cross / all : 0;
        return new PlaneSimilarity(re, im, tx - re * fx + im * fy, ty - im * fx - re * fy);
    }

    public double[] at(double x, double y) {
        return new double[] {a * x - ai * y + b, ai * x + a * y + bi};
    }

    /** Radians, from x towards y. */
    public double turn() {
        return Math.atan2(ai, a);
    }
}
