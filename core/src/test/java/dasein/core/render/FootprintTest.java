package dasein.core.render;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import dasein.core.light.Lighting;
import dasein.core.math.Pose;
import dasein.core.math.Vec3;
import dasein.core.model.Material;
import dasein.core.model.Mesh;
import dasein.core.model.Texture;
import dasein.core.render.pass.Passes;
import java.util.List;
import org.junit.jupiter.api.Test;

/** Textures are seen by what a ray covers of them. */
class FootprintTest {
    private static final int W = 80, FAR = 4;

    /**
     * A plain of fine chequers, white and black, that show their colour in any light: in the distance nobody can tell
     * them apart.
     */
    private static Passes plain(int samples) {
        float h = 400, n = 160;
        float[] p = {-h, 0, -h, -h, 0, h, h, 0, h, h, 0, -h}, up = {0, 1, 0, 0, 1, 0, 0, 1, 0, 0, 1, 0};
        int[] argb = new int[64 * 64];
        for (int i = 0; i < argb.length; i++) argb[i] = (i % 64 / 8 + i / 64 / 8) % 2 == 0 ? 0xffffffff : 0xff000000;
        Material m = Shapes.material(
                1, 0, 1, new Texture(64, 64, argb, true, false), new Material.Layers(new float[3], 0, 0, 0, true));
        Mesh floor = new Mesh(
                p,
                p,
                up,
                up,
                new float[] {0, 0, 0, n, n, n, n, 0},
                new int[] {0, 1, 2, 0, 2, 3},
                new int[2],
                new Material[] {m},
                1,
                Mesh.Role.PERFORMER);
        Pose from = Pose.lookAt(new Vec3(0, 1.5, 0), new Vec3(0, 1.5, -10), Vec3.Y);
        return Shapes.render(List.of(floor), new Lighting(Shapes.even(1), List.of()), from, samples, 0, false, null);
    }

    @Test
    void fineChequersAreGreyInTheDistanceAndSharpNearby() {
        Passes few = plain(4), many = plain(256);
        double off = 0, level = 0, contrast = 0;
        int far = 0, near = 0;
        for (int y = 0; y < 60; y++)
            for (int x = 0; x < W; x++) {
                int i = y * W + x;
                if (few.alpha[i] < 1) continue;
                // Tens of metres and more away: a pixel holds several of them.
                boolean isFar = y < 30 + FAR / 2;
                if (isFar) {
                    off += Math.pow(few.beauty[1][i] - 0.5, 2);
                    level += many.beauty[1][i];
                    far++;
                } else if (y > 55) {
                    contrast += Math.pow(many.beauty[1][i] - 0.5, 2);
                    near++;
                }
            }
        assertThat(level / far).isCloseTo(0.5, within(0.02));
        // Black and white by chance would be off by half over the root of four samples.
        assertThat(Math.sqrt(off / far)).isLessThan(0.12);
        assertThat(Math.sqrt(contrast / near))
                .as("near the camera they are told apart")
                .isGreaterThan(0.2);
    }
}
