package dasein.core.format;

import dasein.core.image.Encoding;
import java.util.EnumMap;
import java.util.Map;

/** A fine table of a decoding curve over [-0.25, 1.25], linear between entries: error below 1e-6 of full scale. */
final class DecodeTable {
    private static final int STEPS = 1 << 15;
    private static final float LO = -0.25f;
    private static final float SPAN = 1.5f;
    private static final Map<Encoding, float[]> TABLES = new EnumMap<>(Encoding.class);

    private DecodeTable() {}

    static synchronized float[] of(Encoding e) {
        return TABLES.computeIfAbsent(e, k -> {
            float[] t = new float[STEPS + 2];
            for (int i = 0; i < t.length; i++) t[i] = (float) k.decode(LO + SPAN * i / STEPS);
            return t;
        });
    }

    static float get(float[] table, float v) {
        float f = (v - LO) * (STEPS / SPAN);
        if (!(f > 0)) return table[0];
        if (f >= STEPS) return table[STEPS];
        int i = (int) f;
        return table[i] + (table[i + 1] - table[i]) * (f - i);
    }
}
