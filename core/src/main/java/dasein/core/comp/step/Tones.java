package dasein.core.comp.step;

import dasein.core.comp.CompRecipe;

/** Lift, gamma, gain and curve of the grade: from code value to code value, the same for all colours; by a table. */
final class Tones {
    private static final int ENTRIES = 1 << 14;
    private static final double MOST = 2;
    /** Near black a gamma bends too much for straight pieces. */
    private static final double DARK = 0.01;

    private final double lift, gamma, gain;
    private final ToneCurve curve;
    private final float[] table = new float[ENTRIES + 2];

    private Tones(double lift, double gamma, double gain, ToneCurve curve) {
        this.lift = lift;
        this.gamma = gamma;
        this.gain = gain;
        this.curve = curve;
        for (int i = 0; i < table.length; i++) table[i] = (float) exact(MOST * i / ENTRIES);
    }

    /** @return null where all of them are at rest */
    static Tones of(CompRecipe r) {
        double[] by = Grade.CURVE.stream().mapToDouble(r::get).toArray();
        double lift = r.get(Grade.LIFT), gamma = r.get(Grade.GAMMA), gain = r.get(Grade.GAIN);
        boolean bent = false;
        for (double b : by) bent |= b != 0;
        return !bent && lift == 0 && gamma == 1 && gain == 1
                ? null
                : new Tones(lift, gamma, gain, bent ? new ToneCurve(by) : null);
    }

    private double exact(double code) {
        double v = gain * (code + lift * (1 - code));
        if (gamma != 1 && v > 0) v = Math.pow(v, 1 / gamma);
        return curve == null ? v : curve.at(v);
    }

    double at(double code) {
        // Where lift takes codes to black, too, they are near black behind it.
        if (code < DARK || code >= MOST || Math.abs(code + lift * (1 - code)) < DARK) return exact(code);
        double x = code * (ENTRIES / MOST);
        int i = (int) x;
        return table[i] + (x - i) * (table[i + 1] - table[i]);
    }
}
