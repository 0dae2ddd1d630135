package dasein.core.render;

import static org.assertj.core.api.Assertions.assertThat;

import dasein.core.Progress;
import dasein.core.lens.View;
import dasein.core.light.Lighting;
import dasein.core.math.Pose;
import dasein.core.math.Vec3;
import dasein.core.model.Material;
import dasein.core.model.Mesh;
import java.util.Arrays;
import java.util.List;
import org.junit.jupiter.api.Test;

/** Ground beyond a small catcher hides what is sunk in it as a wide one would, and nothing where it is open. */
class BeyondTest {
    private static final Material GREY = Material.matt(0.5f, 0.5f, 0.5f);
    private static final Mesh BALL = Shapes.sphere(new Vec3(3, 0.1, -1), 0.6, GREY, Mesh.Role.PERFORMER);
    private static final double[][] CATCHER = {{-1, -1}, {1, -1}, {1, 1}, {-1, 1}};

    private static float[] alpha(double half, Beyond beyond) {
        Pose p = Pose.lookAt(new Vec3(0, 3, 6), new Vec3(1.5, 0, -0.5), Vec3.Y);
        return FrameRenderer.render(
                        new FrameRenderer.Job(
                                List.of(Shapes.floor(half, GREY, Mesh.Role.CATCHER), BALL),
                                new Lighting(Shapes.even(1), List.of()),
                                new View(p, p, Shapes.LENS, 80, 60),
                                (x, y, z, nx, ny, nz, out) -> Arrays.fill(out, 0.5f),
                                new CatcherLook(0, 0.3, beyond),
                                new Quality(32, 32, 0, 1, false),
                                false,
                                0.5,
                                5),
                        Progress.NONE,
                        null)
                .alpha;
    }

    private static double covered(float[] alpha) {
        double sum = 0;
        for (float a : alpha) sum += a;
        return sum;
    }

    @Test
    void itHidesAsAWideCatcherDoes() {
        float[] wide = alpha(40, null), small = alpha(1, new Beyond(List.<double[][]>of(CATCHER)));
        assertThat(covered(wide)).isGreaterThan(20).isLessThan(0.8 * covered(alpha(1, null)));
        // Feet may be sunk by a millimetre: a sample or two of a pixel on the waterline.
        for (int i = 0; i < wide.length; i++) assertThat(small[i]).isBetween(wide[i] - 1e-6f, wide[i] + 3 / 32f);
        assertThat(covered(small) / covered(wide)).isBetween(1.0, 1.01);
    }

    @Test
    void whereItIsOpenNothingIsHidden() {
        double[][] hole = {{1.5, -3}, {5, -3}, {5, 2}, {1.5, 2}};
        assertThat(alpha(1, new Beyond(List.of(CATCHER, hole)))).isEqualTo(alpha(1, null));
    }

    /** An eye below the ground looks up at what it is itself among. */
    @Test
    void fromBelowItHidesNothing() {
        Beyond b = new Beyond(List.of());
        assertThat(b.hides(0, 2, 0, 0, -1, 0, 3)).isTrue();
        assertThat(b.hides(0, 2, 0, 0, -1, 0, 2)).isFalse();
        assertThat(b.hides(0, -2, 0, 0, 1, 0, 3)).isFalse();
        assertThat(b.hides(0, -2, 0, 0, -1, 0, 3)).isFalse();
    }
}
