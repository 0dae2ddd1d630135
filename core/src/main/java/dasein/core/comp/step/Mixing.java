package dasein.core.comp.step;

import dasein.core.comp.CompRecipe;
import dasein.core.comp.Param;
import java.util.Arrays;
import java.util.List;

/**
 * Colours of the performer mixed as a camera mixes them whose filters overlap: each takes a part of the difference to
 * the other two, so that grey stays grey. With {@link Gain} behind it any 3x3 matrix can be set.
 */
public final class Mixing implements Step.OnPerformer {
    /** Of each colour in turn what it takes of the other two. */
    private static final Param[] PARTS = {
        part("mixRedGreen", "red from green"),
        part("mixRedBlue", "red from blue"),
        part("mixGreenRed", "green from red"),
        part("mixGreenBlue", "green from blue"),
        part("mixBlueRed", "blue from red"),
        part("mixBlueGreen", "blue from green")
    };

    private static Param part(String name, String label) {
        return new Param(name, label, 0, new Param.Range(-100, 100), new Param.Range(-40, 40), 0.5, 100);
    }

    @Override
    public Group group() {
        return Group.PERFORMER;
    }

    @Override
    public String title() {
        return "Colours mixed, %";
    }

    @Override
    public List<Param> params() {
        return List.of(PARTS);
    }

    /** With a matrix whose rows add up to 1; what is out of range is held. @param m row-major 3x3 */
    public static CompRecipe with(CompRecipe r, double[] m) {
        CompRecipe out = r;
        for (int c = 0, k = 0; c < 3; c++)
            for (int o = 0; o < 3; o++) if (o != c) out = out.with(PARTS[k], PARTS[k++].held(m[3 * c + o]));
        return out;
    }

    /** Row-major 3x3. */
    static float[] matrix(CompRecipe r) {
        float[] m = new float[9];
        for (int c = 0, k = 0; c < 3; c++) {
            m[4 * c] = 1;
            for (int o = 0; o < 3; o++) {
                if (o == c) continue;
                float v = (float) r.get(PARTS[k++]);
                m[3 * c + o] = v;
                m[4 * c] -= v;
            }
        }
        return m;
    }

    @Override
    public void row(Layers l, CompRecipe r, int from, int to) {
        if (Arrays.stream(PARTS).allMatch(p -> r.get(p) == 0)) return;
        float[] m = matrix(r), red = l.cg[0], green = l.cg[1], blue = l.cg[2];
        for (int o = from; o < to; o++) {
            float a = red[o], b = green[o], c = blue[o];
            // Light is never negative.
            red[o] = Math.max(0, m[0] * a + m[1] * b + m[2] * c);
            green[o] = Math.max(0, m[3] * a + m[4] * b + m[5] * c);
            blue[o] = Math.max(0, m[6] * a + m[7] * b + m[8] * c);
        }
    }
}
