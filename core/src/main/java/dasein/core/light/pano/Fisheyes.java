package dasein.core.light.pano;

import dasein.core.BadInput;
import dasein.core.image.Image;
import dasein.core.light.ball.Circle;
import dasein.core.math.Vec3;

/**
 * Two pictures of an equidistant fisheye (the angle off its axis grows evenly with the distance from the middle), one
 * to the front (-Z), one to the back, joined with soft seams.
 */
public final class Fisheyes {
    private Fisheyes() {}

    /**
     * @param a, b circles of the pictures' round images, pixels
     * @param fieldDeg from rim to rim, at least 180
     */
    public static Image latLong(Image front, Circle a, Image back, Circle b, double fieldDeg, int width) {
        if (!(fieldDeg >= 180 && fieldDeg <= 280))
            throw new BadInput("the field of a fisheye must lie between 180 and 280 degrees");
        double half = Math.toRadians(fieldDeg) / 2;
        return Turned.blended(
                width,
                java.util.List.of(d -> at(d, front, a, half), d -> at(new Vec3(-d.x(), d.y(), -d.z()), back, b, half)));
    }

    /** The circle that fills a picture. */
    public static Circle whole(Image im) {
        return new Circle(im.width / 2.0, im.height / 2.0, Math.min(im.width, im.height) / 2.0);
    }

    private static Turned.Sample at(Vec3 d, Image im, Circle c, double half) {
        double theta = Math.acos(Math.max(-1, Math.min(1, -d.z()))), r = c.r() * theta / half;
        if (theta >= half) return null;
        double across = Math.hypot(d.x(), d.y()),
                ux = across < 1e-12 ? 0 : d.x() / across,
                uy = across < 1e-12 ? 0 : d.y() / across;
        // Both see the seam; each fades out over the part that the other sees too, and over its outermost pixel.
        double over = Math.max(half - Math.PI / 2, half * 1.5 / c.r());
        double weight = Math.max(0, Math.min(1, (half - theta) / (2 * over)));
        return new Turned.Sample(im, c.x() + r * ux, c.y() - r * uy, weight * weight * (3 - 2 * weight) + 1e-9);
    }
}
