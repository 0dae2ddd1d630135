package dasein.core.presence.picture;

import dasein.core.image.Image;
import dasein.core.presence.Check;
import dasein.core.presence.Finding;
import dasein.core.presence.Subject;
import java.util.Arrays;
import java.util.Locale;
import java.util.function.IntPredicate;

/** Whether performers have stronger colours than anything in the plate. */
public final class Saturated implements Check {
    private static final double LIMIT = 25;
    /** Of performers, and of the plate, what counts as the strongest. */
    private static final double OWN = 0.95, PLATE = 0.998;

    private static final int LEAST = 500;
    private static final float DARK = 0.01f;
    private static final Finding.About ABOUT = new Finding.About(
            "saturation",
            "Colours no stronger than the plate's",
            "comp",
            "% over the plate's",
            LIMIT,
            "a quarter over the strongest of the plate looks painted (common practice)");

    private final Worst worst = new Worst(LIMIT);

    @Override
    public void look(Frame f, Subject s) {
        double own = strongest(f.comp(), i -> f.passes().alpha[i] > 0.98f, OWN),
                plate = strongest(f.plate(), i -> i % 5 == 0, PLATE);
        if (own >= 0 && plate > 0) worst.add(f.frame(), Math.max(0, 100 * (own / plate - 1)), null);
    }

    /** Part of what is seen that its weakest colour lacks, of the strongest; -1 where too little is seen. */
    private static double strongest(Image im, IntPredicate of, double part) {
        float[] v = new float[im.planes[0].length];
        int n = 0;
        for (int i = 0; i < v.length; i++) {
            if (!of.test(i)) continue;
            float most = Math.max(im.planes[0][i], Math.max(im.planes[1][i], im.planes[2][i])),
                    least = Math.min(im.planes[0][i], Math.min(im.planes[1][i], im.planes[2][i]));
            // In the dark the sensor's noise is all there is of colour.
            if (most > DARK) v[n++] = (most - least) / most * Math.min(1, most / 0.1f);
        }
        if (n < LEAST) return -1;
        v = Arrays.copyOf(v, n);
        Arrays.sort(v);
        return v[(int) (part * (n - 1))];
    }

    @Override
    public Finding finding(Subject s) {
        if (worst.frames == 0) return ABOUT.unseen("No finished frame shows enough of a performer.");
        return worst.found()
                ? worst.on(ABOUT.found(
                        worst.figure,
                        String.format(
                                Locale.ROOT,
                                "Colours of performers are %.0f %% stronger than any of the plate's in frame %d.",
                                worst.figure,
                                worst.frame)))
                : ABOUT.good(worst.figure, "Colours of performers are no stronger than the plate's.");
    }
}
