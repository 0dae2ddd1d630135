package dasein.core.light.lamp;

import dasein.core.BadInput;
import dasein.core.math.Vec3;

/** Where a lamp must stand, or the sun, so that what is seen of it is seen where a person wants it. */
public final class LampAim {
    private LampAim() {}

    /**
     * The way from a surface to a light whose mirror image is seen there: the way to the eye, mirrored at the normal.
     *
     * @param normal unit
     */
    public static Vec3 byHighlight(Vec3 eye, Vec3 at, Vec3 normal) {
        Vec3 v = eye.minus(at).unit();
        if (!(v.dot(normal) > 1e-3)) throw new BadInput("that surface is seen edge on: its highlight cannot be there");
        return normal.times(2 * v.dot(normal)).minus(v).unit();
    }

    /**
     * The way from a thing to the light that throws its shadow there.
     *
     * @param tip where the shadow of {@code top} is to lie
     */
    public static Vec3 byShadow(Vec3 top, Vec3 tip) {
        Vec3 way = top.minus(tip);
        if (!(way.length() > 1e-3)) throw new BadInput("what casts the shadow and its shadow are one place");
        if (!(way.y() > 0)) throw new BadInput("what casts the shadow must stand higher than its shadow lies");
        return way.unit();
    }
}
