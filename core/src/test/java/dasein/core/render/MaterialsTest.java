package dasein.core.render;

import static dasein.core.render.Shapes.even;
import static dasein.core.render.Shapes.floor;
import static dasein.core.render.Shapes.mean;
import static dasein.core.render.Shapes.middle;
import static dasein.core.render.Shapes.of;
import static dasein.core.render.Shapes.quad;
import static dasein.core.render.Shapes.render;
import static dasein.core.render.Shapes.slab;
import static dasein.core.render.Shapes.sphere;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import dasein.core.image.Image;
import dasein.core.light.Environment;
import dasein.core.light.Lighting;
import dasein.core.light.Sun;
import dasein.core.math.Pose;
import dasein.core.math.Vec3;
import dasein.core.model.Material;
import dasein.core.model.Mesh;
import dasein.core.render.pass.Passes;
import java.util.Arrays;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Materials under even light and simple shapes: closed forms, published figures and what must be conserved. */
class MaterialsTest {
    private static Material white(float metal, float rough) {
        float[] base = {1, 1, 1, 1};
        return new Material("white", base, null, metal, rough, null, null, 1, new float[3], null, 0, false, true);
    }

    /**
     * White furnace (Pharr et al.): a surface that absorbs nothing must vanish in an even environment, whatever its
     * roughness.
     */
    @ParameterizedTest
    @CsvSource({
        "0, 0.1", "0, 0.2", "0, 0.3", "0, 0.4", "0, 0.5", "0, 0.6", "0, 0.7", "0, 0.8", "0, 0.9", "0, 1.0",
        "1, 0.1", "1, 0.2", "1, 0.3", "1, 0.4", "1, 0.5", "1, 0.6", "1, 0.7", "1, 0.8", "1, 0.9", "1, 1.0"
    })
    void whiteFurnace(float metal, float rough) {
        Material white = white(metal, rough);
        Passes p = render(
                List.of(sphere(new Vec3(0, 0, -4), 1, white, Mesh.Role.PERFORMER)),
                new Lighting(even(0.5f), List.of()),
                Pose.IDENTITY,
                64,
                6,
                false,
                null);
        // The directional albedo comes from a closed-form fit that is off by up to four percent for very rough metal.
        assertThat(mean(p.beauty[1], p.alpha, 1)).isCloseTo(0.5, within(metal > 0 && rough > 0.9 ? 0.025 : 0.012));
    }

    /**
     * Under a clear coat a white surface keeps nearly all light (the coat's specification gives a little away at its
     * edge).
     */
    @Test
    void clearCoat() {
        Material coated =
                white(0, 0.6f).with(new Material.Layers(new float[] {0.04f, 0.04f, 0.04f}, 1, 0.1f, 0, false));
        Passes p = render(
                List.of(sphere(new Vec3(0, 0, -4), 1, coated, Mesh.Role.PERFORMER)),
                new Lighting(even(0.5f), List.of()),
                Pose.IDENTITY,
                64,
                6,
                false,
                null);
        assertThat(mean(p.beauty[1], p.alpha, 1)).isBetween(0.47, 0.51);
        // A sun mirrored by the coat alone: a black body under it still shows the light.
        Material black = black();
        Sun sun = new Sun(new Vec3(0, 0, 1), Math.toRadians(8), new float[] {3, 3, 3});
        double[] peak = new double[2];
        for (int k = 0; k < 2; k++) {
            Material m = k == 0
                    ? black.with(new Material.Layers(new float[3], 0, 0, 0, false))
                    : black.with(new Material.Layers(new float[3], 1, 0.2f, 0, false));
            for (float v : render(
                            List.of(sphere(new Vec3(0, 0, -4), 1, m, Mesh.Role.PERFORMER)),
                            new Lighting(null, List.of(sun)),
                            Pose.IDENTITY,
                            32,
                            2,
                            false,
                            null)
                    .beauty[0]) peak[k] = Math.max(peak[k], v);
        }
        assertThat(peak[0]).isZero();
        assertThat(peak[1]).isGreaterThan(0.5);
    }

    private static Material black() {
        return new Material(
                "black", new float[] {0, 0, 0, 1}, null, 0, 1, null, null, 1, new float[3], null, 0, false, true);
    }

