package dasein.core.ground;

import java.util.List;

/**
 * A point put by hand. Picked in two frames or more it lies where the rays meet; in one frame it lies on the ground, or straight above
 * another point.
 *
 * @param above the point below it, 0 for none
 */
public record PickedPoint(int id, String name, List<Pick> picks, int above) {
    /** Numbers of tracks and of marks put by hand lie below. */
    public static final int FIRST_ID = 2_000_000;

    /** A place in a frame, pixels. */
    public record Pick(int frame, double x, double y) {}

    public PickedPoint with(Pick p) {
        List<Pick> all = new java.util.ArrayList<>(picks.stream().filter(k -> k.frame() != p.frame()).toList());
        all.add(p);
        all.sort(java.util.Comparator.comparingInt(Pick::frame));
        return new PickedPoint(id, name, List.copyOf(all), above);
    }
}
