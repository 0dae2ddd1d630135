package dasein.core.light;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import dasein.core.image.Image;
import dasein.core.math.Vec3;
import org.junit.jupiter.api.Test;

/** A sun taken out of a map: nothing of the light is lost, and the disc is where and as large as it was painted. */
class SunSearchTest {
    private static final int W = 512, H = 256;

    /** A level sky with a disc in it. @param up of the disc's middle; @param radius both radians */
    private static Image map(double azimuth, double up, double radius, float sky, float disc) {
        Vec3 d = new Vec3(Math.cos(up) * Math.sin(azimuth), Math.sin(up), Math.cos(up) * Math.cos(azimuth));
        Image m = new Image(W, H, 3);
        for (int y = 0; y < H; y++)
            for (int x = 0; x < W; x++) {
                double off = Math.acos(Math.min(
                        1, Environment.fromUv((x + 0.5) / W, (y + 0.5) / H).dot(d)));
                for (int c = 0; c < 3; c++) m.planes[c][y * W + x] = sky + (off < radius ? disc * (1 + 0.1f * c) : 0);
            }
        return m;
    }

    /** Light of a map over all directions: radiance by solid angle. */
    private static double light(Image m, int channel) {
        double sum = 0;
        for (int y = 0; y < H; y++) {
            double solid = (Math.cos(Math.PI * y / H) - Math.cos(Math.PI * (y + 1) / H)) * 2 * Math.PI / W;
            for (int x = 0; x < W; x++) sum += solid * m.planes[channel][y * W + x];
        }
        return sum;
    }

    @Test
    void theSunAndTheRestHoldAllTheLight() {
        for (double up : new double[] {0.15, 0.7, 1.3}) {
            Image m = map(0.8, up, Math.toRadians(3), 0.4f, 900);
            SunSearch.Found f = SunSearch.in(m);
            assertThat(f.sun()).isNotNull();
            for (int c = 0; c < 3; c++)
                assertThat(light(f.rest(), c) + f.sun().irradiance()[c])
                        .as("channel %d at %.2f", c, up)
                        .isCloseTo(light(m, c), within(2e-4 * light(m, c)));
        }
    }

    @Test
    void theDiscIsWhereItWasAndAsLarge() {
        double radius = Math.toRadians(2.5);
        SunSearch.Found f = SunSearch.in(map(-1.1, 0.6, radius, 0.3f, 500));
        Vec3 d = new Vec3(Math.cos(0.6) * Math.sin(-1.1), Math.sin(0.6), Math.cos(0.6) * Math.cos(-1.1));
        assertThat(Math.toDegrees(Math.acos(Math.min(1, f.sun().towards().dot(d)))))
                .isLessThan(0.15);
        // Pixels of 0.7 degrees.
        assertThat(Math.toDegrees(f.sun().angleRadians())).isCloseTo(2 * Math.toDegrees(radius), within(0.4));
        // A disc's light is its radiance times the solid angle of a cap.
        assertThat((double) f.sun().irradiance()[0])
                .isCloseTo(500 * 2 * Math.PI * (1 - Math.cos(radius)), within(0.05 * 500 * Math.PI * radius * radius));
    }

    @Test
    void aCloudySkyHasNoSunAndStaysAsItIs() {
        Image m = map(0.3, 0.9, Math.toRadians(20), 0.5f, 1.5f);
        SunSearch.Found f = SunSearch.in(m);
        assertThat(f.sun()).isNull();
        assertThat(f.rest().planes[0]).isEqualTo(m.planes[0]);
    }
}
