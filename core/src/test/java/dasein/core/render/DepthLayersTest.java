package dasein.core.render;

import static dasein.core.render.Shapes.sphere;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import dasein.core.Progress;
import dasein.core.lens.View;
import dasein.core.light.Lighting;
import dasein.core.math.Pose;
import dasein.core.math.Vec3;
import dasein.core.model.Material;
import dasein.core.model.Mesh;
import dasein.core.render.pass.Layers;
import dasein.core.render.pass.PassList;
import dasein.core.render.pass.PassSet;
import dasein.core.render.pass.Passes;
import java.util.List;
import java.util.Random;
import java.util.Set;
import org.junit.jupiter.api.Test;

/** Performers by depth: layers add up to the beauty, and each holds what stands where it says. */
class DepthLayersTest {
    private static final int N = 80 * 60;

    private static Passes seen(boolean denoise) {
        Pose from = Pose.lookAt(new Vec3(0, 0.5, 5), new Vec3(0, 0.5, 0), Vec3.Y);
        List<Mesh> balls = List.of(
                sphere(new Vec3(0.2, 0.5, 2), 0.3, Material.matt(0.6f, 0.2f, 0.2f), Mesh.Role.PERFORMER),
                sphere(new Vec3(0, 0.6, 0), 0.5, Material.matt(0.2f, 0.6f, 0.2f), Mesh.Role.PERFORMER),
                sphere(new Vec3(-0.4, 0.7, -3), 1, Material.matt(0.2f, 0.2f, 0.6f), Mesh.Role.PERFORMER));
        return FrameRenderer.render(
                new FrameRenderer.Job(
                                balls,
                                new Lighting(Shapes.even(1), List.of()),
                                new View(from, from, Shapes.LENS, 80, 60),
                                null,
                                CatcherLook.DRY,
                                new Quality(16, 16, 0, 1, denoise),
                                false,
                                0.5,
                                2)
                        .keeping(new Keep(Set.of(PassSet.LAYERS))),
                Progress.NONE,
                null);
    }

    @Test
    void layersAddUpAndStandInOrder() {
        for (boolean denoise : new boolean[] {false, true}) {
            Passes p = seen(denoise);
            float[][][] all = Layers.of(p);
            int two = 0;
            for (int i = 0; i < N; i++) {
                float alpha = 0, last = 0;
                int used = 0;
                float[] sum = new float[3];
                for (float[][] l : all) {
                    alpha += l[Layers.A][i];
                    for (int c = 0; c < 3; c++) sum[c] += l[c][i];
                    if (l[Layers.BACK][i] == 0) continue;
                    used++;
                    assertThat(l[Layers.Z][i]).isBetween(last, l[Layers.BACK][i]);
                    last = l[Layers.BACK][i];
                    // The balls' fronts, and nothing between them.
                    float z = l[Layers.Z][i];
                    assertThat(z > 2.65 && z < 3.1 || z > 4.45 && z < 5.1 || z > 6.95 && z < 8.1)
                            .as("%f", z)
                            .isTrue();
                }
                if (used > 1) two++;
                assertThat(alpha).isCloseTo(p.alpha[i], within(1e-5f));
                for (int c = 0; c < 3; c++) assertThat(sum[c]).isCloseTo(p.beauty[c][i], within(1e-5f));
            }
            assertThat(two).as("edges of one before another").isGreaterThan(30);
        }
    }

    /** Whatever comes in whatever order: nothing is lost, and they stand in order. */
    @Test
    void manyDepthsBecomeFewLayersThatHoldThemAll() {
        Random r = new Random(7);
        for (int run = 0; run < 200; run++) {
            DepthLayers layers = new DepthLayers(1);
            int samples = 1 + r.nextInt(40);
            float light = 0, least = 1e9f, most = 0;
            for (int k = 0; k < samples; k++) {
                float z = r.nextBoolean() ? 2 + 0.001f * r.nextInt(5) : 1 + 10 * r.nextFloat(), e = r.nextFloat();
                layers.add(0, z, new float[] {e, e, e}, 1);
                light += e;
                least = Math.min(least, z);
                most = Math.max(most, z);
            }
            Passes p = new Passes(1, 1, List.copyOf(all()));
            layers.resolve(0, 1f / samples, p);
            float sum = 0, alpha = 0, last = 0, far = 0;
            for (float[][] l : Layers.of(p)) {
                sum += l[0][0];
                alpha += l[Layers.A][0];
                if (l[Layers.BACK][0] == 0) continue;
                assertThat(l[Layers.Z][0]).isGreaterThanOrEqualTo(last);
                last = far = l[Layers.BACK][0];
            }
            assertThat(sum).isCloseTo(light / samples, within(1e-5f));
            assertThat(alpha).isCloseTo(1, within(1e-5f));
            assertThat(Layers.of(p)[0][Layers.Z][0]).isEqualTo(least);
            assertThat(far).isEqualTo(most);
        }
    }

    private static List<dasein.core.render.pass.Pass> all() {
        List<dasein.core.render.pass.Pass> list = new java.util.ArrayList<>(PassList.ALL_PASSES);
        list.addAll(PassSet.LAYERS.passes());
        return list;
    }
}
