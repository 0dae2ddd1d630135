package dasein.core.render.pass;

import dasein.core.format.Half;
import java.util.ArrayList;
import java.util.List;

/** Whether the parts of a frame's beauty add up to it, as they are written: in half floats. */
public final class AddUp {
    /** Radiance below which a difference no longer counts in full. */
    private static final float DARK = 0.05f;

    private AddUp() {}

    /**
     * The greatest difference at any pixel between the beauty and the sum of its parts, relative to the beauty: that of
     * its lights, or of what surfaces do, whichever is more.
     *
     * @return -1 when there are no parts
     */
    public static double worst(Passes p) {
        double worst = -1;
        List<float[][]> lights = new ArrayList<>(), materials = new ArrayList<>();
        for (String l : p.lights()) lights.add(p.of("beauty." + l));
        for (Pass m : PassSet.MATERIAL.passes()) if (p.of(m) != null) materials.add(p.of(m));
        for (List<float[][]> parts : List.of(lights, materials))
            if (!parts.isEmpty()) worst = Math.max(worst, worst(p, parts));
        return worst;
    }

    private static double worst(Passes p, List<float[][]> parts) {
        double worst = 0;
        for (int c = 0; c < 3; c++) {
            for (int i = 0; i < p.alpha.length; i++) {
                float sum = 0, is = half(p.beauty[c][i]);
                for (float[][] part : parts) sum += half(part[c][i]);
                // What is no number must not pass.
                double off = Math.abs(sum - is) / (Math.abs(is) + DARK);
                if (!(off <= worst)) worst = off;
            }
        }
        return worst;
    }

    private static float half(float v) {
        return Half.toFloat(Half.of(v));
    }
}
