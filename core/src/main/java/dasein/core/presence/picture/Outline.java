package dasein.core.presence.picture;

import dasein.core.image.CodeTable;
import dasein.core.image.Image;
import dasein.core.presence.Check;
import dasein.core.presence.Finding;
import dasein.core.presence.Subject;
import dasein.core.render.pass.Passes;
import java.util.Locale;

/**
 * Whether a line runs around performers: along their outline, what is brighter, or darker, than both what lies within
 * and what lies behind.
 */
public final class Outline implements Check {
    private static final double LIMIT = 2.5;
    /** Pixels from the edge to what is taken for within and without. */
    private static final int STEP = 3;

    private static final int LEAST = 300;
    private static final Finding.About ABOUT = new Finding.About(
            "outline",
            "Line around performers",
            "comp",
            "% of white",
            LIMIT,
            "a line of one code in forty is seen against even sky; a low sun draws up to 2 % by itself");

    private final Worst worst = new Worst(LIMIT);

    @Override
    public void look(Frame f, Subject s) {
        Passes p = f.passes();
        int w = p.width, h = p.height, n = 0;
        CodeTable t = CodeTable.of(f.encoding());
        double over = 0, under = 0;
        for (int y = STEP; y < h - STEP; y++)
            for (int x = STEP; x < w - STEP; x++) {
                int i = y * w + x;
                if (!(p.alpha[i] > 0.25f && p.alpha[i] < 0.75f)) continue;
                double gx = p.alpha[i + 1] - p.alpha[i - 1],
                        gy = p.alpha[i + w] - p.alpha[i - w],
                        g = Math.hypot(gx, gy);
                if (g < 0.2) continue;
                int dx = (int) Math.round(STEP * gx / g), dy = (int) Math.round(STEP * gy / g);
                int in = i + dy * w + dx, out = i - dy * w - dx;
                // Thin things have no inside, and behind one part may lie another.
                if (p.alpha[in] < 0.98f || p.alpha[out] > 0.02f) continue;
                double a = luma(f.comp(), t, in), b = luma(f.comp(), t, out), here = luma(f.comp(), t, i);
                over += Math.max(0, here - Math.max(a, b));
                under += Math.max(0, Math.min(a, b) - here);
                n++;
            }
        if (n >= LEAST) worst.add(f.frame(), 100 * Math.max(over, under) / n, null);
    }

    private static double luma(Image im, CodeTable t, int i) {
        return 0.2126 * t.encode(Math.max(0, im.planes[0][i]))
                + 0.7152 * t.encode(Math.max(0, im.planes[1][i]))
                + 0.0722 * t.encode(Math.max(0, im.planes[2][i]));
    }

    @Override
    public Finding.About about() {
        return ABOUT;
    }

    @Override
    public Finding finding(Subject s) {
        if (worst.frames == 0) return ABOUT.unseen("No finished frame shows enough of an outline.");
        return worst.found()
                ? worst.on(ABOUT.found(
                        worst.figure,
                        String.format(
                                Locale.ROOT,
                                "Outlines stand out by %.1f %% in frame %d: look at light wrap, halos and the edges of "
                                        + "what stands in front.",
                                worst.figure,
                                worst.frame)))
                : ABOUT.good(worst.figure, "Outlines lie between what is before and what is behind.");
    }
}
