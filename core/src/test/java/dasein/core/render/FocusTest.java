package dasein.core.render;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import dasein.core.Progress;
import dasein.core.lens.Aperture;
import dasein.core.lens.View;
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

/** Depth of field, on performers and catchers alike. */
class FocusTest {
    private static final int W = 80, H = 60;

    private static Passes seen(List<Mesh> scene, Pose from, Aperture a) {
        return seen(scene, from, a, 1024);
    }

    private static Passes seen(List<Mesh> scene, Pose from, Aperture a, int samples) {
        Sun sun = new Sun(new Vec3(0.3, 1, 0.2).unit(), Math.toRadians(0.1), new float[] {2, 2, 2});
        return FrameRenderer.render(
                new FrameRenderer.Job(
                                scene,
                                new Lighting(Shapes.even(0.3f), List.of(sun)),
                                new View(from, from, Shapes.LENS, W, H),
                                (x, y, z, nx, ny, nz, out) -> Arrays.fill(out, 0.3f),
                                CatcherLook.DRY,
                                new Quality(samples, samples, 0, 0, false),
                                false,
                                0.5,
                                5)
                        .focused(a),
                Progress.NONE,
                null);
    }

    /** A small card far off, so wide in angle that it is a pixel. */
    private static Mesh point(double z) {
        double r = 0.5 * -z / Shapes.LENS.focalPx();
        return Shapes.quad(
                new Vec3(-r, -r, z),
                new Vec3(r, -r, z),
                new Vec3(r, r, z),
                new Vec3(-r, r, z),
                Mesh.Role.PERFORMER,
                null);
    }

    /** A point out of focus covers a disc as large as the circle of confusion, and all of its coverage is in it. */
    @Test
    void aPointIsADiscOfTheSizeThatTheFormulaSays() {
        Pose from = Pose.IDENTITY;
        Aperture a = new Aperture(0.1, 2, 0, 0);
        for (double z : new double[] {1.2, 2, 6}) {
            Passes p = seen(List.of(point(-z)), from, a);
            double sum = 0, xx = 0, x = 0;
            for (int i = 0; i < W * H; i++) {
                sum += p.alpha[i];
                x += p.alpha[i] * (i % W);
            }
            for (int i = 0; i < W * H; i++) xx += p.alpha[i] * Math.pow(i % W - x / sum, 2);
            // Of a disc of diameter c the variance along x is c²/16; the card and the pixel add 1/12 each,
            // or 1/4 together where it lies on the border of two.
            double c = a.confusionPx(z, Shapes.LENS.focalPx()), want = c * c / 16 + 2 / 12.0;
            assertThat(sum).as("covers a pixel, at %.1f m", z).isCloseTo(1, within(0.08));
            assertThat(xx / sum).as("at %.1f m, disc of %.1f px", z, c).isCloseTo(want, within(0.06 * want + 0.09));
        }
    }

    /** Shadow on the ground is softened where the ground is out of focus, and sharp where it is in it. */
    @Test
    void shadowOnTheGroundIsOutOfFocusToo() {
        Pose from = Pose.lookAt(new Vec3(0, 0.6, 2.5), new Vec3(0, 0, 0), Vec3.Y);
        List<Mesh> scene = List.of(
                Shapes.sphere(new Vec3(0, 0.9, 0), 0.25, Material.matt(0.4f, 0.4f, 0.4f), Mesh.Role.PERFORMER)
                        .with(new Mesh.Shows(false, true, true, false)),
                Shapes.floor(40, Material.matt(0.3f, 0.3f, 0.3f), Mesh.Role.CATCHER));
        double sharp = steepest(seen(scene, from, null, 384)),
                focused = steepest(seen(scene, from, new Aperture(0.1, 2.57, 0, 0), 384)),
                soft = steepest(seen(scene, from, new Aperture(0.1, 1, 0, 0), 384));
        assertThat(focused).isGreaterThan(0.7 * sharp);
        assertThat(soft).isLessThan(0.5 * sharp);
    }

    /**
     * What is hidden by a stand-in nearer to the camera is hidden softly where that is out of focus: the edge is as
     * wide as the circle of confusion; and where the hidden thing moves, no more of it is seen than what passes beside.
     */
    @Test
    void whatHidesIsOutOfFocusToo() {
        Mesh.Catch hides = new Mesh.Catch(false, false, true, 0, 0.3);
        double near = 1.5;
        Mesh
                post =
                        Shapes.quad(
                                new Vec3(-4, -4, -near),
                                new Vec3(0, -4, -near),
                                new Vec3(0, 4, -near),
                                new Vec3(-4, 4, -near),
                                Mesh.Role.CATCHER,
                                hides),
                wall =
                        Shapes.quad(
                                new Vec3(-9, -9, -6),
                                new Vec3(9, -9, -6),
                                new Vec3(9, 9, -6),
                                new Vec3(-9, 9, -6),
                                Mesh.Role.PERFORMER,
                                null);
        float[] later = wall.position0().clone();
        for (int i = 0; i < later.length; i += 3) later[i] += 2;
        Mesh moving = new Mesh(
                wall.position0(),
                later,
                wall.normal0(),
                wall.normal0(),
                wall.uv(),
                wall.index(),
                wall.materialOf(),
                wall.materials(),
                1,
                Mesh.Role.PERFORMER);
        Aperture a = new Aperture(0.1, 6, 0, 0);
        double c = a.confusionPx(near, Shapes.LENS.focalPx());
        for (Mesh m : List.of(wall, moving)) {
            Passes p = seen(List.of(post, m), Pose.IDENTITY, a, 96),
                    sharp = seen(List.of(post, m), Pose.IDENTITY, null, 8);
            float[] along = new float[W];
            for (int i = 0; i < W * H; i++) along[i % W] += p.alpha[i] / H;
            double sum = 0, x = 0, xx = 0;
            for (int i = 1; i < W; i++) {
                double d = along[i] - along[i - 1];
                sum += d;
                x += d * i;
                xx += d * i * i;
            }
            // A half plane over a disc: along x the same variance, c²/16.
            assertThat(sum).isCloseTo(1, within(0.01));
            assertThat(xx / sum - x / sum * x / sum).isCloseTo(c * c / 16 + 2 / 12.0, within(0.05 * c * c / 16 + 0.1));
            for (int i = 0; i < W; i++) assertThat(sharp.alpha[30 * W + i]).isEqualTo(i < W / 2 ? 0 : 1);
        }
    }

    private static double steepest(Passes p) {
        double most = 0;
        for (int i = 1; i < W * H; i++)
            if (i % W > 0) most = Math.max(most, Math.abs(p.shadow[1][i] - p.shadow[1][i - 1]));
        return most;
    }
}
