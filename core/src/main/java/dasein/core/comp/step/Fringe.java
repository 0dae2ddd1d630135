package dasein.core.comp.step;

import dasein.core.comp.CompRecipe;
import dasein.core.comp.Param;
import dasein.core.image.Image;
import java.util.List;

/**
 * Red and blue drawn a little larger or smaller than green, as lenses do: by so many pixels of the full-size plate at
 * the corner, nothing in the middle. Coverage stays green's.
 */
public final class Fringe implements Step.Whole {
    public static final Param RED = at("fringeRed", "red further out, px"),
            BLUE = at("fringeBlue", "blue further out, px");

    private static final double MOST = 5;

    private static Param at(String name, String label) {
        return new Param(name, label, 0, new Param.Range(-MOST, MOST), new Param.Range(-2, 2), 0.05, 1);
    }

    @Override
    public Group group() {
        return Group.LENS;
    }

    @Override
    public boolean ofPerformer() {
        return true;
    }

    @Override
    public String title() {
        return "Colour fringe";
    }

    @Override
    public List<Param> params() {
        return List.of(RED, BLUE);
    }

    @Override
    public void apply(Layers l, CompRecipe r) {
        scaled(l, 0, r.get(RED) * l.scale);
        scaled(l, 2, r.get(BLUE) * l.scale);
    }

    static int margin(CompRecipe r, double scale) {
        double most = Math.max(Math.abs(r.get(RED)), Math.abs(r.get(BLUE))) * scale;
        return most > 0 ? (int) Math.ceil(most) + 1 : 0;
    }

    private static void scaled(Layers l, int colour, double px) {
        if (px == 0) return;
        double cx = l.passes.width / 2.0, cy = l.passes.height / 2.0, k = 1 - px / Math.hypot(cx, cy);
        float[] from = l.cg[colour], to = new float[from.length];
        Image.rows(l.height, y -> {
            for (int x = 0; x < l.width; x++) {
                double u = cx + k * (x + l.x0 + 0.5 - cx) - l.x0 - 0.5, v = cy + k * (y + l.y0 + 0.5 - cy) - l.y0 - 0.5;
                to[y * l.width + x] = at(from, l.width, l.height, u, v);
            }
        });
        l.cg[colour] = to;
    }

    /** Between four places; nothing outside. */
    private static float at(float[] p, int w, int h, double x, double y) {
        int x0 = (int) Math.floor(x), y0 = (int) Math.floor(y);
        double a = x - x0, b = y - y0;
        return (float) ((1 - b) * ((1 - a) * of(p, w, h, x0, y0) + a * of(p, w, h, x0 + 1, y0))
                + b * ((1 - a) * of(p, w, h, x0, y0 + 1) + a * of(p, w, h, x0 + 1, y0 + 1)));
    }

    private static float of(float[] p, int w, int h, int x, int y) {
        return x < 0 || y < 0 || x >= w || y >= h ? 0 : p[y * w + x];
    }
}
