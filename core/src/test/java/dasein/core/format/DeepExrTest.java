package dasein.core.format;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Map;
import java.util.Random;
import java.util.zip.Inflater;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** The file is read again by the published layout ("OpenEXR File Layout", openexr.com), here from memory. */
class DeepExrTest {
    @TempDir
    Path folder;

    @Test
    void whatIsWrittenIsReadByTheLayout() throws Exception {
        int w = 33, h = 7, n = w * h, total = 0;
        Random r = new Random(4);
        int[] counts = new int[n];
        for (int i = 0; i < n; i++) total += counts[i] = i / w == 3 ? 0 : r.nextInt(4);
        float[][] s = new float[6][total];
        for (float[] p : s) for (int i = 0; i < total; i++) p[i] = r.nextInt(200) / 64f;
        Path file = folder.resolve("deep.exr");
        DeepExr.write(
                file,
                new int[] {-2, 5, w, h},
                new int[] {0, 0, w, h},
                new DeepExr.Samples(counts, s[0], s[1], s[2], s[3], s[4], s[5]),
                Map.of("shot", "LW_010"),
                Map.of());
        ByteBuffer b = ByteBuffer.wrap(Files.readAllBytes(file)).order(ByteOrder.LITTLE_ENDIAN);
        assertThat(b.getInt()).isEqualTo(20000630);
        assertThat(b.getInt()).isEqualTo(2 | 0x800);
        String type = "";
        for (String name; !(name = text(b)).isEmpty(); ) {
            text(b);
            byte[] value = new byte[b.getInt()];
            b.get(value);
            if (name.equals("type")) type = new String(value, StandardCharsets.US_ASCII);
            if (name.equals("chunkCount"))
                assertThat(ByteBuffer.wrap(value).order(ByteOrder.LITTLE_ENDIAN).getInt())
                        .isEqualTo(h);
        }
        assertThat(type).isEqualTo("deepscanline");
        int table = b.position(), at = 0;
        for (int y = 0; y < h; y++) {
            b.position((int) b.getLong(table + 8 * y));
            assertThat(b.getInt()).isEqualTo(5 + y);
            int ofTable = (int) b.getLong(), ofSamples = (int) b.getLong(), unpacked = (int) b.getLong();
            ByteBuffer up = unpacked(b, ofTable, 4 * w);
            int line = 0;
            for (int x = 0; x < w; x++) assertThat(up.getInt()).isEqualTo(line += counts[y * w + x]);
            assertThat(unpacked).isEqualTo(16 * line);
            ByteBuffer data = unpacked(b, ofSamples, unpacked);
            for (int c = 0; c < 6; c++)
                for (int i = 0; i < line; i++)
                    assertThat(c < 4 ? Half.toFloat(data.getShort()) : data.getFloat())
                            .isEqualTo(s[c][at + i]);
            at += line;
        }
        assertThat(at).isEqualTo(total);
    }

    private static String text(ByteBuffer b) {
        StringBuilder out = new StringBuilder();
        for (byte c; (c = b.get()) != 0; ) out.append((char) c);
        return out.toString();
    }

    /** Inflated, the differences summed, the two halves interleaved; what did not shrink is as it is. */
    private static ByteBuffer unpacked(ByteBuffer b, int packed, int size) throws Exception {
        byte[] in = new byte[packed], out = new byte[size];
        b.get(in);
        if (packed == size) return ByteBuffer.wrap(in).order(ByteOrder.LITTLE_ENDIAN);
        Inflater z = new Inflater();
        z.setInput(in);
        byte[] split = new byte[size];
        assertThat(z.inflate(split)).isEqualTo(size);
        for (int i = 1; i < size; i++) split[i] = (byte) (split[i - 1] + split[i] - 128);
        for (int i = 0; i < size; i++) out[i] = split[i / 2 + (i % 2 == 0 ? 0 : (size + 1) / 2)];
        return ByteBuffer.wrap(out).order(ByteOrder.LITTLE_ENDIAN);
    }
}
