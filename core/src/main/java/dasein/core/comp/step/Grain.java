package dasein.core.comp.step;

import dasein.core.comp.CompRecipe;
import dasein.core.comp.Param;
import dasein.core.image.CodeTable;
import dasein.core.image.Image;
import java.util.List;

/**
 * Lays the plate's grain on the performer: standard deviation in code values of 0 to 1 at middle brightness, by colour
 * and by brightness. Where the performer covers the plate only in part, as much is laid on as the plate's own, which
 * shows through, lacks.
 */
public final class Grain implements Step.Whole {
    public static final Param GRAIN =
            Param.of("grain", "grain, %", 0.008, 20).sliding(0, 5, 0.05).percent();
    public static final Param RED = times("grainRed", "red"),
            GREEN = times("grainGreen", "green"),
            BLUE = times("grainBlue", "blue"),
            DARK = times("grainDark", "in the darks"),
            BRIGHT = times("grainBright", "in the brights");
    /** Pixels of the full-size plate, see {@link GrainField#planes}. */
    public static final Param SIZE = size("grainSize", "size, px"),
            COLOUR_SIZE = size("grainColourSize", "size of colour, px");

    public static final Param COMMON =
            Param.of("grainCommon", "common to colours", 0.67, 1).sliding(0, 1, 0.01);

    private static Param times(String name, String label) {
        return Param.of(name, label, 1, 10).sliding(0, 3, 0.01);
    }

    private static Param size(String name, String label) {
        return Param.of(name, label, 0.58, 8).sliding(0, 3, 0.01);
    }

    @Override
    public Group group() {
        return Group.GRAIN;
    }

    @Override
    public List<Param> params() {
        return List.of(GRAIN, RED, GREEN, BLUE, DARK, BRIGHT, SIZE, COLOUR_SIZE, COMMON);
    }

    /** How strong it is where the picture has this code value, over what it is at middle brightness. */
    public static float at(float code, float dark, float bright) {
        float t = Math.max(0, Math.min(1, code));
        return t < 0.5 ? dark + 2 * t * (1 - dark) : 1 + (2 * t - 1) * (bright - 1);
    }

    @Override
    public void apply(Layers l, CompRecipe r) {
        double grain = r.get(GRAIN);
        float dark = (float) r.get(DARK), bright = (float) r.get(BRIGHT);
        if (!(grain > 0)) return;
        float[] of = {(float) (grain * r.get(RED)), (float) (grain * r.get(GREEN)), (float) (grain * r.get(BLUE))};
        float[][] noise = new GrainField(l.x0, l.y0, l.width, l.height, l.seed)
                .planes(l.scale * r.get(SIZE), l.scale * r.get(COLOUR_SIZE), r.get(COMMON));
        float[] alpha = l.cg[3];
        CodeTable codes = CodeTable.of(l.encoding);
        Image.rows(l.height, y -> {
            for (int x = 0, o = y * l.width, i = (y + l.y0) * l.passes.width + l.x0; x < l.width; x++, o++, i++) {
                if (!(alpha[o] > 0)) continue;
                float lacks = (float) Math.sqrt(alpha[o] * (2 - Math.min(1, alpha[o])));
                for (int c = 0; c < 3; c++) {
                    float[] plane = l.frame.planes[c];
                    float code = codes.encode(plane[i]);
                    plane[i] = Math.max(0, codes.decode(code + lacks * of[c] * at(code, dark, bright) * noise[c][o]));
                }
            }
        });
    }
}