    /** Coat and cloth over what absorbs nothing take little away, and make no light, at ten roughnesses each. */
    @Test
    void furnaceOfCoatAndCloth() {
        float[] f0 = {0.04f, 0.04f, 0.04f};
        for (int k = 1; k <= 10; k++) {
            Material.Layers coat = new Material.Layers(f0, 1, k / 10f, 0, false),
                    cloth =
                            new Material.Layers(
                                    f0, 0, 0, 0, false, 0, new Material.Sheen(new float[] {1, 1, 1}, k / 10f), null);
            for (Material.Layers l : List.of(coat, cloth)) {
                Material white = white(0, 0.6f).with(l);
                Passes p = render(
                        List.of(sphere(new Vec3(0, 0, -4), 1, white, Mesh.Role.PERFORMER)),
                        new Lighting(even(0.5f), List.of()),
                        Pose.IDENTITY,
                        64,
                        6,
                        false,
                        null);
                double m = mean(p.beauty[1], p.alpha, 1);
                assertThat(m)
                        .as("%s at %.1f", l == coat ? "coat" : "cloth", k / 10.0)
                        .isBetween(0.44, 0.512);
            }
        }
    }

    /**
     * A coarse sphere with smooth normals under a sun is shaded as the normals say, albedo E cos / pi, without steps
     * where the light grazes it: before its places were lifted the facets showed there.
     */
    @Test
    void coarseMeshesHaveNoStepsWhereLightGrazes() {
        int rows = 10, sides = 16;
        float[] p = new float[3 * (rows + 1) * (sides + 1)];
        int[] index = new int[6 * rows * sides];
        for (int j = 0, v = 0; j <= rows; j++)
            for (int i = 0; i <= sides; i++, v += 3) {
                double th = Math.PI * j / rows, ph = 2 * Math.PI * i / sides;
                p[v] = (float) (Math.sin(th) * Math.cos(ph));
                p[v + 1] = (float) Math.cos(th);
                p[v + 2] = (float) (Math.sin(th) * Math.sin(ph));
            }
        for (int j = 0, t = 0; j < rows; j++)
            for (int i = 0; i < sides; i++) {
                int a = j * (sides + 1) + i, b = a + sides + 1;
                for (int k : new int[] {a, a + 1, b, a + 1, b + 1, b}) index[t++] = k;
            }
        Material.Layers none = new Material.Layers(new float[3], 0, 0, 0, false);
        Mesh coarse = new Mesh(
                p,
                p,
                p,
                p,
                new float[2 * p.length / 3],
                index,
                new int[index.length / 3],
                new Material[] {Material.matt(0.5f, 0.5f, 0.5f).with(none)},
                1,
                Mesh.Role.PERFORMER);
        Vec3 to = new Vec3(1, 0.35, 0.25).unit();
        Passes seen = render(
                List.of(coarse),
                new Lighting(null, List.of(new Sun(to, Math.toRadians(0.2), new float[] {2, 2, 2}))),
                Pose.lookAt(new Vec3(0, 0, 4), Vec3.ZERO, Vec3.Y),
                64,
                0,
                false,
                null);
        double off = 0, worst = 0;
        int n = 0;
        for (int i = 0; i < seen.alpha.length; i++) {
            if (seen.alpha[i] < 1) continue;
            Vec3 normal = new Vec3(seen.normal[0][i], seen.normal[1][i], seen.normal[2][i]).unit();
            double d = seen.beauty[1][i] - 0.5 * 2 * Math.max(0, normal.dot(to)) / Math.PI;
            off += d * d;
            worst = Math.max(worst, Math.abs(d));
            n++;
        }
        System.out.printf("coarse sphere: error %.4f, worst %.3f%n", Math.sqrt(off / n), worst);
        assertThat(Math.sqrt(off / n)).isLessThan(0.004);
        assertThat(worst).isLessThan(0.03);
    }

