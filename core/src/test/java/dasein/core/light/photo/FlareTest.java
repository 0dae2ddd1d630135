package dasein.core.light.photo;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dasein.core.BadInput;
import dasein.core.image.Image;
import java.util.Random;
import java.util.function.DoubleUnaryOperator;
import org.junit.jupiter.api.Test;

/** A bright disc behind a lens of known spread, cut off at a level; the light that was cut off is known. */
class FlareTest {
    private static final int SIZE = 96, FINE = 4;
    private static final double[] COLOUR = {1, 0.9, 0.7};

    private record Shot(Image light, boolean[] clipped, double spot, double radius) {}

    /** @param radius of the disc, pixels; @param spread by distance in pixels; @param cut level */
    private static Shot shot(double radius, double level, DoubleUnaryOperator spread, double cut, double noise) {
        double cx = 47.3, cy = 49.1;
        double norm = 0;
        for (int v = -160; v < 160; v++)
            for (int u = -160; u < 160; u++)
                norm += spread.applyAsDouble(Math.hypot(u + 0.5, v + 0.5) / FINE) / (FINE * FINE);
        Random r = new Random(5);
        Image im = new Image(SIZE, SIZE, 3);
        boolean[] clipped = new boolean[SIZE * SIZE];
        double spot = 0;
        int reach = (int) Math.ceil(radius * FINE);
        for (int y = 0; y < SIZE; y++)
            for (int x = 0; x < SIZE; x++) {
                double sum = 0;
                for (int v = -reach; v <= reach; v++)
                    for (int u = -reach; u <= reach; u++) {
                        double du = (double) u / FINE, dv = (double) v / FINE;
                        if (Math.hypot(du, dv) > radius) continue;
                        sum += spread.applyAsDouble(Math.hypot(x + 0.5 - cx - du, y + 0.5 - cy - dv))
                                / (FINE * FINE * norm);
                    }
                double sky = 0.4 + 0.0006 * y;
                boolean cutHere = false;
                double here = 0;
                for (int c = 0; c < 3; c++) {
                    double v = (sky + level * COLOUR[c] * sum) * (1 + noise * r.nextGaussian());
                    here += v;
                    if (v > cut) cutHere = true;
                    im.planes[c][y * SIZE + x] = (float) Math.min(cut, v);
                }
                clipped[y * SIZE + x] = cutHere;
                if (cutHere) spot += here;
            }
        return new Shot(im, clipped, spot, radius);
    }

    /** Stops by which the spot is off, before and after. */
    private static double[] off(Shot s) {
        Flare.Mended m = Flare.of(s.light, s.clipped, s.radius);
        return new double[] {stops(s.light, s), stops(m.light(), s)};
    }

    private static double stops(Image im, Shot s) {
        double sum = 0;
        for (int i = 0; i < s.clipped.length; i++) if (s.clipped[i]) for (int c = 0; c < 3; c++) sum += im.planes[c][i];
        return Math.log(sum / s.spot) / Math.log(2);
    }

    private static DoubleUnaryOperator moffat(double a, double b) {
        return r -> Math.pow(1 + r * r / (a * a), -b);
    }

    @Test
    void aSunThatIsCutOffGetsItsLightBackByItsGlow() {
        for (double cut : new double[] {40, 80, 160, 300}) {
            double[] off = off(shot(1.2, 4000, moffat(1.5, 1.9), cut, 0.01));
            System.out.printf("cut off at %.0f: %+.2f stops, mended %+.2f%n", cut, off[0], off[1]);
            assertThat(off[0]).isLessThan(-1);
            assertThat(Math.abs(off[1])).isLessThan(0.2);
        }
    }

    /** Not the form that is fitted: a Gaussian core with a halo that falls as the third power. */
    @Test
    void behindALensOfAnotherFormItIsFarBetterThanLeftCutOff() {
        double[] off = off(
                shot(1.0, 20000, r -> Math.exp(-r * r / (2 * 1.1 * 1.1)) + 0.02 / (1 + Math.pow(r / 2, 3)), 300, 0.01));
        System.out.printf("a Gaussian with a halo: %+.2f stops, mended %+.2f%n", off[0], off[1]);
        assertThat(Math.abs(off[1])).isLessThan(0.5 * Math.abs(off[0]));
    }

    @Test
    void whatTheGlowDoesNotTellIsNotMended() {
        // A disc far wider than the lens spreads: its edge is as sharp however bright it is.
        Shot wide = shot(5, 40000, moffat(0.9, 2.5), 10000, 0.01);
        assertThatThrownBy(() -> Flare.of(wide.light, wide.clipped, wide.radius))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("no glow");
        // So much is cut off that sharp and soft cores leave the same glow.
        Shot deep = shot(1.2, 4000, moffat(1.5, 1.9), 10, 0.01);
        assertThatThrownBy(() -> Flare.of(deep.light, deep.clipped, deep.radius))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("does not tell its light");
        Shot none = shot(1, 1, moffat(1.5, 2), 100, 0.01);
        assertThatThrownBy(() -> Flare.of(none.light, none.clipped, 0)).hasMessageContaining("nothing is cut off");
    }
}
