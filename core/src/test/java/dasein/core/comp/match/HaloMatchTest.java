package dasein.core.comp.match;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import dasein.core.NoSolution;
import dasein.core.comp.Comp;
import dasein.core.comp.CompRecipe;
import dasein.core.comp.step.Group;
import dasein.core.comp.step.Sharpen;
import dasein.core.comp.step.Softness;
import dasein.core.image.Encoding;
import dasein.core.image.Filters;
import dasein.core.image.Image;
import dasein.core.render.pass.Passes;
import java.util.Random;
import org.junit.jupiter.api.Test;

/** Tilted boxes, drawn with a known Gaussian and sharpened by a known amount, with grain. */
class HaloMatchTest {
    private static final int W = 480, H = 320;

    private static float[] boxes() {
        Random r = new Random(8);
        double[][] box = new double[12][6];
        for (double[] b : box) {
            double turn = Math.PI * r.nextDouble();
            b[0] = 40 + r.nextDouble() * (W - 80);
            b[1] = 40 + r.nextDouble() * (H - 80);
            b[2] = 24 + 20 * r.nextDouble();
            b[3] = 0.05 + 0.5 * r.nextDouble();
            b[4] = Math.cos(turn);
            b[5] = Math.sin(turn);
        }
        float[] out = new float[W * H];
        for (int i = 0; i < out.length; i++) {
            for (int k = 0; k < 16; k++) {
                double x = i % W + (k % 4 + 0.5) / 4, y = i / W + (k / 4 + 0.5) / 4, v = 0.25;
                for (double[] b : box) {
                    double u = b[4] * (x - b[0]) + b[5] * (y - b[1]), t = b[4] * (y - b[1]) - b[5] * (x - b[0]);
                    if (Math.max(Math.abs(u), Math.abs(t)) < b[2]) v = b[3];
                }
                out[i] += (float) (v / 16);
            }
        }
        return out;
    }

    /** As a camera draws it. */
    private static float[] drawn(float[] scene, double sigma, double times, double pixels) {
        float[] soft = Filters.gaussian(scene, W, H, sigma), wide = Filters.gaussian(soft, W, H, pixels);
        for (int i = 0; i < soft.length; i++) wide[i] = (float) (soft[i] + times * (soft[i] - wide[i]));
        return wide;
    }

    private static HaloMeasure.Found found(double sigma, double times, double pixels, double grain) {
        float[] seen = drawn(boxes(), sigma, times, pixels);
        Random r = new Random(3);
        for (int i = 0; i < seen.length; i++)
            seen[i] = (float)
                    Encoding.REC709.decode(Encoding.REC709.encode(Math.max(0, seen[i])) + grain * r.nextGaussian());
        HaloMeasure m = new HaloMeasure();
        m.look(new Image(W, H, seen, seen, seen), Encoding.REC709);
        return m.found();
    }

    @Test
    void halosAreMeasuredAsTheyWereMade() {
        double[][] cameras = {{0.8, 0.6, 1}, {1, 1, 1.5}, {0.7, 0.3, 1.2}, {1.2, 0.8, 2}};
        for (double[] c : cameras) {
            HaloMeasure.Found f = found(c[0], c[1], c[2], 0.006);
            System.out.printf(
                    "sharpened %.2f over %.1f px, edges %.2f: %.2f over %.2f, %.2f; runs over by %.4f, surely %.4f +- %.4f, in %d%n",
                    c[1],
                    c[2],
                    c[0],
                    f.times(),
                    f.pixels(),
                    f.sigma(),
                    f.over(),
                    f.sure(),
                    f.uncertainty(),
                    f.fields());
            assertThat(f.sure()).isGreaterThan(Math.max(0.015, 3 * f.uncertainty()));
            // Amount and widths stand in for each other; what they do together is what is seen.
            assertThat(f.over()).isCloseTo(HaloMeasure.over(c[1], c[2], c[0]), within(0.015));
            for (double x = -5; x <= 5; x += 0.25)
                assertThat(HaloMeasure.at(x, f.times(), f.pixels(), f.sigma()))
                        .as("%.2f px from the middle", x)
                        .isCloseTo(HaloMeasure.at(x, c[1], c[2], Math.sqrt(c[0] * c[0] + 1 / 12.0)), within(0.03));
        }
        assertThat(found(0.9, 0, 1, 0.006).sure()).as("not sharpened").isLessThan(0.01);
    }

    @Test
    void withoutEdgesThereIsASentence() {
        HaloMeasure m = new HaloMeasure();
        m.look(new Image(64, 64, 3), Encoding.REC709);
        assertThatThrownBy(m::found).isInstanceOf(NoSolution.class).hasMessageContaining("too few clear edges");
    }

    /** A performer before an even plate, sharpened, is what a camera that sharpens would have filmed of both. */
    @Test
    void aSharpenedPerformerIsAsTheCameraWouldHaveFilmedIt() {
        Passes p = new Passes(W, H);
        float[] boxes = boxes();
        for (int y = 90; y < 230; y++)
            for (int x = 120; x < 360; x++) {
                int i = y * W + x;
                p.alpha[i] = 1;
                for (int c = 0; c < 3; c++) p.beauty[c][i] = boxes[i];
            }
        Image plate = new Image(W, H, 3);
        for (float[] v : plate.planes) java.util.Arrays.fill(v, 0.4f);
        CompRecipe r = CompRecipe.BLANK
                .with(Softness.SOFTNESS, 0.8)
                .with(Sharpen.AMOUNT, 0.7)
                .with(Sharpen.SPREAD, 1.3)
                .with(Group.GRAIN.on(), 0);
        Image made = Comp.frame(plate, p, r, Encoding.REC709, 1, 1);
        float[] scene = new float[W * H];
        for (int i = 0; i < scene.length; i++) scene[i] = p.alpha[i] * boxes[i] + (1 - p.alpha[i]) * 0.4f;
        float[] filmed = drawn(scene, 0.8, 0.7, 1.3);
        for (int i = 0; i < filmed.length; i++)
            assertThat(made.planes[1][i]).as("pixel %d", i).isCloseTo(Math.max(0, filmed[i]), within(2e-4f));
        assertThat(made.planes[1][60 * W + 200]).as("far from it").isEqualTo(0.4f);
    }
}