    /** Thin glass lets through what it says, and what is unlit shows its own colour under any light. */
    @Test
    void thinGlassAndWhatIsUnlit() {
        Material glass = black().with(new Material.Layers(new float[3], 0, 0, 0.75f, false));
        Pose down = Pose.lookAt(new Vec3(0, 3, 0), Vec3.ZERO, Vec3.Z);
        Passes pane = render(
                List.of(floor(10, glass, Mesh.Role.PERFORMER)),
                new Lighting(even(0.5f), List.of()),
                down,
                256,
                2,
                false,
                null);
        double alpha = 0;
        for (float a : pane.alpha) alpha += a / pane.alpha.length;
        assertThat(alpha).isCloseTo(0.25, within(0.01));
        Material unlit = new Material(
                        "sign",
                        new float[] {0.3f, 0.6f, 0.9f, 1},
                        null,
                        0,
                        1,
                        null,
                        null,
                        1,
                        new float[3],
                        null,
                        0,
                        false,
                        true)
                .with(new Material.Layers(new float[3], 0, 0, 0, true));
        Passes sign = render(
                List.of(floor(10, unlit, Mesh.Role.PERFORMER)),
                new Lighting(even(0.1f), List.of()),
                down,
                8,
                2,
                false,
                null);
        assertThat(mean(sign.beauty[1], sign.alpha, 1)).isCloseTo(0.6, within(1e-4));
    }

    /**
     * Light that goes into a body comes out with the colour the body is said to have, and through a thin part of it to
     * the other side.
     */
    @Test
    void lightGoesThroughWhatScattersIt() {
        for (float albedo : new float[] {0.8f, 0.4f}) {
            Material wax = new Material(
                            "wax",
                            new float[] {albedo, albedo, albedo, 1},
                            null,
                            0,
                            1,
                            null,
                            null,
                            1,
                            new float[3],
                            null,
                            0,
                            false,
                            true)
                    .with(new Material.Layers(new float[3], 0, 0, 0, false, 0.01f, null, null));
            Passes p = render(
                    List.of(sphere(new Vec3(0, 0, -4), 1, wax, Mesh.Role.PERFORMER)),
                    new Lighting(even(0.5f), List.of()),
                    Pose.IDENTITY,
                    128,
                    4,
                    false,
                    null);
            System.out.printf(
                    "scattering body, colour %.1f in an even light: %.3f%n",
                    albedo, mean(p.beauty[1], p.alpha, 1) / 0.5);
            assertThat(mean(p.beauty[1], p.alpha, 1) / 0.5).isCloseTo(albedo, within(0.04));
        }
        // The sun stands behind the ball: opaque it is dark, and the further light goes within it the brighter it is.
        Sun behind = new Sun(new Vec3(0, 0, -1), Math.toRadians(2), new float[] {3, 3, 3});
        double[] through = new double[3];
        float[] far = {0, 0.1f, 0.5f};
        for (int k = 0; k < 3; k++) {
            Material wax = new Material(
                            "wax",
                            new float[] {0.9f, 0.9f, 0.9f, 1},
                            null,
                            0,
                            1,
                            null,
                            null,
                            1,
                            new float[3],
                            null,
                            0,
                            false,
                            true)
                    .with(new Material.Layers(new float[3], 0, 0, 0, false, far[k], null, null));
            for (float v : render(
                            List.of(sphere(new Vec3(0, 0, -4), 1, wax, Mesh.Role.PERFORMER)),
                            new Lighting(null, List.of(behind)),
                            Pose.IDENTITY,
                            64,
                            4,
                            false,
                            null)
                    .beauty[1]) through[k] += v / 1000;
        }
        assertThat(through[0]).isLessThan(0.2 * through[1]);
        assertThat(through[2]).isGreaterThan(2 * through[1]);
    }

