package dasein.core.image;

/**
 * What code values in [0, 1] mean: a transfer function to scene-linear light and the primaries of that light. Every
 * curve is one of a pair of exact inverses, extended as an odd function below zero and by its own formula above one, so
 * that nothing is clipped. Linear 1.0 is diffuse white.
 */
public enum Encoding {
    /** IEC 61966-2-1. */
    SRGB("sRGB", Primaries.REC709, true) {
        @Override
        double decodePositive(double v) {
            return v <= 0.04045 ? v / 12.92 : Math.pow((v + 0.055) / 1.055, 2.4);
        }

        @Override
        double encodePositive(double l) {
            return l <= 0.04045 / 12.92 ? l * 12.92 : 1.055 * Math.pow(l, 1 / 2.4) - 0.055;
        }
    },
    /** ITU-R BT.709 opto-electronic curve (the camera's), not BT.1886 (the display's). */
    REC709("Rec. 709 camera", Primaries.REC709, true) {
        @Override
        double decodePositive(double v) {
            return v < 4.5 * B ? v / 4.5 : Math.pow((v + A - 1) / A, 1 / 0.45);
        }

        @Override
        double encodePositive(double l) {
            return l < B ? 4.5 * l : A * Math.pow(l, 0.45) - (A - 1);
        }
    },
    /** ITU-R BT.1886 with a perfect black: gamma 2.4. For pictures that were graded on a display. */
    BT1886("Rec. 709 display", Primaries.REC709, true) {
        @Override
        double decodePositive(double v) {
            return Math.pow(v, 2.4);
        }

        @Override
        double encodePositive(double l) {
            return Math.pow(l, 1 / 2.4);
        }
    },
    GAMMA22("gamma 2.2", Primaries.REC709, true) {
        @Override
        double decodePositive(double v) {
            return Math.pow(v, 2.2);
        }

        @Override
        double encodePositive(double l) {
            return Math.pow(l, 1 / 2.2);
        }
    },
    LINEAR("linear", Primaries.REC709, false) {
        @Override
        double decodePositive(double v) {
            return v;
        }

        @Override
        double encodePositive(double l) {
            return l;
        }
    },
    /** Academy S-2014-004: linear light in AP1. */
    ACESCG("ACEScg", Primaries.AP1, false) {
        @Override
        double decodePositive(double v) {
            return v;
        }

        @Override
        double encodePositive(double l) {
            return l;
        }
    },
    /** SMPTE ST 2065-1: linear light in AP0. */
    ACES2065("ACES2065-1", Primaries.AP0, false) {
        @Override
        double decodePositive(double v) {
            return v;
        }

        @Override
        double encodePositive(double l) {
            return l;
        }
    },
    /** Academy S-2016-001. */
    ACESCCT("ACEScct", Primaries.AP1, false) {
        @Override
        double decodePositive(double v) {
            return v <= CCT_Y ? (v - CCT_B) / CCT_A : Math.pow(2, v * 17.52 - 9.72);
        }

        @Override
        double encodePositive(double l) {
            return l <= CCT_X ? CCT_A * l + CCT_B : (Math.log(l) / Math.log(2) + 9.72) / 17.52;
        }

        // The straight part goes on below zero: code values under its foot are dark light below zero, not its mirror.
        @Override
        public double decode(double v) {
            return decodePositive(v);
        }

        @Override
        public double encode(double l) {
            return encodePositive(l);
        }
    },
    /** SMPTE ST 2084 / ITU-R BT.2100 PQ; diffuse white is 203 cd/m2 (ITU-R BT.2408). */
    PQ("PQ", Primaries.REC2020, false) {
        @Override
        double decodePositive(double v) {
            double p = Math.pow(Math.min(v, 1), 1 / PQ_M2);
            return 10000 / HDR_WHITE * Math.pow(Math.max(p - PQ_C1, 0) / (PQ_C2 - PQ_C3 * p), 1 / PQ_M1);
        }

        @Override
        double encodePositive(double l) {
            double y = Math.pow(l * HDR_WHITE / 10000, PQ_M1);
            return Math.pow((PQ_C1 + PQ_C2 * y) / (1 + PQ_C3 * y), PQ_M2);
        }
    },
    /** ITU-R BT.2100 HLG, scene light; diffuse white is the signal 0.75 (ITU-R BT.2408). */
    HLG("HLG", Primaries.REC2020, false) {
        @Override
        double decodePositive(double v) {
            return (v <= 0.5 ? v * v / 3 : (Math.exp((v - HLG_C) / HLG_A) + HLG_B) / 12) / HLG_WHITE;
        }

        @Override
        double encodePositive(double l) {
            double e = l * HLG_WHITE;
            return e <= 1 / 12.0 ? Math.sqrt(3 * e) : HLG_A * Math.log(12 * e - HLG_B) + HLG_C;
        }
    },
    /**
     * 10-bit printing density: white 685, black 95, 0.002 density a code, negative gamma 0.6 (common practice for film
     * scans).
     */
    DENSITY("10-bit printing density", Primaries.REC709, false) {
        @Override
        double decodePositive(double v) {
            return (Math.pow(10, (v * 1023 - 685) / 300) - DENSITY_BLACK) / (1 - DENSITY_BLACK);
        }

        @Override
        double encodePositive(double l) {
            return (685 + 300 * Math.log10(Math.max(l * (1 - DENSITY_BLACK) + DENSITY_BLACK, 1e-6))) / 1023;
        }

        @Override
        public double decode(double v) {
            return decodePositive(v);
        }

        @Override
        public double encode(double l) {
            return encodePositive(l);
        }
    };

