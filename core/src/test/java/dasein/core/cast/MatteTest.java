package dasein.core.cast;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import dasein.core.BadInput;
import dasein.core.cast.Matte.Spill;
import dasein.core.image.Encoding;
import java.awt.image.BufferedImage;
import org.junit.jupiter.api.Test;

/** A red disc filmed before green: its edge is mended until nothing of the green is left. */
class MatteTest {
    private static final int SIDE = 128;
    private static final double RADIUS = 40;

    /** Softly cut out over two pixels; the colours of its edge are still mixed with the green. */
    private static BufferedImage disc() {
        BufferedImage b = new BufferedImage(SIDE, SIDE, BufferedImage.TYPE_INT_ARGB);
        for (int y = 0; y < SIDE; y++)
            for (int x = 0; x < SIDE; x++) {
                double a = Math.max(0, Math.min(1, (RADIUS - from(x, y)) / 2 + 0.5));
                b.setRGB(x, y, code(a) << 24 | srgb(0.6 * a) << 16 | srgb(0.1 * a + 0.7 * (1 - a)) << 8 | srgb(0.1));
            }
        return b;
    }

    private static double from(int x, int y) {
        return Math.hypot(x + 0.5 - SIDE / 2.0, y + 0.5 - SIDE / 2.0);
    }

    private static int code(double v) {
        return (int) Math.round(255 * v);
    }

    private static int srgb(double linear) {
        return code(Encoding.SRGB.encode(linear));
    }

    private static double covered(BufferedImage b) {
        double sum = 0;
        for (int y = 0; y < SIDE; y++) for (int x = 0; x < SIDE; x++) sum += (b.getRGB(x, y) >>> 24) / 255.0;
        return sum;
    }

    /** Most green, linear, of what is seen at all, by what is seen of it. */
    private static double green(BufferedImage b) {
        double most = 0;
        for (int y = 0; y < SIDE; y++)
            for (int x = 0; x < SIDE; x++) {
                int v = b.getRGB(x, y);
                most = Math.max(most, (v >>> 24) / 255.0 * Encoding.SRGB.decode8(v >> 8 & 255));
            }
        return most;
    }

    @Test
    void leftAloneItIsTheSamePicture() {
        BufferedImage b = disc();
        assertThat(Matte.NONE.of(b)).isSameAs(b);
    }

    /** A disc that loses n pixels has the area of one whose radius is so much smaller; octagons err by 5 %. */
    @Test
    void itIsMadeSmallerByThatMany() {
        for (double px : new double[] {1, 2.5, 6, 10}) {
            double now = Math.sqrt(covered(new Matte(px, 0, 0, Spill.NONE).of(disc())) / Math.PI);
            assertThat(RADIUS - now).as(px + " px").isCloseTo(px, within(0.12 * px + 0.1));
        }
    }

    /** A Gaussian keeps the area, and spreads an edge by its deviation: variances add up (central limit's rule). */
    @Test
    void itIsMadeSofterByThatDeviation() {
        BufferedImage soft = new Matte(0, 4, 0, Spill.NONE).of(disc());
        assertThat(covered(soft)).isCloseTo(covered(disc()), within(0.01 * covered(disc())));
        assertThat(spread(soft)).isCloseTo(Math.hypot(4, spread(disc())), within(0.15));
    }

    /** Deviation of where the matte falls off, along the middle row to the right. */
    private static double spread(BufferedImage b) {
        double sum = 0, first = 0, second = 0;
        for (int x = SIDE / 2; x + 1 < SIDE; x++) {
            double d = ((b.getRGB(x, SIDE / 2) >>> 24) - (b.getRGB(x + 1, SIDE / 2) >>> 24)) / 255.0;
            sum += d;
            first += d * x;
            second += d * x * x;
        }
        return Math.sqrt(second / sum - first * first / (sum * sum));
    }

    @Test
    void nothingOfTheGreenIsLeft() {
        assertThat(green(disc())).isGreaterThan(0.2);
        BufferedImage inside = new Matte(0, 0, 1, Spill.NONE).of(disc());
        assertThat(green(inside)).isLessThan(0.105);
        assertThat(covered(inside)).isCloseTo(covered(disc()), within(1e-6));
        // The mean of red and blue is the most that stays of green.
        assertThat(green(new Matte(0, 0, 0, Spill.GREEN).of(disc()))).isLessThan(0.36);
        assertThat(green(new Matte(0, 0, 0, Spill.BLUE).of(disc()))).isEqualTo(green(disc()));
    }

    /** Smoke, of which nothing is whole, has no inside to take colours from. */
    @Test
    void whatIsNowhereWholeKeepsItsColours() {
        BufferedImage smoke = new BufferedImage(SIDE, SIDE, BufferedImage.TYPE_INT_ARGB);
        for (int y = 0; y < SIDE; y++) for (int x = 0; x < SIDE; x++) smoke.setRGB(x, y, 0x60304050);
        BufferedImage out = new Matte(0, 0, 1, Spill.NONE).of(smoke);
        assertThat(out.getRGB(9, 9)).isEqualTo(0x60304050);
    }

    @Test
    void whatCannotBeIsRefused() {
        assertThatThrownBy(() -> new Matte(-1, 0, 0, Spill.NONE)).isInstanceOf(BadInput.class);
        assertThatThrownBy(() -> new Matte(0, 99, 0, Spill.NONE)).isInstanceOf(BadInput.class);
        assertThatThrownBy(() -> new Matte(0, 0, 2, Spill.NONE)).hasMessageContaining("inside");
    }
}
