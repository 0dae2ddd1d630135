package dasein.core.render;

import static dasein.core.render.Shapes.floor;
import static dasein.core.render.Shapes.render;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import dasein.core.BadInput;
import dasein.core.light.LightRecipe;
import dasein.core.light.Lighting;
import dasein.core.light.Sun;
import dasein.core.light.blocker.Blocker;
import dasein.core.light.blocker.BlockerMeshes;
import dasein.core.math.Pose;
import dasein.core.math.Vec3;
import dasein.core.model.Material;
import dasein.core.model.Mesh;
import dasein.core.model.Texture;
import dasein.core.render.pass.Passes;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;

/** Flags and leaves under a sun straight above. */
class BlockerTest {
    private static final Lighting NOON =
            new Lighting(Shapes.even(0.001f), List.of(new Sun(Vec3.Y, Math.toRadians(0.1), new float[] {3, 3, 3})));
    private static final Ground GREY = (x, y, z, nx, ny, nz, out) -> Arrays.fill(out, 0.4f);
    /** Down onto the ground from under the blocker, and over a wide field from above it. */
    private static final Pose BELOW = Pose.lookAt(new Vec3(0, 1.6, 1), new Vec3(0, 0, 0), Vec3.Y),
            ABOVE = Pose.lookAt(new Vec3(0, 6, 0.01), Vec3.ZERO, Vec3.Y);

    private static Blocker flag(boolean real) {
        Blocker b = Blocker.fresh(1, Blocker.Kind.FLAG, 0, 0);
        return new Blocker(
                1,
                "flag",
                b.kind(),
                true,
                real,
                0,
                2,
                0,
                0,
                90,
                20,
                20,
                b.cover(),
                b.leaf(),
                b.drift(),
                b.seconds(),
                "");
    }

    private static Passes seen(List<Mesh> meshes, Pose from) {
        return render(meshes, NOON, from, 64, 1, false, GREY);
    }

    private static List<Mesh> with(Blocker b, Mesh... others) {
        List<Mesh> out = new ArrayList<>(List.of(others));
        out.addAll(BlockerMeshes.of(List.of(b), Map.of(), 1, 1, 24));
        return out;
    }

    private static double mean(float[] v) {
        double s = 0;
        for (float f : v) s += f / v.length;
        return s;
    }

    @Test
    void aFlagShadesAndIsNotSeen() {
        Mesh ground = floor(50, Material.matt(0.4f, 0.4f, 0.4f), Mesh.Role.CATCHER);
        Passes p = seen(with(flag(false), ground), BELOW);
        assertThat(mean(p.shadow[1])).as("the sun is all but all of the light").isLessThan(0.01);
        Passes above = seen(with(flag(false), ground), ABOVE);
        assertThat(mean(above.alpha)).isZero();
        // One that stood on set: the plate has its shadow already.
        Passes real = seen(with(flag(true), ground), BELOW);
        assertThat(mean(real.shadow[1])).isCloseTo(1, within(1e-3));
        assertThat(mean(seen(with(flag(true), ground), ABOVE).alpha)).isZero();
    }

    @Test
    void performersStandInItsShadowWhetherItWasOnSetOrNot() {
        Mesh performer = floor(0.5, Material.matt(0.4f, 0.4f, 0.4f), Mesh.Role.PERFORMER);
        Mesh ground = Shapes.quad(
                new Vec3(-50, -0.1, -50),
                new Vec3(-50, -0.1, 50),
                new Vec3(50, -0.1, 50),
                new Vec3(50, -0.1, -50),
                Mesh.Role.CATCHER,
                new Mesh.Catch(true, true, true, 0, 0.3));
        double open = Shapes.middle(seen(List.of(ground, performer), BELOW), 1);
        assertThat(open).isCloseTo(0.4 * 3 / Math.PI, within(0.01));
        for (boolean real : new boolean[] {false, true})
            assertThat(Shapes.middle(seen(with(flag(real), ground, performer), BELOW), 1))
                    .isLessThan((float) (0.02 * open));
        Blocker b = flag(true);
        Blocker off = new Blocker(
                1, "flag", b.kind(), false, true, 0, 2, 0, 0, 90, 20, 20, b.cover(), b.leaf(), 0, b.seconds(), "");
        assertThat(Shapes.middle(seen(with(off, ground, performer), BELOW), 1)).isCloseTo((float) open, within(0.005f));
    }

