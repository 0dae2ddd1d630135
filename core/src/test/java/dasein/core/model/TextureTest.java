package dasein.core.model;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import dasein.core.image.Encoding;
import java.util.Random;
import org.junit.jupiter.api.Test;

class TextureTest {
    private static Texture random(int w, int h, boolean colour, Random r) {
        int[] argb = new int[w * h];
        for (int i = 0; i < argb.length; i++) argb[i] = 0xff000000 | r.nextInt(1 << 24);
        return new Texture(w, h, argb, colour, false);
    }

    /** Of all of it the mean of its light is seen, be its sides what they may. */
    @Test
    void fromAfarItsMeanIsSeen() {
        Random r = new Random(1);
        for (int[] size : new int[][] {{64, 64}, {37, 20}, {128, 1}}) {
            Texture t = random(size[0], size[1], true, r);
            double[] mean = new double[3];
            for (int y = 0; y < size[1]; y++)
                for (int x = 0; x < size[0]; x++)
                    for (int c = 0; c < 3; c++)
                        mean[c] +=
                                Encoding.SRGB.decode8(t.image().getRGB(x, y) >> 16 - 8 * c & 255) / (size[0] * size[1]);
            float[] seen = new float[4];
            t.sample(0.3f, 0.7f, 1000, seen);
            for (int c = 0; c < 3; c++) assertThat((double) seen[c]).isCloseTo(mean[c], within(0.03 * mean[c]));
            assertThat(seen[3]).isCloseTo(1, within(1e-5f));
        }
    }

    /** Close by it is the texture itself; a part of it is about the mean of that part. */
    @Test
    void aPartIsAboutItsMean() {
        // Smooth waves: a part's mean is known.
        int n = 256;
        int[] argb = new int[n * n];
        for (int y = 0; y < n; y++)
            for (int x = 0; x < n; x++) {
                int v = (int) Math.round(127.5 + 120 * Math.sin(2 * Math.PI * x / n));
                argb[y * n + x] = 0xff000000 | v << 16 | v << 8 | v;
            }
        Texture t = new Texture(n, n, argb, false, false);
        float[] near = new float[4], at = new float[4], wide = new float[4];
        for (float u = 0.05f; u < 1; u += 0.1f) {
            t.sample(u, 0.5f, at);
            t.sample(u, 0.5f, 0.5f / n, near);
            assertThat(near).isEqualTo(at);
            t.sample(u, 0.5f, 16f / n, wide);
            double mean = (127.5 + 120 * Math.sin(2 * Math.PI * (u - 0.5 / n))) / 255;
            assertThat((double) wide[0]).isCloseTo(mean, within(0.02));
        }
    }

    /** What is clear does not darken or colour what is beside it; how much is clear is a mean. */
    @Test
    void whatIsClearGivesNoColour() {
        int[] argb = new int[64];
        for (int i = 0; i < 64; i++) argb[i] = i % 2 == 0 ? 0xff00ff00 : 0x00ff0000;
        float[] seen = new float[4];
        new Texture(8, 8, argb, true, false).sample(0.5f, 0.5f, 1, seen);
        assertThat(seen[0]).isCloseTo(0, within(0.01f));
        assertThat(seen[1]).isCloseTo(1, within(0.01f));
        assertThat(seen[3]).isCloseTo(0.5f, within(0.01f));
    }
}
