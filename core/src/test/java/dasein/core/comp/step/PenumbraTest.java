package dasein.core.comp.step;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import dasein.core.render.pass.Passes;
import java.util.Arrays;
import org.junit.jupiter.api.Test;

/** A shadow that leads away from a foot has an edge whose softness grows with the way from there. */
class PenumbraTest {
    private static final int W = 320, H = 120;

    @Test
    void theEdgeIsAsSoftAsItsDistanceSays() {
        Passes p = new Passes(W, H);
        Arrays.fill(p.ao, 1);
        float[][] dark = new float[3][W * H];
        for (int i = 0; i < W * H; i++) {
            int x = i % W, y = i / W;
            if (x < 20 || y >= 60) continue;
            for (int c = 0; c < 3; c++) {
                dark[c][i] = 1;
                p.shadow[c][i] = 0;
            }
            // The foot stands at the left.
            if (x < 22) p.ao[i] = 0.3f;
        }
        new Penumbra(p, 1).soften(dark, 0.5, 0.05);
        for (int x : new int[] {60, 120, 200}) {
            double sigma = 0.5 + 0.05 * (x - 21), seen = sigma(dark[1], x);
            assertThat(seen).as("at " + x).isCloseTo(sigma, within(0.2 * sigma + 0.2));
        }
        assertThat(dark[1][40 * W + 10]).as("none reaches far before the foot").isLessThan(0.05f);
    }

    /** Of the normal distribution that is the edge's slope down a column. */
    private static double sigma(float[] v, int x) {
        double n = 0, mean = 0, squares = 0;
        for (int y = 15; y < H - 5; y++) {
            double d = Math.max(0, v[y * W + x] - v[(y + 1) * W + x]);
            n += d;
            mean += d * y;
            squares += d * y * y;
        }
        mean /= n;
        return Math.sqrt(squares / n - mean * mean);
    }
}
