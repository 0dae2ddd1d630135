package dasein.core.light.level;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import dasein.core.image.Image;
import dasein.core.light.Environment;
import dasein.core.light.Sun;
import dasein.core.light.ball.Circle;
import dasein.core.math.Quat;
import dasein.core.math.Vec3;
import java.util.ArrayList;
import java.util.List;
import java.util.SplittableRandom;
import org.junit.jupiter.api.Test;

class LightLevelTest {
    private static final double[] GAIN = {1.7, 1.5, 1.35};
    private static final double[] SUN = {3.1, 2.8, 2.3};

    /** Bluer above, brown below. */
    private static final Environment SKY = sky();

    private static final Sun DIRECTION = new Sun(new Vec3(0.4, 0.7, 0.5).unit(), 0.01, new float[3]);

    private static Environment sky() {
        Image m = new Image(64, 32, 3);
        for (int i = 0; i < 64 * 32; i++) {
            double up = 1 - i / 64 / 16.0;
            m.planes[0][i] = (float) (up > 0 ? 0.4 + 0.2 * up : 0.22);
            m.planes[1][i] = (float) (up > 0 ? 0.5 + 0.2 * up : 0.18);
            m.planes[2][i] = (float) (up > 0 ? 0.7 + 0.3 * up : 0.13);
        }
        return new Environment(m, 0, 1);
    }

    private static double[] seen(Vec3 n, double[] albedo, boolean lit) {
        float[] e = SKY.irradiance(n);
        double[] out = new double[3];
        for (int c = 0; c < 3; c++)
            out[c] = albedo[c]
                    / Math.PI
                    * (GAIN[c] * e[c] + (lit ? SUN[c] * Math.max(0, n.dot(DIRECTION.towards())) : 0));
        return out;
    }

    private static Swatch swatch(String of, Vec3 n, double[] albedo, boolean lit, boolean known) {
        return new Swatch(of, seen(n, albedo, lit), n, known ? albedo : null, lit);
    }

    @Test
    void groundInSunAndShadeOfKnownAlbedoHoldsBoth() {
        double[] concrete = {0.31, 0.29, 0.26};
        LightLevel.Result r = LightLevel.of(
                SKY,
                DIRECTION,
                List.of(
                        swatch("ground", Vec3.Y, concrete, true, true),
                        swatch("ground", Vec3.Y, concrete, false, true)));
        for (int c = 0; c < 3; c++) {
            assertThat(r.map()[c]).isCloseTo(GAIN[c], within(1e-4));
            assertThat(r.sun()[c]).isCloseTo(SUN[c], within(1e-4));
        }
        assertThat(r.off()).allSatisfy(o -> assertThat(o).isCloseTo(0, within(1e-4)));
    }

    @Test
    void ratioAloneHoldsTheSunAgainstTheMap() {
        double[] unknown = {0.5, 0.1, 0.3};
        LightLevel.Result r = LightLevel.of(
                SKY,
                DIRECTION,
                List.of(swatch("mud", Vec3.Y, unknown, true, false), swatch("mud", Vec3.Y, unknown, false, false)));
        assertThat(r.levelKnown()).isFalse();
        for (int c = 0; c < 3; c++) {
            assertThat(r.map()[c]).isEqualTo(1);
            assertThat(r.sun()[c]).isCloseTo(SUN[c] / GAIN[c], within(1e-4));
        }
    }

    /** A grey ball of 18 % under that light, with noise: 0.1 stop and 2 % in the colours' ratios are asked. */
    @Test
    void greyBallHoldsLevelAndColour() {
        int size = 200;
        Circle circle = new Circle(97, 104, 70);
        Quat turn = Quat.axisAngle(new Vec3(0.2, 1, 0).unit(), 0.6);
        SplittableRandom random = new SplittableRandom(4);
        Image im = new Image(size, size, 3);
        float[][] table = new float[size * size][];
        for (int y = 0; y < size; y++)
            for (int x = 0; x < size; x++) {
                double u = (x + 0.5 - circle.x()) / circle.r(), v = (circle.y() - y - 0.5) / circle.r();
                double z2 = 1 - u * u - v * v;
                double[] l = {0.05, 0.05, 0.05};
                if (z2 > 0) {
                    Vec3 n = turn.rotate(new Vec3(u, v, Math.sqrt(z2)));
                    // Irradiance is smooth: every fourth pixel's serves its neighbours.
                    int at = y / 4 * size + x / 4;
                    if (table[at] == null) table[at] = SKY.irradiance(n);
                    for (int c = 0; c < 3; c++)
                        l[c] = 0.18
                                / Math.PI
                                * (GAIN[c] * table[at][c] + SUN[c] * Math.max(0, n.dot(DIRECTION.towards())));
                }
                for (int c = 0; c < 3; c++)
                    im.planes[c][y * size + x] = (float) (l[c] + 0.01 * Math.sqrt(l[c]) * random.nextGaussian());
            }
        LightLevel.Result r =
                LightLevel.of(SKY, DIRECTION, GreyBall.swatches(im, circle, 0.18, turn, DIRECTION.towards()));
        assertThat(r.mapStops()).isCloseTo(Math.log((GAIN[0] + GAIN[1] + GAIN[2]) / 3) / Math.log(2), within(0.1));
        for (int c = 0; c < 3; c += 2) {
            assertThat(r.map()[c] / r.map()[1]).isCloseTo(GAIN[c] / GAIN[1], within(0.02 * GAIN[c] / GAIN[1]));
            assertThat(r.sun()[c] / r.sun()[1]).isCloseTo(SUN[c] / SUN[1], within(0.02 * SUN[c] / SUN[1]));
        }
        assertThatThrownBy(() -> GreyBall.swatches(im, new Circle(20, 100, 70), 0.18, turn, null))
                .hasMessageContaining("cut off");
    }

    @Test
    void whatTellsNothingIsSaid() {
        double[] a = {0.3, 0.3, 0.3};
        List<Swatch> onlyLit = new ArrayList<>(List.of(swatch("ground", Vec3.Y, a, true, true)));
        assertThatThrownBy(() -> LightLevel.of(SKY, DIRECTION, onlyLit)).hasMessageContaining("shade");
        assertThatThrownBy(() -> LightLevel.of(SKY, null, onlyLit)).hasMessageContaining("no sun apart");
        assertThatThrownBy(() -> LightLevel.of(SKY, null, List.of())).hasMessageContaining("no surface");
        assertThatThrownBy(() -> LightLevel.of(SKY, DIRECTION, List.of(swatch("mud", Vec3.Y, a, true, false))))
                .hasMessageContaining("not marked in the shade");
        assertThatThrownBy(() -> new Swatch("paint", new double[] {1, 1, 1}, Vec3.Y, new double[] {2, 1, 1}, false))
                .hasMessageContaining("reflectance");
    }
}
