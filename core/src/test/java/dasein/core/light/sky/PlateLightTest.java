package dasein.core.light.sky;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import dasein.core.Progress;
import dasein.core.image.Image;
import dasein.core.lens.Lens;
import dasein.core.light.Environment;
import dasein.core.light.Sun;
import dasein.core.math.Pose;
import dasein.core.math.Vec3;
import dasein.core.plate.Rate;
import dasein.core.solve.SolvedCamera;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.Test;

/** A field under a known sky, filmed by a camera that pans over a third of it while its exposure drifts. */
class PlateLightTest {
    private static final Vec3 SUN_AT = Sun.direction(Math.toRadians(35), Math.toRadians(-80));
    private static final Vec3 PLACE = new Vec3(0, 1, -4);
    private static final double[] ALBEDO = {0.33, 0.3, 0.26};
    private static final float[] SUN = {3.2f, 3f, 2.6f};
    private static final Image TRUTH = truth();

    private static Image truth() {
        SkyModel sky = new SkyModel(SUN_AT, 5, 0.5);
        Image m = sky.map(256, new double[3]);
        for (float[] p : m.planes) for (int i = 0; i < p.length; i++) p[i] *= 0.6f;
        float[] e = new Environment(m, 0, 1).irradiance(Vec3.Y);
        for (int c = 0; c < 3; c++)
            for (int i = m.width * (m.height / 2); i < m.planes[c].length; i++)
                m.planes[c][i] = (float) (ALBEDO[c] / Math.PI * (e[c] + SUN[c] * SUN_AT.y()));
        return m;
    }

    private static SolvedCamera camera() {
        List<SolvedCamera.Frame> f = new ArrayList<>();
        for (int k = 1; k <= 12; k++) {
            Vec3 at = new Vec3(0, 1.6, 0), look = Sun.direction(-0.1, Math.toRadians(-30 + 5 * k));
            f.add(new SolvedCamera.Frame(k, Pose.lookAt(at, at.plus(look), Vec3.Y), 220, 0.1, 50));
        }
        return new SolvedCamera(
                320, 180, new Rate(24, 1), "nodal", 0.1, 1, new Lens(220, 160, 90, 0, 0), f, List.of(), 1, List.of());
    }

    /** What lies on the ground is even; above, the sky as it is. Frame by frame brighter by a twentieth of a stop. */
    private static Image frame(SolvedCamera c, int n) {
        Image im = new Image(320, 180, 3);
        Environment e = new Environment(TRUTH, 0, Math.pow(2, 0.05 * (n - 6.5)));
        Pose p = c.frame(n).pose();
        Image.rows(180, y -> {
            float[] out = new float[3];
            for (int x = 0; x < 320; x++) {
                Vec3 d = p.rotation().rotate(c.lens().ray(x + 0.5, y + 0.5)).unit();
                e.radiance((float) d.x(), (float) d.y(), (float) d.z(), out);
                for (int k = 0; k < 3; k++) im.planes[k][y * 320 + x] = Math.min(out[k], 1);
            }
        });
        return im;
    }

    private static double[] ground(boolean lit) {
        Image sky = TRUTH.copy();
        float[] e = new Environment(sky, 0, 1).irradiance(Vec3.Y);
        double[] out = new double[3];
        for (int c = 0; c < 3; c++) out[c] = ALBEDO[c] / Math.PI * (e[c] + (lit ? SUN[c] * SUN_AT.y() : 0));
        return out;
    }

    private static double irradiance(Environment e, Sun sun, Vec3 n, int c) {
        return e.irradiance(n)[c] + (sun == null ? 0 : sun.irradiance()[c] * Math.max(0, n.dot(sun.towards())));
    }

    @Test
    void lightFromThePlateAloneIsNearTheTrueOne() {
        SolvedCamera c = camera();
        PlateSphere s = PlateSphere.of(n -> frame(c, n), 1, c, PLACE, 128, Progress.NONE);
        PlateLight.Result r =
                PlateLight.of(s, new PlateLight.Hints(SUN_AT, Math.toRadians(0.5), ground(true), ground(false), 0.3));
        Environment got = new Environment(r.map(), 0, 1), truth = new Environment(TRUTH, 0, 1);
        Sun sun = new Sun(SUN_AT, 0.009, SUN);
        Image even = new Image(32, 16, 3);
        double level = irradiance(truth, sun, Vec3.Y, 1) / Math.PI;
        for (float[] p : even.planes) java.util.Arrays.fill(p, (float) level);
        Environment grey = new Environment(even, 0, 1);
        double worst = 0, worstGrey = 0, g = (1 + Math.sqrt(5)) / 2;
        for (int a = -1; a <= 1; a += 2)
            for (int b = -1; b <= 1; b += 2)
                for (Vec3 n : new Vec3[] {new Vec3(0, a, b * g), new Vec3(a, b * g, 0), new Vec3(b * g, 0, a)})
                    for (int k = 0; k < 3; k++) {
                        double want = irradiance(truth, sun, n.unit(), k);
                        worst = Math.max(worst, Math.abs(irradiance(got, null, n.unit(), k) / want - 1));
                        worstGrey = Math.max(worstGrey, Math.abs(irradiance(grey, null, n.unit(), k) / want - 1));
                    }
        assertThat(worst).isLessThan(0.2);
        assertThat(worst).isLessThan(worstGrey / 3);
        assertThat(r.seen()).isBetween(0.1, 0.6);
        // What was seen is as it was seen: the exposure's drift is gone.
        int i = 60 * 128 + 64;
        assertThat(r.invented()[i]).isFalse();
        float[] here = new float[3];
        Vec3 d = Environment.fromUv(64.5 / 128, 60.5 / 64);
        truth.radiance((float) d.x(), (float) d.y(), (float) d.z(), here);
        assertThat(r.map().planes[1][i]).isCloseTo(here[1], within(0.05f * here[1]));
    }

    @Test
    void impossibleHintsAreSaid() {
        assertThatThrownBy(() -> new PlateLight.Hints(new Vec3(0, -1, 0), 0.01, null, null, 0))
                .hasMessageContaining("below the ground");
        assertThatThrownBy(() -> new PlateLight.Hints(SUN_AT, 0.01, ground(false), ground(true), 0))
                .hasMessageContaining("not brighter");
        PlateSphere nothing = new PlateSphere(new Image(64, 32, 3), new float[64 * 32], new boolean[64 * 32]);
        assertThatThrownBy(() -> PlateLight.of(nothing, new PlateLight.Hints(null, 0, null, null, 0)))
                .hasMessageContaining("no ground");
    }
}
