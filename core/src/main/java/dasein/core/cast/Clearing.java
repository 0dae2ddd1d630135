package dasein.core.cast;

import dasein.core.math.Vec3;
import java.util.ArrayList;
import java.util.List;
import java.util.function.IntFunction;

/**
 * Finds room for the copies of a flock: each takes the first of its places whose circle is clear of those before it, of
 * other performers on their ways, and of set pieces. A copy that finds none is left out.
 */
final class Clearing {
    /**
     * Places that a copy tries, and frames at which others are looked at: half a minute in steps of a third of a
     * second.
     */
    private static final int TRIES = 400, MOMENTS = 90, STEP = 8;
    /** Metres by which the ground may rise or fall under one copy; directions in which it is felt for. */
    private static final double LEVEL = 0.12;

    private static final int ROUND = 8;

    /** @param radius of what it takes up on the ground, metres; @param high above that */
    private record Taken(Vec3 at, double radius, double high) {}

    private final Blocking.Around around;
    private final List<Taken> taken = new ArrayList<>();

    Clearing(Blocking.Around around) {
        this.around = around;
    }

    /** Somebody who is not of the flock, wherever they go. */
    void keepOff(IntFunction<Vec3> foot, int first, double radius, double high) {
        Vec3 last = null;
        for (int k = 0; k < MOMENTS; k++) {
            Vec3 at = foot.apply(first + STEP * k);
            if (last != null && at.distance(last) < 0.25 * radius) continue;
            taken.add(new Taken(at, radius, high));
            last = at;
        }
    }

    /**
     * The first of a copy's places that is clear, which then is taken; null where none is.
     *
     * @param place in the set of its n-th try; @param onGround whether it stands on whatever is below it
     */
    Integer first(IntFunction<Vec3> place, double radius, double high, boolean onGround) {
        for (int n = 0; n < TRIES; n++) {
            Vec3 at = place.apply(n);
            if (!clear(at, radius, high) || onGround && !level(at, radius, high)) continue;
            taken.add(new Taken(at, radius, high));
            return n;
        }
        return null;
    }

    private boolean clear(Vec3 at, double radius, double high) {
        for (Taken t : taken)
            if (Math.hypot(t.at.x() - at.x(), t.at.z() - at.z()) < t.radius + radius
                    && at.y() < t.at.y() + t.high
                    && t.at.y() < at.y() + high) return false;
        return true;
    }

    /** Whether it would stand on one thing, and reach into none. */
    private boolean level(Vec3 at, double radius, double high) {
        double ground = around.ground(at.x(), at.z(), Double.MAX_VALUE);
        Vec3 middle = new Vec3(at.x(), ground + 0.5 * high, at.z());
        for (int k = 0; k < ROUND; k++) {
            double a = 2 * Math.PI * k / ROUND, x = at.x() + radius * Math.cos(a), z = at.z() + radius * Math.sin(a);
            if (Math.abs(around.ground(x, z, Double.MAX_VALUE) - ground) > LEVEL) return false;
            if (around.hides(middle, new Vec3(x, middle.y(), z))) return false;
        }
        return true;
    }
}
