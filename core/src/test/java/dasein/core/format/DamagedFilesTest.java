package dasein.core.format;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dasein.core.BadInput;
import dasein.core.image.Encoding;
import dasein.core.image.Image;
import dasein.core.plate.Plate;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Random;
import javax.imageio.ImageIO;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/**
 * Random bytes flipped in heads and bodies: every file is either read or refused in a sentence, soon, and nothing else
 * happens.
 */
class DamagedFilesTest {
    private static final long SEED = 4711;
    private static final int TRIES = 120;

    @TempDir
    Path folder;

    private static Image noise(int w, int h) {
        Random r = new Random(5);
        Image im = new Image(w, h, 3);
        for (float[] p : im.planes) for (int i = 0; i < p.length; i++) p[i] = r.nextFloat();
        return im;
    }

    private interface Use {
        void of(Path file);
    }

    private void damage(byte[] good, String suffix, Use use) throws IOException {
        Random r = new Random(SEED);
        for (int k = 0; k < TRIES; k++) {
            byte[] bad = good.clone();
            // Heads are hit as often as bodies; now and then the end is missing.
            int flips = 1 + r.nextInt(12), reach = k % 2 == 0 ? Math.min(400, bad.length) : bad.length;
            for (int i = 0; i < flips; i++) bad[r.nextInt(reach)] = (byte) r.nextInt(256);
            if (k % 9 == 0) bad = java.util.Arrays.copyOf(bad, 1 + r.nextInt(bad.length));
            Path p = folder.resolve("bad" + suffix);
            Files.write(p, bad);
            long t = System.nanoTime();
            try {
                use.of(p);
            } catch (BadInput e) {
                assertThat(e.getMessage()).as("try %d of seed %d", k, SEED).isNotBlank();
            }
            assertThat((System.nanoTime() - t) / 1e9)
                    .as("seconds of try %d of seed %d", k, SEED)
                    .isLessThan(10);
        }
        try (var left = Files.list(folder)) {
            assertThat(left.count()).isLessThanOrEqualTo(2);
        }
    }

    @Test
    void exr() throws IOException {
        Path p = folder.resolve("good.exr");
        Exr.writeColour(p, noise(60, 40));
        damage(Files.readAllBytes(p), ".exr", f -> Stills.read(f, Encoding.LINEAR));
    }

    @Test
    void png() throws IOException {
        Path p = folder.resolve("good.png");
        Stills.writePng16(p, noise(60, 40), Encoding.SRGB);
        damage(Files.readAllBytes(p), ".png", f -> Stills.read(f, Encoding.SRGB));
    }

    @Test
    void tiffAndJpeg() throws IOException {
        for (String kind : new String[] {"tiff", "jpg"}) {
            ByteArrayOutputStream out = new ByteArrayOutputStream();
            assertThat(ImageIO.write(Stills.toBuffered(noise(60, 40), Encoding.SRGB), kind, out))
                    .isTrue();
            damage(out.toByteArray(), "." + kind, f -> Stills.read(f, Encoding.SRGB));
        }
    }

    @Test
    void dpx() throws IOException {
        damage(dpx(48, 32), ".dpx", f -> Stills.read(f, Encoding.DENSITY));
    }

    @Test
    void movie() throws IOException {
        Path p = folder.resolve("good.mp4");
        try (MovieWriter w = new MovieWriter(p, 96, 64, 24, 1, Encoding.REC709, 2_000_000)) {
            for (int f = 0; f < 6; f++) w.write(noise(96, 64));
            w.finish();
        }
        damage(Files.readAllBytes(p), ".mp4", f -> {
            try (Plate plate = Plate.open(f, null, null)) {
                plate.frame(plate.first());
                plate.frame(Math.min(plate.last(), plate.first() + 4));
            }
        });
    }

    /** A list that names another file is no movie: it would show what lies anywhere on the machine. */
    @Test
    void playlistsAreRefusedWhateverTheyAreCalled() throws IOException {
        Path other = folder.resolve("other.mp4");
        try (MovieWriter w = new MovieWriter(other, 96, 64, 24, 1, Encoding.REC709, 2_000_000)) {
            for (int f = 0; f < 3; f++) w.write(noise(96, 64));
            w.finish();
        }
        String[] lists = {
            "ffconcat version 1.0\nfile other.mp4\n",
            "#EXTM3U\n#EXT-X-TARGETDURATION:4\n#EXTINF:1,\nfile://" + other + "\n#EXT-X-ENDLIST\n",
            "#EXTM3U\n#EXT-X-TARGETDURATION:4\n#EXTINF:1,\nother.mp4\n#EXT-X-ENDLIST\n",
            "<?xml version=\"1.0\"?><MPD xmlns=\"urn:mpeg:dash:schema:mpd:2011\" type=\"static\">"
                    + "<Period><AdaptationSet>"
                    + "<Representation id=\"1\"><BaseURL>other.mp4</BaseURL></Representation>"
                    + "</AdaptationSet></Period></MPD>"
        };
        for (String list : lists) {
            for (String suffix : new String[] {".mp4", ".mov", ".m3u8", ".ffconcat", ".mpd", ""}) {
                Path p = folder.resolve("list" + suffix);
                Files.writeString(p, list);
                assertThatThrownBy(() -> Plate.open(p, null, null).close())
                        .as("%s as %s", list.substring(0, 12), suffix)
                        .isInstanceOf(BadInput.class);
            }
        }
    }

    /** Without its trailer a movie is none: a disk that is full must not count as written. */
    @Test
    void aMovieThatWasNotFinishedCannotBeRead() {
        Path p = folder.resolve("half.mp4");
        try (MovieWriter w = new MovieWriter(p, 96, 64, 24, 1, Encoding.REC709, 2_000_000)) {
            w.write(noise(96, 64));
        }
        assertThatThrownBy(() -> Plate.open(p, null, null).close()).isInstanceOf(BadInput.class);
    }

    /**
     * SMPTE ST 268-1: a 10-bit RGB picture, three samples filled from the top into 32-bit words; codes rise along x, y
     * and both.
     */
    static byte[] dpx(int w, int h) {
        ByteBuffer b = ByteBuffer.allocate(2048 + 4 * w * h);
        b.putInt(0, 0x53445058)
                .putInt(4, 2048)
                .put(8, (byte) 'V')
                .put(9, (byte) '1')
                .put(10, (byte) '.')
                .put(11, (byte) '0')
                .putInt(16, b.capacity());
        b.putShort(768, (short) 0).putShort(770, (short) 1).putInt(772, w).putInt(776, h);
        b.putInt(780, 0)
                .put(800, (byte) 50)
                .put(801, (byte) 1)
                .put(802, (byte) 1)
                .put(803, (byte) 10)
                .putShort(804, (short) 1)
                .putShort(806, (short) 0)
                .putInt(808, 2048);
        for (int y = 0, i = 2048; y < h; y++)
            for (int x = 0; x < w; x++, i += 4)
                b.putInt(i, (95 + 10 * x) << 22 | (95 + 10 * y) << 12 | (95 + 5 * x + 5 * y) << 2);
        return b.array();
    }
}
