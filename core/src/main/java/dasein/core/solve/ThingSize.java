package dasein.core.solve;

import dasein.core.BadInput;
import dasein.core.math.Vec3;

/**
 * How large a thing that moves is. Its marks do not say: one twice as far off and twice as large looks the same, from a
 * camera that is solved in every frame. What is known of it says how many times as far, and so as large, it is.
 */
public final class ThingSize {
    private ThingSize() {}

    /**
     * By a length on itself.
     *
     * @param a, b two of its points; @param length that is known between them; all in one unit
     * @throws BadInput when they lie in one place
     */
    public static double byLength(Vec3 a, Vec3 b, double length) {
        double now = a.distance(b);
        if (!(now > 0) || !(length > 0)) throw new BadInput("two points of it must lie apart");
        return length / now;
    }

    /**
     * By a point that touches the ground at height 0 in a frame.
     *
     * @param eye of the camera in that frame; @param point where it is now, both in the set
     * @throws BadInput when it is not seen below the horizon
     */
    public static double byGround(Vec3 eye, Vec3 point) {
        double down = eye.y() - point.y();
        if (!(eye.y() > 0) || !(down > 1e-9)) throw new BadInput("what touches the ground is seen below the horizon");
        return eye.y() / down;
    }
}
