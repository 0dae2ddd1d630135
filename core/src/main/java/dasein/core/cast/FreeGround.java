package dasein.core.cast;

import dasein.core.math.Vec3;
import dasein.core.model.Model;
import java.util.Collection;
import java.util.function.Predicate;

/** Where somebody new can stand without standing in others or on things. */
public final class FreeGround {
    /** Metres; ground that differs by no more counts as one level. */
    private static final double LEVEL = 0.05;

    private static final int RINGS = 24, DIRECTIONS = 12;

    private FreeGround() {}

    /** Half of how far a model reaches over the ground, metres. */
    public static double radius(Model m, double heightMetres) {
        float[] b = m.bounds();
        double scale = heightMetres / Math.max(1e-6, b[4] - b[1]);
        return 0.5 * scale * Math.max(b[3] - b[0], b[5] - b[2]);
    }

    /**
     * The place nearest to a wanted one, in whole hundredths; the wanted one where all around is taken.
     *
     * @param others who may not be touched, where they are in {@code frame}; @param radius of who comes, metres
     * @param seen whether a place is in the picture; one that is not is taken only where no other is free
     */
    public static Vec3 near(
            Blocking b, Collection<Performer> others, int frame, Vec3 wanted, double radius, Predicate<Vec3> seen) {
        Vec3 in = near(b, others, frame, wanted, radius, seen, null);
        return in != null ? in : near(b, others, frame, wanted, radius, p -> true, wanted);
    }

    private static Vec3 near(
            Blocking b,
            Collection<Performer> others,
            int frame,
            Vec3 wanted,
            double radius,
            Predicate<Vec3> may,
            Vec3 otherwise) {
        double step = Math.max(0.2, 0.5 * radius);
        for (int ring = 0; ring < RINGS; ring++) {
            int n = ring == 0 ? 1 : DIRECTIONS;
            for (int k = 0; k < n; k++) {
                double a = 2 * Math.PI * k / n;
                Vec3 at = new Vec3(
                        Math.round(100 * (wanted.x() + ring * step * Math.cos(a))) / 100.0,
                        0,
                        Math.round(100 * (wanted.z() + ring * step * Math.sin(a))) / 100.0);
                if (may.test(at)
                        && level(b, at, radius)
                        && others.stream().allMatch(o -> clear(b, o, frame, at, radius))) return at;
            }
        }
        return otherwise;
    }

    private static boolean clear(Blocking b, Performer o, int frame, Vec3 at, double radius) {
        Vec3 foot = b.foot(o.id(), frame);
        double away = Math.hypot(foot.x() - at.x(), foot.z() - at.z());
        return away >= radius + radius(b.model(o), o.heightMetres());
    }

    private static boolean level(Blocking b, Vec3 at, double radius) {
        double here = b.ground(at, 100);
        for (int k = 0; k < 8; k++) {
            double a = k * Math.PI / 4;
            Vec3 rim = at.plus(new Vec3(radius * Math.cos(a), 0, radius * Math.sin(a)));
            if (Math.abs(b.ground(rim, 100) - here) > LEVEL) return false;
        }
        return Math.abs(here) < LEVEL;
    }
}
