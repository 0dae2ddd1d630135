package dasein.core.format;

import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.util.Arrays;
import java.util.PriorityQueue;

/** Huffman codes of 16-bit words as OpenEXR's PIZ writes them: canonical, with a code of its own for repetition. */
final class Huffman {
    /** Besides all words, the one that stands for repetition. */
    private static final int SYMBOLS = (1 << 16) + 1, LONGEST = 58;
    /** Of code lengths: a few symbols without a code, and many. */
    private static final int FEW_NONE = 59, MANY_NONE = 63, MANY = 2 + MANY_NONE - FEW_NONE, MOST = 255 + MANY;

    private static final int HEAD = 20;

    private final int[] length = new int[SYMBOLS];
    private final long[] code = new long[SYMBOLS];
    private int first = SYMBOLS, last;
    private byte[] out;
    private long bits;
    private int held, at;

    private Huffman() {}

    static byte[] pack(short[] words) {
        return words.length == 0 ? new byte[0] : new Huffman().packed(words);
    }

    private byte[] packed(short[] words) {
        long[] often = new long[SYMBOLS];
        for (short w : words) often[w & 0xffff]++;
        for (int i = 0; i < SYMBOLS; i++)
            if (often[i] > 0) {
                first = Math.min(first, i);
                last = i;
            }
        // The next after the last stands for repetition.
        often[++last] = 1;
        lengths(often);
        canonical();
        out = new byte[HEAD + 65536 + 3 * words.length];
        at = HEAD;
        table();
        flush();
        int table = at - HEAD;
        long data = 8L * at;
        encode(words);
        long count = 8L * at + held - data;
        flush();
        ByteBuffer.wrap(out)
                .order(ByteOrder.LITTLE_ENDIAN)
                .putInt(first)
                .putInt(last)
                .putInt(table)
                .putInt((int) count)
                .putInt(0);
        return Arrays.copyOf(out, at);
    }

    /** How long each symbol's code is: two that occur least are joined, again and again (Huffman 1952). */
    private void lengths(long[] often) {
        int[] used = new int[last - first + 1], above = new int[2 * used.length];
        int n = 0;
        for (int i = first; i <= last; i++) if (often[i] > 0) used[n++] = i;
        long[] weight = new long[2 * n];
        PriorityQueue<Integer> least = new PriorityQueue<>(
                n, (a, b) -> weight[a] != weight[b] ? Long.compare(weight[a], weight[b]) : Integer.compare(a, b));
        for (int i = 0; i < n; i++) {
            weight[i] = often[used[i]];
            least.add(i);
        }
        int top = n;
        while (least.size() > 1) {
            int a = least.poll(), b = least.poll();
            weight[top] = weight[a] + weight[b];
            above[a] = above[b] = top;
            least.add(top++);
        }
        int[] deep = new int[top];
        for (int i = top - 2; i >= 0; i--) deep[i] = deep[above[i]] + 1;
        // Words of a block are too few for a code of more bits (Fibonacci's numbers grow too fast).
        for (int i = 0; i < n; i++) length[used[i]] = deep[i];
    }

    /** Codes follow from their lengths: the longest begin at 0. */
    private void canonical() {
        long[] next = new long[LONGEST + 1];
        for (int l : length) next[l]++;
        long c = 0;
        for (int i = LONGEST; i > 0; i--) {
            long above = c + next[i] >> 1;
            next[i] = c;
            c = above;
        }
        for (int i = 0; i < SYMBOLS; i++) if (length[i] > 0) code[i] = next[length[i]]++;
    }

    private void table() {
        for (int i = first; i <= last; i++) {
            if (length[i] > 0) {
                put(length[i], 6);
                continue;
            }
            int none = 1;
            while (i < last && none < MOST && length[i + 1] == 0) {
                i++;
                none++;
            }
            if (none >= MANY) {
                put(MANY_NONE, 6);
                put(none - MANY, 8);
            } else put(none == 1 ? 0 : FEW_NONE + none - 2, 6);
        }
    }

    private void encode(short[] words) {
        for (int i = 0; i < words.length; ) {
            int s = words[i] & 0xffff, more = 0;
            while (more < 255 && i + more + 1 < words.length && words[i + more + 1] == words[i]) more++;
            if (length[s] + length[last] + 8 < length[s] * more) {
                put(code[s], length[s]);
                put(code[last], length[last]);
                put(more, 8);
            } else for (int k = 0; k <= more; k++) put(code[s], length[s]);
            i += more + 1;
        }
    }

    /** Highest bit first. */
    private void put(long v, int n) {
        for (int left = n; left > 0; ) {
            int some = Math.min(left, 32);
            left -= some;
            bits = bits << some | v >>> left & (1L << some) - 1;
            held += some;
            while (held >= 8) {
                if (at == out.length) out = Arrays.copyOf(out, 2 * at);
                out[at++] = (byte) (bits >>> (held -= 8));
            }
        }
    }

    private void flush() {
        if (held > 0) put(0, 8 - held);
    }
}
