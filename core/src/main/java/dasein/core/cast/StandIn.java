package dasein.core.cast;

import dasein.core.math.Vec3;
import dasein.core.solve.SolvedCamera;

/** A first performer where nobody has said anything yet: as high as a person, where the ground is seen. */
public final class StandIn {
    /** Metres; the set's unit where no size is known. */
    public static final double HEIGHT = 1.8;

    /** Across, and down from the top: a place that is ground in most shots. */
    private static final double ACROSS = 0.5, DOWN = 0.72;

    private static final double NEAREST = 2, FARTHEST = 12;

    private StandIn() {}

    /**
     * Where the ray through the lower middle of the middle frame meets the ground, neither close nor far; in whole
     * hundredths.
     *
     * @param c in the set's frame
     */
    public static Vec3 place(SolvedCamera c) {
        SolvedCamera.Frame f = c.frames().get(c.frames().size() / 2);
        Vec3 eye = f.pose().position(),
                ray = f.pose().rotation().rotate(c.lens(f.frame()).ray(ACROSS * c.width(), DOWN * c.height())),
                level = new Vec3(ray.x(), 0, ray.z());
        double far = ray.y() < -1e-3 ? -eye.y() / ray.y() * level.length() : FARTHEST,
                way = Math.max(NEAREST, Math.min(FARTHEST, far));
        Vec3 to = level.length() < 1e-6 ? Vec3.ZERO : level.unit().times(way);
        return new Vec3(Math.round(100 * (eye.x() + to.x())) / 100.0, 0, Math.round(100 * (eye.z() + to.z())) / 100.0);
    }
}
