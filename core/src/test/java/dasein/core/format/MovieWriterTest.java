package dasein.core.format;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import dasein.core.image.Encoding;
import dasein.core.image.Image;
import java.nio.file.Path;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What is written as a movie comes back as it was, as well as eight bits and the encoder let it. */
class MovieWriterTest {
    @TempDir
    Path folder;

    private static Image picture(int w, int h, int frame) {
        Image im = new Image(w, h, 3);
        for (int y = 0; y < h; y++)
            for (int x = 0; x < w; x++)
                for (int c = 0; c < 3; c++)
                    im.planes[c][y * w + x] =
                            (float) (0.25 + 0.15 * Math.sin(0.05 * (x + 2 * frame) + c) * Math.cos(0.04 * y));
        return im;
    }

    private Path written(int w, int h, int frames, int num, int den) {
        Path p = folder.resolve(w + "x" + h + ".mp4");
        try (MovieWriter m = new MovieWriter(p, w, h, num, den, Encoding.REC709, 40L * w * h)) {
            for (int f = 0; f < frames; f++) m.write(picture(w, h, f));
            m.finish();
        }
        return p;
    }

    @Test
    void framesSizeAndRateComeBack() {
        try (MovieReader r = new MovieReader(written(128, 96, 9, 24000, 1001))) {
            assertThat(r.frameCount).isEqualTo(9);
            assertThat(r.width).isEqualTo(128);
            assertThat((double) r.rateNum / r.rateDen).isCloseTo(24000 / 1001.0, within(1e-9));
            for (int f : new int[] {0, 4, 8, 2}) {
                Image a = picture(128, 96, f), b = r.read(f, Encoding.REC709);
                double sum = 0;
                for (int i = 0; i < a.planes[1].length; i++) sum += Math.abs(a.planes[1][i] - b.planes[1][i]);
                assertThat(sum / a.planes[1].length).as("frame " + f).isLessThan(0.006);
            }
        }
    }

    /** Half of a plate of 800 x 450 is 400 x 225: its last line comes twice. */
    @Test
    void oddSidesAreFilledByTheirLastLine() {
        for (int[] size : new int[][] {{128, 75}, {127, 96}, {65, 49}}) {
            int w = size[0], h = size[1];
            try (MovieReader r = new MovieReader(written(w, h, 3, 25, 1))) {
                assertThat(r.width).isEqualTo(w + w % 2);
                assertThat(r.height).isEqualTo(h + h % 2);
                Image a = picture(w, h, 1), b = r.read(1, Encoding.REC709);
                double sum = 0, edge = 0;
                for (int y = 0; y < h; y++)
                    for (int x = 0; x < w; x++) sum += Math.abs(a.get(x, y, 1) - b.get(x, y, 1));
                for (int x = 0; x < w; x++) edge += Math.abs(a.get(x, h - 1, 1) - b.get(x, b.height - 1, 1));
                assertThat(sum / (w * h)).as(w + " x " + h).isLessThan(0.01);
                assertThat(edge / w).as("last line").isLessThan(0.02);
            }
        }
    }

    @Test
    void aFrameOfAnotherSizeIsRefused() {
        try (MovieWriter m = new MovieWriter(folder.resolve("a.mp4"), 64, 48, 24, 1, Encoding.REC709, 100_000)) {
            m.write(picture(64, 48, 0));
            assertThatThrownBy(() -> m.write(picture(64, 50, 0))).isInstanceOf(IllegalArgumentException.class);
            m.finish();
        }
    }
}
