package dasein.core.light.sun;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import dasein.core.image.Image;
import dasein.core.light.Sun;
import dasein.core.math.Vec3;
import java.util.SplittableRandom;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class PenumbraTest {
    /** Part of a disc of radius 1 that lies beyond a straight edge at u. */
    private static double beyond(double u) {
        if (u <= -1) return 1;
        if (u >= 1) return 0;
        return 0.5 - (u * Math.sqrt(1 - u * u) + Math.asin(u)) / Math.PI;
    }

    /** Level ground seen from above at so many pixels a metre; what casts is a level edge at a height, along a line. */
    private static Image ground(double pixels, Vec3 sun, double angle, double height, double turn, double noise) {
        int size = 160;
        Image im = new Image(size, size, 3);
        SplittableRandom r = new SplittableRandom(7);
        double half = angle / 2;
        Vec3 a = sun.anyPerpendicular().unit(), b = sun.cross(a);
        double[] lit = {0.5, 0.45, 0.4}, shaded = {0.12, 0.14, 0.19};
        // The sun's disc as points, each with its own straight shadow.
        int n = 61;
        double[] edges = new double[n * n];
        int points = 0;
        Vec3 along = new Vec3(Math.cos(turn), 0, Math.sin(turn));
        for (int k = 0; k < n * n; k++) {
            double u = 2 * (k % n + 0.5) / n - 1, v = 2 * (k / n + 0.5) / n - 1;
            if (u * u + v * v > 1) continue;
            Vec3 s = sun.plus(a.times(u * half)).plus(b.times(v * half));
            Vec3 moved = s.times(-height / s.y()), middle = sun.times(-height / sun.y());
            edges[points++] = moved.minus(middle).dot(along);
        }
        java.util.Arrays.sort(edges, 0, points);
        for (int y = 0; y < size; y++)
            for (int x = 0; x < size; x++) {
                double sum = 0;
                for (int k = 0; k < 4; k++) {
                    double px = (x + 0.25 + 0.5 * (k & 1) - size / 2.0) / pixels;
                    double pz = (y + 0.25 + 0.5 * (k >> 1) - size / 2.0) / pixels;
                    double at = px * along.x() + pz * along.z();
                    int i = java.util.Arrays.binarySearch(edges, 0, points, at);
                    sum += (i < 0 ? -i - 1 : i) / (4.0 * points);
                }
                for (int c = 0; c < 3; c++)
                    im.planes[c][y * size + x] =
                            (float) (shaded[c] + (lit[c] - shaded[c]) * sum + noise * r.nextGaussian());
            }
        return im;
    }

    /** Sizes of a clear and of a veiled sun, the edge upright and leaning to the stroke: 15 % are asked. */
    @ParameterizedTest
    @CsvSource({"0.53, 2.4, 0, 700", "1.5, 2.4, 0.3, 300", "4, 1, -0.4, 300", "1.5, 2.4, 1.57, 300"})
    void sunsSizeComesBack(double degrees, double height, double turn, double pixels) {
        Vec3 sun = Sun.direction(Math.toRadians(38), Math.toRadians(-62));
        Image im = ground(pixels, sun, Math.toRadians(degrees), height, turn, 0.004);
        double reach = 60, off = turn > 1 ? 1.57 : 0;
        Penumbra.Edge e = Penumbra.measure(
                im,
                new double[] {80 - reach * Math.cos(off), 80 - reach * Math.sin(off)},
                new double[] {80 + reach * Math.cos(off), 80 + reach * Math.sin(off)},
                Penumbra.PIXEL_BLUR);
        Vec3 along = new Vec3(Math.cos(turn), 0, Math.sin(turn));
        double k = Penumbra.metresPerRadian(sun, along, height / sun.y());
        double angle = Penumbra.sunAngle(e.radiusPx() / pixels, k);
        assertThat(Math.toDegrees(angle)).isCloseTo(degrees, within(0.1 * degrees));
        for (int c = 0; c < 3; c++) {
            assertThat(e.lit()[c]).isCloseTo(new double[] {0.5, 0.45, 0.4}[c], within(0.01));
            assertThat(e.shaded()[c]).isCloseTo(new double[] {0.12, 0.14, 0.19}[c], within(0.01));
        }
        assertThat(Math.abs(e.lean())).isCloseTo(Math.abs(turn - off), within(0.05));
    }

    /** Against the closed form, where there is hardly any blur. */
    @Test
    void profileIsTheDiscs() {
        for (double u = -1.2; u < 1.3; u += 0.2)
            assertThat(Penumbra.seen(0.3 * u, 0.3, 0.01)).isCloseTo(1 - beyond(u), within(0.01));
        assertThat(Penumbra.step(1)).isCloseTo(0.8413447, within(1e-6));
    }

    @Test
    void noEdgeAndNoStrokeAreSaid() {
        Image flat = new Image(40, 40, 3);
        for (float[] p : flat.planes) java.util.Arrays.fill(p, 0.3f);
        assertThatThrownBy(() -> Penumbra.measure(flat, new double[] {5, 20}, new double[] {35, 20}, 0.5))
                .hasMessageContaining("no shadow's edge");
        assertThatThrownBy(() -> Penumbra.measure(flat, new double[] {5, 20}, new double[] {7, 20}, 0.5))
                .hasMessageContaining("shorter");
    }
}