    /**
     * Clear glass in even light is as bright as that light; a slab takes what Fresnel's and Beer's laws say; a ball
     * turns what lies behind it upside down.
     */
    @Test
    void bodiesOfGlass() {
        float f = 0.04f;
        Material.Layers clear = new Material.Layers(
                new float[] {f, f, f}, 0, 0, 1, false, 0, null, new Material.Glass(1.5f, new float[3]));
        Pose pose = Pose.lookAt(new Vec3(0, 0, 4), Vec3.ZERO, Vec3.Y);
        Passes ball = render(
                List.of(sphere(Vec3.ZERO, 0.8, of(1, clear), Mesh.Role.PERFORMER)),
                new Lighting(even(1), List.of()),
                pose,
                256,
                4,
                true,
                null);
        for (int i = 0; i < ball.beauty[0].length; i++)
            assertThat(ball.beauty[0][i]).isCloseTo(1, within(0.06f));
        float[] takes = {0, 1, 4};
        Passes slab = render(
                List.of(slab(
                        0.5,
                        of(
                                1,
                                new Material.Layers(
                                        new float[] {f, f, f},
                                        0,
                                        0,
                                        1,
                                        false,
                                        0,
                                        null,
                                        new Material.Glass(1.5f, takes))))),
                new Lighting(even(1), List.of()),
                pose,
                256,
                4,
                true,
                null);
        for (int c = 0; c < 3; c++) {
            double t = Math.exp(-0.5 * takes[c]),
                    r = f + (1 - f) * (1 - f) * f * t * t / (1 - f * f * t * t),
                    through = (1 - f) * (1 - f) * t / (1 - f * f * t * t);
            assertThat(middle(slab, c)).isCloseTo((float) (r + through), within(0.01f));
        }
        Image sky = new Image(64, 32, 3);
        for (float[] p : sky.planes) for (int y = 0; y < 16; y++) Arrays.fill(p, 64 * y, 64 * (y + 1), 1);
        Passes turned = render(
                List.of(sphere(Vec3.ZERO, 0.8, of(1, clear), Mesh.Role.PERFORMER)),
                new Lighting(new Environment(sky, 0, 1), List.of()),
                pose,
                64,
                4,
                true,
                null);
        assertThat(turned.beauty[0][80 * 20 + 40]).isLessThan(0.2f);
        assertThat(turned.beauty[0][80 * 40 + 40]).isGreaterThan(0.7f);
    }

    /**
     * Cloth returns no more than it gets, whatever its roughness; without anything under it the sheen is brightest
     * where it is seen along.
     */
    @Test
    void sheenOfCloth() {
        Pose pose = Pose.lookAt(new Vec3(0, 0, 4), Vec3.ZERO, Vec3.Y);
        for (float rough : new float[] {0.2f, 0.5f, 1}) {
            Material.Sheen s = new Material.Sheen(new float[] {1, 0.5f, 0}, rough);
            Material white = of(1, new Material.Layers(new float[3], 0, 0, 0, false, 0, s, null)),
                    black = of(0, new Material.Layers(new float[3], 0, 0, 0, false, 0, s, null));
            Passes
                    on =
                            render(
                                    List.of(sphere(Vec3.ZERO, 0.8, white, Mesh.Role.PERFORMER)),
                                    new Lighting(even(1), List.of()),
                                    pose,
                                    64,
                                    3,
                                    true,
                                    null),
                    alone =
                            render(
                                    List.of(sphere(Vec3.ZERO, 0.8, black, Mesh.Role.PERFORMER)),
                                    new Lighting(even(1), List.of()),
                                    pose,
                                    64,
                                    3,
                                    true,
                                    null);
            // The red of the sheen fills up what it keeps from the white under it; blue lacks it.
            assertThat(middle(on, 0)).isCloseTo(1, within(0.02f));
            assertThat(middle(on, 2)).isLessThan(middle(on, 0));
            assertThat(middle(on, 2)).isCloseTo(1 - middle(alone, 0), within(0.02f));
            assertThat(alone.beauty[1][80 * 30 + 40]).isCloseTo(alone.beauty[0][80 * 30 + 40] / 2, within(0.01f));
            // The ball's edge: 0.8 m at 4 m, 120 pixels of focal length: 24 pixels from the middle.
            assertThat(alone.beauty[0][80 * 30 + 40 + 22]).isGreaterThan(alone.beauty[0][80 * 30 + 40]);
        }
    }

    /** Between vertices of two colours lies their mean. */
    @Test
    void coloursOfVertices() {
        Mesh q = quad(
                        new Vec3(-1, -1, 0),
                        new Vec3(1, -1, 0),
                        new Vec3(1, 1, 0),
                        new Vec3(-1, 1, 0),
                        Mesh.Role.PERFORMER,
                        null)
                .with(new float[] {1, 0, 0, 1, 0, 0, 1, 1, 0, 0, 1, 1, 1, 0, 0, 1});
        Pose pose = Pose.lookAt(new Vec3(0, 0, 4), Vec3.ZERO, Vec3.Y);
        Passes p = render(List.of(q), new Lighting(even(1), List.of()), pose, 64, 1, true, null);
        float whole = middle(p, 0) + middle(p, 2);
        assertThat(middle(p, 0)).isCloseTo(whole / 2, within(0.01f));
        assertThat(p.beauty[0][80 * 30 + 40 - 22]).isCloseTo(0.858f * whole, within(0.03f));
    }
}
