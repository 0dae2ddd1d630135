package dasein.core.comp.step;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import dasein.core.comp.Comp;
import dasein.core.comp.CompRecipe;
import dasein.core.format.MovieReader;
import dasein.core.format.MovieWriter;
import dasein.core.image.Encoding;
import dasein.core.image.Image;
import dasein.core.render.pass.Passes;
import java.nio.file.Path;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What the plate's codec does to performers, and how coarse it is. */
class CodecTest {
    private static final int W = 96, H = 64;

    private static Image noise(double level) {
        Image im = new Image(W, H, 3);
        Random r = new Random(7);
        for (int i = 0; i < W * H; i++) {
            double v = 0.4 + 0.1 * Math.sin(0.05 * (i % W)) + level * r.nextGaussian();
            for (float[] p : im.planes) p[i] = (float) Encoding.REC709.decode(v);
        }
        return im;
    }

    /** Orthonormal, JPEG's 8 x 8 (ITU-T T.81, A.3.3), written out. */
    private static double transformed(float[] v, int k, int j) {
        double sum = 0;
        for (int y = 0; y < 8; y++)
            for (int x = 0; x < 8; x++)
                sum += v[8 * y + x]
                        * Math.cos((2 * x + 1) * k * Math.PI / 16)
                        * Math.cos((2 * y + 1) * j * Math.PI / 16);
        return sum / 4 * (k == 0 ? Math.sqrt(0.5) : 1) * (j == 0 ? Math.sqrt(0.5) : 1);
    }

    @Test
    void aBlockHasOnlyWholeStepsAndItsMean() {
        Random r = new Random(3);
        float[] v = new float[64], was;
        for (int i = 0; i < 64; i++) v[i] = r.nextFloat();
        was = v.clone();
        Codec.coded(v, 0, 8, 0.05f, new float[64]);
        for (int k = 0; k < 8; k++)
            for (int j = 0; j < 8; j++) {
                double is = transformed(v, k, j), before = transformed(was, k, j), steps = is / 0.05;
                if (k + j == 0) assertThat(is).isCloseTo(before, within(1e-4));
                else {
                    assertThat(steps).isCloseTo(Math.rint(steps), within(1e-3));
                    assertThat(Math.abs(is)).as("rounded towards nothing").isLessThan(Math.abs(before) + 0.05 / 5);
                }
            }
    }

    @Test
    void textureBelowTheStepIsLostAndThePlateIsNotTouched() {
        Passes p = new Passes(W, H);
        Image cg = noise(0.01);
        for (int i = 0; i < W * H; i++)
            if (i % W < 40) {
                p.alpha[i] = 1;
                for (int c = 0; c < 3; c++) p.beauty[c][i] = cg.planes[c][i];
            }
        CompRecipe plain = CompRecipe.BLANK.with(Grain.GRAIN, 0).with(Softness.SOFTNESS, 0);
        Image plate = noise(0.02),
                coded = Comp.frame(plate, p, plain.with(Codec.STEP, 0.06).with(Codec.HALF, 1), Encoding.REC709, 1, 1);
        double rough = 0, was = 0;
        for (int i = 0; i < W * H - 1; i++) {
            if (i % W >= 40) {
                for (int c = 0; c < 3; c++) assertThat(coded.planes[c][i]).isEqualTo(plate.planes[c][i]);
            } else if (i % W < 30) {
                rough += Math.pow(coded.planes[1][i + 1] - coded.planes[1][i], 2);
                was += Math.pow(cg.planes[1][i + 1] - cg.planes[1][i], 2);
            }
        }
        assertThat(rough).isLessThan(0.15 * was);
        assertThat(Comp.frame(plate, p, plain.with(Codec.STEP, 1e-4), Encoding.REC709, 1, 1).planes[1][5 * W + 5])
                .as("in steps that nobody sees it stays as it is")
                .isCloseTo(cg.planes[1][5 * W + 5], within(1e-3f));
    }

    /** Fewer bits for the same picture are coarser steps. */
    @Test
    void aMovieTellsHowCoarselyItWasCoded(@TempDir Path folder) {
        double[] step = new double[2];
        for (int k = 0; k < 2; k++) {
            Path file = folder.resolve(k + ".mp4");
            try (MovieWriter w =
                    new MovieWriter(file, W, H, 24, 1, Encoding.REC709.movie(), k == 0 ? 4_000_000 : 30_000)) {
                for (int f = 0; f < 12; f++) w.write(noise(0.03));
                w.finish();
            }
            try (MovieReader r = new MovieReader(file)) {
                step[k] = r.quantiser(6);
                // Asked for again, and after the picture itself, it is the same.
                r.read(3, Encoding.REC709);
                assertThat(r.quantiser(6)).isEqualTo(step[k]);
            }
        }
        assertThat(step[0]).isBetween(0.6, 60.0);
        assertThat(step[1]).isGreaterThan(1.5 * step[0]);
    }
}
