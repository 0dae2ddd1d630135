package dasein.core.format;

import dasein.core.image.Image;
import java.io.IOException;
import java.lang.invoke.MethodHandles;
import java.lang.invoke.VarHandle;
import java.nio.BufferUnderflowException;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.atomic.AtomicBoolean;
import java.util.zip.DataFormatException;
import java.util.zip.Inflater;

/**
 * Reads the plain kind of OpenEXR that passes are kept in, all cores at once: one flat part in scan lines, half or
 * float, not packed or by ZIP or ZIPS ("OpenEXR File Layout", openexr.com). Anything else, and anything that is not as
 * it should be, it leaves to the library: that knows all kinds and says what is wrong, on one core.
 */
final class ExrLines {
    private static final int MAGIC = 20000630, HALF = 1, FLOAT = 2;
    private static final VarHandle EIGHT = MethodHandles.byteArrayViewVarHandle(long[].class, ByteOrder.LITTLE_ENDIAN);
    /** Eight bytes of one; and eight differences of none. */
    private static final long ONES = 0x0101010101010101L, SAME = 128 * ONES;

    private static final float[] HALVES = new float[1 << 16];

    static {
        for (int h = 0; h < HALVES.length; h++) HALVES[h] = Half.toFloat(h);
    }

    private record Channel(String name, boolean full) {}

    private final ByteBuffer file;
    private final List<Channel> channels = new ArrayList<>();
    private int[] data, display;
    private int packing = -1;

    private ExrLines(ByteBuffer file) {
        this.file = file;
    }

    /** @return null where it is left to the library */
    static Exr.Channels read(Path path) {
        try {
            if (Files.size(path) > Integer.MAX_VALUE - 8) return null;
            ExrLines f = new ExrLines(ByteBuffer.wrap(Files.readAllBytes(path)).order(ByteOrder.LITTLE_ENDIAN));
            if (!f.head()) return null;
            Exr.roomFor(path.getFileName().toString(), f.data, f.display, f.channels.size());
            return f.lines();
        } catch (IOException | BufferUnderflowException | IllegalArgumentException | ArithmeticException e) {
            return null;
        }
    }

    /** Reads the head; whether it is of the plain kind. */
    private boolean head() {
        if (file.getInt() != MAGIC || (file.getInt() & ~0x400) != 2) return false;
        for (String name = text(); !name.isEmpty(); name = text()) {
            text();
            int size = file.getInt(), end = Math.addExact(file.position(), size);
            if (size < 0 || end > file.limit()) return false;
            switch (name) {
                case "channels" -> {
                    if (!list(end)) return false;
                }
                case "compression" -> packing = file.get();
                case "dataWindow" -> data = window();
                case "displayWindow" -> display = window();
                default -> {}
            }
            file.position(end);
        }
        return data != null
                && display != null
                && !channels.isEmpty()
                && (packing == 0 || packing == Exr.Packing.ZIPS.number || packing == Exr.Packing.ZIP.number);
    }

    private boolean list(int end) {
        while (file.position() < end - 1) {
            String name = text();
            int type = file.getInt();
            file.getInt();
            if (type != HALF && type != FLOAT || file.getInt() != 1 || file.getInt() != 1) return false;
            channels.add(new Channel(name, type == FLOAT));
        }
        return true;
    }

    private String text() {
        int from = file.position();
        while (file.get() != 0) {}
        return new String(file.array(), from, file.position() - 1 - from, StandardCharsets.UTF_8);
    }

    private int[] window() {
        int x0 = file.getInt(), y0 = file.getInt(), x1 = file.getInt(), y1 = file.getInt();
        return new int[] {
            x0, y0, Math.addExact(Math.subtractExact(x1, x0), 1), Math.addExact(Math.subtractExact(y1, y0), 1)
        };
    }

    private Exr.Channels lines() {
        int w = data[2], h = data[3], n = packing == Exr.Packing.ZIP.number ? Exr.Packing.ZIP.lines : 1;
        int blocks = (h + n - 1) / n, table = file.position(), perLine = 0;
        if (file.remaining() < 8L * blocks) return null;
        for (Channel c : channels) perLine = Math.addExact(perLine, w * (c.full ? 4 : 2));
        // Empty arrays of this size take a while.
        float[][] planes = channels.parallelStream().map(c -> new float[w * h]).toArray(float[][]::new);
        int bytes = perLine;
        AtomicBoolean broken = new AtomicBoolean();
        Image.bands(blocks, (from, to) -> {
            Inflater z = new Inflater();
            byte[] raw = new byte[Math.multiplyExact(bytes, Math.min(n, h))];
            try {
                for (int b = from; b < to && !broken.get(); b++)
                    if (!block(b, table, n, bytes, z, raw, planes)) broken.set(true);
            } finally {
                z.end();
            }
        });
        if (broken.get()) return null;
        Map<String, float[]> named = new LinkedHashMap<>();
        for (int c = 0; c < planes.length; c++) named.put(channels.get(c).name, planes[c]);
        return new Exr.Channels(w, h, data[0], data[1], display, named);
    }

