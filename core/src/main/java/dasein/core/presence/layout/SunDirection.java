package dasein.core.presence.layout;

import dasein.core.presence.Check;
import dasein.core.presence.Finding;
import dasein.core.presence.Subject;
import java.util.Locale;

/** Whether performers are lit from where real shadows say the sun stood. */
public final class SunDirection implements Check {
    private static final double LIMIT = 5;
    private static final Finding.About ABOUT = new Finding.About(
            "sun",
            "Direction of the light",
            "light",
            "degrees",
            LIMIT,
            "shadows that lie beside each other tell apart about that much (common practice)");

    @Override
    public Finding.About about() {
        return ABOUT;
    }

    @Override
    public Finding finding(Subject s) {
        if (s.realSun() == null)
            return ABOUT.unseen("No real shadow is drawn in Light to hold the sun's direction against.");
        if (s.sun() == null) return ABOUT.unseen("No sun lights the performers.");
        double off = Math.toDegrees(
                Math.acos(Math.max(-1, Math.min(1, s.sun().dot(s.realSun().towards())))));
        // What the shadows themselves do not tell better is not held against it.
        Finding.About about = ABOUT.limit(Math.max(LIMIT, 2 * s.realSun().spreadDeg()));
        return off <= about.limit()
                ? about.good(
                        off, String.format(Locale.ROOT, "The sun stands within %.1f degrees of what shadows say.", off))
                : about.found(
                        off,
                        String.format(
                                Locale.ROOT,
                                "Real shadows say the sun stood %.0f degrees elsewhere, %.0f high at %.0f: performers "
                                        + "are lit from the wrong side.",
                                off,
                                s.realSun().elevationDeg(),
                                s.realSun().azimuthDeg()));
    }
}
