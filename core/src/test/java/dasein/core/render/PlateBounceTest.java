package dasein.core.render;

import static dasein.core.render.Shapes.floor;
import static dasein.core.render.Shapes.render;
import static dasein.core.render.Shapes.sphere;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import dasein.core.image.Image;
import dasein.core.light.Environment;
import dasein.core.light.Lighting;
import dasein.core.light.Sun;
import dasein.core.light.lamp.Lamp;
import dasein.core.math.Pose;
import dasein.core.math.Vec3;
import dasein.core.model.Material;
import dasein.core.model.Mesh;
import dasein.core.render.pass.Passes;
import java.util.Arrays;
import java.util.List;
import org.junit.jupiter.api.Test;

/**
 * What the ground gives a performer, once by the light on it, once by what the plate tells of it less what performers
 * take away: the same in the mean, and the second with less noise.
 */
class PlateBounceTest {
    private static final float ALBEDO = 0.45f;
    private static final Pose FROM = Pose.lookAt(new Vec3(0, 1.1, 3), new Vec3(0, 0.6, 0), Vec3.Y);

    private static Lighting light(List<Lamp> lamps) {
        Image im = new Image(64, 32, 3);
        for (int y = 0; y < 32; y++)
            for (int x = 0; x < 64; x++)
                for (int c = 0; c < 3; c++) im.planes[c][y * 64 + x] = y < 16 ? 0.3f + 0.02f * (16 - y) : 0.1f;
        Sun sun = new Sun(
                Sun.direction(Math.toRadians(35), Math.toRadians(40)), Math.toRadians(1), new float[] {2.4f, 2.2f, 1.9f
                });
        return new Lighting(new Environment(im, 0, 1), List.of(sun), lamps);
    }

    /** @param told whether the ground's radiance is known */
    private static Ground ground(Lighting l, boolean told) {
        float[] e = l.irradiance(Vec3.Y);
        return new Ground() {
            @Override
            public void albedo(float x, float y, float z, float nx, float ny, float nz, float[] out) {
                Arrays.fill(out, ALBEDO);
            }

            @Override
            public boolean radiance(float x, float y, float z, float nx, float ny, float nz, float[] out) {
                for (int c = 0; c < 3; c++) out[c] = ALBEDO * e[c] / (float) Math.PI;
                return told;
            }
        };
    }

    private static Lamp point(boolean real) {
        Vec3 at = new Vec3(1.2, 0.4, 0.8);
        return new Lamp(
                Lamp.Kind.POINT, at, Vec3.Y.times(-1), Vec3.X, 0, 0, 0, 0, new float[] {1.5f, 1.5f, 1.5f}, real);
    }

    private static List<Mesh> scene() {
        return List.of(
                sphere(new Vec3(0, 0.55, 0), 0.5, Material.matt(0.6f, 0.5f, 0.4f), Mesh.Role.PERFORMER),
                floor(40, Material.matt(ALBEDO, ALBEDO, ALBEDO), Mesh.Role.CATCHER));
    }

    private static Passes seen(Lighting l, boolean told, int samples, int bounces) {
        return render(scene(), l, FROM, samples, bounces, false, ground(l, told));
    }

    private static double mean(Passes p, int c) {
        double sum = 0, n = 0;
        for (int i = 0; i < p.alpha.length; i++)
            if (p.alpha[i] > 0.99f) {
                sum += p.beauty[c][i];
                n++;
            }
        return sum / n;
    }

    /** Root mean square of the difference over what the performer covers. */
    private static double apart(Passes a, Passes b) {
        double sum = 0, n = 0;
        for (int i = 0; i < a.alpha.length; i++)
            if (a.alpha[i] > 0.99f && b.alpha[i] > 0.99f) {
                sum += Math.pow(a.beauty[1][i] - b.beauty[1][i], 2);
                n++;
            }
        return Math.sqrt(sum / n);
    }

    @Test
    void theMeanStaysTheSameAndTheNoiseFalls() {
        Lighting l = light(List.of());
        for (int bounces : new int[] {1, 3}) {
            Passes sampled = seen(l, false, 192, bounces), told = seen(l, true, 192, bounces);
            for (int c = 0; c < 3; c++)
                assertThat(mean(told, c))
                        .as("bounces %d", bounces)
                        .isCloseTo(mean(sampled, c), within(0.004 * mean(sampled, c)));
            double before = apart(seen(l, false, 16, bounces), sampled),
                    after = apart(seen(l, true, 16, bounces), told);
            System.out.printf("bounce of the ground, %d bounces: noise %.4f, told %.4f%n", bounces, before, after);
            // Deeper paths take most of their noise from elsewhere.
            assertThat(after).isLessThan(bounces == 1 ? 0.92 * before : 1.02 * before);
        }
    }

