package dasein.core.presence.picture;

import dasein.core.image.Image;
import dasein.core.presence.Check;
import dasein.core.presence.Finding;
import dasein.core.presence.Subject;
import java.util.Arrays;
import java.util.Locale;
import java.util.TreeMap;
import java.util.function.IntPredicate;

/**
 * Whether performers get brighter and darker from frame to frame by more than the plate does: how far each frame lies
 * from the middle between its neighbours.
 */
public final class Flicker implements Check {
    private static final double LIMIT = 0.04;
    private static final int LEAST = 400;
    private static final Finding.About ABOUT = new Finding.About(
            "flicker",
            "Flicker",
            "passes",
            "stops",
            LIMIT,
            "a flicker of 3 % is just seen in slow change, over what the plate does itself (common practice)");

    private final TreeMap<Integer, double[]> stops = new TreeMap<>();

    @Override
    public void look(Frame f, Subject s) {
        float[] own = lumas(f.comp(), i -> f.passes().alpha[i] > 0.98f),
                plate = lumas(f.plate(), i -> f.passes().alpha[i] <= 0.98f && i % 7 == 0);
        if (own.length < LEAST || plate.length < LEAST) return;
        stops.put(f.frame(), new double[] {middle(own), middle(plate)});
    }

    /** Sorted. */
    private static float[] lumas(Image im, IntPredicate of) {
        float[] v = im.luminance();
        int n = 0;
        for (int i = 0; i < v.length; i++) if (of.test(i)) v[n++] = v[i];
        v = Arrays.copyOf(v, n);
        Arrays.sort(v);
        return v;
    }

    /** Logarithm of the median: a glint that comes and goes on a leg is no flicker of the whole. */
    private static double middle(float[] sorted) {
        return Math.log(Math.max(1e-4, sorted[sorted.length / 2]));
    }

    @Override
    public Finding.About about() {
        return ABOUT;
    }

    @Override
    public Finding finding(Subject s) {
        Worst worst = new Worst(LIMIT);
        for (int f : stops.keySet()) {
            double[] a = stops.get(f - 1), b = stops.get(f), c = stops.get(f + 1);
            if (a == null || c == null) continue;
            double own = Math.abs(b[0] - (a[0] + c[0]) / 2), plate = Math.abs(b[1] - (a[1] + c[1]) / 2);
            worst.add(f, Math.max(0, own - plate) / Math.log(2), null);
        }
        if (worst.frames == 0) return ABOUT.unseen("Three finished frames in a row are needed.");
        return worst.found()
                ? worst.on(ABOUT.found(
                        worst.figure,
                        String.format(
                                Locale.ROOT,
                                "Performers jump by %.2f stops in frame %d while the plate does not.",
                                worst.figure,
                                worst.frame)))
                : ABOUT.good(
                        worst.figure,
                        String.format(Locale.ROOT, "Performers are steady within %.3f stops.", worst.figure));
    }
}
