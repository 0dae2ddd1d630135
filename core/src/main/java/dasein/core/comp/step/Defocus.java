package dasein.core.comp.step;

import dasein.core.comp.CompRecipe;
import dasein.core.comp.Param;
import dasein.core.image.Filters;
import dasein.core.image.Image;
import java.util.List;
import java.util.stream.IntStream;

/**
 * Performers out of focus by their distance: a thin lens draws a point at z metres as a disc whose diameter is that of
 * a point far off times |1 - focus / z|. The picture is taken apart by that, each part is spread by its own disc, and
 * the nearer parts leave the farther ones what they do not cover.
 */
public final class Defocus implements Step.Whole {
    /** Diameter of the disc of what is far off, pixels of the full-size plate. */
    public static final Param FAR =
            Param.of("defocusPx", "far off, a disc of px", 0, 200).sliding(0, 40, 0.5);
    /** Metres along the view axis to what is in focus. */
    public static final Param FOCUS =
            Param.of("focusM", "in focus at, m", 5, 10_000).sliding(0.5, 30, 0.05);
    /** Straight blades of the iris; below three it is round. */
    public static final Param BLADES = Param.of("blades", "blades", 0, 12).sliding(0, 9, 1);

    /** How far rims cover discs in the picture's corners; less towards its middle. */
    public static final Param EYE = Param.of("catsEye", "cat's eye in corners, %", 0, 90)
            .sliding(0, 90, 1)
            .percent();

    /**
     * Fields of the frame, across and down, in each of which discs are covered alike; they run over into each other.
     */
    private static final int ACROSS = 8, DOWN = 6;

    /** Discs that differ by less than so many pixels are one part; most parts. */
    private static final double ALIKE = 1;

