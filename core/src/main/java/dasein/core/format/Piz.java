package dasein.core.format;

import java.nio.ByteBuffer;
import java.nio.ByteOrder;

/**
 * OpenEXR's wavelet packing of a block of scan lines ("OpenEXR File Layout", openexr.com): values by their rank among
 * those that occur, a Haar wavelet in two dimensions, Huffman codes. It packs grainy pictures smallest. Channels are 16
 * bits wide, or 32 as two of 16.
 */
final class Piz {
    private static final int VALUES = 1 << 16;
    /** Up to this many values the wavelet needs no wrapping round. */
    private static final int FEW = 1 << 14;

    private final short[] data;
    private final int lines, pixels;
    /** Words for a pixel of each channel. */
    private final int[] words;

    private Piz(short[] data, int[] words, int pixels, int lines) {
        this.data = data;
        this.words = words;
        this.pixels = pixels;
        this.lines = lines;
    }

    /**
     * @param raw scan line after scan line, in each channel after channel, little-endian; @param words 1 or 2 for each
     *     channel
     * @return packed; longer than {@code raw} where it does not shrink
     */
    static byte[] pack(byte[] raw, int[] words, int pixels, int lines) {
        if (raw.length == 0) return raw;
        return new Piz(planar(raw, words, pixels, lines), words, pixels, lines).packed();
    }

    /** All lines of a channel, then those of the next. */
    private static short[] planar(byte[] raw, int[] words, int pixels, int lines) {
        short[] out = new short[raw.length / 2];
        int line = 0;
        for (int w : words) line += w * pixels;
        for (int y = 0; y < lines; y++)
            for (int c = 0, from = y * line, before = 0; c < words.length; c++) {
                int n = words[c] * pixels, to = before * lines + y * n;
                for (int i = 0; i < n; i++, from++)
                    out[to + i] = (short) (raw[2 * from] & 0xff | raw[2 * from + 1] << 8);
                before += n;
            }
        return out;
    }

    private byte[] packed() {
        byte[] there = new byte[VALUES / 8];
        for (short v : data) there[(v & 0xffff) >> 3] |= (byte) (1 << (v & 7));
        // 0 is always there and not said.
        there[0] &= (byte) ~1;
        int first = there.length - 1, last = 0, count = 0;
        for (int i = 0; i < there.length; i++) {
            if (there[i] == 0) continue;
            first = Math.min(first, i);
            last = Math.max(last, i);
        }
        short[] rank = new short[VALUES];
        for (int i = 0; i < VALUES; i++) if (i == 0 || (there[i >> 3] & 1 << (i & 7)) != 0) rank[i] = (short) count++;
        for (int i = 0; i < data.length; i++) data[i] = rank[data[i] & 0xffff];
        int at = 0;
        for (int w : words) {
            for (int k = 0; k < w; k++) wavelet(at + k, pixels, w, lines, pixels * w, count - 1 < FEW);
            at += w * pixels * lines;
        }
        byte[] codes = Huffman.pack(data);
        int said = first <= last ? last - first + 1 : 0;
        ByteBuffer b = ByteBuffer.allocate(8 + said + codes.length).order(ByteOrder.LITTLE_ENDIAN);
        b.putShort((short) first).putShort((short) last).put(there, first, said);
        return b.putInt(codes.length).put(codes).array();
    }

    /** Means of two and their difference, along both ways, of the means again, and so on. */
    private void wavelet(int in, int nx, int ox, int ny, int oy, boolean few) {
        int n = Math.min(nx, ny);
        for (int p = 1, p2 = 2; p2 <= n; p = p2, p2 <<= 1) {
            int py = in, endY = in + oy * (ny - p2), down = oy * p, right = ox * p;
            for (; py <= endY; py += oy * p2) {
                int px = py, endX = py + ox * (nx - p2);
                for (; px <= endX; px += ox * p2) {
                    pair(px, px + right, few);
                    pair(px + down, px + down + right, few);
                    pair(px, px + down, few);
                    pair(px + right, px + down + right, few);
                }
                if ((nx & p) != 0) pair(px, px + down, few);
            }
            if ((ny & p) == 0) continue;
            int px = py, endX = py + ox * (nx - p2);
            for (; px <= endX; px += ox * p2) pair(px, px + right, few);
        }
    }

    private void pair(int a, int b, boolean few) {
        if (few) {
            int x = data[a], y = data[b];
            data[a] = (short) (x + y >> 1);
            data[b] = (short) (x - y);
            return;
        }
        int x = (data[a] & 0xffff) + 0x8000 & 0xffff, y = data[b] & 0xffff, mean = x + y >> 1, d = x - y;
        data[a] = (short) (d < 0 ? mean + 0x8000 : mean);
        data[b] = (short) d;
    }
}
