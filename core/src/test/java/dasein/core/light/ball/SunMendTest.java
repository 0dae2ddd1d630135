package dasein.core.light.ball;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import dasein.core.BadInput;
import dasein.core.image.Image;
import dasein.core.light.Environment;
import dasein.core.light.Sun;
import dasein.core.math.Vec3;
import org.junit.jupiter.api.Test;

/** A sun that all photographs cut off, given back what it was. */
class SunMendTest {
    private static final int W = 256, H = 128;
    private static final Vec3 TOWARDS = Sun.direction(Math.toRadians(40), Math.toRadians(-30));
    private static final double ACROSS = Math.toRadians(5), FACING = 4;

    /** An even sky with a warm glow about a warm sun; cut off at {@code most}. */
    private static Image map(double most) {
        Image m = new Image(W, H, 3);
        double[] warm = {1.15, 1.0, 0.85};
        double radiance = FACING / (2 * Math.PI * (1 - Math.cos(ACROSS / 2)));
        for (int i = 0; i < W * H; i++) {
            Vec3 d = Environment.fromUv((i % W + 0.5) / W, (i / W + 0.5) / H);
            double angle = Math.acos(Math.min(1, d.dot(TOWARDS)));
            for (int c = 0; c < 3; c++) {
                double l = (d.y() > 0 ? 0.5 : 0.2) + 2 * warm[c] * Math.exp(-angle * angle / 0.02);
                if (angle < ACROSS / 2) l += radiance * warm[c];
                m.planes[c][i] = (float) Math.min(l, most);
            }
        }
        return m;
    }

    private static boolean[] cut(double most) {
        Image full = map(1e9);
        boolean[] out = new boolean[W * H];
        for (int i = 0; i < out.length; i++) out[i] = full.planes[0][i] >= most;
        return out;
    }

    @Test
    void lightOnLitAndShadedGroundGivesTheSunBack() {
        Environment truth = new Environment(map(1e9), 0, 1);
        float[] all = truth.irradiance(Vec3.Y), shade = new Environment(map(2.6), 0, 1).irradiance(Vec3.Y);
        double ratio = (double) all[1] / shade[1];
        SunMend.Mended m = SunMend.byRatio(map(3), cut(3), ratio);
        assertThat(Math.toDegrees(Math.acos(m.towards().dot(TOWARDS)))).isLessThan(0.5);
        Environment e = new Environment(m.map(), 0, 1);
        for (Vec3 n : KnownBall.TWELVE)
            for (int c = 0; c < 3; c++)
                assertThat(e.irradiance(n)[c]).isCloseTo(truth.irradiance(n)[c], within(0.1f * truth.irradiance(n)[c]));
        assertThat(m.irradiance()).isCloseTo(FACING, within(0.1 * FACING));
    }

    @Test
    void whatCannotBeIsSaid() {
        assertThatThrownBy(() -> SunMend.byRatio(map(3), new boolean[W * H], 3))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("nothing is cut off");
        assertThatThrownBy(() -> SunMend.byRatio(map(3), cut(3), 0.8))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("between 1 and");
        boolean[] low = new boolean[W * H];
        for (int x = 100; x < 110; x++) low[80 * W + x] = low[81 * W + x] = true;
        assertThatThrownBy(() -> SunMend.byRatio(map(3), low, 3))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("horizon");
    }
}
