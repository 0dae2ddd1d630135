package dasein.core.comp.step;

import dasein.core.comp.CompRecipe;
import dasein.core.comp.Param;
import dasein.core.comp.Window;
import dasein.core.image.CodeTable;
import dasein.core.image.Filters;
import dasein.core.image.Image;
import dasein.core.render.pass.Passes;
import java.util.List;
import java.util.stream.IntStream;

/**
 * Takes from the plate what performers keep from it: density 1 as rendered; a colour for what is left where it is
 * darkest; softened further; spared where the plate lies in shadow already; darker where they touch.
 */
public final class Shadow implements Step.Whole {
    public static final Param DENSITY = Param.of("shadow", "density", 1, 3).sliding(0, 1.5, 0.01);
    /** Of the plate's light, what is left of each colour in a shadow that would leave none. */
    public static final Param RED = colour("shadowRed", "red left"),
            GREEN = colour("shadowGreen", "green left"),
            BLUE = colour("shadowBlue", "blue left");
    /** Sigma in pixels of the full-size plate. */
    public static final Param SOFT =
            Param.of("shadowSoftPx", "softer, px", 0, 60).sliding(0, 12, 0.1);
    /** Pixels of sigma by which it is softer still for every hundred from where performers touch the set. */
    public static final Param GROWS =
            Param.of("shadowGrows", "softer by px in 100 px", 0, 50).sliding(0, 10, 0.1);
    /** Code value below which the plate is taken to lie in shadow already. */
    public static final Param SPARED = Param.of("shadowSpared", "spares darker than, %", 0, 100)
            .sliding(0, 60, 0.5)
            .percent();
    /** How much the openness darkens besides. */
    public static final Param CONTACT = Param.of("contact", "contact", 0, 2).sliding(0, 1, 0.01);

    /** From half of the threshold on it is shaded, at all of it in full. */
    private static final double HALF = 0.5;

    private static Param colour(String name, String label) {
        return new Param(name, label, 0, new Param.Range(-2, 1), new Param.Range(-0.5, 0.5), 0.01, 1);
    }

    @Override
    public Group group() {
        return Group.SHADOW;
    }

    @Override
    public List<Param> params() {
        return List.of(DENSITY, RED, GREEN, BLUE, SOFT, GROWS, SPARED, CONTACT);
    }

    @Override
    public void apply(Layers l, CompRecipe r) {
        int w = l.passes.width;
        double density = r.get(DENSITY), soft = r.get(SOFT) * l.scale, spared = r.get(SPARED);
        float contact = (float) r.get(CONTACT);
        double[] left = {r.get(RED), r.get(GREEN), r.get(BLUE)};
        float[][] frame = l.frame.planes;
        float[] k = new float[3];
        for (int c = 0; c < 3; c++) k[c] = (float) (density * (1 - left[c]));
        float[][] softened = softened(l.passes, soft, r.get(GROWS) / 100, l.scale);
        Window part = l.window();
        Image.rows(part.height(), row -> {
            int first = (part.y() + row) * w + part.x(), end = first + part.width();
            if (softened == null && !l.passes.mayMatter(first, end)) return;
            float[] dark = new float[3];
            for (int i = first; i < end; i++) {
                float touches = contact == 0 || l.passes.ao[i] == 1 || !l.passes.matters(i)
                        ? 0
                        : contact * (1 - l.passes.ao[i]);
                for (int c = 0; c < 3; c++) dark[c] = softened != null ? softened[c][i] : 1 - l.passes.shadow[c][i];
                if (touches == 0 && dark[0] == 0 && dark[1] == 0 && dark[2] == 0) continue;
                double lit = spared > 0 ? lit(l, i, spared) : 1;
                for (int c = 0; c < 3; c++) {
                    float keeps = (float) Math.max(0, 1 - lit * dark[c] * k[c]);
                    frame[c][i] *= Math.max(0, keeps * (1 - (float) lit * touches));
                }
            }
        });
    }

    /** How much light is kept away where that is softened further; null where it is as rendered. */
    private static float[][] softened(Passes p, double soft, double grows, double scale) {
        if (!(soft > 0) && !(grows > 0)) return null;
        int w = p.width, h = p.height;
        float[][] dark = new float[3][w * h];
        // Where in each row there is any: from, and the end.
        int[] from = new int[h], end = new int[h];
        Image.rows(h, y -> {
            from[y] = w;
            if (!p.mayMatter(y * w, y * w + w)) return;
            for (int c = 0; c < 3; c++)
                for (int x = 0, i = y * w; x < w; x++, i++) {
                    dark[c][i] = 1 - p.shadow[c][i];
                    if (dark[c][i] == 0) continue;
                    from[y] = Math.min(from[y], x);
                    end[y] = Math.max(end[y], x + 1);
                }
        });
        if (grows > 0) new Penumbra(p, scale).soften(dark, soft, grows);
        else soften(dark, from, end, w, h, soft);
        return dark;
    }

    /** Only the box that any shadow reaches. */
    private static void soften(float[][] dark, int[] from, int[] end, int w, int h, double sigma) {
        int top = 0, bottom = h, left = w, right = 0, reach = Softness.margin(sigma);
        while (top < h && end[top] == 0) top++;
        while (bottom > top && end[bottom - 1] == 0) bottom--;
        if (bottom == top) return;
        for (int y = top; y < bottom; y++) {
            left = Math.min(left, from[y]);
            right = Math.max(right, end[y]);
        }
        int x0 = Math.max(0, left - reach), y0 = Math.max(0, top - reach);
        int wide = Math.min(w, right + reach) - x0, high = Math.min(h, bottom + reach) - y0;
        IntStream.range(0, 3).parallel().forEach(c -> {
            float[] box = new float[wide * high];
            for (int y = 0; y < high; y++) System.arraycopy(dark[c], (y + y0) * w + x0, box, y * wide, wide);
            box = Filters.spread(box, wide, high, sigma);
            for (int y = 0; y < high; y++) System.arraycopy(box, y * wide, dark[c], (y + y0) * w + x0, wide);
        });
    }

    private static double lit(Layers l, int i, double spared) {
        float[][] f = l.frame.planes;
        double luma = 0.2126 * f[0][i] + 0.7152 * f[1][i] + 0.0722 * f[2][i],
                code = CodeTable.of(l.encoding).encode((float) Math.max(0, luma));
        double t = Math.max(0, Math.min(1, (code - HALF * spared) / ((1 - HALF) * spared)));
        return t * t * (3 - 2 * t);
    }
}
