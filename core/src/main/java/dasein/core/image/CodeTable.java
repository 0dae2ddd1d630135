package dasein.core.image;

import java.util.concurrent.ConcurrentHashMap;

/**
 * An encoding's two curves by tables, for pictures full of code values: within a millionth of the curves themselves, at
 * a tenth of their time. Beyond the tables the curves serve.
 */
public final class CodeTable {
    /** Of codes, from 0 to {@link #MOST}; of light, bits of a float's fraction that number an entry. */
    private static final int CODES = 1 << 15, FRACTION = 10;

    private static final float MOST = 1.25f;
    /** Light between these powers of two. */
    private static final int LEAST_POWER = -20, MOST_POWER = 4;

    private static final int SHIFT = 23 - FRACTION, FIRST = (127 + LEAST_POWER) << FRACTION;
    private static final int LIGHTS = (MOST_POWER - LEAST_POWER) << FRACTION;
    private static final ConcurrentHashMap<Encoding, CodeTable> ALL = new ConcurrentHashMap<>();

    private final Encoding of;
    private final float[] light = new float[CODES + 2], code = new float[LIGHTS + 1], step = new float[LIGHTS];
    private final float least, most;

    private CodeTable(Encoding of) {
        this.of = of;
        for (int i = 0; i < light.length; i++) light[i] = (float) of.decode((double) i * MOST / CODES);
        for (int i = 0; i <= LIGHTS; i++) code[i] = (float) of.encode(Float.intBitsToFloat((FIRST + i) << SHIFT));
        for (int i = 0; i < LIGHTS; i++) step[i] = (code[i + 1] - code[i]) / (1 << SHIFT);
        least = Float.intBitsToFloat(FIRST << SHIFT);
        most = Float.intBitsToFloat((FIRST + LIGHTS - 1) << SHIFT);
    }

    public static CodeTable of(Encoding e) {
        return ALL.computeIfAbsent(e, CodeTable::new);
    }

    /** Scene-linear light to a code value. */
    public float encode(float l) {
        if (!(l >= least && l < most)) return (float) of.encode(l);
        // Straight within an entry, whose number are the float's leading bits: entries are as dense as light is dark.
        int bits = Float.floatToRawIntBits(l), i = (bits >> SHIFT) - FIRST;
        return code[i] + step[i] * (bits & (1 << SHIFT) - 1);
    }

    public float decode(float v) {
        if (!(v >= 0 && v < MOST)) return (float) of.decode(v);
        float x = v * (CODES / MOST);
        int i = (int) x;
        return light[i] + (x - i) * (light[i + 1] - light[i]);
    }
}
