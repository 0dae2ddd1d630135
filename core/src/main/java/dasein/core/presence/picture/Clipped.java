package dasein.core.presence.picture;

import dasein.core.presence.Check;
import dasein.core.presence.Finding;
import dasein.core.presence.Subject;
import java.util.Locale;

/** How much of performers is cut off at white, where the written picture can show no more. */
public final class Clipped implements Check {
    private static final double LIMIT = 5;
    private static final float WHITE = 1;
    private static final int LEAST = 200;
    private static final Finding.About ABOUT = new Finding.About(
            "clipped",
            "Burnt out parts",
            "comp",
            "% of performers",
            LIMIT,
            "lamps and glints are; more than a twentieth is overexposed (common practice)");

    private final Worst worst = new Worst(LIMIT);

    @Override
    public void look(Frame f, Subject s) {
        int all = 0, cut = 0;
        double x = 0, y = 0;
        for (int i = 0; i < f.passes().alpha.length; i++) {
            if (!(f.passes().alpha[i] > 0.98f)) continue;
            all++;
            boolean burnt = true;
            for (int c = 0; c < 3; c++) burnt &= f.comp().planes[c][i] >= WHITE;
            if (!burnt) continue;
            cut++;
            x += i % f.comp().width;
            y += i / f.comp().width;
        }
        if (all < LEAST) return;
        worst.add(f.frame(), 100.0 * cut / all, cut == 0 ? null : s.place(f, x / cut, y / cut, 0.06 * f.comp().width));
    }

    @Override
    public Finding.About about() {
        return ABOUT;
    }

    @Override
    public Finding finding(Subject s) {
        if (worst.frames == 0) return ABOUT.unseen("No finished frame shows enough of a performer.");
        String said = String.format(
                Locale.ROOT, "%.1f %% of performers are white without drawing in frame %d", worst.figure, worst.frame);
        return worst.found()
                ? worst.on(ABOUT.found(worst.figure, said + ": less gain, or whites that end earlier."))
                : ABOUT.good(worst.figure, said + ".");
    }
}
