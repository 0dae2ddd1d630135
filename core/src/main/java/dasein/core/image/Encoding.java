package dasein.core.image;

/**
 * Transfer functions between code values in [0, 1] and scene-linear light. Every one is a pair of exact inverses, extended
 * as an odd function below zero and by its own formula above one, so that nothing is clipped.
 */
public enum Encoding {
    /** IEC 61966-2-1. */
    SRGB("sRGB") {
        @Override double decodePositive(double v) { return v <= 0.04045 ? v / 12.92 : Math.pow((v + 0.055) / 1.055, 2.4); }

        @Override double encodePositive(double l) { return l <= 0.04045 / 12.92 ? l * 12.92 : 1.055 * Math.pow(l, 1 / 2.4) - 0.055; }
    },
    /** ITU-R BT.709 opto-electronic curve (the camera's), not BT.1886 (the display's). */
    REC709("Rec. 709") {
        @Override double decodePositive(double v) { return v < 4.5 * B ? v / 4.5 : Math.pow((v + A - 1) / A, 1 / 0.45); }

        @Override double encodePositive(double l) { return l < B ? 4.5 * l : A * Math.pow(l, 0.45) - (A - 1); }
    },
    LINEAR("linear") {
        @Override double decodePositive(double v) { return v; }

        @Override double encodePositive(double l) { return l; }
    };

    /** The constants of BT.709 to full precision (as BT.2020 gives them), so that both branches meet exactly. */
    private static final double A = 1.09929682680944, B = 0.018053968510807;

    public final String label;
    private volatile float[] decode16;
    private volatile byte[] encode8;

    Encoding(String label) {
        this.label = label;
    }

    abstract double decodePositive(double v);

    abstract double encodePositive(double l);

    /** Code value to scene-linear. */
    public double decode(double v) { return v < 0 ? -decodePositive(-v) : decodePositive(v); }

    /** Scene-linear to code value. */
    public double encode(double l) { return l < 0 ? -encodePositive(-l) : encodePositive(l); }

    /** Table of the 65,536 16-bit codes. */
    private float[] table16() {
        float[] t = decode16;
        if (t == null) {
            t = new float[65536];
            for (int i = 0; i < t.length; i++) t[i] = (float) decode(i / 65535.0);
            decode16 = t;
        }
        return t;
    }

    public float decode8(int code) { return table16()[code * 257]; }

    public float decode16(int code) { return table16()[code]; }

    /**
     * Nearest 8-bit code of a scene-linear value, clipped to 0..255. Uses a table over the float's upper bits and settles the
     * last step by comparison with the code boundaries, so it equals rounding {@code 255 encode(l)}.
     */
    public int encode8(float l) {
        if (!(l > 0)) return 0;
        if (l >= 1 && this != LINEAR && encode(l) >= 1) return 255;
        float[] bound = bounds8();
        int lo = 0, hi = 255;
        int guess = guess8()[Math.min(Float.floatToRawIntBits(l) >>> 15, 0x7fff)] & 0xff;
        lo = guess;
        while (lo < hi && l >= bound[lo]) lo++;
        while (lo > 0 && l < bound[lo - 1]) lo--;
        return lo;
    }

    private volatile float[] bounds;

    /** bound[i]: the smallest float that encodes to i + 1. */
    private float[] bounds8() {
        float[] b = bounds;
        if (b == null) {
            b = new float[255];
            for (int i = 0; i < 255; i++) b[i] = (float) decode((i + 0.5) / 255);
            bounds = b;
        }
        return b;
    }

    private byte[] guess8() {
        byte[] g = encode8;
        if (g == null) {
            g = new byte[0x8000];
            for (int i = 0; i < g.length; i++) {
                double v = Float.intBitsToFloat(i << 15);
                g[i] = (byte) Math.max(0, Math.min(255, Double.isNaN(v) ? 255 : Math.round(255 * encode(Math.min(v, 4)))));
            }
            encode8 = g;
        }
        return g;
    }

    public int encode16(float l) { return (int) Math.max(0, Math.min(65535, Math.round(65535 * encode(l)))); }

    public static Encoding of(String name) {
        for (Encoding e : values()) if (e.name().equalsIgnoreCase(name) || e.label.equalsIgnoreCase(name)) return e;
        throw new dasein.core.BadInput("unknown encoding " + name + "; known are sRGB, Rec. 709 and linear");
    }
}
