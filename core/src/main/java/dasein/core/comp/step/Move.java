package dasein.core.comp.step;

import dasein.core.comp.CompRecipe;
import dasein.core.comp.Param;
import dasein.core.image.Cubic;
import dasein.core.image.Image;
import dasein.core.math.Sobol;
import java.util.List;

/**
 * The finished picture moved as a whole: pushed in, shifted, turned, and shaken as by a hand. What lies beyond its edge
 * is mirrored, or the edge itself.
 */
public final class Move implements Step.Whole {
    public static final Param PUSH =
            new Param("push", "push in, %", 1, new Param.Range(25, 800), new Param.Range(100, 200), 0.5, 100);
    /** The middle of what is seen, in parts of the picture from its middle. */
    public static final Param ACROSS = shift("moveAcross", "to the right, %"), DOWN = shift("moveDown", "down, %");

    public static final Param TURN =
            new Param("moveTurn", "turned, deg", 0, new Param.Range(-180, 180), new Param.Range(-5, 5), 0.05, 1);
    /** Standard deviation, pixels of the full-size plate. */
    public static final Param SHAKE = Param.of("shakePx", "shake, px", 0, 500).sliding(0, 20, 0.1);
    /** Standard deviation. */
    public static final Param SWAY = Param.of("shakeTurn", "sway, deg", 0, 45).sliding(0, 2, 0.01);
    /** Frames from one swing to the next. */
    public static final Param SWING =
            new Param("shakeFrames", "frames a swing", 12, new Param.Range(1, 1000), new Param.Range(2, 60), 0.5, 1);

    public static final Param SEED =
            new Param("shakeSeed", "which shake", 1, new Param.Range(1, 1000), new Param.Range(1, 20), 1, 1);
    public static final Param MIRRORED = new Param(
            "edgeMirrored", "edge mirrored, or 0 held", 1, new Param.Range(0, 1), new Param.Range(0, 1), 1, 1);

    private static final int OCTAVES = 3;

    private static Param shift(String name, String label) {
        return new Param(name, label, 0, new Param.Range(-100, 100), new Param.Range(-25, 25), 0.1, 100);
    }

    @Override
    public Group group() {
        return Group.MOVE;
    }

    @Override
    public List<Param> params() {
        return List.of(PUSH, ACROSS, DOWN, TURN, SHAKE, SWAY, SWING, SEED, MIRRORED);
    }

    /** Whether it moves anything: else the plate's own floats are handed through. */
    static boolean any(CompRecipe r) {
        return r.get(PUSH) != 1
                || r.get(ACROSS) != 0
                || r.get(DOWN) != 0
                || r.get(TURN) != 0
                || r.get(SHAKE) != 0
                || r.get(SWAY) != 0;
    }

    @Override
    public void apply(Layers l, CompRecipe r) {
        if (!any(r)) return;
        int w = l.frame.width, h = l.frame.height, seed = (int) r.get(SEED);
        double swing = r.get(SWING),
                x0 = w * (0.5 + r.get(ACROSS)) + l.scale * r.get(SHAKE) * hand(l.seed / swing, 2 * seed),
                y0 = h * (0.5 + r.get(DOWN)) + l.scale * r.get(SHAKE) * hand(l.seed / swing, 2 * seed + 1),
                turn = Math.toRadians(r.get(TURN) + r.get(SWAY) * hand(l.seed / swing, 5000 + seed));
        // Turning the picture is turning what is looked at the other way.
        double c = Math.cos(turn) / r.get(PUSH), s = -Math.sin(turn) / r.get(PUSH);
        boolean mirrored = r.get(MIRRORED) >= 0.5;
        Image from = l.frame.copy();
        Image.bands(h, (top, bottom) -> {
            Cubic at = new Cubic(w, h);
            for (int y = top; y < bottom; y++)
                for (int x = 0; x < w; x++) {
                    double u = x + 0.5 - w / 2.0,
                            v = y + 0.5 - h / 2.0,
                            px = x0 + c * u - s * v - 0.5,
                            py = y0 + s * u + c * v - 0.5;
                    if (mirrored) {
                        px = mirrored(px, w);
                        py = mirrored(py, h);
                    }
                    at.at((float) px, (float) py);
                    for (int k = 0; k < 3; k++) l.frame.planes[k][y * w + x] = Math.max(0, at.of(from.planes[k]));
                }
        });
    }

    /** Between the middles of the first pixel and the last. */
    private static double mirrored(double v, int n) {
        if (v >= 0 && v <= n - 1 || n < 2) return v;
        double period = 2.0 * (n - 1), t = v - period * Math.floor(v / period);
        return t <= n - 1 ? t : period - t;
    }

    /**
     * A hand's unrest: three octaves of noise through random values, each half as strong as the one below; of unit
     * variance, nearly.
     */
    static double hand(double t, int which) {
        double sum = 0, size = 1, squares = 0;
        for (int o = 0; o < OCTAVES; o++, t *= 2.03, size /= 2) {
            sum += size * noise(t, 31 * which + o);
            squares += size * size;
        }
        return sum / Math.sqrt(squares);
    }

    /** Cubic through values at whole numbers; unit variance at those, a little less between. */
    private static double noise(double t, int which) {
        int i = (int) Math.floor(t);
        double f = t - i,
                a = value(i - 1, which),
                b = value(i, which),
                c = value(i + 1, which),
                d = value(i + 2, which);
        return b + f / 2 * (c - a + f * (2 * a - 5 * b + 4 * c - d + f * (3 * (b - c) + d - a)));
    }

    private static double value(int i, int which) {
        int h = Sobol.hash(i * 0x9e3779b1 ^ Sobol.hash(which));
        // Sum of four uniform bytes: near enough to a bell.
        return ((h & 255) + (h >>> 8 & 255) + (h >>> 16 & 255) + (h >>> 24) - 510) / 147.8;
    }
}
