package dasein.core.light.ball;

import dasein.core.image.Image;
import dasein.core.light.Environment;
import dasein.core.light.photo.Bracket;
import dasein.core.light.photo.Photo;
import dasein.core.math.Quat;
import dasein.core.math.Vec3;
import java.util.ArrayList;
import java.util.List;
import java.util.SplittableRandom;
import java.util.function.DoubleUnaryOperator;

/**
 * A mirror ball under a known sky, photographed: rays are met with the sphere and mirrored here anew, so that the test
 * shares no geometry with what it tests.
 */
final class KnownBall {
    /** Directions of an icosahedron's corners. */
    static final List<Vec3> TWELVE = twelve();

    /** How it is photographed. */
    static final class Camera {
        double yawDeg;
        double fieldDeg = 12;
        int width = 480, height = 360;
        /** Distance of the ball in its radii; its place off the middle of the picture, in pixels. */
        double distance = 24, offX = 18, offY = -12;

        boolean photographer;
        double reflectance = 0.7;
    }

    private KnownBall() {}

    private static List<Vec3> twelve() {
        double g = (1 + Math.sqrt(5)) / 2;
        List<Vec3> all = new ArrayList<>();
        for (int a = -1; a <= 1; a += 2)
            for (int b = -1; b <= 1; b += 2) {
                all.add(new Vec3(0, a, b * g).unit());
                all.add(new Vec3(a, b * g, 0).unit());
                all.add(new Vec3(b * g, 0, a).unit());
            }
        return all;
    }

    /** A sky with a soft sun, a dark wall on one side, windows, a striped floor. */
    static double[] sky(Vec3 d) {
        Vec3 sun = new Vec3(0.5, 0.6, -0.6).unit();
        double glow = 9 * Math.exp((d.dot(sun) - 1) * 60), az = Math.atan2(d.x(), -d.z());
        double[] c;
        if (d.y() > 0) {
            double l = 0.6 + 0.5 * d.y() + 0.15 * Math.sin(5 * az + 3 * d.y());
            c = new double[] {l * 0.8, l * 0.95, l * 1.25};
            if (d.y() < 0.5 && az > 0.9 && az < 2.2) {
                boolean pane = (int) Math.floor(az * 7) % 2 == 0 && (int) Math.floor(d.y() * 12) % 2 == 0;
                c = pane ? new double[] {1.8, 1.6, 1.1} : new double[] {0.12, 0.1, 0.09};
            }
            if (d.y() < 0.3 && az < -1.4 && az > -2.1) c = new double[] {0.05, 0.11, 0.04};
        } else {
            double g = 0.28 + (((int) Math.floor(az * 4) & 1) == 0 ? 0.1 : 0);
            c = new double[] {g, g * 0.9, g * 0.8};
        }
        return new double[] {c[0] + glow, c[1] + 0.95 * glow, c[2] + 0.8 * glow};
    }

    /** In the first camera's frame, which is the world's. */
    static Image map(int width) {
        Image m = new Image(width, width / 2, 3);
        for (int y = 0; y < width / 2; y++)
            for (int x = 0; x < width; x++) {
                double[] sum = new double[3];
                for (int k = 0; k < 4; k++) {
                    double[] c = sky(Environment.fromUv(
                            (x + 0.25 + 0.5 * (k & 1)) / width, (y + 0.25 + 0.5 * (k >> 1)) / (width / 2.0)));
                    for (int j = 0; j < 3; j++) sum[j] += c[j] / 4;
                }
                for (int j = 0; j < 3; j++) m.planes[j][y * width + x] = (float) sum[j];
            }
        return m;
    }

    /** What a camera sees of it, before exposure. */
    static Image seen(Camera cam) {
        Image im = new Image(cam.width, cam.height, 3);
        Quat world = Quat.axisAngle(Vec3.Y, Math.toRadians(cam.yawDeg));
        double f = cam.width / 2.0 / Math.tan(Math.toRadians(cam.fieldDeg) / 2);
        Vec3 middle = new Vec3(cam.offX / f, -cam.offY / f, -1).unit().times(cam.distance);
        Image.rows(cam.height, y -> {
            for (int x = 0; x < cam.width; x++) {
                double[] sum = new double[3];
                for (int k = 0; k < 16; k++) {
                    Vec3 d = new Vec3(
                                    (x + (k % 4 + 0.5) / 4 - cam.width / 2.0) / f,
                                    (cam.height / 2.0 - y - (k / 4 + 0.5) / 4) / f,
                                    -1)
                            .unit();
                    double b = d.dot(middle), disc = b * b - middle.dot(middle) + 1;
                    double[] c;
                    if (disc < 0) {
                        c = sky(world.rotate(d));
                    } else {
                        Vec3 n = d.times(b - Math.sqrt(disc)).minus(middle), r = d.minus(n.times(2 * d.dot(n)));
                        c = sky(world.rotate(r));
                        // Who stands behind the camera, from the head a little above it to the feet.
                        if (cam.photographer && r.z() > 0) {
                            Vec3 back = middle.times(-1 / cam.distance);
                            double across = Math.toDegrees(Math.atan2(r.x(), r.z()) - Math.atan2(back.x(), back.z())),
                                    up = Math.toDegrees(Math.asin(r.y()) - Math.asin(back.y()));
                            if (Math.abs(across) < 7 && up < 8 && up > -40) c = new double[] {0.03, 0.03, 0.05};
                        }
                        for (int j = 0; j < 3; j++) c[j] *= cam.reflectance;
                    }
                    for (int j = 0; j < 3; j++) sum[j] += c[j] / 16;
                }
                for (int j = 0; j < 3; j++) im.planes[j][y * cam.width + x] = (float) sum[j];
            }
        });
        return im;
    }

    static Bracket photographed(Camera cam, double[] stops, DoubleUnaryOperator curve, long seed) {
        Image light = seen(cam);
        List<Photo> all = new ArrayList<>();
        for (int k = 0; k < stops.length; k++) {
            SplittableRandom r = new SplittableRandom(seed + k);
            Image codes = new Image(light.width, light.height, 3);
            double t = Math.pow(2, stops[k]);
            for (int c = 0; c < 3; c++)
                for (int i = 0; i < codes.planes[c].length; i++) {
                    double l = light.planes[c][i] * t;
                    l += r.nextGaussian() * Math.sqrt(1e-4 * l + 2e-6);
                    codes.planes[c][i] = Math.round(255 * curve.applyAsDouble(Math.max(0, Math.min(1, l)))) / 255f;
                }
            all.add(Photo.ofCodes("ball " + stops[k], codes));
        }
        return Bracket.of(all, stops);
    }

    /** As some camera bends. */
    static double curve(double l) {
        double v = Math.pow(l, 1 / 2.2);
        return v + 0.3 * v * (1 - v) * (2 * v - 1);
    }
}
