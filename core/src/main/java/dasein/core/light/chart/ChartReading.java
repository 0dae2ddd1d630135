package dasein.core.light.chart;

import dasein.core.image.Image;
import dasein.core.math.Projective;

/**
 * The patches' light: the mean over the middle of each.
 *
 * @param light 24 times linear red, green, blue
 * @param outside patches beyond the picture's edge
 */
record ChartReading(double[][] light, boolean[] outside) {
    /** Of a cell to each side of its middle: safely within the patch. */
    private static final double REACH = 0.2;

    private static final int STEPS = 9, MOST_STEPS = 61;

    /** With every pixel's share, for what is kept. */
    static ChartReading of(Image linear, double[][] corners) {
        // As many samples as there are pixels, so that all of the noise is averaged.
        double cell = Math.sqrt(Squares.area(java.util.List.of(corners)) / Patches.COUNT);
        return of(linear, corners, (int) Math.max(STEPS, Math.min(MOST_STEPS, Math.ceil(2 * REACH * cell))));
    }

    /** With a few samples, to choose among many places. */
    static ChartReading rough(Image linear, double[][] corners) {
        return of(linear, corners, 3);
    }

    private static ChartReading of(Image linear, double[][] corners, int n) {
        Projective p = Projective.of(new double[][] {{0, 0}, {6, 0}, {6, 4}, {0, 4}}, corners);
        double[][] out = new double[Patches.COUNT][3];
        boolean[] outside = new boolean[Patches.COUNT];
        if (p == null) {
            java.util.Arrays.fill(outside, true);
            return new ChartReading(out, outside);
        }
        for (int i = 0; i < Patches.COUNT; i++) {
            double cx = i % 6 + 0.5, cy = i / 6 + 0.5;
            double[] sum = new double[3];
            for (int k = 0; k < n * n && !outside[i]; k++) {
                double[] q = p.at(cx + REACH * (2 * (k % n + 0.5) / n - 1), cy + REACH * (2 * (k / n + 0.5) / n - 1));
                if (!(q[0] >= 0 && q[1] >= 0 && q[0] <= linear.width && q[1] <= linear.height)) outside[i] = true;
                else for (int c = 0; c < 3; c++) sum[c] += linear.sample(q[0], q[1], c);
            }
            for (int c = 0; c < 3; c++) out[i][c] = sum[c] / (n * n);
        }
        return new ChartReading(out, outside);
    }

    int inside() {
        int n = 0;
        for (boolean o : outside) if (!o) n++;
        return n;
    }
}
