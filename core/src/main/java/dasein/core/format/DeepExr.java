package dasein.core.format;

import java.io.OutputStream;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.Map;
import java.util.stream.IntStream;

/**
 * Deep scan lines, packed line by line, after the published layout ("OpenEXR File Layout", "Interpreting OpenEXR Deep
 * Pixels", openexr.com): a pixel has samples, from Z to ZBack, the nearest first, each premultiplied and to be laid
 * over the next. Colour in half floats, distances in full ones.
 */
public final class DeepExr {
    private static final String[] NAMES = {"A", "B", "G", "R", "Z", "ZBack"};
    private static final boolean[] FULL = {false, false, false, false, true, true};
    private static final int SAMPLE_BYTES = 4 * 2 + 2 * 4;

    private DeepExr() {}

    /**
     * Samples of all pixels, one after the other, rows from the top.
     *
     * @param counts of each pixel; the others hold as many numbers as all of them together
     */
    public record Samples(int[] counts, float[] a, float[] b, float[] g, float[] r, float[] z, float[] zBack) {}

    /** @param window of the pixels as x, y, width, height; @param display window likewise */
    public static void write(
            Path path,
            int[] window,
            int[] display,
            Samples s,
            Map<String, String> text,
            Map<String, float[]> matrices) {
        int w = window[2], h = window[3];
        int[] first = new int[h + 1];
        int most = 0;
        for (int y = 0; y < h; y++) {
            first[y + 1] = first[y];
            for (int x = 0; x < w; x++) {
                first[y + 1] += s.counts[y * w + x];
                most = Math.max(most, s.counts[y * w + x]);
            }
        }
        byte[][] chunks = new byte[h][];
        IntStream.range(0, h)
                .parallel()
                .forEach(y -> chunks[y] = chunk(s, window[1] + y, y * w, w, first[y], first[y + 1] - first[y]));
        byte[] header = Exr.header(
                window,
                display,
                NAMES,
                FULL,
                text,
                matrices,
                Exr.Packing.ZIPS,
                Map.of("version", 1, "chunkCount", h, "maxSamplesPerPixel", most));
        SafeWrite.to(path, tmp -> {
            try (OutputStream out = Files.newOutputStream(tmp)) {
                out.write(header);
                ByteBuffer table = ByteBuffer.allocate(8 * h).order(ByteOrder.LITTLE_ENDIAN);
                long at = header.length + 8L * h;
                for (byte[] c : chunks) {
                    table.putLong(at);
                    at += c.length;
                }
                out.write(table.array());
                for (byte[] c : chunks) out.write(c);
            }
        });
    }

    /** A line: how many samples up to each pixel, then the samples, channel by channel; both packed. */
    private static byte[] chunk(Samples s, int y, int pixel, int w, int from, int n) {
        ByteBuffer counts = ByteBuffer.allocate(4 * w).order(ByteOrder.LITTLE_ENDIAN);
        for (int x = 0, sum = 0; x < w; x++) counts.putInt(sum += s.counts[pixel + x]);
        byte[] raw = new byte[SAMPLE_BYTES * n];
        int p = 0, c = 0;
        for (float[] plane : Arrays.asList(s.a, s.b, s.g, s.r, s.z, s.zBack))
            p = Exr.put(plane, FULL[c++], from, n, raw, p);
        byte[] table = Exr.squeezed(counts.array()), samples = Exr.squeezed(raw);
        return ByteBuffer.allocate(28 + table.length + samples.length)
                .order(ByteOrder.LITTLE_ENDIAN)
                .putInt(y)
                .putLong(table.length)
                .putLong(samples.length)
                .putLong(raw.length)
                .put(table)
                .put(samples)
                .array();
    }
}
