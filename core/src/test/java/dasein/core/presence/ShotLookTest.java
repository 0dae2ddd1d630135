package dasein.core.presence;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import dasein.core.image.Encoding;
import dasein.core.image.Image;
import java.util.Random;
import org.junit.jupiter.api.Test;

class ShotLookTest {
    private static final int W = 320, H = 200;

    /** A smooth picture with grain of a known strength. @param warm stops more red than blue, the same about green */
    private static Image picture(double black, double warm, double grain, int seed) {
        Random r = new Random(seed);
        Image im = new Image(W, H, 3);
        double[] k = {Math.pow(2, warm / 2), 1, Math.pow(2, -warm / 2)};
        for (int y = 0; y < H; y++)
            for (int x = 0; x < W; x++)
                for (int c = 0; c < 3; c++) {
                    double v = Encoding.REC709.encode(k[c] * (0.02 + 0.5 * x / W)) + grain * r.nextGaussian();
                    im.planes[c][y * W + x] = (float) Encoding.REC709.decode(black + (1 - black) * v);
                }
        return im;
    }

    private static ShotLook look(double black, double warm, double grain) {
        return ShotLook.of(picture(black, warm, grain, 1), picture(black, warm, grain, 2), Encoding.REC709);
    }

    @Test
    void whatWasPutInIsMeasured() {
        ShotLook plain = look(0, 0, 0.01);
        assertThat(plain.warmth()).isCloseTo(0, within(0.01));
        assertThat(plain.greenness()).isCloseTo(0, within(0.01));
        assertThat(plain.grain()).isCloseTo(0.01, within(0.0015));
        assertThat(look(0, 0.4, 0.01).warmth()).isCloseTo(0.4, within(0.02));
        assertThat(look(0.05, 0, 0.01).blacks() - plain.blacks()).isCloseTo(0.05, within(0.008));
    }

    @Test
    void onlyWhatIsSeenInACutIsSaid() {
        ShotLook a = look(0, 0, 0.01);
        assertThat(a.unlike(look(0.005, 0.05, 0.0108))).isEmpty();
        assertThat(look(0.05, 0.4, 0.02).unlike(a)).isEqualTo("blacks higher, warmer, more grain");
        assertThat(a.unlike(look(0.05, 0.4, 0.02))).isEqualTo("blacks lower, colder, less grain");
    }
}
