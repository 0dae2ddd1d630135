package dasein.core.comp.match;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import dasein.core.NoSolution;
import dasein.core.image.Encoding;
import dasein.core.image.Filters;
import dasein.core.image.Image;
import java.util.Random;
import org.junit.jupiter.api.Test;

/** Edges of tilted boxes, drawn with a known Gaussian in code values, with grain. */
class EdgeMeasureTest {
    private static final int W = 480, H = 320;

    /** @param sigma of each colour; of the boxes a part is soft itself, as things are */
    private static Image boxes(double[] sigma, double grain) {
        Random r = new Random(2);
        int n = 14;
        double[][] box = new double[n][7];
        for (double[] b : box) {
            b[0] = 30 + r.nextDouble() * (W - 60);
            b[1] = 30 + r.nextDouble() * (H - 60);
            b[2] = 18 + 20 * r.nextDouble();
            b[3] = Math.PI * r.nextDouble();
            b[4] = 0.15 + 0.7 * r.nextDouble();
            b[5] = Math.cos(b[3]);
            b[6] = Math.sin(b[3]);
        }
        float[] sharp = new float[W * H];
        for (int y = 0; y < H; y++)
            for (int x = 0; x < W; x++) {
                double sum = 0;
                for (int k = 0; k < 16; k++) {
                    double px = x + (k % 4 + 0.5) / 4, py = y + (k / 4 + 0.5) / 4, v = 0.4;
                    for (double[] b : box) {
                        double u = b[5] * (px - b[0]) + b[6] * (py - b[1]),
                                t = -b[6] * (px - b[0]) + b[5] * (py - b[1]);
                        if (Math.abs(u) < b[2] && Math.abs(t) < b[2]) v = b[4];
                    }
                    sum += v / 16;
                }
                sharp[y * W + x] = (float) sum;
            }
        // The lower third is out of focus.
        float[] soft = Filters.gaussian(sharp, W, H, 3);
        for (int i = W * H * 2 / 3; i < W * H; i++) sharp[i] = soft[i];
        Image im = new Image(W, H, 3);
        for (int c = 0; c < 3; c++) {
            float[] p = Filters.gaussian(sharp, W, H, sigma[c]);
            for (int i = 0; i < p.length; i++)
                im.planes[c][i] = (float) Encoding.REC709.decode(p[i] + grain * r.nextGaussian());
        }
        return im;
    }

    private static EdgeMeasure.Found found(double[] sigma, double grain) {
        EdgeMeasure m = new EdgeMeasure();
        m.look(boxes(sigma, grain), Encoding.REC709, null);
        return m.found();
    }

    /** A pixel is itself a box, whose variance is 1/12. */
    private static double drawn(double sigma) {
        return Math.sqrt(sigma * sigma + 1 / 12.0);
    }

    @Test
    void theSharpestEdgesTellTheirGaussianWithinATenth() {
        for (double s : new double[] {0.6, 1, 1.6}) {
            EdgeMeasure.Found f = found(new double[] {s, s, s}, 0.004);
            System.out.printf("edges of %.2f: %.3f +- %.3f of %d%n", drawn(s), f.sigma(), f.uncertainty(), f.edges());
            assertThat(f.sigma()).isCloseTo(drawn(s), within(0.1 * drawn(s)));
        }
        double sharp = found(new double[] {0, 0, 0}, 0.004).sigma();
        assertThat(sharp).as("edges that nothing softened").isBetween(0.25, 0.45);
    }

    @Test
    void coloursThatAreDrawnSofterAreTold() {
        EdgeMeasure.Found f = found(new double[] {1.5, 1, 1}, 0.003);
        assertThat(f.colour()[0]).isCloseTo(drawn(1.5), within(0.15 * drawn(1.5)));
        assertThat(f.colour()[2]).isCloseTo(drawn(1), within(0.15 * drawn(1)));
    }

    @Test
    void withoutEdgesItSaysSo() {
        EdgeMeasure m = new EdgeMeasure();
        m.look(new Image(W, H, 3), Encoding.REC709, null);
        assertThatThrownBy(m::found).isInstanceOf(NoSolution.class).hasMessageContaining("too few clear edges");
    }
}