    private static final int MOST = 24;
    /** Below this diameter a pixel is a pixel. */
    private static final double LEAST = 0.3;

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
        return "Out of focus";
    }

    @Override
    public List<Param> params() {
        return List.of(FAR, FOCUS, BLADES, EYE);
    }

    /** Diameter in pixels, below zero for what is nearer than the focus. */
    static double disc(double far, double focus, double z) {
        return far * (1 - focus / Math.max(1e-3, z));
    }

    @Override
    public void apply(Layers l, CompRecipe r) {
        double far = r.get(FAR) * l.scale, focus = r.get(FOCUS);
        if (!(far > 0) || l.width == 0) return;
        int n = l.width * l.height;
        float[] disc = new float[n];
        double least = Double.POSITIVE_INFINITY, most = Double.NEGATIVE_INFINITY;
        for (int y = 0; y < l.height; y++)
            for (int x = 0, o = y * l.width, i = (y + l.y0) * l.passes.width + l.x0; x < l.width; x++, o++, i++) {
                // Light that is added without covering has no distance: it stays as it is.
                if (!(l.cg[3][o] > 0) || !(l.passes.depth[i] < Float.POSITIVE_INFINITY)) continue;
                disc[o] = (float) disc(far, focus, l.passes.depth[i]);
                least = Math.min(least, disc[o]);
                most = Math.max(most, disc[o]);
            }
        if (!(Math.max(most, -least) > LEAST)) return;
        int parts = (int) Math.max(1, Math.min(MOST, Math.ceil((most - least) / ALIKE) + 1));
        float[][] out = new float[4][n];
        int blades = (int) Math.round(r.get(BLADES));
        float[] covered = new float[n];
        double reach = 0;
        for (int k = 0; k < parts; k++) {
            // The nearest first.
            double at = parts == 1 ? (least + most) / 2 : least + (most - least) * k / (parts - 1);
            float[][] part = part(l, disc, at, parts == 1 ? Double.POSITIVE_INFINITY : (most - least) / (parts - 1));
            if (part == null) continue;
            float[] own = part[3].clone();
            if (reach > ALIKE) extend(part, covered, reach / 2, l.width, l.height);
            for (int o = 0; o < n; o++) covered[o] = Math.min(1, covered[o] + own[o]);
            reach = Math.max(reach, Math.abs(at));
            if (r.get(EYE) > 0) part = eyes(l, part, Math.abs(at), blades, r.get(EYE));
            else {
                Iris iris = new Iris(Math.abs(at), blades);
                for (int c = 0; c < 4; c++) part[c] = iris.spread(part[c], l.width, l.height);
            }
            under(out, part, l.width, l.height);
        }
        for (int c = 0; c < 4; c++) l.cg[c] = out[c];
    }

    /** Spread by the shape that belongs to each place of the frame. */
    private static float[][] eyes(Layers l, float[][] part, double disc, int blades, double eye) {
        double w = l.passes.width, h = l.passes.height, corner = Math.hypot(w, h) / 2;
        float[][] out = new float[4][part[0].length];
        int reach = (int) Math.ceil(disc) + 1;
        for (int b = 0; b <= DOWN; b++)
            for (int a = 0; a <= ACROSS; a++) {
                // A field's middle; it fades out towards those beside it.
                double mx = a * w / ACROSS, my = b * h / DOWN, wide = w / ACROSS, high = h / DOWN;
                int left = clamp(mx - wide - l.x0, l.width), right = clamp(mx + wide - l.x0 + 1, l.width);
                int top = clamp(my - high - l.y0, l.height), bottom = clamp(my + high - l.y0 + 1, l.height);
                int x0 = Math.max(0, left - reach), x1 = Math.min(l.width, right + reach);
                int y0 = Math.max(0, top - reach), y1 = Math.min(l.height, bottom + reach), n = x1 - x0;
                if (right <= left || bottom <= top) continue;
                double k = eye * disc / 2 / corner;
                Iris iris = new Iris(disc, blades, k * (mx - w / 2), k * (my - h / 2));
                for (int c = 0; c < 4; c++) {
                    float[] mine = new float[n * (y1 - y0)];
                    boolean any = false;
                    for (int y = top; y < bottom; y++)
                        for (int x = left; x < right; x++) {
                            double f = Math.max(0, 1 - Math.abs(x + l.x0 + 0.5 - mx) / wide)
                                    * Math.max(0, 1 - Math.abs(y + l.y0 + 0.5 - my) / high);
                            float v = (float) (f * part[c][y * l.width + x]);
                            mine[(y - y0) * n + x - x0] = v;
                            any |= v != 0;
                        }
                    if (!any) continue;
                    mine = iris.spread(mine, n, y1 - y0);
                    for (int y = y0; y < y1; y++)
                        for (int x = x0; x < x1; x++) out[c][y * l.width + x] += mine[(y - y0) * n + x - x0];
                }
            }
        return out;
    }

    private static int clamp(double v, int most) {
        return (int) Math.max(0, Math.min(most, Math.floor(v)));
    }

    /** What is drawn by about this disc: every pixel belongs to two neighbouring parts, so that no step is seen. */
    private static float[][] part(Layers l, float[] disc, double at, double apart) {
        float[][] p = new float[4][disc.length];
        boolean any = false;
        for (int o = 0; o < disc.length; o++) {
            double w = apart == Double.POSITIVE_INFINITY ? 1 : 1 - Math.abs(disc[o] - at) / apart;
            if (!(w > 0)) continue;
            for (int c = 0; c < 4; c++) {
                p[c][o] = (float) w * l.cg[c][o];
                any |= p[c][o] != 0;
            }
        }
        return any ? p : null;
    }

    /**
     * What lies behind the softened edge of something nearer was never rendered: it goes on there as it is beside it
     * (normalised convolution, Knutsson and Westin 1993).
     */
    private static void extend(float[][] part, float[] covered, double sigma, int w, int h) {
        float[] seen = new float[covered.length];
        for (int o = 0; o < seen.length; o++) seen[o] = 1 - covered[o];
        float[] weight = Filters.spread(seen, w, h, sigma);
        IntStream.range(0, 4).parallel().forEach(c -> {
            float[] around = Filters.spread(part[c], w, h, sigma);
            for (int o = 0; o < covered.length; o++)
                if (covered[o] > 0 && weight[o] > 1e-3f) part[c][o] += covered[o] * around[o] / weight[o];
        });
    }

    /** Nearer parts have taken their share of every pixel; what is left of it the farther part may fill. */
    private static void under(float[][] out, float[][] part, int w, int h) {
        Image.rows(h, y -> {
            for (int o = y * w, end = o + w; o < end; o++) {
                float a = part[3][o], room = Math.max(0, 1 - out[3][o]), k = a > room ? room / a : 1;
                for (int c = 0; c < 4; c++) out[c][o] += k * part[c][o];
            }
        });
    }

    static int margin(CompRecipe r, double scale) {
        // Discs of what is nearer than the focus may be larger; by this much the box is made larger at most.
        return r.get(FAR) > 0 ? (int) Math.ceil(r.get(FAR) * scale) + 1 : 0;
    }
}
