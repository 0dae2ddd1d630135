package dasein.core.render;

import dasein.core.ground.Cut;
import java.util.List;

/**
 * Level ground at height 0 outside some outlines, which only hides what lies below it. It is no mesh: nothing but rays
 * that end below the ground need to ask for it.
 *
 * @param open convex outlines seen from above (x, z), where it does not hide: the catcher, which hides by itself,
 *     holes, and what stands deeper than the ground
 */
public record Beyond(List<double[][]> open) {
    /** Metres that feet may be sunk, as they are by rounding. */
    private static final float SUNK = 1e-3f;

    /** Whether it lies between the eye and what a ray meets. @param d unit direction; @param t metres along it */
    boolean hides(float ox, float oy, float oz, float dx, float dy, float dz, float t) {
        if (!(oy > 0) || !(oy + t * dy < -SUNK)) return false;
        double at = -oy / dy, x = ox + at * dx, z = oz + at * dz;
        return open.stream().noneMatch(o -> Cut.inside(o, x, z));
    }
}
