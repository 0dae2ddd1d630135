package dasein.core.light.pano;

import dasein.core.BadInput;
import dasein.core.image.Image;
import dasein.core.light.ball.Circle;
import dasein.core.math.Vec3;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import org.ejml.simple.SimpleMatrix;

/**
 * Two pictures of an equidistant fisheye (the angle off its axis grows evenly with the distance from the middle), one
 * to the front (-Z), one to the back, joined with soft seams.
 */
public final class Fisheyes {
    private static final int RAYS = 720;

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

    /**
     * The round image in a picture: on rays from the picture's middle outwards, where the light ends for good; a circle
     * by least squares through these places, those that lie far off it left out. Where no dark rim is seen it is the
     * one that fills the picture.
     */
    public static Circle found(Image im) {
        float[] l = im.luminance(), sorted = l.clone();
        Arrays.sort(sorted);
        // The corners are dark; what is lit is much brighter than they are.
        float dark = sorted[sorted.length / 100], bright = sorted[sorted.length / 2];
        float least = dark + 0.05f * (bright - dark);
        double cx = im.width / 2.0, cy = im.height / 2.0, far = Math.hypot(cx, cy);
        List<double[]> rim = new ArrayList<>();
        for (int k = 0; k < RAYS; k++) {
            double a = 2 * Math.PI * k / RAYS, dx = Math.cos(a), dy = Math.sin(a);
            for (double r = far; r > far / 4; r -= 0.5) {
                int x = (int) (cx + r * dx), y = (int) (cy + r * dy);
                if (x < 1 || y < 1 || x >= im.width - 1 || y >= im.height - 1 || l[y * im.width + x] <= least) continue;
                // What reaches the picture's border was cut off there and tells nothing of the rim.
                if (x > 2 && y > 2 && x < im.width - 3 && y < im.height - 3)
                    rim.add(new double[] {cx + (r + 0.25) * dx, cy + (r + 0.25) * dy});
                break;
            }
        }
        if (rim.size() < RAYS / 4) return whole(im);
        Circle c = through(rim);
        Circle first = c;
        rim.removeIf(p -> Math.abs(Math.hypot(p[0] - first.x(), p[1] - first.y()) - first.r()) > 0.02 * first.r());
        return rim.size() < RAYS / 4 ? whole(im) : through(rim);
    }

    /** x^2 + y^2 + a x + b y + c = 0 by least squares (Kasa 1976). */
    private static Circle through(List<double[]> places) {
        SimpleMatrix m = new SimpleMatrix(places.size(), 3), r = new SimpleMatrix(places.size(), 1);
        for (int i = 0; i < places.size(); i++) {
            double x = places.get(i)[0], y = places.get(i)[1];
            m.setRow(i, 0, x, y, 1);
            r.set(i, 0, -x * x - y * y);
        }
        SimpleMatrix k = m.solve(r);
        double x = -k.get(0) / 2, y = -k.get(1) / 2;
        return new Circle(x, y, Math.sqrt(Math.max(1, x * x + y * y - k.get(2))));
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
