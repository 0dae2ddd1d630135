package dasein.core.presence.picture;

import dasein.core.image.Image;
import dasein.core.presence.Check;
import dasein.core.presence.Finding;
import dasein.core.presence.Subject;
import dasein.core.render.pass.Passes;
import java.util.Locale;

/**
 * Whether ground right under performers gets as dark as it was rendered: without that they float, however well they
 * stand. Looked at is ground that a performer hides from most of the sky.
 */
public final class ContactDarkening implements Check {
    private static final double LIMIT = 30;
    /** Open part of the sky at most; least darkening there that is worth comparing. */
    private static final double OPEN = 0.6, LEAST_DARK = 0.08;

    private static final int LEAST = 60;
    private static final Finding.About ABOUT = new Finding.About(
            "darkening",
            "Dark where they touch",
            "comp",
            "% of it lost",
            LIMIT,
            "with a third of it gone feet seem to float (common practice)");

    private final Worst worst = new Worst(LIMIT);

    @Override
    public void look(Frame f, Subject s) {
        if (f.graded()) return;
        Passes p = f.passes();
        double rendered = 0, made = 0, x = 0, y = 0;
        int n = 0;
        for (int i = 0; i < p.alpha.length; i++) {
            if (p.alpha[i] > 0 || p.ao[i] > OPEN || p.ao[i] <= 0) continue;
            double plate = Image.luma(f.plate().planes, i);
            if (!(plate > 1e-4)) continue;
            rendered += 1 - Image.luma(p.shadow, i);
            // What is given back by the performer is no loss of shadow.
            made += 1
                    - (Image.luma(f.comp().planes, i) - Image.luma(p.bounce, i) - Image.luma(p.reflection, i)) / plate;
            x += i % p.width;
            y += i / p.width;
            n++;
        }
        if (n < LEAST || rendered < LEAST_DARK * n) return;
        worst.add(f.frame(), Math.max(0, 100 * (1 - made / rendered)), s.place(f, x / n, y / n, 60));
    }

    @Override
    public Finding.About about() {
        return ABOUT;
    }

    @Override
    public Finding finding(Subject s) {
        if (worst.frames == 0)
            return ABOUT.unseen(
                    "In no finished frame is ground seen that performers hide from the sky, or all is graded.");
        return worst.found()
                ? worst.on(ABOUT.found(
                        worst.figure,
                        String.format(
                                Locale.ROOT,
                                "In frame %d ground under performers lost %.0f %% of the darkening it was rendered with: "
                                        + "raise the shadow's density, or its contact.",
                                worst.frame,
                                worst.figure)))
                : ABOUT.good(worst.figure, "Ground under performers gets as dark as it was rendered.");
    }
}
