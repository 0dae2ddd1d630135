package dasein.core.render.ray;

import java.util.Arrays;

final class ScalarSweep extends Sweep {
    @Override
    void bounds(float[] r, int from, int to, float[] c) {
        Arrays.fill(c, 0, 3, 1e30f);
        Arrays.fill(c, 3, 6, -1e30f);
        Arrays.fill(c, 6, 9, 1e30f);
        Arrays.fill(c, 9, 12, -1e30f);
        for (int i = RECORD * from, e = RECORD * to; i < e; i += RECORD)
            for (int a = 0; a < 3; a++) {
                float low = r[i + a], high = -r[i + 4 + a], middle = low + high;
                if (low < c[a]) c[a] = low;
                if (high > c[3 + a]) c[3 + a] = high;
                if (middle < c[6 + a]) c[6 + a] = middle;
                if (middle > c[9 + a]) c[9 + a] = middle;
            }
    }

    @Override
    void bin(float[] r, int from, int to, float[] c, float s0, float s1, float s2, float[] bin, int[] count) {
        float m0 = c[6], m1 = c[7], m2 = c[8];
        for (int i = RECORD * from, e = RECORD * to; i < e; i += RECORD) {
            int k0 = (int) ((r[i] - r[i + 4] - m0) * s0),
                    k1 = BINS + (int) ((r[i + 1] - r[i + 5] - m1) * s1),
                    k2 = 2 * BINS + (int) ((r[i + 2] - r[i + 6] - m2) * s2);
            count[k0]++;
            count[k1]++;
            count[k2]++;
            least(r, i, bin, RECORD * k0);
            least(r, i, bin, RECORD * k1);
            least(r, i, bin, RECORD * k2);
        }
    }

    private static void least(float[] r, int i, float[] bin, int at) {
        for (int a = 0; a < RECORD; a++) if (r[i + a] < bin[at + a]) bin[at + a] = r[i + a];
    }

    @Override
    void swap(float[] r, int i, int j) {
        for (int a = 0; a < RECORD; a++) {
            float t = r[RECORD * i + a];
            r[RECORD * i + a] = r[RECORD * j + a];
            r[RECORD * j + a] = t;
        }
    }
}
