package dasein.core.plate;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import dasein.core.BadInput;
import dasein.core.format.Exr;
import dasein.core.format.MovieWriter;
import dasein.core.format.Stills;
import dasein.core.image.Encoding;
import dasein.core.image.Image;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class PlateTest {
    @TempDir Path folder;

    private static Image grey(int w, int h, float v) {
        Image im = new Image(w, h, 3);
        for (float[] p : im.planes) Arrays.fill(p, v);
        return im;
    }

    private Path movie(int frames) {
        Path p = folder.resolve("m.mp4");
        try (MovieWriter w = new MovieWriter(p, 160, 96, 24000, 1001, Encoding.REC709, 2_000_000)) {
            for (int f = 0; f < frames; f++) w.write(grey(160, 96, 0.05f + 0.03f * f));
        }
        return p;
    }

    @Test
    void aMovieSaysItsRateCountAndSizeAndGivesEveryFrameInAnyOrder() {
        try (Plate p = Plate.open(movie(20), null, null)) {
            assertThat(p.rate()).isEqualTo(new Rate(24000, 1001));
            assertThat(p.count()).isEqualTo(20);
            assertThat(p.width()).isEqualTo(160);
            for (int f : new int[] {20, 1, 13, 12, 5}) assertThat(p.frame(f).get(80, 48, 1)).as("frame " + f).isCloseTo(0.05f + 0.03f * (f - 1), within(0.012f));
        }
    }

    @Test
    void numberedFramesKeepTheirNumbers() {
        for (int f = 1001; f <= 1004; f++) Exr.writeColour(folder.resolve("take." + f + ".exr"), grey(32, 20, f - 1000));
        Plate p = Plate.open(folder, Encoding.LINEAR, Rate.parse("25"));
        assertThat(p.first()).isEqualTo(1001);
        assertThat(p.last()).isEqualTo(1004);
        assertThat(p.frame(1003).get(5, 5, 2)).isEqualTo(3);
        assertThat(p.kind()).isEqualTo("exr frames");
    }

    @Test
    void aGapInTheNumbersIsNamed() {
        for (int f : new int[] {1, 2, 5}) Stills.writePng(folder.resolve("a" + f + ".png"), grey(32, 20, 0.2f), Encoding.SRGB);
        assertThatThrownBy(() -> Plate.open(folder, null, null)).isInstanceOf(BadInput.class).hasMessageContaining("frames 3 to 4 are missing");
    }

    @Test
    void aFrameOfAnotherSizeIsNamed() {
        Stills.writePng(folder.resolve("a1.png"), grey(32, 20, 0.2f), Encoding.SRGB);
        Stills.writePng(folder.resolve("a2.png"), grey(30, 20, 0.2f), Encoding.SRGB);
        assertThatThrownBy(() -> Plate.open(folder, null, null)).isInstanceOf(BadInput.class).hasMessageContaining("frame 2 is 30 x 20");
    }

    @Test
    void textRenamedToAMovieIsRefused() throws Exception {
        Files.writeString(folder.resolve("t.mp4"), "this is only text\n".repeat(200));
        assertThatThrownBy(() -> Plate.open(folder.resolve("t.mp4"), null, null)).isInstanceOf(BadInput.class).hasMessageContaining("t.mp4");
    }

    @Test
    void aTruncatedMovieIsRefused() throws Exception {
        byte[] all = Files.readAllBytes(movie(20));
        Path cut = folder.resolve("cut.mp4");
        Files.write(cut, Arrays.copyOf(all, all.length * 6 / 10));
        assertThatThrownBy(() -> Plate.open(cut, null, null)).isInstanceOf(BadInput.class).hasMessageContaining("cut.mp4 is cut short");
    }

    @Test
    void ratesAreFractions() {
        assertThat(Rate.parse("23.976")).isEqualTo(new Rate(24000, 1001));
        assertThat(Rate.parse("29.97")).isEqualTo(new Rate(30000, 1001));
        assertThat(Rate.parse("25/1")).isEqualTo(new Rate(25, 1));
        assertThatThrownBy(() -> Rate.parse("fast")).isInstanceOf(BadInput.class);
    }
}
