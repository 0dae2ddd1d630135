package dasein.core.light;

import dasein.core.math.Vec3;

/**
 * A disc of light infinitely far away. {@code towards} is the unit direction to its middle, {@code irradiance} what a
 * surface that faces it receives (three colours), spread evenly over a disc of {@code angleRadians} across.
 */
public record Sun(Vec3 towards, double angleRadians, float[] irradiance) {
    /** Cosine of the half angle, at least so small a disc that its solid angle is not zero in floats. */
    public double cosHalf() {
        return Math.cos(Math.max(angleRadians, 0.002) / 2);
    }

    public double solidAngle() {
        return 2 * Math.PI * (1 - cosHalf());
    }

    /** Direction from elevation above the horizon and azimuth (0 = -Z, 90 degrees = +X), in radians. */
    public static Vec3 direction(double elevation, double azimuth) {
        return new Vec3(
                Math.cos(elevation) * Math.sin(azimuth), Math.sin(elevation), -Math.cos(elevation) * Math.cos(azimuth));
    }
}
