package dasein.core.format;

/** IEEE 754 binary16. */
public final class Half {
    private Half() {}

    /** Nearest half, ties to even; values beyond 65504 become infinite. */
    public static int of(float f) {
        int b = Float.floatToRawIntBits(f), sign = b >>> 16 & 0x8000, a = b & 0x7fffffff;
        if (a >= 0x47800000) return a > 0x7f800000 ? sign | 0x7e00 : sign | 0x7c00;
        if (a < 0x38800000) {
            // Subnormal half: let the float adder round at the right bit.
            float r = Float.intBitsToFloat(a) + 0.5f;
            return sign | Float.floatToRawIntBits(r) - 0x3f000000;
        }
        int rounded = a + 0xfff + (a >>> 13 & 1) - 0x38000000;
        return sign | rounded >>> 13;
    }

    public static float toFloat(int h) {
        int sign = (h & 0x8000) << 16, e = h >>> 10 & 0x1f, m = h & 0x3ff;
        if (e == 31) return Float.intBitsToFloat(sign | 0x7f800000 | m << 13);
        if (e == 0) return Math.copySign(m * 0x1p-24f, Float.intBitsToFloat(sign));
        return Float.intBitsToFloat(sign | e + 112 << 23 | m << 13);
    }
}
