package dasein.core.format;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import dasein.core.BadInput;
import dasein.core.image.Encoding;
import dasein.core.image.Image;
import java.nio.file.Path;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;

/** What is written in each kind comes back: pictures, their number and rate, timecode, and sound in its place. */
class MovieKindTest {
    private static final int W = 320, H = 180, FRAMES = 24, RATE = 24;

    @TempDir
    Path folder;

    private static Image picture(int frame) {
        Image im = new Image(W, H, 3);
        for (int y = 0; y < H; y++)
            for (int x = 0; x < W; x++)
                for (int c = 0; c < 3; c++)
                    im.planes[c][y * W + x] =
                            (float) (0.3 + 0.2 * Math.sin(0.04 * (x + 2 * frame) + c) * Math.cos(0.03 * y));
        return im;
    }

    /** Silence with a click that begins with frame 12, by its count from 0. */
    private static float[][] click() {
        float[][] s = new float[2][FRAMES * Sound.RATE / RATE];
        int at = 12 * Sound.RATE / RATE;
        for (int i = 0; i < 400; i++) for (float[] c : s) c[at + i] = (float) Math.sin(0.3 * i) * 0.8f;
        return s;
    }

    private Path written(MovieKind k, Encoding e) {
        Path p = folder.resolve("m" + k.suffix);
        MovieSpec spec = new MovieSpec(k, W, H, RATE, 1, e, "10:00:02:12", true);
        float[][] heard = click();
        int each = Sound.RATE / RATE;
        try (MovieWriter w = new MovieWriter(p, spec)) {
            for (int f = 0; f < FRAMES; f++) {
                w.write(picture(f));
                w.write(heard, f * each, each);
            }
            w.finish();
        }
        return p;
    }

    private static double off(Image a, Image b, Encoding e) {
        double sum = 0;
        for (int c = 0; c < 3; c++)
            for (int i = 0; i < W * H; i++) sum += Math.abs(e.encode(a.planes[c][i]) - e.encode(b.planes[c][i]));
        return sum / (3 * W * H);
    }

    @ParameterizedTest
    @EnumSource(MovieKind.class)
    void comesBackAsItWasSent(MovieKind k) {
        Path p = written(k, Encoding.REC709);
        try (MovieReader r = new MovieReader(p)) {
            assertThat(r.frameCount).isEqualTo(FRAMES);
            assertThat(r.width).isEqualTo(W);
            assertThat(r.height).isEqualTo(H);
            assertThat((double) r.rateNum / r.rateDen).isCloseTo(RATE, within(1e-6));
            assertThat(r.facts.bitDepth()).isEqualTo(k.bits);
            // WebM keeps none that others read.
            if (k != MovieKind.WEBM) assertThat(r.facts.timecode()).isEqualTo("10:00:02:12");
            double most = k == MovieKind.FFV1 ? 0.5 / 1023 : k == MovieKind.VC3 ? 0.0025 : 0.006;
            for (int f : new int[] {0, FRAMES / 2, FRAMES - 1})
                assertThat(off(picture(f), r.read(f, Encoding.REC709), Encoding.REC709))
                        .as("frame " + f)
                        .isLessThan(most);
        }
        // The click lies where it lay, within a tenth of a frame.
        float[][] s = Sound.of(p, 0, (double) FRAMES / RATE);
        assertThat(s).isNotNull();
        int at = 0;
        while (at < s[0].length && Math.abs(s[0][at]) < 0.2) at++;
        assertThat(at).isCloseTo(12 * Sound.RATE / RATE, within(Sound.RATE / RATE / 10));
        // A stretch that begins later hears it sooner.
        float[][] later = Sound.of(p, 0.25, 0.5);
        assertThat(later[0]).hasSize(Sound.RATE / 2);
        assertThat(Math.abs(later[0][at - Sound.RATE / 4])).isGreaterThan(0.15f);
    }

    /** Ten bits without loss: each code is the one that was meant. */
    @Test
    void theLosslessOneIsExact() {
        Image ramp = new Image(1024, 128, 3);
        for (int i = 0; i < 1024 * 128; i++)
            for (int c = 0; c < 3; c++) ramp.planes[c][i] = (float) Encoding.SRGB.decode((i + c * 301) % 1024 / 1023.0);
        Path p = folder.resolve("ramp.mkv");
        try (MovieWriter w =
                new MovieWriter(p, new MovieSpec(MovieKind.FFV1, 1024, 128, 25, 1, Encoding.SRGB, "", false))) {
            w.write(ramp);
            w.finish();
        }
        try (MovieReader r = new MovieReader(p)) {
            Image back = r.read(0, Encoding.SRGB);
            for (int c = 0; c < 3; c++)
                for (int i = 0; i < 1024 * 128; i++)
                    assertThat((int) Math.round(1023 * Encoding.SRGB.encode(back.planes[c][i])))
                            .isEqualTo((i + c * 301) % 1024);
        }
        assertThat(Sound.of(p, 0, 1)).isNull();
    }

    @Test
    void whatIsTooSmallIsSaid() {
        MovieSpec small = new MovieSpec(MovieKind.VC3, 128, 96, 24, 1, Encoding.REC709, "", false);
        assertThatThrownBy(() -> new MovieWriter(folder.resolve("s.mov"), small))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("256 x 120");
    }
}
