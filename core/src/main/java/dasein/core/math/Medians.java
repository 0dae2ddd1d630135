package dasein.core.math;

import java.util.Arrays;

/** The middle of many numbers, and how far they lie about it, which a few wrong ones do not move. */
public final class Medians {
    /** Of a normal distribution: its standard deviation over the median distance from its middle. */
    private static final double NORMAL = 1.4826;

    private Medians() {}

    /** Of the first n, which are sorted in place; the mean of both middle ones of an even number; 0 of none. */
    public static double sorting(double[] v, int n) {
        if (n == 0) return 0;
        Arrays.sort(v, 0, n);
        return n % 2 == 1 ? v[n / 2] : (v[n / 2 - 1] + v[n / 2]) / 2;
    }

    public static double of(double[] v) {
        return sorting(v.clone(), v.length);
    }

    /** A robust standard deviation. */
    public static double spread(double[] v) {
        double m = of(v);
        double[] off = new double[v.length];
        for (int i = 0; i < v.length; i++) off[i] = Math.abs(v[i] - m);
        return NORMAL * sorting(off, off.length);
    }
}
