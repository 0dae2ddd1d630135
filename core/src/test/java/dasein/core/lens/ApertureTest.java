package dasein.core.lens;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.Random;
import org.junit.jupiter.api.Test;

/** The opening of a thin lens. */
class ApertureTest {
    /** Over the opening: mean of x, y, x², y² and the greatest distance from the middle, in radii. */
    private static double[] moments(Aperture a, float x, float y) {
        Random r = new Random(5);
        float[] p = new float[2];
        double[] m = new double[5];
        int n = 200_000;
        for (int i = 0; i < n; i++) {
            a.at(r.nextFloat(), r.nextFloat(), x, y, p);
            double u = p[0] / a.radius(), v = p[1] / a.radius();
            m[0] += u / n;
            m[1] += v / n;
            m[2] += u * u / n;
            m[3] += v * v / n;
            m[4] = Math.max(m[4], Math.hypot(u, v));
        }
        return m;
    }

    /** Of a disc the mean square of a coordinate is 1/4 of the radius's; of a regular polygon (2 + cos(2π/n)) / 12. */
    @Test
    void placesAreEvenOverTheOpening() {
        double[] round = moments(new Aperture(0.01, 3, 0, 0), 0, 0);
        assertThat(round[0]).isCloseTo(0, within(0.005));
        assertThat(round[2]).isCloseTo(0.25, within(0.003));
        assertThat(round[3]).isCloseTo(0.25, within(0.003));
        assertThat(round[4]).isLessThanOrEqualTo(1.00001);
        for (int blades : new int[] {5, 6, 9}) {
            double[] m = moments(new Aperture(0.01, 3, blades, 0), 0, 0);
            double want = (2 + Math.cos(2 * Math.PI / blades)) / 12;
            assertThat(m[2]).isCloseTo(want, within(0.003));
            assertThat(m[3]).isCloseTo(want, within(0.003));
            assertThat(m[1]).isCloseTo(0, within(0.005));
        }
    }

    /** In the corner it is narrower towards the middle by what is said, and as high as before. */
    @Test
    void aBarrelNarrowsItTowardsTheMiddle() {
        double[] m = moments(new Aperture(0.01, 3, 0, 0.4), 1, 0);
        assertThat(m[2]).isCloseTo(0.25 * 0.36, within(0.003));
        assertThat(m[3]).isCloseTo(0.25, within(0.003));
        double[] middle = moments(new Aperture(0.01, 3, 0, 0.4), 0, 0);
        assertThat(middle[2]).isCloseTo(0.25, within(0.003));
    }

    /**
     * 50 mm at f/2 focused at 4 m on a 36 mm sensor of 3600 pixels: a point at 8 m is a disc of 0.156 mm, 15.6 pixels.
     */
    @Test
    void theCircleOfConfusionIsTheTextbooks() {
        Aperture a = Aperture.of(50, 2, 4, 0, 0);
        double focalPx = 50 / 36.0 * 3600;
        // c = A f (s2 - s1) / (s2 s1), the image distance taken as f.
        assertThat(a.confusionPx(8, focalPx)).isCloseTo(25e-3 * 50e-3 * 4 / (8 * 4) / 0.01e-3, within(1e-6));
        assertThat(a.confusionPx(4, focalPx)).isZero();
    }
}
