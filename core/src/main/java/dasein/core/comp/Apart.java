package dasein.core.comp;

import dasein.core.render.pass.Mattes;
import dasein.core.render.pass.Passes;
import dasein.core.track.MaskShapes;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.function.IntFunction;

/**
 * Where numbers of their own count in a frame.
 *
 * @param recipe with them; @param part how much of a pixel, or of the performers in it, they are for, [0, 1]
 * @param performers whether of performers, else of the picture
 */
public record Apart(CompRecipe recipe, float[] part, boolean performers) {
    /** @param there those that count in this frame; @param lost sentences on what could not be found */
    public record Found(List<Apart> there, List<String> lost) {}

    /**
     * @param r as it is in this frame; @param names of performers by their number
     * @param scale pixels of the passes for one of the plate; @param pieces of which pixels a piece of the set is seen,
     *     null where it is not
     */
    public static Found of(
            CompRecipe r,
            Passes p,
            MaskShapes shapes,
            Map<Integer, String> names,
            int frame,
            double scale,
            IntFunction<float[]> pieces) {
        List<Apart> out = new ArrayList<>();
        List<String> lost = new ArrayList<>();
        for (Variant v : r.variants()) {
            if (!v.on() || v.numbers().isEmpty()) continue;
            float[] part;
            if (v.mask() != 0) {
                part = shapes.at(v.mask(), frame, p.width, p.height, scale);
                if (part == null) lost.add("the mask of " + v.name() + " is not there in frame " + frame);
            } else if (v.piece() != 0) {
                part = pieces.apply(v.piece());
                if (part == null) lost.add(v.name() + " is not seen in frame " + frame);
            } else {
                part = share(v, p, names);
                if (part == null)
                    lost.add(v.name() + " cannot tell performers apart: have their mattes kept in Passes, and render");
            }
            if (part != null) out.add(new Apart(v.on(r), part, !v.part()));
        }
        return new Found(List.copyOf(out), List.copyOf(lost));
    }

    /** What some performers are of all that is seen of performers; null without mattes where there are others. */
    private static float[] share(Variant v, Passes p, Map<Integer, String> names) {
        float[] out = new float[p.alpha.length];
        if (v.performers().containsAll(names.keySet())) {
            java.util.Arrays.fill(out, 1);
            return out;
        }
        float[][] matte = p.of("matte_performer");
        if (matte == null) return null;
        int[] ids = v.performers().stream()
                .filter(names::containsKey)
                .mapToInt(k -> Mattes.id(names.get(k)))
                .toArray();
        for (int i = 0; i < out.length; i++) {
            float mine = 0, all = 0;
            for (int rank = 0; rank < Mattes.RANKS; rank++) {
                float part = matte[2 * rank + 1][i];
                if (!(part > 0)) break;
                all += part;
                for (int id : ids) if (Float.floatToRawIntBits(matte[2 * rank][i]) == id) mine += part;
            }
            if (all > 0) out[i] = mine / all;
        }
        return out;
    }
}
