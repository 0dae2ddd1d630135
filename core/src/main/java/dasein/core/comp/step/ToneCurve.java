package dasein.core.comp.step;

/**
 * A curve through five points, at code values 0, 1/4, 1/2, 3/4 and 1, that never turns back where its points do not:
 * cubic pieces whose slopes are held as Fritsch and Carlson (1980, "Monotone piecewise cubic interpolation") say.
 * Beyond its ends it goes on straight.
 */
public final class ToneCurve {
    private static final int N = 5;
    private final double[] y = new double[N], slope = new double[N];

    /** @param by how much each of its points lies above where it would lie at rest */
    public ToneCurve(double[] by) {
        double h = 1.0 / (N - 1);
        for (int i = 0; i < N; i++) y[i] = i * h + by[i];
        double[] d = new double[N - 1];
        for (int i = 0; i < N - 1; i++) d[i] = (y[i + 1] - y[i]) / h;
        slope[0] = d[0];
        slope[N - 1] = d[N - 2];
        for (int i = 1; i < N - 1; i++) slope[i] = d[i - 1] * d[i] <= 0 ? 0 : (d[i - 1] + d[i]) / 2;
        for (int i = 0; i < N - 1; i++) {
            if (d[i] == 0) {
                slope[i] = slope[i + 1] = 0;
                continue;
            }
            double a = slope[i] / d[i], b = slope[i + 1] / d[i], r = Math.hypot(a, b);
            if (r > 3) {
                slope[i] = 3 / r * a * d[i];
                slope[i + 1] = 3 / r * b * d[i];
            }
        }
    }

    public double at(double x) {
        if (x <= 0) return y[0] + slope[0] * x;
        if (x >= 1) return y[N - 1] + slope[N - 1] * (x - 1);
        double h = 1.0 / (N - 1);
        int i = Math.min(N - 2, (int) (x / h));
        double t = x / h - i, u = 1 - t;
        return (1 + 2 * t) * u * u * y[i]
                + t * u * u * h * slope[i]
                + t * t * (3 - 2 * t) * y[i + 1]
                - t * t * u * h * slope[i + 1];
    }
}
