package dasein.core.render;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import dasein.core.Progress;
import dasein.core.image.Image;
import dasein.core.lens.Lens;
import dasein.core.lens.View;
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

/** Ground that is not flat, ground without any light, and light that is only given back. */
class CatchersTest {
    private static final Lens LENS = new Lens(120, 40, 30, 0, 0);
    private static final Material GREY = Material.matt(0.5f, 0.5f, 0.5f);
    private static final Ground HALF = (x, y, z, nx, ny, nz, out) -> Arrays.fill(out, 0.5f);

    /** A roof of two slopes of 45 degrees whose ridge runs along z; the first triangle is of the left one. */
    private static Mesh roof() {
        float w = 4, d = 20;
        float[] p = {-w, -w, -d, -w, -w, d, 0, 0, d, 0, 0, -d, w, -w, -d, w, -w, d};
        int[] index = {0, 1, 2, 0, 2, 3, 3, 2, 5, 3, 5, 4};
        return new Mesh(
                p,
                p,
                new float[18],
                new float[18],
                new float[12],
                index,
                new int[4],
                new Material[] {GREY},
                0,
                Mesh.Role.CATCHER);
    }

    @Test
    void aRoofIsNotFlatAndAFloorIs() {
        assertThat(Catchers.among(List.of(roof())).flat()).isFalse();
        assertThat(Catchers.among(List.of(Shapes.floor(9, GREY, Mesh.Role.CATCHER)))
                        .flat())
                .isTrue();
        assertThat(Catchers.among(List.of()).flat()).isTrue();
    }

    private static Passes render(List<Mesh> meshes, Lighting light, Pose pose, int least, int most, double noise) {
        return FrameRenderer.render(
                new FrameRenderer.Job(
                        meshes,
                        light,
                        new View(pose, pose, LENS, 80, 60),
                        HALF,
                        CatcherLook.DRY,
                        new Quality(least, most, noise, 1, false),
                        false,
                        0.5,
                        5),
                Progress.NONE,
                null);
    }

    /**
     * The sun stands low on the right: the left slope lies in the roof's own shade, so a ball over the right one cannot
     * darken it, and takes all the light where it stands before the sun.
     */
    @Test
    void aGroundThatIsAloneButNotFlatIsLitByItsOwnSlopes() {
        Sun sun = new Sun(new Vec3(1, 0.4, 0).unit(), Math.toRadians(0.5), new float[] {2, 2, 2});
        Mesh ball = Shapes.sphere(new Vec3(2.2, -0.6, -5), 0.5, GREY, Mesh.Role.PERFORMER);
        Pose above = Pose.lookAt(new Vec3(0, 5, -5), new Vec3(0, 0, -5.001), new Vec3(0, 0, -1));
        Passes p = render(List.of(roof(), ball), new Lighting(null, List.of(sun)), above, 64, 64, 0);
        float darkest = 1;
        for (int y = 0; y < 60; y++) {
            for (int x = 0; x < 80; x++) {
                int i = y * 80 + x;
                if (p.alpha[i] > 0) continue;
                if (x < 38)
                    assertThat(p.shadow[0][i]).as("left slope at %d, %d", x, y).isEqualTo(1);
                darkest = Math.min(darkest, p.shadow[0][i]);
            }
        }
        assertThat(darkest).as("core of the shadow on the right slope").isLessThan(0.02f);
    }

    /**
     * Nothing lights the scene but a glowing ball: its light on the ground is content, and its noise keeps samples
     * coming.
     */
    @Test
    void withoutAnyLightTheNoiseOfWhatIsGivenIsStillMeasured() {
        Material glow = new Material(
                "glow",
                new float[] {0, 0, 0, 1},
                null,
                0,
                1,
                null,
                null,
                1,
                new float[] {4, 4, 4},
                null,
                0,
                false,
                true);
        List<Mesh> scene = List.of(
                Shapes.floor(30, GREY, Mesh.Role.CATCHER),
                Shapes.sphere(new Vec3(0, 0.8, -5), 0.4, glow, Mesh.Role.PERFORMER));
        Pose eye = Pose.lookAt(new Vec3(0, 1.6, 0), new Vec3(0, 0.4, -5), Vec3.Y);
        Passes few = render(scene, new Lighting(null, List.of()), eye, 8, 128, 0.02);
        assertThat(few.samples).as("mean samples").isGreaterThan(10);
        int lit = 0;
        for (int i = 0; i < 80 * 60; i++) {
            assertThat(few.shadow[0][i]).isEqualTo(1);
            if (few.bounce[0][i] > 0.01) lit++;
        }
        assertThat(lit).isGreaterThan(200);
    }

    /** The red channel alone does not decide: a ball that gives back only blue is content, too. */
    @Test
    void blueBounceIsSeenByTheNoiseAndByTheComp() {
        Image sky = new Image(32, 16, 3);
        for (float[] p : sky.planes) Arrays.fill(p, 1);
        Mesh blue = Shapes.sphere(new Vec3(0, 0.5, -4), 0.5, Material.matt(0, 0, 0.9f), Mesh.Role.PERFORMER);
        Passes p = render(
                List.of(Shapes.floor(30, GREY, Mesh.Role.CATCHER), blue),
                new Lighting(new Environment(sky, 0, 1), List.of()),
                Pose.lookAt(new Vec3(0, 1.6, 0), new Vec3(0, 0.4, -4), Vec3.Y),
                64,
                64,
                0);
        int only = 0;
        for (int i = 0; i < 80 * 60; i++)
            if (p.bounce[2][i] > 0.01 && p.bounce[0][i] < 0.3 * p.bounce[2][i] && p.alpha[i] == 0)
                only += p.matters(i) ? 1 : 0;
        assertThat(only).isGreaterThan(20);
        assertThat(p.noise).isCloseTo(0, within(0.2f));
    }
}
