package dasein.core.output;

import dasein.core.cast.Performer;
import dasein.core.render.pass.Passes;
import dasein.core.track.DrawnMask;
import dasein.core.track.MaskShapes;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/**
 * Mattes of a frame as channels of one picture: coverage, 0 to 1, by the names of masks and performers. What a mask has
 * lost on its way covers nothing there. Where performers share a pixel the nearest has all of it: mattes that tell them
 * apart there are kept among the passes.
 */
public final class MatteChannels {
    private MatteChannels() {}

    /** @param passes of the frame, null where nobody is; @param front what stands in front, null for nothing */
    public static Map<String, float[]> of(
            MaskShapes shapes,
            List<Performer> performers,
            Passes passes,
            float[] front,
            int frame,
            int width,
            int height,
            double scale) {
        Map<String, float[]> out = new LinkedHashMap<>();
        if (front != null) out.put("front.A", front);
        for (DrawnMask m : shapes.masks()) {
            float[] on = shapes.at(m.id(), frame, width, height, scale);
            put(out, "mask_" + m.name(), on == null ? new float[width * height] : on);
        }
        if (passes == null) return out;
        for (Performer p : performers) {
            float[] on = new float[width * height];
            for (int i = 0; i < on.length; i++) if (passes.id[i] == p.id()) on[i] = passes.alpha[i];
            put(out, p.name(), on);
        }
        return out;
    }

    /** Channels are named in plain letters; two of one name are told apart by a number. */
    private static void put(Map<String, float[]> to, String name, float[] on) {
        String plain = Names.safe(name).replaceAll("[^A-Za-z0-9_-]", "_"), as = plain + ".A";
        for (int k = 2; to.containsKey(as); k++) as = plain + "_" + k + ".A";
        to.put(as, on);
    }
}
