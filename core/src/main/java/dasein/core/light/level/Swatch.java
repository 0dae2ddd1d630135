package dasein.core.light.level;

import dasein.core.BadInput;
import dasein.core.math.Vec3;

/**
 * A piece of a dull surface in the plate.
 *
 * @param light what the plate shows, scene-linear, three colours
 * @param normal unit, of the surface
 * @param albedo reflectance by colour, 0 to 1; null where it is not known, but the same for all that share {@code of}
 * @param lit whether the sun reaches it
 * @param of name of the surface
 */
public record Swatch(String of, double[] light, Vec3 normal, double[] albedo, boolean lit) {
    public Swatch {
        for (double v : light)
            if (!(v > 0) || !(v < 1e6)) throw new BadInput("the plate is black or broken where " + of + " was marked");
        if (albedo != null)
            for (double a : albedo)
                if (!(a > 0.005 && a <= 1))
                    throw new BadInput("the reflectance of " + of + " must lie between 0.005 and 1");
    }
}
