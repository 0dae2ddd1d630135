package dasein.core.light.sky;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import dasein.core.image.Image;
import dasein.core.light.Environment;
import dasein.core.light.Sun;
import dasein.core.light.SunSearch;
import dasein.core.math.Vec3;
import org.junit.jupiter.api.Test;

class SkyModelTest {
    private static final Vec3 SUN = Sun.direction(Math.toRadians(40), Math.toRadians(30));

    private static double luminance(double[] c) {
        return 0.2126 * c[0] + 0.7152 * c[1] + 0.0722 * c[2];
    }

    @Test
    void levelGroundReceivesPiUnderAnySky() {
        for (double overcast : new double[] {0, 0.5, 1})
            for (double turbidity : new double[] {2, 4, 9}) {
                Image m = new SkyModel(SUN, turbidity, overcast).map(256, new double[3]);
                float[] e = new Environment(m, 0, 1).irradiance(Vec3.Y);
                assertThat(luminance(new double[] {e[0], e[1], e[2]})).isCloseTo(Math.PI, within(0.03 * Math.PI));
            }
    }

    /** Moon and Spencer 1942: the zenith of a closed sky is three times the horizon, and grey. */
    @Test
    void overcastSkyIsThreeTimesBrighterAbove() {
        SkyModel s = new SkyModel(SUN, 4, 1);
        double[] up = s.radiance(Vec3.Y), side = s.radiance(new Vec3(1, 0, 0));
        assertThat(up[0] / side[0]).isCloseTo(3, within(1e-6));
        assertThat(up[2]).isCloseTo(up[0], within(1e-9));
    }

    /**
     * What everybody sees of a clear sky: blue above, paler towards the horizon, brightest about the sun; haze pales.
     */
    @Test
    void clearSkyLooksLikeOne() {
        SkyModel clear = new SkyModel(SUN, 2.5, 0), haze = new SkyModel(SUN, 8, 0);
        Vec3 away = Sun.direction(Math.toRadians(60), Math.toRadians(-150)),
                low = Sun.direction(0.05, Math.toRadians(-150));
        double[] blue = clear.radiance(away), horizon = clear.radiance(low), hazy = haze.radiance(away);
        assertThat(blue[2] / blue[0]).isGreaterThan(1.8);
        assertThat(horizon[2] / horizon[0]).isLessThan(blue[2] / blue[0]);
        assertThat(hazy[2] / hazy[0]).isLessThan(blue[2] / blue[0]);
        assertThat(luminance(clear.radiance(SUN))).isGreaterThan(3 * luminance(blue));
    }

    @Test
    void sunPutInIsFoundAgainWithItsEnergy() {
        Image m = SunDisc.sky(new SkyModel(SUN, 3, 0), SUN, new double[] {0.3, 0.3, 0.3}, 5, 1024);
        SunSearch.Found f = SunSearch.in(m);
        assertThat(Math.toDegrees(Math.acos(Math.min(1, f.sun().towards().dot(SUN)))))
                .isLessThan(0.3);
        float[] sky = new Environment(f.rest(), 0, 1).irradiance(Vec3.Y);
        double ratio = 1 + f.sun().irradiance()[1] * SUN.y() / sky[1];
        assertThat(ratio).isCloseTo(5, within(0.25));
        assertThatThrownBy(() -> new SkyModel(new Vec3(0, -1, 0), 3, 0)).hasMessageContaining("below the ground");
        assertThatThrownBy(() -> new SkyModel(SUN, 30, 0)).hasMessageContaining("turbidity");
    }
}