    /** @param b number of the block from the top; @param n lines of a block; @param perLine bytes of a line */
    private boolean block(int b, int table, int n, int perLine, Inflater z, byte[] raw, float[][] planes) {
        long at = file.getLong(table + 8 * b);
        if (at < 0 || at > file.limit() - 8) return false;
        int start = (int) at, y = b * n, size = file.getInt(start + 4);
        int rows = Math.min(n, data[3] - y), want = rows * perLine;
        if (file.getInt(start) - data[1] != y || size < 0 || size > file.limit() - 8 - start) return false;
        if (size == want) {
            plain(file.array(), start + 8, y, rows, planes);
            return true;
        }
        if (packing == 0) return false;
        z.reset();
        z.setInput(file.array(), start + 8, size);
        try {
            if (z.inflate(raw, 0, want) != want) return false;
        } catch (DataFormatException e) {
            return false;
        }
        split(raw, want, y, rows, planes);
        return true;
    }

    private void plain(byte[] from, int p, int y, int rows, float[][] planes) {
        ByteBuffer in = ByteBuffer.wrap(from).order(ByteOrder.LITTLE_ENDIAN);
        int w = data[2];
        for (int i = y * w; i < (y + rows) * w; i += w) {
            for (int c = 0; c < planes.length; c++) {
                boolean full = channels.get(c).full;
                for (int x = 0; x < w; x++, p += full ? 4 : 2)
                    planes[c][i + x] = full ? in.getFloat(p) : HALVES[in.getShort(p) & 0xffff];
            }
        }
    }

    /**
     * The format's reordering undone: each byte is a difference to the one before, and the even bytes lie before the
     * odd ones. Most of a pass is one value over and over, so eight at a time are looked at.
     */
    private void split(byte[] t, int n, int y, int rows, float[][] planes) {
        sum(t, n);
        int w = data[2], lo = 0, hi = (n + 1) / 2;
        for (int i = y * w; i < (y + rows) * w; i += w) {
            for (int c = 0; c < planes.length; c++) {
                if (channels.get(c).full) {
                    full(t, lo, hi, planes[c], i, w);
                    lo += 2 * w;
                    hi += 2 * w;
                } else {
                    half(t, lo, hi, planes[c], i, w);
                    lo += w;
                    hi += w;
                }
            }
        }
    }

    private static void sum(byte[] t, int n) {
        int v = t[0], i = 1;
        while (i < n) {
            int same = run(t, i, n, SAME);
            Arrays.fill(t, i, same, (byte) v);
            i = same;
            for (int end = Math.min(n, i + 8); i < end; i++) t[i] = (byte) (v += t[i] - 128);
        }
    }

    /** Where eights of bytes that are all {@code eight} end. */
    private static int run(byte[] t, int from, int to, long eight) {
        int i = from;
        while (i + 8 <= to && (long) EIGHT.get(t, i) == eight) i += 8;
        return i;
    }

    private static void half(byte[] t, int lo, int hi, float[] to, int from, int w) {
        for (int x = 0; x < w; ) {
            int low = t[lo + x] & 0xff, high = t[hi + x] & 0xff;
            int same = Math.min(run(t, lo + x, lo + w, ONES * low) - lo, run(t, hi + x, hi + w, ONES * high) - hi);
            // Fresh arrays are zero already.
            if (same > x && (low | high) != 0) Arrays.fill(to, from + x, from + same, HALVES[low | high << 8]);
            x = same;
            for (int end = Math.min(w, x + 8); x < end; x++)
                to[from + x] = HALVES[t[lo + x] & 0xff | (t[hi + x] & 0xff) << 8];
        }
    }

    private static void full(byte[] t, int lo, int hi, float[] to, int from, int w) {
        for (int x = 0; x < w; x++, lo += 2, hi += 2) {
            int v = t[lo] & 0xff | (t[hi] & 0xff) << 8 | (t[lo + 1] & 0xff) << 16 | (t[hi + 1] & 0xff) << 24;
            if (v != 0) to[from + x] = Float.intBitsToFloat(v);
        }
    }
}
