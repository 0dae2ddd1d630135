package dasein.core.comp.step;

import dasein.core.comp.CompRecipe;
import dasein.core.comp.Param;
import dasein.core.comp.Window;
import dasein.core.format.DecisionList;
import dasein.core.image.CodeTable;
import dasein.core.image.Image;
import dasein.core.light.lamp.Kelvin;
import java.util.ArrayList;
import java.util.List;

/**
 * The whole frame, plate and performers, at last: exposure and white balance in scene-linear light; then, on the
 * plate's code values, lift, gamma, gain and a curve, slope, offset, power and saturation after the ASC's colour
 * decision list (ASC CDL 1.2), and a table of colours.
 */
public final class Grade implements Step.Whole {
    private static final double WHITE = 6504;
    /** Stops. */
    public static final Param EXPOSURE =
            new Param("exposure", "exposure, stops", 0, new Param.Range(-10, 10), new Param.Range(-2, 2), 0.02, 1);

    /** Of a picture that was lit by a lamp this much warmer, in mired, from one of 6504 K. */
    public static final Param WARMER =
            new Param("warmer", "warmer, mired", 0, new Param.Range(-110, 400), new Param.Range(-60, 60), 1, 1);
    /** Stops by which green is more than the other two. */
    public static final Param GREENER =
            new Param("greener", "greener, stops", 0, new Param.Range(-3, 3), new Param.Range(-0.5, 0.5), 0.01, 1);
    /** On code values: lift holds white, gain holds black, gamma both. */
    public static final Param
            LIFT = new Param("lift", "lift", 0, new Param.Range(-0.9, 0.9), new Param.Range(-0.2, 0.2), 0.002, 1),
            GAMMA = new Param("gamma", "gamma", 1, new Param.Range(0.1, 10), new Param.Range(0.5, 2), 0.01, 1),
            GAIN = Param.of("gradeGain", "gain", 1, 10).sliding(0.5, 1.5, 0.005);
    /** A curve on code values, see {@link ToneCurve}. */
    public static final List<Param> CURVE = List.of(bend(0), bend(25), bend(50), bend(75), bend(100));
    /** How much of the table of colours that was brought in counts. */
    public static final Param TABLE =
            Param.of("tableMix", "colour table, %", 1, 100).percent();

    private static Param bend(int at) {
        return new Param(
                "curve" + at,
                "curve at " + at + " %",
                0,
                new Param.Range(-0.5, 0.5),
                new Param.Range(-0.2, 0.2),
                0.002,
                1);
    }

    public static final List<Param> SLOPE = three("slope", "slope", 1, 0, 10, 0.5, 1.5),
            OFFSET = three("offset", "offset", 0, -1, 1, -0.2, 0.2),
            POWER = three("power", "power", 1, 0.05, 10, 0.5, 1.5);
    public static final Param SATURATION =
            Param.of("gradeSaturation", "saturation", 1, 4).sliding(0, 2, 0.01);

    private static List<Param> three(
            String name, String label, double rest, double least, double most, double from, double to) {
        List<Param> all = new ArrayList<>();
        for (String c : List.of("Red", "Green", "Blue"))
            all.add(new Param(
                    name + c,
                    label + ", " + c.toLowerCase(java.util.Locale.ROOT),
                    rest,
                    new Param.Range(least, most),
                    new Param.Range(from, to),
                    0.005,
                    1));
        return List.copyOf(all);
    }

    @Override
    public Group group() {
        return Group.GRADE;
    }

    @Override
    public List<Param> params() {
        List<Param> all = new ArrayList<>(List.of(EXPOSURE, WARMER, GREENER, LIFT, GAMMA, GAIN));
        all.addAll(CURVE);
        for (List<Param> p : List.of(SLOPE, OFFSET, POWER)) all.addAll(p);
        all.add(SATURATION);
        all.add(TABLE);
        return all;
    }

    /** Whether it changes anything: else the plate's own floats are handed through. */
    static boolean any(CompRecipe r) {
        if (!r.table().isEmpty() && r.get(TABLE) > 0) return true;
        for (Param p : new Grade().params()) if (p != TABLE && r.get(p) != p.rest()) return true;
        return false;
    }

