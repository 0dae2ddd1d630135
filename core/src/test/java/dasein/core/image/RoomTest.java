package dasein.core.image;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dasein.core.BadInput;
import dasein.core.format.Stills;
import java.io.IOException;
import java.io.OutputStream;
import java.nio.ByteBuffer;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.TimeUnit;
import java.util.zip.CRC32;
import java.util.zip.DeflaterOutputStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class RoomTest {
    @TempDir
    Path folder;

    private static void chunk(OutputStream out, String type, byte[] data) throws IOException {
        byte[] body = new byte[data.length + 4];
        System.arraycopy(type.getBytes(java.nio.charset.StandardCharsets.US_ASCII), 0, body, 0, 4);
        System.arraycopy(data, 0, body, 4, data.length);
        CRC32 crc = new CRC32();
        crc.update(body);
        out.write(ByteBuffer.allocate(4).putInt(data.length).array());
        out.write(body);
        out.write(ByteBuffer.allocate(4).putInt((int) crc.getValue()).array());
    }

    /** A PNG (ISO/IEC 15948) of one colour: a few hundred kilobytes whatever its size. */
    static Path png(Path p, int width, int height) throws IOException {
        java.io.ByteArrayOutputStream packed = new java.io.ByteArrayOutputStream();
        try (DeflaterOutputStream d = new DeflaterOutputStream(packed)) {
            byte[] row = new byte[1 + 3 * width];
            for (int y = 0; y < height; y++) d.write(row);
        }
        try (OutputStream out = Files.newOutputStream(p)) {
            out.write(new byte[] {(byte) 0x89, 'P', 'N', 'G', 13, 10, 26, 10});
            chunk(
                    out,
                    "IHDR",
                    ByteBuffer.allocate(13)
                            .putInt(width)
                            .putInt(height)
                            .put((byte) 8)
                            .put((byte) 2)
                            .array());
            chunk(out, "IDAT", packed.toByteArray());
            chunk(out, "IEND", new byte[0]);
        }
        return p;
    }

    @Test
    void aSmallFileOfAHugePictureIsRefusedBeforeItsPixelsAreTaken() throws IOException {
        Path p = png(folder.resolve("huge.png"), 16384, 8192);
        assertThat(Files.size(p)).isLessThan(1_000_000);
        assertThatThrownBy(() -> Stills.read(p, Encoding.SRGB))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("huge.png is 16384 x 8192")
                .hasMessageContaining("MB");
        // Its size can still be asked for.
        assertThat(Stills.size(p)).containsExactly(16384, 8192);
    }

    @Test
    void whatIsReadAtTheSameTimeSharesOneBudget() throws Exception {
        long side = (long) Math.sqrt(0.8 * Room.most() / 4);
        Room first = Room.take("a", side, side, 4);
        CompletableFuture<Room> second = CompletableFuture.supplyAsync(() -> Room.take("b", side, side, 4));
        assertThat(second.isDone()).isFalse();
        first.close();
        second.get(10, TimeUnit.SECONDS).close();
    }

    @Test
    void anAreaThatOverflowsIsRefused() {
        assertThatThrownBy(() -> Room.ask("x", Long.MAX_VALUE / 2, 3, 4)).isInstanceOf(RuntimeException.class);
        assertThatThrownBy(() -> Room.ask("x", 0, 3, 4)).isInstanceOf(BadInput.class);
    }
}
