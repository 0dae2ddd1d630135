package dasein.core.presence.picture;

import dasein.core.NoSolution;
import dasein.core.comp.match.EdgeMeasure;
import dasein.core.presence.Check;
import dasein.core.presence.Finding;
import dasein.core.presence.Subject;
import dasein.core.render.pass.Passes;
import java.util.Locale;

/**
 * Whether performers are drawn as sharply as what the plate shows around them: a lens is softer towards the corners and
 * out of its distance, which one number for the whole frame does not know. Over several frames together, for one alone
 * has too few edges.
 */
public final class SoftnessHere implements Check {
    private static final double LIMIT = 0.5;
    /**
     * How far around performers the plate is looked at, over their own size; pixels about an outline that are theirs.
     */
    private static final double AROUND = 0.75;

    private static final int BAND = 4;
    /** Edges take long to look at: of so many frames one is. */
    private static final int OF = 6;

    private static final Finding.About ABOUT = new Finding.About(
            "softness-here",
            "Softness beside performers",
            "comp",
            "px",
            LIMIT,
            "sharpest edges of places of one plate differ by half a pixel in focus (common practice)");

    private final EdgeMeasure plate = new EdgeMeasure(), own = new EdgeMeasure();
    private int last, seen;

    @Override
    public void look(Frame f, Subject s) {
        if (seen++ % OF != 0) return;
        Passes p = f.passes();
        int w = p.width, h = p.height, x0 = w, x1 = -1, y0 = h, y1 = -1;
        for (int i = 0; i < p.alpha.length; i++) {
            if (!(p.alpha[i] > 0.5f)) continue;
            x0 = Math.min(x0, i % w);
            x1 = Math.max(x1, i % w);
            y0 = Math.min(y0, i / w);
            y1 = Math.max(y1, i / w);
        }
        if (x1 < 0) return;
        double more = AROUND * Math.max(x1 - x0, y1 - y0);
        float[] beside = new float[w * h], on = new float[w * h];
        for (int y = 0; y < h; y++)
            for (int x = 0; x < w; x++) {
                int i = y * w + x;
                boolean near = x >= x0 - more && x <= x1 + more && y >= y0 - more && y <= y1 + more;
                if (near && !p.matters(i)) beside[i] = 1;
                if (outline(p, x, y)) on[i] = 1;
            }
        plate.look(f.plate(), f.encoding(), beside);
        own.look(f.comp(), f.encoding(), on);
        last = f.frame();
    }

    /** Whether it lies on a performer's outline. */
    private static boolean outline(Passes p, int x, int y) {
        if (x < BAND || y < BAND || x >= p.width - BAND || y >= p.height - BAND) return false;
        int i = y * p.width + x;
        if (p.alpha[i] > 0.05f && p.alpha[i] < 0.95f) return true;
        return Math.abs(p.alpha[i + 1] - p.alpha[i - 1]) > 0.5f
                || Math.abs(p.alpha[i + p.width] - p.alpha[i - p.width]) > 0.5f;
    }

    @Override
    public Finding.About about() {
        return ABOUT;
    }

    @Override
    public Finding finding(Subject s) {
        EdgeMeasure.Found a, b;
        try {
            a = plate.found();
        } catch (NoSolution few) {
            return ABOUT.unseen("The plate shows too few clear edges around performers.");
        }
        try {
            b = own.found();
        } catch (NoSolution few) {
            return ABOUT.unseen("Performers have too few clear edges against the plate.");
        }
        double off = Math.abs(a.sigma() - b.sigma());
        Finding.About about = ABOUT.limit(Math.max(LIMIT, 3 * Math.hypot(a.uncertainty(), b.uncertainty())));
        String sides = String.format(
                Locale.ROOT,
                "Around performers the plate's sharpest edges spread over %.2f px, their own outlines over %.2f.",
                a.sigma(),
                b.sigma());
        return off <= about.limit()
                ? about.good(off, sides)
                : about.found(
                                off,
                                sides
                                        + (b.sigma() < a.sigma()
                                                ? " They are too sharp there."
                                                : " They are too soft there."))
                        .in(java.util.List.of(last), last);
    }
}