    /** The constants of BT.709 to full precision (as BT.2020 gives them), so that both branches meet exactly. */
    private static final double A = 1.09929682680944, B = 0.018053968510807;

    private static final double CCT_X = 0.0078125,
            CCT_Y = 0.155251141552511,
            CCT_A = 10.5402377416545,
            CCT_B = 0.0729055341958355;
    private static final double PQ_M1 = 2610 / 16384.0,
            PQ_M2 = 2523 / 4096.0 * 128,
            PQ_C1 = 3424 / 4096.0,
            PQ_C2 = 2413 / 4096.0 * 32,
            PQ_C3 = 2392 / 4096.0 * 32,
            HDR_WHITE = 203;
    private static final double HLG_A = 0.17883277,
            HLG_B = 1 - 4 * HLG_A,
            HLG_C = 0.5 - HLG_A * Math.log(4 * HLG_A),
            HLG_WHITE = (Math.exp((0.75 - HLG_C) / HLG_A) + HLG_B) / 12;
    private static final double DENSITY_BLACK = Math.pow(10, (95 - 685) / 300.0);

    public final String label;
    public final Primaries primaries;
    /** Codes can be sent to a display as they are; others are shown through the sRGB curve. */
    public final boolean display;

    /** From 2^-20 to 4, by eleven bits of the fraction: few codes change within an entry. */
    private static final int GUESS_SHIFT = 12, GUESS_FIRST = (127 - 20) << 11, GUESSES = 22 << 11;

    private volatile float[] decode16;
    private volatile byte[] encode8;

    Encoding(String label, Primaries primaries, boolean display) {
        this.label = label;
        this.primaries = primaries;
        this.display = display;
    }

    /** The encoding in which a picture of this one is looked at. */
    public Encoding shown() {
        return display ? this : SRGB;
    }

    /**
     * The encoding in which a movie of such a picture is written: movies are for looking, so film scans and wide ranges
     * are not kept in them.
     */
    public Encoding movie() {
        return display ? this : REC709;
    }

    /** Does a code stand for an amount of light in proportion? */
    public boolean linear() {
        return this == LINEAR || this == ACESCG || this == ACES2065;
    }

    abstract double decodePositive(double v);

    abstract double encodePositive(double l);

    /** Code value to scene-linear. */
    public double decode(double v) {
        return v < 0 ? -decodePositive(-v) : decodePositive(v);
    }

    /** Scene-linear to code value. */
    public double encode(double l) {
        return l < 0 ? -encodePositive(-l) : encodePositive(l);
    }

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

    public float decode8(int code) {
        return table16()[code * 257];
    }

    public float decode16(int code) {
        return table16()[code];
    }

    /**
     * Nearest 8-bit code of a scene-linear value, clipped to 0..255. Uses a table over the float's upper bits and
     * settles the rest by comparison with the code boundaries, so it equals rounding {@code 255 encode(l)}.
     */
    public int encode8(float l) {
        return encode8(l, guess8(), bounds8());
    }

    /** The same of as many values as there is room for. @param from the first of them */
    public void encode8(float[] light, int from, int[] codes) {
        byte[] guess = guess8();
        float[] bound = bounds8();
        for (int k = 0; k < codes.length; k++) codes[k] = encode8(light[from + k], guess, bound);
    }

    private static int encode8(float l, byte[] guess, float[] bound) {
        int i = (Float.floatToRawIntBits(l) >>> GUESS_SHIFT) - GUESS_FIRST;
        int code = l > 0 && i >= 0 ? guess[Math.min(i, guess.length - 1)] & 0xff : 0;
        while (code < 255 && l >= bound[code]) code++;
        return code;
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

    /** Codes of the darkest light of each entry; an entry is numbered by the leading bits of a float. */
    private byte[] guess8() {
        byte[] g = encode8;
        if (g == null) {
            g = new byte[GUESSES];
            float[] bound = bounds8();
            for (int i = 0, code = 0; i < g.length; i++) {
                float least = Float.intBitsToFloat((GUESS_FIRST + i) << GUESS_SHIFT);
                while (code < 255 && least >= bound[code]) code++;
                g[i] = (byte) code;
            }
            encode8 = g;
        }
        return g;
    }

    /** Turns code values into scene-linear Rec. 709 light, in place. */
    public Image decode(Image codes) {
        Image.rows(codes.height, y -> {
            for (int i = y * codes.width, e = i + codes.width; i < e; i++)
                for (int c = 0; c < 3; c++) codes.planes[c][i] = (float) decode(codes.planes[c][i]);
        });
        return primaries.intoRec709(codes);
    }

    public int encode16(float l) {
        return (int) Math.max(0, Math.min(65535, Math.round(65535 * encode(l))));
    }

    public static Encoding of(String name) {
        for (Encoding e : values()) if (e.name().equalsIgnoreCase(name) || e.label.equalsIgnoreCase(name)) return e;
        throw new dasein.core.BadInput("unknown encoding " + name + "; known are "
                + java.util.Arrays.stream(values())
                        .map(e -> e.label)
                        .collect(java.util.stream.Collectors.joining(", ")));
    }
}
