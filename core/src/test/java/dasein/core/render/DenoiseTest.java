package dasein.core.render;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.Arrays;
import java.util.Random;
import org.junit.jupiter.api.Test;

/** The filter takes noise, not light: means stay, edges of the guides stay, and what has no noise stays bit for bit. */
class DenoiseTest {
    private static final int W = 64, H = 48, N = W * H;

    private static double mean(float[] v, int from, int to) {
        double sum = 0;
        for (int y = 0; y < H; y++) for (int x = from; x < to; x++) sum += v[y * W + x];
        return sum / H / (to - from);
    }

    private static double deviation(float[] v, int from, int to) {
        double m = mean(v, from, to), sum = 0;
        for (int y = 0; y < H; y++) for (int x = from; x < to; x++) sum += Math.pow(v[y * W + x] - m, 2);
        return Math.sqrt(sum / H / (to - from));
    }

    private static float[] filled(float v) {
        float[] f = new float[N];
        Arrays.fill(f, v);
        return f;
    }

    @Test
    void meansStayAndNoiseGoes() {
        Random r = new Random(5);
        float[][] rgb = new float[3][N];
        // Two halves of one material turned differently: 0.5 and 0.2.
        for (int c = 0; c < 3; c++)
            for (int i = 0; i < N; i++) rgb[c][i] = (i % W < W / 2 ? 0.5f : 0.2f) + 0.05f * (float) r.nextGaussian();
        float[][] normal = {new float[N], new float[N], new float[N]};
        for (int i = 0; i < N; i++) normal[i % W < W / 2 ? 1 : 0][i] = 1;
        float[][] albedo = {filled(0.4f), filled(0.4f), filled(0.4f)};
        double left = mean(rgb[1], 4, W / 2 - 4), right = mean(rgb[1], W / 2 + 4, W - 4);
        double noise = deviation(rgb[1], 4, W / 2 - 4);
        new Denoise(W, H).colour(rgb, filled(1), albedo, normal, filled(5), filled(0.0025f));
        assertThat(mean(rgb[1], 4, W / 2 - 4)).isCloseTo(left, within(0.002));
        assertThat(mean(rgb[1], W / 2 + 4, W - 4)).isCloseTo(right, within(0.002));
        assertThat(deviation(rgb[1], 4, W / 2 - 4)).isLessThan(0.25 * noise);
        // Nothing runs over the edge between the two.
        assertThat(mean(rgb[1], W / 2 - 1, W / 2)).isCloseTo(0.5, within(0.02));
        assertThat(mean(rgb[1], W / 2, W / 2 + 1)).isCloseTo(0.2, within(0.02));
    }

    /**
     * Light that no guide tells of, weaker than what the filter smooths over: a fine pattern of 1.5 deviations in one
     * half, none in the other. No block of 16 x 16 comes out further from the truth than it went in, and where there is
     * no pattern the noise goes.
     */
    @Test
    void noBlockComesOutWorseThanItWentIn() {
        Random r = new Random(8);
        float sigma = 0.05f;
        float[] truth = new float[N];
        float[][] shadow = new float[3][N], raw = new float[3][];
        for (int i = 0; i < N; i++) {
            boolean pattern = i % W < W / 2 && (i % W / 2 + i / W / 2) % 2 == 0;
            truth[i] = 0.4f + (pattern ? 3 * sigma : 0);
            float v = truth[i] + sigma * (float) r.nextGaussian();
            for (int c = 0; c < 3; c++) shadow[c][i] = v;
        }
        for (int c = 0; c < 3; c++) raw[c] = shadow[c].clone();
        // All three are the same, so that their level has the noise of one.
        new Denoise(W, H).flat(shadow, filled(1), filled(sigma * sigma), Denoise.SHADOW, 4);
        for (int by = 0; by < H; by += 16)
            for (int bx = 0; bx < W; bx += 16) {
                double before = 0, after = 0;
                for (int y = by; y < by + 16; y++)
                    for (int x = bx; x < bx + 16; x++) {
                        before += Math.pow(raw[1][y * W + x] - truth[y * W + x], 2);
                        after += Math.pow(shadow[1][y * W + x] - truth[y * W + x], 2);
                    }
                assertThat(after).as("block at %d, %d", bx, by).isLessThan(1.1 * before);
                if (bx == 48) assertThat(after).as("without a pattern").isLessThan(0.2 * before);
            }
    }

    @Test
    void whatHasNoNoiseIsLeftAlone() {
        Random r = new Random(6);
        float[][] planes = new float[3][N], before = new float[3][];
        for (int c = 0; c < 3; c++) {
            for (int i = 0; i < N; i++) planes[c][i] = r.nextFloat();
            before[c] = planes[c].clone();
        }
        new Denoise(W, H).flat(planes, filled(1), new float[N], Denoise.COLOUR, 4);
        for (int c = 0; c < 3; c++) assertThat(planes[c]).isEqualTo(before[c]);
    }

    @Test
    void theTextureOfAMaterialStays() {
        float[][] albedo = new float[3][N], rgb = new float[3][N], normal = {filled(0), filled(1), filled(0)};
        Random r = new Random(7);
        for (int i = 0; i < N; i++) {
            float a = (i / 2 + i / W / 2) % 2 == 0 ? 0.7f : 0.1f, light = 1 + 0.1f * (float) r.nextGaussian();
            for (int c = 0; c < 3; c++) {
                albedo[c][i] = a;
                rgb[c][i] = (a + 0.02f) * light;
            }
        }
        new Denoise(W, H).colour(rgb, filled(1), albedo, normal, filled(3), filled(0.002f));
        for (int y = 6; y < H - 6; y++)
            for (int x = 6; x < W - 6; x++) {
                int i = y * W + x;
                assertThat((double) rgb[1][i] / (albedo[1][i] + 0.02)).isCloseTo(1, within(0.12));
            }
    }

    /** Given light comes as rare bright samples: the filter may not take them for outliers and lose their light. */
    @Test
    void rareBrightSamplesKeepTheirLight() {
        float[][] planes = new float[3][N];
        float[] variance = new float[N];
        Random r = new Random(3);
        for (int i = 0; i < N; i++) {
            float v = r.nextInt(12) == 0 ? 1.2f : 0;
            for (float[] p : planes) p[i] = v;
            variance[i] = 0.1f * 0.1f * 11;
        }
        double before = 0, after = 0;
        for (float v : planes[1]) before += v;
        new Denoise(W, H).flat(planes, filled(1), variance, Denoise.GIVEN, 4);
        for (float v : planes[1]) after += v;
        assertThat(after / before).isBetween(0.93, 1.07);
    }
}
