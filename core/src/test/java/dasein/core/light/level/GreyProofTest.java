package dasein.core.light.level;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import dasein.core.image.Image;
import dasein.core.light.Environment;
import dasein.core.light.Lighting;
import dasein.core.light.Sun;
import dasein.core.light.ball.Circle;
import dasein.core.math.Quat;
import dasein.core.math.Vec3;
import java.util.Arrays;
import java.util.List;
import org.junit.jupiter.api.Test;

/** A ball under an even sky gives albedo times its radiance back, and the sun's part by the cosine (Lambert). */
class GreyProofTest {
    private static final Circle BALL = new Circle(50, 40, 30);
    private static final double SKY = 0.8, ALBEDO = 0.18;
    private static final Sun SUN =
            new Sun(new Vec3(0.6, 0.64, 0.48).unit(), Math.toRadians(0.5), new float[] {3, 2.7f, 2.4f});
    private static final Quat TURNED = Quat.axisAngle(Vec3.Y, 0.7);

    private static Lighting light(double times) {
        Image even = new Image(32, 16, 3);
        for (float[] p : even.planes) Arrays.fill(p, (float) (SKY * times));
        return new Lighting(new Environment(even, 0, 1), List.of(SUN));
    }

    private static Image plate() {
        Image im = new Image(100, 80, 3);
        for (int y = 0; y < 80; y++)
            for (int x = 0; x < 100; x++) {
                double u = (x + 0.5 - BALL.x()) / BALL.r(), v = (BALL.y() - y - 0.5) / BALL.r(), r = Math.hypot(u, v);
                for (int c = 0; c < 3; c++) {
                    double e = 0.3;
                    if (r < 1) {
                        Vec3 n = TURNED.rotate(new Vec3(u, v, Math.sqrt(1 - r * r)));
                        e = ALBEDO * (SKY + SUN.irradiance()[c] / Math.PI * Math.max(0, n.dot(SUN.towards())));
                    }
                    im.planes[c][y * 100 + x] = (float) e;
                }
            }
        return im;
    }

    @Test
    void inTheRightLightNothingIsOff() {
        GreyProof p = GreyProof.of(plate(), BALL, ALBEDO, TURNED, light(1), true);
        assertThat(p.medianStops()).isCloseTo(0, within(0.01));
        assertThat(p.picture().width).isEqualTo(3 * p.picture().height);
        // In its middle the difference is the grey that stands for none.
        assertThat(p.picture().get(300, 60, 1)).isCloseTo(0.2f, within(0.01f));
    }

    @Test
    void twiceTheSkyAndATurnedSunAreSeen() {
        GreyProof out = GreyProof.of(plate(), BALL, ALBEDO, TURNED, light(2), false);
        GreyProof in = GreyProof.of(plate(), BALL, ALBEDO, TURNED, light(2), true);
        assertThat(in.medianStops()).isGreaterThan(0.3).isGreaterThan(out.medianStops());
        GreyProof turned = GreyProof.of(plate(), BALL, ALBEDO, TURNED.times(Quat.axisAngle(Vec3.Y, 2)), light(1), true);
        assertThat(turned.picture().get(280, 50, 1)).isNotCloseTo(0.2f, within(0.02f));
    }
}