    @Override
    public void apply(Layers l, CompRecipe r) {
        if (!any(r)) return;
        double[] light = balance(r), slope = of(r, SLOPE), offset = of(r, OFFSET), power = of(r, POWER);
        double saturation = r.get(SATURATION);
        float mix = l.table == null ? 0 : (float) r.get(TABLE);
        float[][] frame = l.frame.planes;
        Tones tones = Tones.of(r);
        boolean any = saturation != 1 || tones != null || mix > 0;
        One[] list = new One[3];
        for (int c = 0; c < 3; c++) {
            light[c] *= Math.pow(2, r.get(EXPOSURE));
            any |= slope[c] != 1 || offset[c] != 0 || power[c] != 1;
            list[c] = new One(slope[c], offset[c], power[c]);
        }
        boolean decided = any;
        int w = l.passes.width;
        CodeTable codes = CodeTable.of(l.encoding);
        Window part = l.window();
        Image.rows(part.height(), row -> {
            int first = (part.y() + row) * w + part.x(), end = first + part.width();
            double[] v = new double[3];
            float[] shown = new float[3];
            for (int c = 0; c < 3; c++) {
                float k = (float) light[c];
                for (int i = first; i < end && k != 1; i++) frame[c][i] *= k;
            }
            if (!decided) return;
            for (int i = first; i < end; i++) {
                for (int c = 0; c < 3; c++) {
                    double code = codes.encode(frame[c][i]);
                    v[c] = list[c].of(tones == null ? code : tones.at(code));
                }
                saturate(v, saturation);
                if (mix > 0) {
                    l.table.at((float) v[0], (float) v[1], (float) v[2], shown);
                    for (int c = 0; c < 3; c++) v[c] += mix * (shown[c] - v[c]);
                }
                for (int c = 0; c < 3; c++) frame[c][i] = codes.decode((float) v[c]);
            }
        });
    }

    /** Factors of red, green and blue light that leave the brightness of white as it is. */
    static double[] balance(CompRecipe r) {
        double[] k = {1, 1, 1};
        if (r.get(WARMER) != 0) {
            double[] from = Kelvin.colour(WHITE), to = Kelvin.colour(1e6 / (1e6 / WHITE + r.get(WARMER)));
            for (int c = 0; c < 3; c++) k[c] = to[c] / from[c];
        }
        k[1] *= Math.pow(2, r.get(GREENER));
        double luma = 0.2126 * k[0] + 0.7152 * k[1] + 0.0722 * k[2];
        for (int c = 0; c < 3; c++) k[c] /= luma;
        return k;
    }

    /** A recipe with a list's numbers, held to what is accepted; exposure stays. */
    public static CompRecipe with(CompRecipe r, DecisionList d) {
        CompRecipe out = r.with(SATURATION, SATURATION.held(d.saturation()));
        for (int c = 0; c < 3; c++)
            out = out.with(SLOPE.get(c), SLOPE.get(c).held(d.slope()[c]))
                    .with(OFFSET.get(c), OFFSET.get(c).held(d.offset()[c]))
                    .with(POWER.get(c), POWER.get(c).held(d.power()[c]));
        return out;
    }

    /** The recipe's numbers as a list. */
    public static DecisionList list(CompRecipe r) {
        return new DecisionList(of(r, SLOPE), of(r, OFFSET), of(r, POWER), r.get(SATURATION));
    }

    /** One colour's slope, offset and power; the power by a table, where codes mostly lie. */
    private static final class One {
        private static final int ENTRIES = 1 << 14;
        private static final double MOST = 2;
        private final double slope, offset, power;
        private final float[] table;

        One(double slope, double offset, double power) {
            this.slope = slope;
            this.offset = offset;
            this.power = power;
            table = power == 1 ? null : new float[ENTRIES + 2];
            for (int i = 0; table != null && i < table.length; i++)
                table[i] = (float) Math.pow(MOST * i / ENTRIES, power);
        }

        double of(double code) {
            double v = code * slope + offset;
            // Near black a power bends too much for straight pieces.
            if (table == null || v < MOST * 64 / ENTRIES || v >= MOST) return decided(code, slope, offset, power);
            double x = v * (ENTRIES / MOST);
            int i = (int) x;
            return table[i] + (x - i) * (table[i + 1] - table[i]);
        }
    }

    /** Slope, offset and power of one colour. What is negative has no power and stays. */
    public static double decided(double code, double slope, double offset, double power) {
        double v = code * slope + offset;
        return v > 0 && power != 1 ? Math.pow(v, power) : v;
    }

    /** By the luma of Rec. 709, as the list says for any encoding. */
    public static void saturate(double[] v, double by) {
        if (by == 1) return;
        double y = 0.2126 * v[0] + 0.7152 * v[1] + 0.0722 * v[2];
        for (int c = 0; c < 3; c++) v[c] = y + by * (v[c] - y);
    }

    private static double[] of(CompRecipe r, List<Param> three) {
        return three.stream().mapToDouble(r::get).toArray();
    }
}
