package dasein.core.render;

import static dasein.core.render.Shapes.floor;
import static dasein.core.render.Shapes.render;
import static dasein.core.render.Shapes.sphere;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import dasein.core.light.Lighting;
import dasein.core.math.Pose;
import dasein.core.math.Vec3;
import dasein.core.model.Material;
import dasein.core.model.Mesh;
import dasein.core.render.pass.Passes;
import java.util.Arrays;
import java.util.List;
import org.junit.jupiter.api.Test;

/** A lantern: what glows on a performer is sampled as a light. */
class GlowTest {
    private static final double RADIUS = 0.1, HEIGHT = 1;
    private static final float RADIANCE = 50;

    private static final Ground GREY = (x, y, z, nx, ny, nz, out) -> Arrays.fill(out, 0.4f);

    private static Mesh lantern() {
        return sphere(new Vec3(0, HEIGHT, 0), RADIUS, glowing(RADIANCE), Mesh.Role.PERFORMER);
    }

    private static Material glowing(float radiance) {
        return new Material(
                "lantern",
                new float[] {0, 0, 0, 1},
                null,
                0,
                1,
                null,
                null,
                1,
                new float[] {radiance, radiance, radiance},
                null,
                0,
                false,
                true);
    }

    /** Past the lantern onto the ground under it. */
    private static final Pose UNDER = Pose.lookAt(new Vec3(0, 0.6, 2.5), new Vec3(0, 0, 0), Vec3.Y);

    private static Passes seen(Mesh ground, int samples) {
        return render(
                List.of(ground, lantern()),
                new Lighting(Shapes.even(0.01f), List.of()),
                UNDER,
                samples,
                1,
                false,
                GREY);
    }

    /** Irradiance under a sphere is pi L r^2 / h^2: a hundredth of the hemisphere, hit by chance once in a hundred. */
    @Test
    void groundUnderItHasTheClosedForm() {
        Passes p = seen(floor(30, Material.matt(0.4f, 0.4f, 0.4f), Mesh.Role.CATCHER), 96);
        double sum = 0, n = 0, square = 0;
        Passes one = seen(floor(30, Material.matt(0.4f, 0.4f, 0.4f), Mesh.Role.CATCHER), 1);
        double mean1 = 0;
        for (int y = 28; y < 32; y++)
            for (int x = 36; x < 44; x++) {
                Vec3 at = ground(x + 0.5, y + 0.5);
                double d2 = at.x() * at.x() + at.z() * at.z() + HEIGHT * HEIGHT;
                double want = 0.4 * RADIANCE * RADIUS * RADIUS * HEIGHT / Math.pow(d2, 1.5);
                sum += p.bounce[0][y * 80 + x] / want;
                mean1 += one.bounce[0][y * 80 + x] / want;
                square += Math.pow(one.bounce[0][y * 80 + x] / want, 2);
                n++;
            }
        assertThat(sum / n).isCloseTo(1, within(0.01));
        // By chance the variance would be (1 - p) / p, 99 times the square of the mean: 20 times less is asked.
        double variance = square / n - Math.pow(mean1 / n, 2);
        System.out.printf(
                "glowing sphere: mean off by %.2f %%, variance %.2f (by chance 99)%n", 100 * (sum / n - 1), variance);
        assertThat(variance).isLessThan(99 / 20.0);
    }

    private static Vec3 ground(double px, double py) {
        Vec3 d = UNDER.rotation().rotate(Shapes.LENS.ray(px, py));
        return UNDER.position().plus(d.times(-UNDER.position().y() / d.y()));
    }

    /** Another performer's skin receives the same, by light samples and by its own directions together. */
    @Test
    void performersUnderItAreLit() {
        Mesh floor = floor(3, Material.matt(0.5f, 0.5f, 0.5f), Mesh.Role.PERFORMER);
        Passes p = render(List.of(floor, lantern()), new Lighting(null, List.of()), UNDER, 128, 1, false, null);
        double sum = 0;
        for (int y = 28; y < 32; y++)
            for (int x = 36; x < 44; x++) {
                Vec3 at = ground(x + 0.5, y + 0.5);
                double d2 = at.x() * at.x() + at.z() * at.z() + HEIGHT * HEIGHT;
                sum += p.beauty[0][y * 80 + x] / (0.5 * RADIANCE * RADIUS * RADIUS * HEIGHT / Math.pow(d2, 1.5)) / 32;
            }
        assertThat(sum).isCloseTo(1, within(0.02));
    }

    @Test
    void onlyWhatGlowsIsTaken() {
        Mesh dark = floor(3, Material.matt(0.5f, 0.5f, 0.5f), Mesh.Role.PERFORMER);
        assertThat(Glow.of(List.of(dark)).count).isZero();
        Glow g = Glow.of(List.of(dark, lantern()));
        assertThat(g.count).isGreaterThan(1000);
        double sum = 0;
        int triangles = lantern().index().length / 3;
        for (int t = 0; t < triangles; t++) sum += g.chance(1, t);
        assertThat(sum).isCloseTo(1, within(1e-4));
        assertThat(g.chance(0, 0)).isZero();
        assertThat(g.mesh(g.pick(0.5f))).isEqualTo(1);
    }
}
