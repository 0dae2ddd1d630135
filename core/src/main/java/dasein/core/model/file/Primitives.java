package dasein.core.model.file;

import java.util.ArrayList;
import java.util.List;

/** What corners in a row make of triangles or lines, by a primitive's mode (glTF 2.0, 3.7.2.1). */
final class Primitives {
    static final int TRIANGLES = 4;

    private static final int LINES = 1, LOOP = 2, STRIP = 5, FAN = 6;

    private Primitives() {}

    /** Three corners for each triangle. @param mode 4 triangles, 5 a strip of them, 6 a fan */
    static int[] triangles(int[] index, int mode) {
        if (mode != STRIP && mode != FAN) {
            int whole = index.length / 3 * 3;
            return whole == index.length ? index : java.util.Arrays.copyOf(index, whole);
        }
        int n = Math.max(0, index.length - 2);
        int[] out = new int[3 * n];
        for (int i = 0; i < n; i++) {
            boolean odd = mode == STRIP && i % 2 == 1;
            out[3 * i] = mode == FAN ? index[0] : index[i];
            out[3 * i + 1] = index[odd ? i + 2 : i + 1];
            out[3 * i + 2] = index[odd ? i + 1 : i + 2];
        }
        return out;
    }

    /** Lines from end to end, each two corners or more. @param mode 1 pairs, 2 a loop, 3 a strip */
    static List<int[]> lines(int[] index, int mode) {
        List<int[]> out = new ArrayList<>();
        if (mode != LINES) {
            int n = index.length;
            int[] line = java.util.Arrays.copyOf(index, mode == LOOP && n > 0 ? n + 1 : n);
            if (mode == LOOP && n > 0) line[n] = index[0];
            if (line.length > 1) out.add(line);
            return out;
        }
        // Pairs of which one begins where the last ended are one line.
        for (int i = 0; i + 1 < index.length; ) {
            int end = i + 2;
            while (end + 1 < index.length && index[end] == index[end - 1]) end += 2;
            int[] line = new int[(end - i) / 2 + 1];
            line[0] = index[i];
            for (int k = 1; k < line.length; k++) line[k] = index[i + 2 * k - 1];
            out.add(line);
            i = end;
        }
        return out;
    }
}
