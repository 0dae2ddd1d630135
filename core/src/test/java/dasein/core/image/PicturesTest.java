package dasein.core.image;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.util.Random;
import java.util.concurrent.atomic.AtomicIntegerArray;
import org.junit.jupiter.api.Test;

/** Filters, sizes and samples of pictures by what must stay true of any of them. */
class PicturesTest {
    private static Image random(int w, int h) {
        Image im = new Image(w, h, 3);
        Random r = new Random(7);
        for (float[] p : im.planes) for (int i = 0; i < p.length; i++) p[i] = r.nextFloat();
        return im;
    }

    private static double mean(float[] p) {
        double s = 0;
        for (float v : p) s += v / p.length;
        return s;
    }

    /** A Gaussian keeps sum and middle of a spot and gives it its own variance. */
    @Test
    void aSpotBecomesAGaussian() {
        int w = 61, h = 53;
        for (double sigma : new double[] {0.8, 2, 4.5}) {
            float[] p = new float[w * h];
            p[26 * w + 30] = 1;
            float[] g = Filters.gaussian(p, w, h, sigma);
            double sum = 0, mx = 0, my = 0, xx = 0, xy = 0;
            for (int y = 0; y < h; y++)
                for (int x = 0; x < w; x++) {
                    double v = g[y * w + x];
                    sum += v;
                    mx += v * x;
                    my += v * y;
                    xx += v * (x - 30) * (x - 30);
                    xy += v * (x - 30) * (y - 26);
                }
            assertThat(sum).isCloseTo(1, within(1e-5));
            assertThat(mx).isCloseTo(30, within(1e-4));
            assertThat(my).isCloseTo(26, within(1e-4));
            // Cut at three sigma, a little of the variance is missing.
            assertThat(Math.sqrt(xx)).isCloseTo(sigma, within(0.03 * sigma));
            assertThat(xy).isCloseTo(0, within(1e-4));
        }
        assertThat(Filters.gaussian(new float[] {1, 2, 3, 4}, 2, 2, 0)).containsExactly(1, 2, 3, 4);
    }

    /** Borders are held: an even picture stays even to its edge. */
    @Test
    void anEvenPictureStaysEven() {
        float[] p = new float[40 * 30];
        java.util.Arrays.fill(p, 0.37f);
        for (float v : Filters.gaussian(p, 40, 30, 6)) assertThat(v).isCloseTo(0.37f, within(1e-5f));
        Image even = new Image(40, 30, p);
        for (float v : even.resize(17, 11).planes[0]) assertThat(v).isCloseTo(0.37f, within(1e-6f));
    }

    @Test
    void halvingAndResizingKeepTheMean() {
        Image im = random(64, 48);
        assertThat(mean(im.half().planes[1])).isCloseTo(mean(im.planes[1]), within(1e-6));
        assertThat(mean(im.resize(32, 24).planes[1])).isCloseTo(mean(im.planes[1]), within(1e-6));
        assertThat(mean(im.resize(45, 31).planes[1])).isCloseTo(mean(im.planes[1]), within(0.01));
        assertThat(im.resize(64, 48)).isSameAs(im);
        assertThatThrownBy(() -> new Image(1, 4, 1).half()).isInstanceOf(IllegalArgumentException.class);
        assertThatThrownBy(() -> new Image(3, 3, new float[8])).isInstanceOf(IllegalArgumentException.class);
    }

    /** Bilinear values are exact on a ramp, whatever the size; pixel centres lie at a half. */
    @Test
    void aRampIsSampledExactly() {
        Image im = new Image(20, 16, 1);
        for (int y = 0; y < 16; y++)
            for (int x = 0; x < 20; x++) im.planes[0][y * 20 + x] = (float) (2 * (x + 0.5) - 3 * (y + 0.5));
        Random r = new Random(1);
        for (int k = 0; k < 100; k++) {
            double x = 0.5 + 19 * r.nextDouble(), y = 0.5 + 15 * r.nextDouble();
            assertThat(im.sample(x, y, 0)).isCloseTo((float) (2 * x - 3 * y), within(1e-4f));
        }
        Image small = im.resize(8, 7);
        assertThat(small.get(4, 3, 0)).isCloseTo((float) (2 * 4.5 * 20 / 8 - 3 * 3.5 * 16 / 7), within(1e-4f));
        // Outside, what is at the border.
        assertThat(im.sample(-9, 8.5, 0)).isEqualTo(im.get(0, 8, 0));
        assertThat(im.sample(99, 99, 0)).isEqualTo(im.get(19, 15, 0));
    }

    @Test
    void everyRowIsDoneOnce() {
        for (int h : new int[] {1, 31, 32, 33, 257}) {
            AtomicIntegerArray done = new AtomicIntegerArray(h);
            Image.rows(h, done::incrementAndGet);
            for (int y = 0; y < h; y++) assertThat(done.get(y)).isEqualTo(1);
        }
    }

    /** Rec. 709: white is 1, and green is brightest. */
    @Test
    void luminanceIsRec709() {
        Image im = new Image(4, 1, new float[] {1, 1, 0, 0}, new float[] {1, 0, 1, 0}, new float[] {1, 0, 0, 1});
        assertThat(im.luminance()).containsExactly(new float[] {1, 0.2126f, 0.7152f, 0.0722f}, within(1e-6f));
        Image copy = im.copy();
        copy.planes[0][0] = 9;
        assertThat(im.get(0, 0, 0)).isEqualTo(1);
    }

    /** A pyramid's levels show the same places: a ramp stays that ramp, read at the level's own coordinates. */
    @Test
    void pyramidLevelsLieOverOneAnother() {
        int w = 256, h = 224;
        float[] g = new float[w * h];
        for (int y = 0; y < h; y++)
            for (int x = 0; x < w; x++) g[y * w + x] = (float) (0.5 * (x + 0.5) + 0.2 * (y + 0.5));
        Pyramid p = new Pyramid(w, h, 3).fill(g);
        assertThat(p.levels()).isEqualTo(3);
        for (int l = 1; l < 3; l++) {
            double x = 121.3, y = 97.6, lx = Pyramid.toLevel(x, l), ly = Pyramid.toLevel(y, l);
            int i = (int) lx, j = (int) ly, lw = p.width(l);
            float[] q = p.plane(l);
            double a = lx - i,
                    b = ly - j,
                    v =
                            (1 - b) * ((1 - a) * q[j * lw + i] + a * q[j * lw + i + 1])
                                    + b * ((1 - a) * q[(j + 1) * lw + i] + a * q[(j + 1) * lw + i + 1]);
            assertThat(v).as("level " + l).isCloseTo(0.5 * x + 0.2 * y, within(0.02));
        }
    }
}