    /** Through two layers that sway apart as much light comes in the mean as is asked. */
    @Test
    void leavesKeepAwayTheirPartOfTheLightAndDrift() {
        Mesh ground = floor(50, Material.matt(0.4f, 0.4f, 0.4f), Mesh.Role.CATCHER);
        for (double cover : new double[] {0.3, 0.6}) {
            Blocker b = new Blocker(
                    3, "leaves", Blocker.Kind.LEAVES, true, false, 0, 5, 0, 0, 90, 40, 40, cover, 0.1, 0.2, 2, "");
            Passes p = seen(with(b, ground), BELOW);
            assertThat(mean(p.shadow[1])).isCloseTo(1 - cover, within(0.06));
        }
        Blocker b = Blocker.fresh(3, Blocker.Kind.LEAVES, 0, 0);
        float[] now = BlockerMeshes.of(List.of(b), Map.of(), 1, 1, 24).get(0).position0(),
                later =
                        BlockerMeshes.of(List.of(b), Map.of(), 20, 20.5, 24)
                                .get(0)
                                .position0();
        double moved = 0;
        for (int k = 0; k < 3; k++) moved += Math.pow(now[k] - later[k], 2);
        assertThat(Math.sqrt(moved)).isBetween(1e-3, 2.4 * b.drift());
        assertThat(BlockerMeshes.of(List.of(b), Map.of(), 20, 20.5, 24).get(0).moves())
                .isTrue();
        assertThat(BlockerMeshes.of(List.of(b), Map.of(), 1, 1, 24).get(0).position0())
                .containsExactly(now);
    }

    /** A picture whose left half is dark, or covers: under that half there is shade, and only there. */
    @Test
    void aFlagIsCutOutByAPicture() {
        int[] dark = new int[64 * 64], covers = new int[64 * 64];
        for (int i = 0; i < dark.length; i++) {
            dark[i] = i % 64 < 32 ? 0xff000000 : 0xffffffff;
            covers[i] = i % 64 < 32 ? 0xffffffff : 0x00000000;
        }
        Mesh ground = floor(50, Material.matt(0.4f, 0.4f, 0.4f), Mesh.Role.CATCHER);
        double[] lit = new double[2];
        int k = 0;
        for (int[] argb : new int[][] {dark, covers}) {
            Texture t = new Texture(64, 64, argb, true, true).cutout();
            List<Mesh> all = new ArrayList<>(List.of(ground));
            all.addAll(BlockerMeshes.of(List.of(flag(false).cutBy("half")), Map.of("half", t), 1, 1, 24));
            float[] shadow = seen(all, BELOW).shadow[1];
            double left = 0, right = 0;
            for (int i = 0; i < shadow.length; i++) {
                if (i % 80 < 37) left += shadow[i] / (37 * 60.0);
                if (i % 80 >= 43) right += shadow[i] / (37 * 60.0);
            }
            assertThat(Math.min(left, right)).isLessThan(0.06);
            assertThat(Math.max(left, right)).isGreaterThan(0.94);
            lit[k++] = left;
        }
        assertThat(lit[0]).as("both ways alike").isCloseTo(lit[1], within(0.01));
        LightRecipe l =
                new LightRecipe("", 0, 1, new LightRecipe.SunRecipe("none", 0, 45, 0.5, 1, List.of(1.0, 1.0, 1.0)));
        assertThat(l.pictures()).isEmpty();
        assertThat(l.withBlockers(List.of(flag(true).cutBy("half"))).pictures()).containsExactly("half");
    }

    @Test
    void whatIsNoBlockerIsSaid() {
        assertThatThrownBy(() -> new Blocker(
                        1, "x", Blocker.Kind.LEAVES, true, false, 0, 5, 0, 0, 90, 40, 40, 0.99, 0.1, 0.2, 2, ""))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("95 %");
        assertThatThrownBy(() -> new Blocker(
                        1, "x", Blocker.Kind.FLAG, true, false, 0, 5, 0, 0, 90, 0, 40, 0.5, 0.1, 0.2, 2, ""))
                .isInstanceOf(BadInput.class);
    }
}
