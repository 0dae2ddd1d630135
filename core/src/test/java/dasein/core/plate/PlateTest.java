package dasein.core.plate;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import dasein.core.BadInput;
import dasein.core.format.Exr;
import dasein.core.format.MovieFacts;
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
    @TempDir
    Path folder;

    private static Image grey(int w, int h, float v) {
        Image im = new Image(w, h, 3);
        for (float[] p : im.planes) Arrays.fill(p, v);
        return im;
    }

    private Path movie(int frames) {
        Path p = folder.resolve("m.mp4");
        try (MovieWriter w = new MovieWriter(p, 160, 96, 24000, 1001, Encoding.REC709, 2_000_000)) {
            for (int f = 0; f < frames; f++) w.write(grey(160, 96, 0.05f + 0.03f * f));
            w.finish();
        }
        return p;
    }

    @Test
    void aMovieSaysItsRateCountAndSizeAndGivesEveryFrameInAnyOrder() {
        try (Plate p = Plate.open(movie(20), null, null)) {
            assertThat(p.rate()).isEqualTo(new Rate(24000, 1001));
            assertThat(p.count()).isEqualTo(20);
            assertThat(p.width()).isEqualTo(160);
            for (int f : new int[] {20, 1, 13, 12, 5})
                assertThat(p.frame(f).get(80, 48, 1))
                        .as("frame " + f)
                        .isCloseTo(0.05f + 0.03f * (f - 1), within(0.012f));
        }
    }

    @Test
    void numberedFramesKeepTheirNumbers() {
        for (int f = 1001; f <= 1004; f++)
            Exr.writeColour(folder.resolve("take." + f + ".exr"), grey(32, 20, f - 1000));
        Plate p = Plate.open(folder, Encoding.LINEAR, Rate.parse("25"));
        assertThat(p.first()).isEqualTo(1001);
        assertThat(p.last()).isEqualTo(1004);
        assertThat(p.frame(1003).get(5, 5, 2)).isEqualTo(3);
        assertThat(p.kind()).isEqualTo("exr frames");
    }

    /** The codes of stills are sRGB's, not a movie camera's, and one picture has no rate of its own. */
    @Test
    void onePictureIsAStill() {
        Path one = folder.resolve("table top.png");
        Stills.writePng(one, grey(32, 20, 0.18f), Encoding.SRGB);
        try (Plate p = Plate.open(one, null, null)) {
            assertThat(p.count()).isEqualTo(1);
            assertThat(p.kind()).isEqualTo("png still");
            assertThat(p.encoding()).isEqualTo(Encoding.SRGB);
            assertThat(p.rateSaid()).isFalse();
            assertThat(p.frame(1).get(5, 5, 1)).isCloseTo(0.18f, within(0.003f));
        }
    }

    @Test
    void aGapInTheNumbersIsNamed() {
        for (int f : new int[] {1, 2, 5})
            Stills.writePng(folder.resolve("a" + f + ".png"), grey(32, 20, 0.2f), Encoding.SRGB);
        assertThatThrownBy(() -> Plate.open(folder, null, null))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("frames 3 to 4 are missing");
    }

    @Test
    void aFrameOfAnotherSizeIsNamed() {
        Stills.writePng(folder.resolve("a1.png"), grey(32, 20, 0.2f), Encoding.SRGB);
        Stills.writePng(folder.resolve("a2.png"), grey(30, 20, 0.2f), Encoding.SRGB);
        assertThatThrownBy(() -> Plate.open(folder, null, null))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("frame 2 is 30 x 20");
    }

    @Test
    void textRenamedToAMovieIsRefused() throws Exception {
        Files.writeString(folder.resolve("t.mp4"), "this is only text\n".repeat(200));
        assertThatThrownBy(() -> Plate.open(folder.resolve("t.mp4"), null, null))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("t.mp4");
    }

    @Test
    void aTruncatedMovieIsRefused() throws Exception {
        byte[] all = Files.readAllBytes(movie(20));
        Path cut = folder.resolve("cut.mp4");
        Files.write(cut, Arrays.copyOf(all, all.length * 6 / 10));
        assertThatThrownBy(() -> Plate.open(cut, null, null))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("cut.mp4 is cut short");
    }

    @Test
    void ratesAreFractions() {
        assertThat(Rate.parse("23.976")).isEqualTo(new Rate(24000, 1001));
        assertThat(Rate.parse("29.97")).isEqualTo(new Rate(30000, 1001));
        assertThat(Rate.parse("25/1")).isEqualTo(new Rate(25, 1));
        assertThatThrownBy(() -> Rate.parse("fast")).isInstanceOf(BadInput.class);
    }

    /**
     * ISO/IEC 14496-12: the track header's matrix turns the picture; here by a quarter clockwise, so the left becomes
     * the top.
     */
    @Test
    void theRotationFlagIsFollowed() throws Exception {
        Path p = folder.resolve("upright.mp4");
        Image im = grey(160, 96, 0.1f);
        for (float[] c : im.planes) for (int y = 0; y < 96; y++) Arrays.fill(c, y * 160, y * 160 + 40, 0.6f);
        try (MovieWriter w = new MovieWriter(p, 160, 96, 24, 1, Encoding.REC709, 2_000_000)) {
            for (int f = 0; f < 3; f++) w.write(im);
            w.finish();
        }
        byte[] b = Files.readAllBytes(p);
        int at = new String(b, java.nio.charset.StandardCharsets.ISO_8859_1).indexOf("tkhd") + 4 + 40;
        int[] quarter = {0, 0x10000, 0, -0x10000, 0, 0, 96 << 16, 0, 0x40000000};
        for (int i = 0; i < 9; i++) java.nio.ByteBuffer.wrap(b).putInt(at + 4 * i, quarter[i]);
        Files.write(p, b);
        try (Plate turned = Plate.open(p, null, null)) {
            assertThat(turned.width()).isEqualTo(96);
            assertThat(turned.height()).isEqualTo(160);
            assertThat(turned.frame(2).get(50, 20, 1)).isCloseTo(0.6f, within(0.03f));
            assertThat(turned.frame(2).get(50, 100, 1)).isCloseTo(0.1f, within(0.02f));
            float[] codes = turned.grey(2);
            assertThat(codes[20 * 96 + 50]).isGreaterThan(codes[100 * 96 + 50] + 60);
            assertThat(turned.facts().warnings(3)).anySatisfy(t -> assertThat(t).contains("turned by 90 degrees"));
        }
    }

    @Test
    void whatAFileSaysOfItselfIsPutIntoSentences() {
        MovieFacts odd = new MovieFacts(0, 4, 3, true, "", java.util.List.of(4, 9), 8, "yuv420p");
        assertThat(odd.warnings(100))
                .anySatisfy(t -> assertThat(t).contains("2 places, first at frame 5"))
                .anySatisfy(t -> assertThat(t).contains("interlaced"))
                .anySatisfy(t -> assertThat(t).contains("1.333 as wide as high"));
        assertThat(new MovieFacts(
                                0,
                                1,
                                1,
                                false,
                                "",
                                java.util.stream.IntStream.range(1, 60).boxed().toList(),
                                8,
                                "yuv420p")
                        .warnings(100))
                .anySatisfy(t -> assertThat(t).contains("not constant"));
        assertThat(new MovieFacts(0, 1, 1, false, "", java.util.List.of(), 10, "yuv422p10le").warnings(100))
                .isEmpty();
    }

    /** The quick way to a picture for looking gives what the long way through light gives, within a code or two. */
    @Test
    void theQuickPreviewIsThePicture() {
        Path p = folder.resolve("wide.mp4");
        Image im = new Image(1280, 96, 3);
        for (int c = 0; c < 3; c++)
            for (int i = 0; i < im.planes[c].length; i++)
                im.planes[c][i] = 0.05f + 0.5f * (i % 1280) / 1280 + 0.1f * c * (i / 1280) / 96;
        try (MovieWriter w = new MovieWriter(p, 1280, 96, 24, 1, Encoding.REC709, 8_000_000)) {
            for (int f = 0; f < 3; f++) w.write(im);
            w.finish();
        }
        try (Plate plate = Plate.open(p, null, null)) {
            java.awt.image.BufferedImage quick = plate.preview(2, true),
                    slow = Stills.toBuffered(plate.frame(2).half(), Encoding.REC709);
            for (int y = 2; y < 46; y += 5) {
                for (int x = 2; x < 630; x += 9) {
                    for (int shift = 0; shift <= 16; shift += 8)
                        assertThat(quick.getRGB(x, y) >> shift & 0xff)
                                .isCloseTo(slow.getRGB(x, y) >> shift & 0xff, within(3));
                }
            }
        }
    }
}
