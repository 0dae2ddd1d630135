package dasein.core.plate;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import dasein.core.BadInput;
import dasein.core.format.MovieWriter;
import dasein.core.format.Stills;
import dasein.core.image.Encoding;
import dasein.core.image.Image;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.List;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class ConformTest {
    @TempDir
    Path folder;

    private static Conform with(Conform.Order order, Conform.Fields fields, double aspect, Integer... left) {
        return new Conform(order, fields, aspect, List.of(left));
    }

    /**
     * Every second of the result shows what stood at that second: a frame that stood three times as long is there three
     * times.
     */
    @Test
    void framesAreTakenByTheirTimes() {
        double[] begins = {0, 1, 2, 5, 6};
        Conform c = with(Conform.Order.BY_TIME, Conform.Fields.WHOLE, 0);
        assertThat(c.frames(5, i -> begins[i] / 24, 7.0 / 24, new Rate(24, 1), i -> false))
                .containsExactly(0, 1, 2, 2, 2, 3, 4);
        // 30 frames that hold 24 with a repeat every fifth, taken at 24: time stamps drop the same number that the rate
        // does.
        assertThat(c.frames(30, i -> i / 30.0, 1, new Rate(24, 1), i -> false))
                .hasSize(24)
                .isSorted()
                .doesNotHaveDuplicates();
        assertThatThrownBy(() -> c.frames(5, i -> i * 1000.0, 5000, new Rate(24, 1), i -> false))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("times cannot be right");
    }

    @Test
    void aMovieAtAnotherRateKeepsItsTimeAndItsRepeatsCanGo() {
        Path p = folder.resolve("m.mp4");
        try (MovieWriter w = new MovieWriter(p, 160, 96, 24, 1, Encoding.REC709, 2_000_000)) {
            for (int f = 0; f < 12; f++) w.write(flat(160, 96, 0.05f + 0.05f * f));
            w.finish();
        }
        try (Plate twice = Plate.open(
                        p, null, new Rate(48, 1), null, with(Conform.Order.BY_TIME, Conform.Fields.WHOLE, 0));
                Plate some = Plate.open(
                        p, null, null, null, with(Conform.Order.WITHOUT, Conform.Fields.WHOLE, 0, 2, 3, 12))) {
            assertThat(twice.count()).isEqualTo(24);
            assertThat(IntStream.rangeClosed(1, 24).map(twice::storedNumber))
                    .containsExactly(1, 1, 2, 2, 3, 3, 4, 4, 5, 5, 6, 6, 7, 7, 8, 8, 9, 9, 10, 10, 11, 11, 12, 12);
            assertThat(some.count()).isEqualTo(9);
            assertThat(some.frame(2).get(80, 48, 1)).isCloseTo(0.05f + 0.05f * 3, within(0.015f));
        }
    }

    @Test
    void aGapInTheNumbersIsBridgedByTheFrameBefore() {
        for (int f : new int[] {7, 8, 11})
            Stills.writePng(folder.resolve("a" + f + ".png"), flat(32, 20, 0.1f * (f - 6)), Encoding.SRGB);
        try (Plate p = Plate.open(folder, null, null, null, with(Conform.Order.BY_TIME, Conform.Fields.WHOLE, 0))) {
            assertThat(p.first()).isEqualTo(7);
            assertThat(p.last()).isEqualTo(11);
            assertThat(IntStream.rangeClosed(7, 11).map(p::storedNumber)).containsExactly(7, 8, 8, 8, 11);
            assertThat(p.frame(10).get(3, 3, 0)).isEqualTo(p.frame(8).get(3, 3, 0));
        }
    }

    /**
     * Two moments woven into one picture: of the one that is kept every line is right, and the other has left no trace.
     */
    @Test
    void ofTwoWovenMomentsOneIsKept() {
        int w = 96, h = 64;
        Image a = bars(w, h, 0), woven = bars(w, h, 9);
        for (int c = 0; c < 3; c++)
            for (int y = 0; y < h; y += 2) System.arraycopy(a.planes[c], y * w, woven.planes[c], y * w, w);
        for (int f = 1; f <= 2; f++) Stills.writePng(folder.resolve("a" + f + ".png"), woven, Encoding.SRGB);
        try (Plate p = Plate.open(folder, null, null, null, with(Conform.Order.STORED, Conform.Fields.UPPER, 0));
                Plate whole = Plate.open(folder, null, null)) {
            assertThat(difference(p.frame(1), a)).isLessThan(0.06 * difference(whole.frame(1), a));
            float[] grey = p.grey(2), wovenGrey = whole.grey(2);
            assertThat(grey[40 * w + 30]).isEqualTo(wovenGrey[40 * w + 30]);
        }
    }

    /** A circle stored with pixels twice as wide as high is an ellipse of half the width, and is a circle again. */
    @Test
    void pixelsAreMadeSquare() {
        Image squeezed = new Image(60, 120, 3);
        for (int i = 0; i < 60 * 120; i++) {
            double x = 2 * (i % 60 + 0.5) - 60,
                    y = i / 60 + 0.5 - 60,
                    v = Math.max(0.05, Math.min(0.8, (40 - Math.hypot(x, y)) / 4));
            for (float[] c : squeezed.planes) c[i] = (float) v;
        }
        Stills.writePng(folder.resolve("a1.png"), squeezed, Encoding.LINEAR);
        try (Plate p =
                Plate.open(folder, Encoding.LINEAR, null, null, with(Conform.Order.STORED, Conform.Fields.WHOLE, 2))) {
            assertThat(p.width()).isEqualTo(120);
            double worst = 0;
            for (int i = 0; i < 120 * 120; i++) {
                double v = Math.max(0.05, Math.min(0.8, (40 - Math.hypot(i % 120 + 0.5 - 60, i / 120 + 0.5 - 60)) / 4));
                worst = Math.max(worst, Math.abs(p.frame(1).planes[1][i] - v));
            }
            assertThat(worst).isLessThan(0.12);
        }
        assertThatThrownBy(() -> with(Conform.Order.STORED, Conform.Fields.WHOLE, 9))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("between 0.25 and 4");
    }

    private static double difference(Image a, Image b) {
        double s = 0;
        for (int c = 0; c < 3; c++)
            for (int i = 0; i < a.planes[c].length; i++) s += Math.abs(a.planes[c][i] - b.planes[c][i]);
        return s;
    }

    /** Slanted soft stripes, moved to the right. */
    private static Image bars(int w, int h, double moved) {
        Image im = new Image(w, h, 3);
        for (int i = 0; i < w * h; i++)
            for (int c = 0; c < 3; c++)
                im.planes[c][i] = (float) (0.3 + 0.2 * Math.sin((i % w - moved + 0.6 * (i / w)) * 2 * Math.PI / 18));
        return im;
    }

    private static Image flat(int w, int h, float v) {
        Image im = new Image(w, h, 3);
        for (float[] p : im.planes) Arrays.fill(p, v);
        return im;
    }
}
