package dasein.core.presence.picture;

import dasein.core.image.CodeTable;
import dasein.core.image.Image;
import dasein.core.presence.Check;
import dasein.core.presence.Finding;
import dasein.core.presence.Subject;
import dasein.core.render.pass.Passes;
import java.util.Arrays;
import java.util.Locale;
import java.util.function.IntPredicate;

/** Whether performers have stronger colours than nearly all of the plate. */
public final class Saturated implements Check {
    private static final double LIMIT = 25;
    /** Of performers a twentieth has such colours or stronger ones, of the plate a hundredth. */
    private static final double OWN = 0.95, PLATE = 0.99;

    private static final int LEAST = 500;
    private static final Finding.About ABOUT = new Finding.About(
            "saturation",
            "Saturation",
            "comp",
            "% over the plate's",
            LIMIT,
            "when a twentieth of it has stronger colours than all but a hundredth of the plate, and than it was "
                    + "rendered with, it looks painted (common practice)");

    private final Worst worst = new Worst(LIMIT);

    @Override
    public void look(Frame f, Subject s) {
        CodeTable t = CodeTable.of(f.encoding());
        Passes p = f.passes();
        IntPredicate covered = i -> p.alpha[i] > 0.98f;
        double own = strongest(f.comp(), t, covered, OWN),
                plate = strongest(f.plate(), t, i -> i % 5 == 0, PLATE),
                rendered = strongest(new Image(p.width, p.height, p.beauty), t, covered, OWN);
        // What is painted as strongly by itself may stand before grey stones.
        if (own >= 0 && plate > 0)
            worst.add(f.frame(), Math.max(0, 100 * (own / Math.max(plate, Math.max(0, rendered)) - 1)), null);
    }

    /** Codes between the strongest and the weakest colour of a place, as {@code part} of all are below; -1: too few. */
    private static double strongest(Image im, CodeTable t, IntPredicate of, double part) {
        float[] v = new float[im.planes[0].length];
        int n = 0;
        for (int i = 0; i < v.length; i++) {
            if (!of.test(i)) continue;
            float most = Math.max(im.planes[0][i], Math.max(im.planes[1][i], im.planes[2][i])),
                    least = Math.min(im.planes[0][i], Math.min(im.planes[1][i], im.planes[2][i]));
            v[n++] = t.encode(Math.max(0, most)) - t.encode(Math.max(0, least));
        }
        if (n < LEAST) return -1;
        v = Arrays.copyOf(v, n);
        Arrays.sort(v);
        return v[(int) (part * (n - 1))];
    }

    @Override
    public Finding.About about() {
        return ABOUT;
    }

    @Override
    public Finding finding(Subject s) {
        if (worst.frames == 0) return ABOUT.unseen("No finished frame shows enough of a performer.");
        return worst.found()
                ? worst.on(ABOUT.found(
                        worst.figure,
                        String.format(
                                Locale.ROOT,
                                "Performers have colours %.0f %% stronger than nearly all of the plate, and than rendered, in frame %d.",
                                worst.figure,
                                worst.frame)))
                : ABOUT.good(worst.figure, "Colours of performers are no stronger than the plate's.");
    }
}
