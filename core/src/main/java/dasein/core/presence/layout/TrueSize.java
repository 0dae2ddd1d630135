package dasein.core.presence.layout;

import dasein.core.ground.GroundFit;
import dasein.core.presence.Check;
import dasein.core.presence.Finding;
import dasein.core.presence.Subject;
import java.util.List;
import java.util.Locale;

/** Whether the set is as large as what was measured on it says: if it is not, everybody in it is too large or small. */
public final class TrueSize implements Check {
    private static final double LIMIT = 2;
    private static final Finding.About ABOUT = new Finding.About(
            "size",
            "Size of the set",
            "set",
            "%",
            LIMIT,
            "a tape over the set is good for one part in a hundred, picked ends for another (common practice)");

    @Override
    public Finding.About about() {
        return ABOUT;
    }

    @Override
    public Finding finding(Subject s) {
        List<GroundFit.Check> all = s.measured().stream()
                .filter(c -> c.unit().equals("m") && c.wanted() > 0)
                .toList();
        if (all.isEmpty())
            return ABOUT.unseen("Nothing that was measured on set tells how large it is; lay a yardstick in Set.");
        GroundFit.Check worst = all.get(0);
        for (GroundFit.Check c : all) if (part(c) > part(worst)) worst = c;
        double off = part(worst);
        if (off <= LIMIT)
            return ABOUT.good(
                    off,
                    String.format(
                            Locale.ROOT,
                            all.size() == 1
                                    ? "The set is as large as %2$s says; a second yardstick would prove it."
                                    : "All %1$d measures agree, %2$s least.",
                            all.size(),
                            worst.name()));
        return ABOUT.found(
                off,
                String.format(
                        Locale.ROOT,
                        "%s was measured as %.2f m and is %.2f m in the set: by that much everybody is too large or "
                                + "too small.",
                        worst.name(),
                        worst.wanted(),
                        worst.got()));
    }

    private static double part(GroundFit.Check c) {
        return 100 * Math.abs(c.off()) / c.wanted();
    }
}
