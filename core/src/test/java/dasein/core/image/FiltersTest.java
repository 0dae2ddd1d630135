package dasein.core.image;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.Random;
import org.junit.jupiter.api.Test;

/** Running means are nearly the Gaussian they stand for. */
class FiltersTest {
    private static final int W = 200, H = 150;

    @Test
    void spreadIsNearlyAGaussian() {
        float[] dot = new float[W * H];
        dot[75 * W + 100] = 1;
        for (double s : new double[] {2.5, 4, 5, 8, 14.2}) {
            float[] p = Filters.spread(dot, W, H, s);
            double sum = 0, xx = 0, yy = 0, off = 0, peak = 1 / (2 * Math.PI * s * s);
            for (int i = 0; i < p.length; i++) {
                double x = i % W - 100, y = i / W - 75;
                sum += p[i];
                xx += p[i] * x * x;
                yy += p[i] * y * y;
                off = Math.max(off, Math.abs(p[i] - peak * Math.exp(-(x * x + y * y) / (2 * s * s))));
            }
            assertThat(sum).as("of %.1f", s).isCloseTo(1, within(1e-4));
            // Widths are whole pixels: the variance is nearly that which was asked for.
            assertThat(Math.sqrt(xx)).isCloseTo(s, within(0.04 * s));
            assertThat(Math.sqrt(yy)).isCloseTo(s, within(0.04 * s));
            assertThat(off).isLessThan(0.11 * peak);
        }
    }

    @Test
    void whatIsEvenStaysEvenUpToTheBorders() {
        float[] even = new float[W * H];
        java.util.Arrays.fill(even, 0.3f);
        for (float v : Filters.spread(even, W, H, 9)) assertThat(v).isCloseTo(0.3f, within(1e-5f));
        Random r = new Random(1);
        float[] some = new float[7 * 5];
        for (int i = 0; i < some.length; i++) some[i] = r.nextFloat();
        double mean = 0;
        for (float v : some) mean += v / some.length;
        // Wider than the picture there is one value left, between least and most.
        for (float v : Filters.spread(some, 7, 5, 30)) assertThat((double) v).isCloseTo(mean, within(0.25));
    }
}
