package dasein.core.comp.match;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import dasein.core.NoSolution;
import dasein.core.comp.Comp;
import dasein.core.comp.CompRecipe;
import dasein.core.comp.step.Grain;
import dasein.core.comp.step.Softness;
import dasein.core.image.Encoding;
import dasein.core.image.Filters;
import dasein.core.image.Image;
import dasein.core.render.pass.Passes;
import java.util.Random;
import org.junit.jupiter.api.Test;

/** Grain that was laid on is found, and what is laid on by what was found has its level, size and colours. */
class GrainMeasureTest {
    private static final int W = 640, H = 360;
    private static final Encoding CODE = Encoding.REC709;

    /** A wall of soft texture from dark to bright, moved by parts of pixels from frame to frame; in code values. */
    private static float[][] clean(int frame) {
        Random r = new Random(4);
        int wide = W + 80;
        float[] fine = new float[wide * (H + 80)];
        for (int i = 0; i < fine.length; i++) fine[i] = (float) r.nextGaussian();
        fine = Filters.gaussian(fine, wide, H + 80, 2.2);
        float[][] out = new float[3][W * H];
        double dx = 40 + 2.13 * frame, dy = 40 + 0.37 * frame;
        for (int y = 0; y < H; y++)
            for (int x = 0; x < W; x++) {
                double u = x + dx - 40, v = y + dy;
                int i = (int) Math.floor(v) * wide + (int) Math.floor(u);
                double a = u - Math.floor(u), b = v - Math.floor(v);
                double t = (1 - b) * ((1 - a) * fine[i] + a * fine[i + 1])
                        + b * ((1 - a) * fine[i + wide] + a * fine[i + wide + 1]);
                // Less texture to the right, as skies and walls have.
                float code = (float) (0.08 + 0.84 * y / H + 0.3 * t * Math.max(0.02, 1 - 1.4 * x / W));
                for (int c = 0; c < 3; c++) out[c][y * W + x] = code;
            }
        return out;
    }

    /** @param common of the colours; @param sigma of the Gaussian that makes the grain coarse */
    private static Image grained(int frame, double level, double[] colour, double common, double sigma) {
        float[][] code = clean(frame);
        Random r = new Random(900 + frame);
        float[][] n = new float[4][W * H];
        for (float[] p : n) {
            for (int i = 0; i < p.length; i++) p[i] = (float) r.nextGaussian();
        }
        for (int k = 0; k < 4; k++) {
            if (sigma > 0) n[k] = Filters.gaussian(n[k], W, H, sigma);
            double v = 0;
            for (float x : n[k]) v += x * x;
            float s = (float) (1 / Math.sqrt(v / (W * H)));
            for (int i = 0; i < W * H; i++) n[k][i] *= s;
        }
        Image im = new Image(W, H, 3);
        for (int c = 0; c < 3; c++)
            for (int i = 0; i < W * H; i++) {
                double g = Math.sqrt(common) * n[3][i] + Math.sqrt(1 - common) * n[c][i];
                im.planes[c][i] = (float) CODE.decode(code[c][i] + level * colour[c] * shape(code[c][i]) * g);
            }
        return im;
    }

    /** Twice as strong in the darks, half in the brights. */
    private static double shape(double code) {
        return Grain.at((float) code, 2, 0.5f);
    }

    private static GrainMeasure.Found measured(double level, double[] colour, double common, double sigma) {
        GrainMeasure m = new GrainMeasure();
        for (int f = 0; f < 8; f += 2)
            m.look(grained(f, level, colour, common, sigma), grained(f + 1, level, colour, common, sigma), CODE);
        return m.found();
    }

    @Test
    void whatWasLaidOnIsFoundWithinATenth() {
        for (double[] k : new double[][] {{0.012, 0.3, 0}, {0.02, 0.6, 0.7}, {0.008, 0.1, 1.1}}) {
            double[] colour = {1.1, 0.9, 1.0};
            GrainMeasure.Found f = measured(k[0], colour, k[1], k[2]);
            System.out.printf(
                    "grain %.3f %.2f %.2f: level %.4f +- %.4f, colours %.2f %.2f %.2f, dark %.2f, bright %.2f, size %.2f "
                            + "%.2f, common %.2f, %d places%n",
                    k[0],
                    k[1],
                    k[2],
                    f.level(),
                    f.uncertainty(),
                    f.colour()[0],
                    f.colour()[1],
                    f.colour()[2],
                    f.dark(),
                    f.bright(),
                    f.size(),
                    f.colourSize(),
                    f.common(),
                    f.blocks());
            assertThat(f.level()).isCloseTo(k[0], within(0.1 * k[0]));
            for (int c = 0; c < 3; c++) assertThat(f.colour()[c]).isCloseTo(colour[c], within(0.05));
            assertThat(f.common()).isCloseTo(k[1], within(0.06));
            assertThat(f.size()).isCloseTo(k[2], within(0.12));
            assertThat(f.dark()).isCloseTo(2, within(0.25));
            assertThat(f.bright()).isCloseTo(0.5, within(0.12));
        }
    }

    /**
     * Matched grain on a flat performer, measured by itself: level, neighbours and colours as the plate's, within 10 %.
     */
    @Test
    void matchedGrainIsThePlates() {
        double level = 0.014, common = 0.45, sigma = 0.8;
        GrainMeasure.Found f = measured(level, new double[] {1, 1, 1}, common, sigma);
        CompRecipe r = GrainMatch.on(CompRecipe.BLANK, f).with(Softness.SOFTNESS, 0);
        Passes p = new Passes(W, H);
        java.util.Arrays.fill(p.alpha, 1);
        float v = (float) CODE.decode(0.5);
        for (float[] plane : p.beauty) java.util.Arrays.fill(plane, v);
        Image plate = new Image(W, H, 3);
        double[][] made = codes(Comp.frame(plate, p, r, CODE, 1, 3)),
                later = codes(Comp.frame(plate, p, r, CODE, 1, 4));
        double[] rho = {product(made[1], made[1], 0), product(made[1], made[1], 1), product(made[0], made[2], 0)};
        assertThat(Math.sqrt(rho[0])).isCloseTo(level, within(0.1 * level));
        // A Gaussian of sigma s gives neighbours exp(-1 / (4 s^2)) in common.
        assertThat(rho[1] / rho[0]).isCloseTo(Math.exp(-1 / (4 * sigma * sigma)), within(0.07));
        assertThat(rho[2] / rho[0]).isCloseTo(common, within(0.07));
        assertThat(product(made[1], later[1], 0) / rho[0])
                .as("moves from frame to frame")
                .isCloseTo(0, within(0.02));
    }

    private static double[][] codes(Image im) {
        double[][] out = new double[3][W * H];
        for (int c = 0; c < 3; c++) for (int i = 0; i < W * H; i++) out[c][i] = CODE.encode(im.planes[c][i]) - 0.5;
        return out;
    }

    private static double product(double[] a, double[] b, int on) {
        double sum = 0;
        for (int i = 0; i + on < a.length; i++) sum += a[i] * b[i + on] / a.length;
        return sum;
    }

    @Test
    void withNothingToLayOnEachOtherItSaysSo() {
        GrainMeasure m = new GrainMeasure();
        Image black = new Image(W, H, 3);
        m.look(black, black, CODE);
        assertThatThrownBy(m::found).isInstanceOf(NoSolution.class).hasMessageContaining("too little");
    }
}
