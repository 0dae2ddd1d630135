package dasein.core.presence.picture;

import dasein.core.comp.match.Around;
import dasein.core.image.Filters;
import dasein.core.image.Image;
import dasein.core.light.Clues;
import dasein.core.presence.Check;
import dasein.core.presence.Finding;
import dasein.core.presence.Subject;
import dasein.core.render.pass.Passes;
import java.util.List;
import java.util.Locale;

/**
 * Whether ground that lies in a real shadow, as dark as the darkest that was marked, is shaded once more, as no sun
 * could: how much darker the comp is there than the plate.
 */
public final class DoubledShadow implements Check {
    private static final double LIMIT = 20;
    private static final int LEAST = 400;
    /** Pixels of the plate over which ground in shadow is told from ground that is dark by itself. */
    private static final double WIDE = 4;

    /** Part of the sky that is seen from there; nearer to performers it gets darker in shadow, too. */
    private static final double OPEN = 0.9;

    private static final Finding.About ABOUT = new Finding.About(
            "doubled",
            "Shadow laid twice",
            "comp",
            "% darker",
            LIMIT,
            "ground differs by a fifth within one shadow (common practice)");

    private final Worst worst = new Worst(LIMIT);
    /** How bright the marked shadow was when it was last seen. */
    private double known = Double.NaN;

    @Override
    public void look(Frame f, Subject s) {
        List<Clues.Patch> dark =
                s.clues().patches().stream().filter(p -> !p.lit()).toList();
        if (dark.isEmpty() || f.graded()) return;
        // Marked in other frames: of those in this one, or of all where they can be seen from here.
        double part = (double) f.plate().width / s.plate().width();
        double level = dark.stream()
                .filter(p -> p.frame() == f.frame())
                .mapToDouble(p -> around(f.plate(), part * p.x(), part * p.y()))
                .min()
                .orElse(known);
        if (!(level > 0)) return;
        known = level;
        Passes p = f.passes();
        int w = p.width, n = 0;
        // Cracks and stains of lit ground are as dark as a shadow, but narrow.
        float[] wide = Filters.gaussian(f.plate().luminance(), w, p.height, WIDE * part);
        // Chosen by single pixels, those would be taken that noise makes dark.
        float[] laid = Filters.gaussian(p.shadow[1], w, p.height, WIDE * part);
        double sum = 0, x = 0, y = 0;
        for (int i = 0; i < p.alpha.length; i++) {
            if (p.alpha[i] > 0.01f || laid[i] > 0.8f || p.ao[i] < OPEN) continue;
            // In shadow already: as dark as the marked one is.
            double plate = Image.luma(f.plate().planes, i);
            if (wide[i] > 1.15 * level || wide[i] < 0.4 * level || !(plate > 1e-4)) continue;
            sum += Image.luma(f.comp().planes, i) / plate;
            x += i % w;
            y += i / w;
            n++;
        }
        if (n < LEAST) {
            worst.add(f.frame(), 0, null);
            return;
        }
        worst.add(
                f.frame(),
                Math.max(0, 100 * (1 - sum / n)),
                new Finding.Place(
                        x / n * s.plate().width() / w, y / n * s.plate().width() / w, 80));
    }

    /** @param x, y of the picture; no number outside it */
    private static double around(Image im, double x, double y) {
        double[] v = Around.of(im, x, y);
        return v == null ? Double.NaN : 0.2126 * v[0] + 0.7152 * v[1] + 0.0722 * v[2];
    }

    @Override
    public Finding.About about() {
        return ABOUT;
    }

    @Override
    public Finding finding(Subject s) {
        if (worst.frames == 0)
            return ABOUT.unseen("No ground in shadow is marked in Light, by which real shadows are told.");
        return worst.found()
                ? worst.on(ABOUT.found(
                        worst.figure,
                        String.format(
                                Locale.ROOT,
                                "In frame %d the performer's shadow makes ground darker by %.0f %% that lies in shadow "
                                        + "already: spare what is darker, or build what throws that shadow.",
                                worst.frame,
                                worst.figure)))
                : ABOUT.good(worst.figure, "Where real shadow lies none is laid again.");
    }
}
