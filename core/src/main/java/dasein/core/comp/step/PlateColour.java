package dasein.core.comp.step;

import dasein.core.comp.CompRecipe;
import dasein.core.comp.Param;
import java.util.List;

/**
 * Mixes a colour picked from the plate into the performer, which keeps its own brightness (luminance of Rec. 709): all
 * of it, or more and more of it with its distance, as far things take on the colour of what lies around them.
 */
public final class PlateColour implements Step.OnPerformer {
    public static final Param MIX = Param.of("tint", "colour of the plate, %", 0, 100)
            .sliding(0, 60, 0.5)
            .percent();
    /** Scene-linear; only how they stand to each other counts. */
    public static final Param RED = colour("tintRed", "its red"),
            GREEN = colour("tintGreen", "its green"),
            BLUE = colour("tintBlue", "its blue");
    /** Metres along the view axis from which on it begins, and at which it is all there; 0 at last: everywhere. */
    public static final Param FROM =
            Param.of("tintFrom", "from m on", 0, 10_000).sliding(0, 100, 0.5);

    public static final Param TO =
            Param.of("tintTo", "in full at m (0: everywhere)", 0, 10_000).sliding(0, 200, 0.5);

    private static Param colour(String name, String label) {
        return Param.of(name, label, 0.3, 20).sliding(0, 1, 0.005);
    }

    @Override
    public Group group() {
        return Group.PERFORMER;
    }

    @Override
    public String title() {
        return "Colour of the plate";
    }

    @Override
    public List<Param> params() {
        return List.of(MIX, RED, GREEN, BLUE, FROM, TO);
    }

    @Override
    public void row(Layers l, CompRecipe r, int from, int to) {
        float mix = (float) r.get(MIX), near = (float) r.get(FROM), far = (float) r.get(TO);
        if (!(mix > 0)) return;
        float[] tint = {(float) r.get(RED), (float) r.get(GREEN), (float) r.get(BLUE)};
        float bright = luma(tint[0], tint[1], tint[2]);
        if (!(bright > 0)) return;
        for (int c = 0; c < 3; c++) tint[c] /= bright;
        float[] red = l.cg[0], green = l.cg[1], blue = l.cg[2];
        int first = (from / l.width + l.y0) * l.passes.width + l.x0 - from;
        for (int o = from; o < to; o++) {
            float y = luma(red[o], green[o], blue[o]);
            if (y == 0) continue;
            float k = mix;
            if (far > 0) {
                float z = l.passes.depth[first + o];
                // What has no distance, such as added light, counts as far off.
                k *= z >= far ? 1 : z <= near ? 0 : (z - near) / (far - near);
            }
            red[o] += k * (y * tint[0] - red[o]);
            green[o] += k * (y * tint[1] - green[o]);
            blue[o] += k * (y * tint[2] - blue[o]);
        }
    }

    private static float luma(float r, float g, float b) {
        return 0.2126f * r + 0.7152f * g + 0.0722f * b;
    }
}