    /** One that was not there gives the ground light of its own; one that stood on set is in the plate already. */
    @Test
    void addedLampsLightTheGroundAndThoseOfTheSetDoNotTwice() {
        Lamp added = point(false), real = point(true);
        Passes with = seen(light(List.of(added)), true, 256, 2), sampled = seen(light(List.of(added)), false, 256, 2);
        assertThat(mean(with, 1)).isCloseTo(mean(sampled, 1), within(0.006 * mean(sampled, 1)));
        Passes none = seen(light(List.of()), true, 256, 2), stood = seen(light(List.of(real)), true, 256, 2);
        assertThat(mean(stood, 1)).isBetween(mean(none, 1), mean(with, 1));
    }

    /**
     * A wall behind the camera, seen in no picture, gives a surface that faces it its radiance times the part of the
     * view that it fills: of a disc of radius R at distance d that is R^2 / (R^2 + d^2).
     */
    @Test
    void whatStandsOutsideThePictureGivesItsLight() {
        float wall = 0.7f, albedo = 0.5f;
        double r = 60, d = 5;
        int n = 64;
        float[] p = new float[3 * (n + 1)];
        int[] index = new int[3 * n];
        for (int k = 0; k < n; k++) {
            p[3 * k] = (float) (r * Math.cos(2 * Math.PI * k / n));
            p[3 * k + 1] = (float) (r * Math.sin(2 * Math.PI * k / n));
            index[3 * k] = n;
            index[3 * k + 1] = k;
            index[3 * k + 2] = (k + 1) % n;
        }
        for (int k = 0; k <= n; k++) p[3 * k + 2] = (float) d;
        float[] flat = new float[p.length];
        Mesh disc = new Mesh(
                p,
                p,
                flat,
                flat,
                new float[2 * (n + 1)],
                index,
                new int[n],
                new Material[] {Material.matt(0.5f, 0.5f, 0.5f)},
                0,
                Mesh.Role.CATCHER,
                new Mesh.Catch(false, true, false, 0, 0.3));
        Mesh sheet = sphere(new Vec3(0, 0, -0.2), 0.2, Material.matt(albedo, albedo, albedo), Mesh.Role.PERFORMER);
        Ground g = new Ground() {
            @Override
            public void albedo(float x, float y, float z, float nx, float ny, float nz, float[] out) {
                Arrays.fill(out, 0.5f);
            }

            @Override
            public boolean radiance(float x, float y, float z, float nx, float ny, float nz, float[] out) {
                Arrays.fill(out, wall);
                return true;
            }
        };
        Passes seen = render(
                List.of(disc, sheet),
                new Lighting(Shapes.even(0), List.of()),
                Pose.lookAt(new Vec3(0, 0, 1.4), Vec3.ZERO, Vec3.Y),
                512,
                2,
                false,
                g);
        // Where the sphere faces the wall.
        assertThat((double) seen.beauty[1][30 * 80 + 40])
                .isCloseTo(albedo * wall * r * r / (r * r + d * d), within(0.01));
        assertThat(Shapes.middle(seen, 1)).isGreaterThan(0.3f);
    }

    /** The error that a frame says of itself is the one it has, by many frames of other seeds. */
    @Test
    void theNoiseThatIsSaidIsThere() {
        Lighting l = light(List.of());
        Passes all = seen(l, true, 512, 2), few = seen(l, true, 16, 2);
        double sum = 0, n = 0;
        for (int i = 0; i < all.alpha.length; i++)
            if (all.alpha[i] > 0.99f) {
                double v = Film.luminance(all.beauty[0][i], all.beauty[1][i], all.beauty[2][i]),
                        d = Film.luminance(few.beauty[0][i], few.beauty[1][i], few.beauty[2][i]) - v;
                sum += d * d / ((v + 0.05) * (v + 0.05));
                n++;
            }
        double is = Math.sqrt(sum / n);
        System.out.printf("noise: said %.4f (performer and shadow), performer %.4f%n", few.noise, is);
        assertThat((double) few.noise).isBetween(0.6 * is, 1.7 * is);
    }
}
