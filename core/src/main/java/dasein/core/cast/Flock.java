package dasein.core.cast;

import com.fasterxml.jackson.annotation.JsonUnwrapped;
import dasein.core.BadInput;

/**
 * Many copies of a performer with small differences. Where the performer itself is, is where they gather; it is not
 * seen itself. All differences come from the seed and the copy's number, so that every machine has the same flock in
 * every frame. In documents the numbers of its parts stand among the others.
 *
 * @param count of copies
 * @param motion what they do
 * @param wander how far they stray when they fly, metres
 * @param clear they keep clear of each other, of other performers and of set pieces, but for those that fall; what
 *     finds no room is left out
 */
public record Flock(
        int count,
        int seed,
        @JsonUnwrapped Room room,
        @JsonUnwrapped Differences differences,
        Motion motion,
        double wander,
        @JsonUnwrapped Fall fall,
        Boolean clear) {
    public static final int MOST = 2000;

    /**
     * @param layout how they are spread: over an area about it, along its route, or from its place
     * @param width across, {@code depth} along and {@code height} above the place, metres
     */
    public record Room(Layout layout, double width, double depth, double height) {}

    /**
     * @param size, speed, tint largest difference as a part, 0 to 1; @param heading of the turn, degrees; @param phase
     *     of the clip's time, seconds
     */
    public record Differences(double size, double heading, double phase, double speed, double tint) {}

    /**
     * @param start frame in which falling begins, {@code over} frames over which they let go one after the other
     * @param push metres a second with which they set out when they fall, to all sides
     * @param gravity metres a second squared; @param drag part of the speed that the air takes in a second; @param
     *     bounce part of the speed they keep when they hit; @param tumble degrees a second at first
     */
    public record Fall(
            double start, double over, double push, double gravity, double drag, double bounce, double tumble) {}

    public enum Layout {
        AREA,
        ROUTE,
        POINT
    }

    public enum Motion {
        STAND,
        FLY,
        FALL
    }

    public Flock {
        // Flocks of earlier documents did not.
        clear = clear != null && clear;
        if (count < 1 || count > MOST) throw new BadInput("a flock has from 1 to " + MOST + " copies");
        for (double v : new double[] {
            room.width, room.depth, room.height, wander, fall.over, fall.push, fall.tumble, differences.phase
        }) if (!(v >= 0 && v < 1e5)) throw new BadInput("the sizes of a flock must lie between 0 and 100000");
        for (double v : new double[] {differences.size, differences.speed, differences.tint, fall.bounce})
            if (!(v >= 0 && v <= 1)) throw new BadInput("differences within a flock must lie between 0 and 1");
        if (!(Math.abs(fall.gravity) <= 100 && fall.drag >= 0 && fall.drag <= 100))
            throw new BadInput("gravity and drag of a flock must lie below 100");
    }

    public static Flock of(int count) {
        return new Flock(
                count,
                1,
                new Room(Layout.AREA, 4, 4, 0),
                new Differences(0.1, 180, 1, 0.1, 0.1),
                Motion.STAND,
                0.6,
                new Fall(1, 12, 1.5, 9.81, 0.1, 0.35, 240),
                false);
    }

    /** One whose copies may stand in each other. */
    public Flock(int count, int seed, Room room, Differences differences, Motion motion, double wander, Fall fall) {
        this(count, seed, room, differences, motion, wander, fall, false);
    }

    /** Of copy {@code i} the k-th number in [-1, 1), always the same. */
    public double random(int i, int k) {
        long h = seed * 0x9E3779B97F4A7C15L + i * 0xBF58476D1CE4E5B9L + k * 0x94D049BB133111EBL;
        h = (h ^ h >>> 30) * 0xBF58476D1CE4E5B9L;
        h = (h ^ h >>> 27) * 0x94D049BB133111EBL;
        return ((h ^ h >>> 31) >>> 11) * 0x1p-52 - 1;
    }
}
