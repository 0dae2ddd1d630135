package dasein.core.presence.picture;

import dasein.core.presence.Check;
import dasein.core.presence.Finding;
import dasein.core.presence.Subject;
import java.util.Locale;

/** Whether rendered frames are clean enough: noise of sampling crawls where grain does not. */
public final class RenderNoise implements Check {
    private static final double LIMIT = 10;
    private static final Finding.About ABOUT = new Finding.About(
            "noise",
            "Render noise",
            "passes",
            "% of its level",
            LIMIT,
            "filtered, a tenth is below a plate's grain (common practice)");

    private final Worst worst = new Worst(LIMIT);

    @Override
    public void look(Frame f, Subject s) {
        if (f.passes().noise > 0) worst.add(f.frame(), 100 * f.passes().noise, null);
    }

    @Override
    public Finding.About about() {
        return ABOUT;
    }

    @Override
    public Finding finding(Subject s) {
        if (worst.frames == 0) return ABOUT.unseen("No frame tells how noisy it is.");
        return worst.found()
                ? worst.on(ABOUT.found(
                        worst.figure,
                        String.format(
                                Locale.ROOT,
                                "Frame %d has an error of %.0f %%: give it more samples.",
                                worst.frame,
                                worst.figure)))
                : ABOUT.good(
                        worst.figure,
                        String.format(Locale.ROOT, "No frame is off by more than %.1f %%.", worst.figure));
    }
}
