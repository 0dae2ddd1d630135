package dasein.core.ground;

import dasein.core.math.Vec3;
import dasein.core.solve.SolvedCamera;
import java.util.List;

/**
 * A point put by hand. Picked in two frames or more it lies where the rays meet; in one frame it lies on the ground, or
 * straight above another point, or on a set piece. What lies on a piece says nothing about the set's frame, in which
 * that piece stands.
 *
 * @param above the point below it, 0 for none; @param on number of the set piece it lies on, 0 or null for none
 */
public record PickedPoint(int id, String name, List<Pick> picks, int above, Integer on) {
    /** Numbers of tracks and of marks put by hand lie below. */
    public static final int FIRST_ID = 2_000_000;

    /** A place in a frame, pixels. */
    public record Pick(int frame, double x, double y) {}

    public PickedPoint {
        // Documents from before points on pieces say nothing of them.
        if (on == null) on = 0;
    }

    public PickedPoint(int id, String name, List<Pick> picks, int above) {
        this(id, name, picks, above, 0);
    }

    public PickedPoint over(int point, int piece) {
        return new PickedPoint(id, name, picks, point, piece);
    }

    /**
     * Where a point that lies on a piece lies.
     *
     * @param camera in the set's frame; @param piece as it stands in the frame it was picked in
     * @return null when it was picked beside the piece or in a frame that is not solved
     */
    public Vec3 place(SolvedCamera camera, Shape piece) {
        Pick k = picks.get(0);
        if (!camera.has(k.frame())) return null;
        SetPoints.Ray r = SetPoints.ray(camera, k.frame(), k.x(), k.y());
        double far = piece.meets(r.eye(), r.towards());
        return far == Double.POSITIVE_INFINITY ? null : r.eye().plus(r.towards().times(far));
    }

    public PickedPoint with(Pick p) {
        List<Pick> all = new java.util.ArrayList<>(
                picks.stream().filter(k -> k.frame() != p.frame()).toList());
        all.add(p);
        all.sort(java.util.Comparator.comparingInt(Pick::frame));
        return new PickedPoint(id, name, List.copyOf(all), above, on);
    }
}
