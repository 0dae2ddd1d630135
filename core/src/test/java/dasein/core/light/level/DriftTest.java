package dasein.core.light.level;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import dasein.core.Progress;
import dasein.core.image.Image;
import dasein.core.lens.Lens;
import dasein.core.light.Environment;
import dasein.core.light.Lighting;
import dasein.core.light.Sun;
import dasein.core.math.Pose;
import dasein.core.math.Quat;
import dasein.core.math.Vec3;
import dasein.core.plate.Rate;
import dasein.core.solve.SolvedCamera;
import java.util.ArrayList;
import java.util.List;
import java.util.SplittableRandom;
import org.junit.jupiter.api.Test;

class DriftTest {
    private static final int FRAMES = 12, W = 320, H = 180;

    /** Looks down onto a wall of grey squares 10 m off and slides along it. */
    private static SolvedCamera camera() {
        List<SolvedCamera.Frame> frames = new ArrayList<>();
        for (int f = 1; f <= FRAMES; f++)
            frames.add(new SolvedCamera.Frame(f, new Pose(Quat.IDENTITY, new Vec3(0.1 * f, 0, 10)), 300, 0, 10));
        return new SolvedCamera(
                W, H, new Rate(24, 1), "moving", 0.2, 10, new Lens(300, W / 2, H / 2, 0, 0), frames, List.of());
    }

    private static double truth(int f) {
        return 0.8 * Math.sin(f * 0.7) - 0.1 * f;
    }

    private static Image frame(SolvedCamera c, int f, boolean walker) {
        Image im = new Image(W, H, 3);
        SplittableRandom random = new SplittableRandom(f);
        double gain = Math.pow(2, truth(f) - truth(1));
        for (int y = 0; y < H; y++)
            for (int x = 0; x < W; x++) {
                Vec3 ray = c.lens().ray(x + 0.5, y + 0.5);
                double wx = c.frame(f).pose().position().x() + 10 * ray.x() / -ray.z();
                double l = 0.1 + 0.02 * (((int) Math.floor(wx)) & 7);
                for (int k = 0; k < 3; k++)
                    im.planes[k][y * W + x] = (float) (gain * l + 0.006 * random.nextGaussian());
                // Somebody in white crosses a third of the picture.
                if (walker && x > 20 * f && x < 20 * f + 90) for (int k = 0; k < 3; k++) im.planes[k][y * W + x] = 0.7f;
            }
        return im;
    }

    private static List<Vec3> places() {
        List<Vec3> out = new ArrayList<>();
        for (int k = 0; k < 40; k++) out.add(new Vec3(-4.45 + 0.25 * k, -1.5 + (k % 7) * 0.5, 0));
        return out;
    }

    @Test
    void driftIsFoundThoughSomebodyWalksAcross() {
        SolvedCamera c = camera();
        Drift d = Drift.of(f -> frame(c, f, true), 1, c, places(), Progress.NONE);
        for (int f = 1; f <= FRAMES; f++)
            assertThat(Math.log(d.factor(f, 1)) / Math.log(2)).isCloseTo(truth(f) - truth(1), within(0.03));
        assertThat(d.factor(7, 4)).isCloseTo(Math.pow(2, truth(7) - truth(4)), within(0.03));
        assertThat(d.spread()).isBetween(0.001, 0.03);
        assertThatThrownBy(() -> Drift.of(f -> frame(c, f, false), 1, c, List.of(new Vec3(500, 0, 0)), Progress.NONE))
                .hasMessageContaining("too little");
    }

    @Test
    void whatIsCutOffTellsNothing() {
        SolvedCamera c = camera();
        // In the brightest frames only the darker squares are below white, and they still tell.
        Drift d = Drift.of(
                f -> {
                    Image im = frame(c, f, false);
                    for (float[] p : im.planes) for (int i = 0; i < p.length; i++) p[i] = Math.min(p[i], 0.17f);
                    return im;
                },
                0.17,
                c,
                places(),
                Progress.NONE);
        assertThat(Math.log(d.factor(2, 9)) / Math.log(2)).isCloseTo(truth(2) - truth(9), within(0.03));
    }

    @Test
    void sunAndSkyComeApart() {
        Image even = new Image(32, 16, 3);
        for (float[] p : even.planes) java.util.Arrays.fill(p, 0.5f);
        Lighting l = new Lighting(
                new Environment(even, 0, 1), List.of(new Sun(new Vec3(0, 1, 0), 0.01, new float[] {3, 3, 3})));
        double sky = l.environment().irradiance(Vec3.Y)[0];
        // A cloud: the sun falls to a third, the sky to nine tenths.
        double[] k = Drift.apart(l, (0.9 * sky + 1) / (sky + 3), 0.9);
        assertThat(k[0]).isCloseTo(0.9, within(1e-6));
        assertThat(k[1]).isCloseTo(1 / 3.0, within(1e-5));
    }
}
