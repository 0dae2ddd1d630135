package dasein.core.lens;

import dasein.core.math.Vec3;

/**
 * Focal length and centre in pixels, distortion on the undistorted side: radial k1, k2, k3, tangential p1, p2.
 * Immutable.
 */
public record Lens(
        double focalPx, double centreX, double centreY, double k1, double k2, double k3, double p1, double p2) {
    /** Newton steps for the inverse; quadratic convergence reaches 1e-12 in four for |k1| below 0.3. */
    private static final int INVERSE_STEPS = 8;

    public Lens(double focalPx, double centreX, double centreY, double k1, double k2) {
        this(focalPx, centreX, centreY, k1, k2, 0, 0, 0);
    }

    public Lens withFocal(double f) {
        return new Lens(f, centreX, centreY, k1, k2, k3, p1, p2);
    }

    /** The same lens for an image of another size. */
    public Lens scaled(double s) {
        return new Lens(focalPx * s, centreX * s, centreY * s, k1, k2, k3, p1, p2);
    }

    /** The same lens for a picture whose left and top have moved, pixels. */
    public Lens shifted(double dx, double dy) {
        return new Lens(focalPx, centreX + dx, centreY + dy, k1, k2, k3, p1, p2);
    }

    /** Pixel of a point in camera space (camera looks along -Z, +Y up); null when it is not in front of the camera. */
    public double[] project(Vec3 p) {
        if (p.z() >= -1e-9) return null;
        double x = p.x() / -p.z(), y = p.y() / p.z();
        if (x * x + y * y > maxUndistortedRadius2()) return null;
        return distortToPixel(x, y);
    }

    /** Undistorted normalised coordinates to pixel. */
    public double[] distortToPixel(double x, double y) {
        double r2 = x * x + y * y, d = 1 + r2 * (k1 + r2 * (k2 + r2 * k3));
        return new double[] {
            centreX + focalPx * (x * d + 2 * p1 * x * y + p2 * (r2 + 2 * x * x)),
            centreY + focalPx * (y * d + p1 * (r2 + 2 * y * y) + 2 * p2 * x * y)
        };
    }

    /** Pixel to undistorted normalised coordinates {x, y} (y down). */
    public double[] undistort(double px, double py) {
        double xd = (px - centreX) / focalPx, yd = (py - centreY) / focalPx, rd = Math.sqrt(xd * xd + yd * yd);
        if (rd < 1e-12 && p1 == 0 && p2 == 0) return new double[] {xd, yd};
        double r = rd, max = Math.sqrt(maxUndistortedRadius2());
        for (int i = 0; i < INVERSE_STEPS; i++) {
            double s = r * r,
                    f = r * (1 + s * (k1 + s * (k2 + s * k3))) - rd,
                    g = 1 + s * (3 * k1 + s * (5 * k2 + s * 7 * k3));
            if (g <= 1e-6) break;
            r = Math.min(Math.max(r - f / g, 0), max);
        }
        double scale = rd < 1e-12 ? 1 : r / rd;
        if (p1 == 0 && p2 == 0) return new double[] {xd * scale, yd * scale};
        return decentred(xd, yd, xd * scale, yd * scale);
    }

    /** Newton in two dimensions from the radial answer, which is off by the tangential part only. */
    private double[] decentred(double xd, double yd, double x, double y) {
        for (int i = 0; i < INVERSE_STEPS; i++) {
            double r2 = x * x + y * y, d = 1 + r2 * (k1 + r2 * (k2 + r2 * k3)), dd = k1 + r2 * (2 * k2 + r2 * 3 * k3);
            double ex = x * d + 2 * p1 * x * y + p2 * (r2 + 2 * x * x) - xd,
                    ey = y * d + p1 * (r2 + 2 * y * y) + 2 * p2 * x * y - yd;
            double a = d + 2 * x * x * dd + 2 * p1 * y + 6 * p2 * x,
                    b = 2 * x * y * dd + 2 * p1 * x + 2 * p2 * y,
                    c = d + 2 * y * y * dd + 6 * p1 * y + 2 * p2 * x,
                    det = a * c - b * b;
            if (Math.abs(det) < 1e-9) break;
            x -= (c * ex - b * ey) / det;
            y -= (a * ey - b * ex) / det;
            if (ex * ex + ey * ey < 1e-26) break;
        }
        return new double[] {x, y};
    }

    /** Direction in camera space (not unit length, z = -1) of a pixel. */
    public Vec3 ray(double px, double py) {
        double[] n = undistort(px, py);
        return new Vec3(n[0], -n[1], -1);
    }

    /**
     * Square of the undistorted radius up to which the radial polynomial rises; beyond it a barrel polynomial folds
     * back and shows things twice, so nothing there is projected.
     */
    public double maxUndistortedRadius2() {
        // d/dr [r (1 + k1 r^2 + k2 r^4 + k3 r^6)] = 1 + 3 k1 s + 5 k2 s^2 + 7 k3 s^3 = 0 with s = r^2
        double a = 7 * k3, b = 5 * k2, c = 3 * k1;
        if (Math.abs(a) < 1e-12) return quadratic(b, c);
        // Cardano, for the smallest root above zero.
        double p = (3 * a * c - b * b) / (3 * a * a),
                q = (2 * b * b * b - 9 * a * b * c + 27 * a * a) / (27 * a * a * a),
                shift = -b / (3 * a),
                disc = q * q / 4 + p * p * p / 27,
                least = 1e12;
        if (disc > 0) {
            double u = Math.cbrt(-q / 2 + Math.sqrt(disc)) + Math.cbrt(-q / 2 - Math.sqrt(disc)) + shift;
            return u > 0 ? u : 1e12;
        }
        double m = 2 * Math.sqrt(-p / 3), th = Math.acos(Math.max(-1, Math.min(1, 3 * q / (p * m)))) / 3;
        for (int k = 0; k < 3; k++) {
            double s = m * Math.cos(th - 2 * Math.PI * k / 3) + shift;
            if (s > 0) least = Math.min(least, s);
        }
        return least;
    }

    private static double quadratic(double b, double c) {
        if (Math.abs(b) < 1e-12) return c < 0 ? -1 / c : 1e12;
        double disc = c * c - 4 * b;
        if (disc < 0) return 1e12;
        double u = (-c + Math.sqrt(disc)) / (2 * b),
                v = (-c - Math.sqrt(disc)) / (2 * b),
                lo = Math.min(u, v),
                hi = Math.max(u, v);
        return lo > 0 ? lo : hi > 0 ? hi : 1e12;
    }
}
