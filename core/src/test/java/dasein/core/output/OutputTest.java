package dasein.core.output;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import dasein.core.BadInput;
import dasein.core.format.Dpx;
import dasein.core.format.MovieReader;
import dasein.core.format.Stills;
import dasein.core.image.Encoding;
import dasein.core.image.Image;
import java.nio.ByteBuffer;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class OutputTest {
    @TempDir
    Path folder;

    private static Image ramp(int w, int h) {
        Image im = new Image(w, h, 3);
        for (int i = 0; i < w * h; i++)
            for (int c = 0; c < 3; c++) im.planes[c][i] = (float) Encoding.REC709.decode((i + 340 * c) % 1024 / 1023.0);
        return im;
    }

    /** Read by the library's reader, which is none of ours: each ten-bit code is the one that was meant. */
    @Test
    void dpxIsReadByOthers() throws Exception {
        Path p = folder.resolve("a.dpx");
        Image im = ramp(128, 96);
        Dpx.write(p, im, Encoding.REC709, 60, 24, "10:00:02:12");
        Image back = Stills.read(p, Encoding.REC709);
        for (int c = 0; c < 3; c++)
            for (int i = 0; i < im.planes[c].length; i++)
                assertThat((int) Math.round(1023 * Encoding.REC709.encode(back.planes[c][i])))
                        .isEqualTo((i + 340 * c) % 1024);
        ByteBuffer head = ByteBuffer.wrap(Files.readAllBytes(p));
        // SMPTE ST 268-1: timecode in packed decimals at 1920, frames a second at 1940.
        assertThat(Integer.toHexString(head.getInt(1920))).isEqualTo("10000212");
        assertThat(head.getFloat(1940)).isEqualTo(24f);
        try (MovieReader r = new MovieReader(p)) {
            assertThat(r.codec).isEqualTo("dpx");
        }
    }

    @Test
    void sixteenBitsComeBack() {
        for (String kind : new String[] {"png", "tif"}) {
            Path p = folder.resolve("b." + kind);
            Image im = ramp(64, 48);
            if (kind.equals("png")) Stills.writePng16(p, im, Encoding.SRGB);
            else Stills.writeTiff16(p, im, Encoding.SRGB);
            Image back = Stills.read(p, Encoding.SRGB);
            for (int i = 0; i < im.planes[0].length; i++)
                assertThat(Encoding.SRGB.encode(back.planes[0][i]))
                        .isCloseTo(Encoding.SRGB.encode(im.planes[0][i]), within(1 / 65535.0));
        }
    }

    @Test
    void aShapeIsCutWithoutStretching() {
        // What is square stays square: 9:16 of 1920 x 1080 is 607.5 wide, within half a pixel.
        Reframe tall = new Reframe(Reframe.Shape.TALL, 0.5, 0.5, 1080);
        assertThat(tall.kept(1920, 1080)).containsExactly(656, 0, 608, 1080);
        assertThat(tall.size(1920, 1080)).containsExactly(1080, 1918);
        assertThat(new Reframe(Reframe.Shape.SQUARE, 1, 0, 0).kept(1920, 1080)).containsExactly(840, 0, 1080, 1080);
        assertThat(new Reframe(Reframe.Shape.SCOPE, 0, 0.5, 0).kept(1280, 720)).containsExactly(0, 92, 1280, 536);
        Image im = ramp(320, 180);
        assertThat(Reframe.NONE.of(im)).isSameAs(im);
        Image left = new Reframe(Reframe.Shape.SQUARE, 0, 0, 0).of(im);
        assertThat(left.width).isEqualTo(180);
        for (int y = 0; y < 180; y++) assertThat(left.get(77, y, 1)).isEqualTo(im.get(77, y, 1));
        assertThatThrownBy(() -> new Reframe(Reframe.Shape.WHOLE, 0.5, 0.5, 20)).isInstanceOf(BadInput.class);
    }

    /** Letters are where they should be, white enough to read, and leave the rest of the picture alone. */
    @Test
    void whatIsBurntInStaysInTheSafeArea() {
        Image plain = new Image(640, 360, 3);
        for (float[] p : plain.planes) java.util.Arrays.fill(p, 0.2f);
        Image burnt = Lettering.burnt(plain, "LW_010 v003", "0060", "10:00:02:12");
        int[] thirds = new int[3];
        for (int y = 0; y < 360; y++)
            for (int x = 0; x < 640; x++) {
                if (burnt.get(x, y, 0) == 0.2f) continue;
                assertThat(x).isBetween(28, 612);
                assertThat(y).isBetween(320, 346);
                if (burnt.get(x, y, 0) > 0.7) thirds[Math.min(2, x / 214)]++;
            }
        assertThat(thirds[0]).isGreaterThan(20);
        assertThat(thirds[1]).isGreaterThan(15);
        assertThat(thirds[2]).isGreaterThan(20);
        // A wider text is wider, and a slate keeps even the longest line within the picture.
        assertThat(Lettering.outline("WWWW", 20).getBounds2D().getWidth())
                .isGreaterThan(Lettering.outline("iiii", 20).getBounds2D().getWidth());
        Image slate = Lettering.slate(320, 180, List.of("LW_010", "x".repeat(300)));
        for (int y = 0; y < 180; y++)
            for (int x : new int[] {0, 10, 309, 319})
                assertThat(slate.get(x, y, 1)).isLessThan(0.03f);
    }

    @Test
    void filesAreCalledByShotVersionAndFrame() {
        assertThat(Names.file("LW_010", 3, "exr", ".zip")).isEqualTo("LW_010_v003_exr.zip");
        assertThat(Names.frame("LW_010", 60, ".exr")).isEqualTo("LW_010.0060.exr");
        assertThat(Names.file("../a b/c", 12, "png", ".zip")).isEqualTo("_a_b_c_v012_png.zip");
    }

    @Test
    void aManifestSaysWhatThereIs() {
        Manifest m = Manifest.of(
                "LW_010", 17, Map.of("frames", "1 to 96"), List.of(new Manifest.Entry("LW_010.0001.exr", 12, "ab")));
        assertThat(Manifest.parse(m.json())).isEqualTo(m);
        assertThat(m.note()).contains("LW_010, written from revision 17", "frames", "1 to 96", "1 files, 12 bytes");
    }
}
