package dasein.core.light.lamp;

import dasein.core.math.Vec3;
import dasein.core.model.Texture;

/**
 * A lamp as it shines in a frame.
 *
 * @param at middle, metres, in the set
 * @param towards unit, which way it faces; of a line: which way it runs
 * @param right unit, square to it: of a rectangle, along its width
 * @param width of a rectangle or line; diameter of a sphere or disc; metres
 * @param height of a rectangle
 * @param cosCone, cosFull cosines of half the angle at which a spot is dark and until which it is full
 * @param intensity three colours: irradiance a metre off on what faces it, the way it faces
 * @param real it stood on set: the plate shows its light already, which performers take away
 * @param picture that a rectangle or disc shines with, upright as it is seen from where it faces; null for none
 */
public record Lamp(
        Kind kind,
        Vec3 at,
        Vec3 towards,
        Vec3 right,
        double width,
        double height,
        double cosCone,
        double cosFull,
        float[] intensity,
        boolean real,
        Texture picture) {
    /** Without a picture. */
    public Lamp(
            Kind kind,
            Vec3 at,
            Vec3 towards,
            Vec3 right,
            double width,
            double height,
            double cosCone,
            double cosFull,
            float[] intensity,
            boolean real) {
        this(kind, at, towards, right, width, height, cosCone, cosFull, intensity, real, null);
    }

    public Lamp showing(Texture other) {
        return new Lamp(kind, at, towards, right, width, height, cosCone, cosFull, intensity, real, other);
    }

    public enum Kind {
        POINT,
        SPHERE,
        DISC,
        RECTANGLE,
        LINE,
        SPOT;

        /** Whether it has an area, so that it can be mirrored. */
        public boolean area() {
            return this == SPHERE || this == DISC || this == RECTANGLE;
        }
    }

    /** Square metres that face the way it faces; of kinds with an area. */
    public double area() {
        return switch (kind) {
            case SPHERE, DISC -> Math.PI * width * width / 4;
            case RECTANGLE -> width * height;
            default -> 0;
        };
    }
}
