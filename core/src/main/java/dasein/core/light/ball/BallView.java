package dasein.core.light.ball;

import dasein.core.BadInput;
import dasein.core.math.Vec3;

/**
 * How a camera sees a mirror ball: which direction is reflected at a pixel, and where a direction is reflected. With a
 * finite distance less than the half of the ball is seen, and the view rays spread; far away (orthographic) all of them
 * run along -Z.
 */
public final class BallView {
    private static final int STEPS = 60;

    private final int width, height;
    private final Circle circle;
    /** Pixels of focal length; 0 when orthographic. */
    private final double focal;
    /** Towards the ball's middle, of length 1: its distance is the unit. */
    private final Vec3 middle;
    /** Radius in that unit. */
    private final double radius;

    private BallView(int width, int height, Circle circle, double focal, Vec3 middle, double radius) {
        this.width = width;
        this.height = height;
        this.circle = circle;
        this.focal = focal;
        this.middle = middle;
        this.radius = radius;
    }

    /** All view rays parallel. */
    public static BallView orthographic(int width, int height, Circle c) {
        return new BallView(width, height, c, 0, new Vec3(0, 0, -1), 1);
    }

    /**
     * @param width, height of the whole photograph; @param fieldRadians across its width
     * @throws BadInput when a ball of that size cannot be in such a photograph
     */
    public static BallView perspective(int width, int height, double fieldRadians, Circle c) {
        if (!(fieldRadians > 0 && fieldRadians < Math.PI))
            throw new BadInput("the field of view must lie between 0 and 180 degrees");
        double f = width / 2.0 / Math.tan(fieldRadians / 2);
        // Rays through the outline lie on a cone about the ball's middle: the plane through their ends has its normal.
        double[][] a = new double[3][3];
        double[] b = new double[3];
        int n = 64;
        for (int k = 0; k < n; k++) {
            double t = 2 * Math.PI * k / n;
            double[] d = ray(width, height, f, c.x() + c.r() * Math.cos(t), c.y() + c.r() * Math.sin(t))
                    .array();
            for (int i = 0; i < 3; i++) {
                b[i] += d[i];
                for (int j = 0; j < 3; j++) a[i][j] += d[i] * d[j];
            }
        }
        Vec3 normal = solve(a, b);
        double cos = 1 / normal.length();
        if (!(cos > 0 && cos < 1)) throw new BadInput("the outline of the ball does not fit the field of view");
        return new BallView(width, height, c, f, normal.unit(), Math.sqrt(1 - cos * cos));
    }

    private static Vec3 solve(double[][] a, double[] b) {
        Vec3 x = Vec3.of(a[0]), y = Vec3.of(a[1]), z = Vec3.of(a[2]), r = Vec3.of(b);
        double d = x.dot(y.cross(z));
        return new Vec3(r.dot(y.cross(z)) / d, x.dot(r.cross(z)) / d, x.dot(y.cross(r)) / d);
    }

    private static Vec3 ray(int width, int height, double focal, double px, double py) {
        return new Vec3((px - width / 2.0) / focal, (height / 2.0 - py) / focal, -1).unit();
    }

    /** Towards the camera from the ball: where the photographer is seen. */
    public Vec3 towardsCamera() {
        return middle.times(-1);
    }

    /** Half the angle under which the camera sees the ball, radians; 0 when orthographic. */
    public double halfAngle() {
        return focal == 0 ? 0 : Math.asin(radius);
    }

    /** Direction that is reflected at a pixel; null beside the ball. */
    public Vec3 direction(double px, double py) {
        if (focal == 0) {
            double x = (px - circle.x()) / circle.r(), y = (circle.y() - py) / circle.r(), z2 = 1 - x * x - y * y;
            if (z2 < 0) return null;
            return mirrored(new Vec3(0, 0, -1), new Vec3(x, y, Math.sqrt(z2)));
        }
        Vec3 d = ray(width, height, focal, px, py);
        double along = d.dot(middle), disc = along * along - 1 + radius * radius;
        if (disc < 0) return null;
        Vec3 p = d.times(along - Math.sqrt(disc));
        return mirrored(d, p.minus(middle).times(1 / radius));
    }

    private static Vec3 mirrored(Vec3 d, Vec3 n) {
        return d.minus(n.times(2 * d.dot(n)));
    }

    /**
     * Where a direction is reflected.
     *
     * @param out pixel x and y, and the cosine between the ball's normal and the way to the camera
     * @return false in the blind cone behind the ball
     */
    public boolean pixel(Vec3 direction, double[] out) {
        if (focal == 0) {
            Vec3 n = direction.plus(Vec3.Z);
            double l = n.length();
            if (l < 1e-9) return false;
            out[0] = circle.x() + circle.r() * n.x() / l;
            out[1] = circle.y() - circle.r() * n.y() / l;
            out[2] = n.z() / l;
            return true;
        }
        // The normal halves the way between both; where it is moves the view ray a little, so again.
        double mx = middle.x(), my = middle.y(), mz = middle.z(), x = mx, y = my, z = mz, nx = 0, ny = 0, nz = 0;
        for (int k = 0; k < STEPS; k++) {
            nx = direction.x() - x;
            ny = direction.y() - y;
            nz = direction.z() - z;
            double l = Math.sqrt(nx * nx + ny * ny + nz * nz);
            if (l < 1e-9) return false;
            nx /= l;
            ny /= l;
            nz /= l;
            double ax = mx + radius * nx, ay = my + radius * ny, az = mz + radius * nz;
            double r = 1 / Math.sqrt(ax * ax + ay * ay + az * az);
            ax *= r;
            ay *= r;
            az *= r;
            double step = Math.abs(ax - x) + Math.abs(ay - y) + Math.abs(az - z);
            x = ax;
            y = ay;
            z = az;
            if (step < 1e-8) break;
        }
        double cos = -(nx * x + ny * y + nz * z);
        if (cos <= 0 || z >= 0) return false;
        out[0] = width / 2.0 - focal * x / z;
        out[1] = height / 2.0 + focal * y / z;
        out[2] = cos;
        return true;
    }

    /** The mean angle between neighbouring map directions that one pixel shows, radians, where the cosine is that. */
    double pixelAngle(double cos) {
        // Area of a pixel on the ball over the reflected solid angle: r^2 cos / 4 (mirror doubles angles).
        return 2 / (circle.r() * Math.sqrt(Math.max(cos, 1e-3)));
    }
}
