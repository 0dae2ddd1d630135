package dasein.core.presence.matched;

import dasein.core.NoSolution;
import dasein.core.comp.match.Match;
import dasein.core.presence.Check;
import dasein.core.presence.Finding;
import dasein.core.presence.Subject;
import java.util.List;
import java.util.Locale;

/** Whether performers are smeared by motion as long as what really moved. */
public final class ShutterTime implements Check {
    private static final double LIMIT = 75, SIGMAS = 4;
    private static final Finding.About ABOUT = new Finding.About(
            "blur",
            "Length of motion blur",
            "passes",
            "degrees",
            LIMIT,
            "by so much streaks are misread: on two films of 180 degrees they were taken for 113 and 124");

    private final Outcomes outcomes;

    public ShutterTime(Outcomes outcomes) {
        this.outcomes = outcomes;
    }

    @Override
    public Finding.About about() {
        return ABOUT;
    }

    @Override
    public Finding finding(Subject s) {
        if (s.taken() == null) return ABOUT.unseen("No rendered frame to measure in yet.");
        try {
            Match.Outcome o = outcomes.of("shutter", s.taken());
            double real = o.shutterDeg(), own = 360 * s.taken().shutter(), off = Math.abs(real - own);
            // The sharpest of few edges are sharper than their class: it errs by more than edges scatter.
            Finding.About about = ABOUT.limit(Math.max(LIMIT, SIGMAS * o.shutterSigma()));
            String said = String.format(
                    Locale.ROOT, "The plate's streaks are those of %.0f degrees, performers have %.0f.", real, own);
            int f = s.taken().frame();
            return off <= about.limit()
                    ? about.good(off, said)
                    : about.found(off, said)
                            .mendedBy(Finding.Mend.match("shutter", f))
                            .in(List.of(f), f);
        } catch (NoSolution e) {
            return ABOUT.unseen("In the plate " + e.getMessage() + ".");
        }
    }
}
