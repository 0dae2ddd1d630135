package dasein.core.comp.step;

import dasein.core.comp.CompRecipe;
import dasein.core.comp.Param;
import dasein.core.comp.Window;
import dasein.core.comp.front.Matte;
import dasein.core.image.Filters;
import dasein.core.image.Image;
import java.util.List;
import java.util.stream.IntStream;

/**
 * Lays back over the performers, and over their shadows, what of the plate stands in front of them. Where that covers a
 * pixel by f, the plate shows C = F + (1 - f) B (Porter and Duff 1984, over; F premultiplied): all before this step is
 * done to what lies behind, B, which is estimated beside the edge, and what is put together is F + (1 - f) B' = C + (1
 * - f) (B' - B). So light from behind does not stay in the edges of hair and leaves, and where nothing acts, B' = B,
 * the plate is as it was.
 */
public final class InFront implements Step.Whole {
    /** How much of what shines through edges is exchanged. */
    public static final Param SPILL =
            Param.of("frontSpill", "edges freed of behind, %", 1, 100).percent();
    /** Pixels of the full-size plate by which it is larger or smaller than found. */
    public static final Param EDGE =
            new Param("frontEdgePx", "edge outward, px", 0, new Param.Range(-50, 50), new Param.Range(-5, 5), 0.1, 1);
    /** Sigma in pixels of the full-size plate. */
    public static final Param SOFT =
            Param.of("frontSoftPx", "softer, px", 0, 50).sliding(0, 5, 0.1);

    /** Sigmas, in pixels, over which what lies behind is looked for, the nearest first. */
    private static final double[] REACH = {3, 12, 48};

    private static final int STEEP = 32;
    /** With less of it around, it is looked for further away. */
    private static final float ENOUGH = 0.05f;

    /**
     * @param plate as it is; @param part of each of its pixels that stands in front; @param behind the plate with what
     *     lies behind in the place of mixed edges
     */
    public record Held(Image plate, float[] part, Image behind) {}

    @Override
    public Group group() {
        return Group.FRONT;
    }

    @Override
    public List<Param> params() {
        return List.of(SPILL, EDGE, SOFT);
    }

    /** @return null where nothing stands in front */
    public static Held held(Image plate, Matte matte, CompRecipe r, double scale) {
        if (matte.part() == null) return null;
        int w = plate.width, h = plate.height;
        float[] part = matte.part();
        double edge = r.get(EDGE) * scale, soft = r.get(SOFT) * scale;
        if (edge != 0) {
            float[] wide = Filters.spread(part, w, h, Math.abs(edge));
            part = new float[w * h];
            for (int i = 0; i < part.length; i++)
                part[i] = Math.max(0, Math.min(1, edge > 0 ? 2 * wide[i] : 2 * wide[i] - 1));
        }
        if (soft > 0) part = Filters.spread(part, w, h, soft);
        boolean any = false;
        for (float v : part) any |= v > 0;
        return any ? new Held(plate, part, behind(plate, part, (float) r.get(SPILL))) : null;
    }

    private static Image behind(Image plate, float[] part, float spill) {
        if (!(spill > 0)) return plate;
        int w = plate.width, h = plate.height, top = h, bottom = -1, left = w, right = -1;
        for (int i = 0; i < part.length; i++)
            if (part[i] > 0 && part[i] < 1) {
                top = Math.min(top, i / w);
                bottom = i / w;
                left = Math.min(left, i % w);
                right = Math.max(right, i % w);
            }
        if (bottom < 0) return plate;
        int reach = (int) Math.ceil(3 * REACH[REACH.length - 1]),
                x0 = Math.max(0, left - reach),
                y0 = Math.max(0, top - reach),
                wide = Math.min(w, right + reach + 1) - x0,
                high = Math.min(h, bottom + reach + 1) - y0;
        // So steep that only pixels which are free but for a few hundredths say what lies behind.
        float[] free = new float[wide * high];
        float[][] sum = new float[3][wide * high];
        for (int y = 0; y < high; y++)
            for (int x = 0, i = (y + y0) * w + x0, o = y * wide; x < wide; x++, i++, o++) {
                float f = 1 - part[i];
                free[o] = (float) Math.pow(f, STEEP);
                for (int c = 0; c < 3; c++) sum[c][o] = free[o] * plate.planes[c][i];
            }
        Image out = plate.copy();
        float[] still = part.clone();
        for (double sigma : REACH) {
            float[] n = Filters.spread(free, wide, high, sigma);
            IntStream.range(0, 3).parallel().forEach(c -> {
                float[] s = Filters.spread(sum[c], wide, high, sigma);
                for (int y = 0; y < high; y++)
                    for (int x = 0, i = (y + y0) * w + x0, o = y * wide; x < wide; x++, i++, o++)
                        if (still[i] > 0 && still[i] < 1 && n[o] > ENOUGH)
                            out.planes[c][i] += spill * (s[o] / n[o] - plate.planes[c][i]);
            });
            boolean open = false;
            for (int y = 0; y < high; y++)
                for (int x = 0, i = (y + y0) * w + x0, o = y * wide; x < wide; x++, i++, o++)
                    if (still[i] > 0 && still[i] < 1) {
                        if (n[o] > ENOUGH) still[i] = 0;
                        else open = true;
                    }
            if (!open) break;
        }
        return out;
    }

    @Override
    public void apply(Layers l, CompRecipe r) {
        if (l.front == null) return;
        Held held = l.front;
        int w = l.passes.width;
        Window seen = l.window();
        Image.rows(seen.height(), y -> {
            for (int i = (seen.y() + y) * w + seen.x(), end = i + seen.width(); i < end; i++) {
                float f = held.part[i];
                if (!(f > 0)) continue;
                for (int c = 0; c < 3; c++) {
                    float plate = held.plate.planes[c][i];
                    l.frame.planes[c][i] = f >= 1
                            ? plate
                            : Math.max(0, plate + (1 - f) * (l.frame.planes[c][i] - held.behind.planes[c][i]));
                }
            }
        });
        // Grain is laid where performers are still seen.
        Image.rows(l.height, y -> {
            for (int x = 0, i = (y + l.y0) * w + l.x0, o = y * l.width; x < l.width; x++, i++, o++)
                l.cg[3][o] *= 1 - held.part[i];
        });
    }
}
