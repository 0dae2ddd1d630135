package dasein.core.presence.layout;

import dasein.core.presence.Check;
import dasein.core.presence.Finding;
import dasein.core.presence.Subject;
import java.util.Locale;
import java.util.Map;

/** Whether sun and sky light performers in the proportion in which they light the plate's ground. */
public final class LightRatio implements Check {
    private static final double LIMIT = 1 / 3.0;
    private static final Finding.About ABOUT = new Finding.About(
            "ratio",
            "Light ratio",
            "light",
            "stops",
            LIMIT,
            "lit and shaded sides are told apart by a third of a stop, the step of a lens's ring (common practice)");

    /**
     * Level ground in the sun over its shadow, in stops: as marked in the plate, and as the shot's own light has it.
     *
     * @param sigma of what the plate says: ground is not equally bright all over
     */
    public record Stops(double plate, double own, double sigma) {}

    @Override
    public Finding.About about() {
        return ABOUT;
    }

    @Override
    public Finding finding(Subject s) {
        if (s.stops() == null)
            return ABOUT.unseen("Ground in the sun and in shadow is not marked in Light, or no map lights the shot.");
        double off = s.stops().own() - s.stops().plate();
        String sides = String.format(
                Locale.ROOT,
                "The plate's ground is %.1f stops brighter in the sun than in shadow, ground under the shot's own light %.1f.",
                s.stops().plate(),
                s.stops().own());
        Finding.About about = ABOUT.limit(Math.max(LIMIT, 3 * s.stops().sigma()));
        if (Math.abs(off) <= about.limit()) return about.good(Math.abs(off), sides);
        return about.found(
                        Math.abs(off),
                        sides + (off > 0 ? " The sun is too strong for its sky." : " The sun is too weak for its sky."))
                .mendedBy(new Finding.Mend("light", "Level from the ground", Map.of("action", "level-from-ground")));
    }
}
