package dasein.core.lens;

import dasein.core.math.Vec3;

/**
 * Focal length and centre in pixels, radial distortion k1, k2 on the undistorted side. Immutable.
 */
public record Lens(double focalPx, double centreX, double centreY, double k1, double k2) {
    /** Newton steps for the inverse; quadratic convergence reaches 1e-12 in four for |k1| below 0.3. */
    private static final int INVERSE_STEPS = 8;

    public Lens withFocal(double f) { return new Lens(f, centreX, centreY, k1, k2); }

    /** The same lens for an image of another size. */
    public Lens scaled(double s) { return new Lens(focalPx * s, centreX * s, centreY * s, k1, k2); }

    /** Pixel of a point in camera space (camera looks along -Z, +Y up); null when it is not in front of the camera. */
    public double[] project(Vec3 p) {
        if (p.z() >= -1e-9) return null;
        double x = p.x() / -p.z(), y = p.y() / p.z();
        if (x * x + y * y > maxUndistortedRadius2()) return null;
        return distortToPixel(x, y);
    }

    /** Undistorted normalised coordinates to pixel. */
    public double[] distortToPixel(double x, double y) {
        double r2 = x * x + y * y, d = 1 + r2 * (k1 + r2 * k2);
        return new double[] {centreX + focalPx * x * d, centreY + focalPx * y * d};
    }

    /** Pixel to undistorted normalised coordinates {x, y} (y down). */
    public double[] undistort(double px, double py) {
        double xd = (px - centreX) / focalPx, yd = (py - centreY) / focalPx, rd = Math.sqrt(xd * xd + yd * yd);
        if (rd < 1e-12) return new double[] {xd, yd};
        double r = rd, max = Math.sqrt(maxUndistortedRadius2());
        for (int i = 0; i < INVERSE_STEPS; i++) {
            double r2 = r * r, f = r * (1 + r2 * (k1 + r2 * k2)) - rd, g = 1 + r2 * (3 * k1 + 5 * r2 * k2);
            if (g <= 1e-6) break;
            r = Math.min(Math.max(r - f / g, 0), max);
        }
        return new double[] {xd * r / rd, yd * r / rd};
    }

    /** Direction in camera space (not unit length, z = -1) of a pixel. */
    public Vec3 ray(double px, double py) {
        double[] n = undistort(px, py);
        return new Vec3(n[0], -n[1], -1);
    }

    /**
     * Square of the undistorted radius up to which the polynomial rises; beyond it a barrel polynomial folds back and shows
     * things twice, so nothing there is projected.
     */
    public double maxUndistortedRadius2() {
        // d/dr [r (1 + k1 r^2 + k2 r^4)] = 1 + 3 k1 s + 5 k2 s^2 = 0 with s = r^2
        if (Math.abs(k2) < 1e-12) return k1 < 0 ? -1 / (3 * k1) : 1e12;
        double disc = 9 * k1 * k1 - 20 * k2;
        if (disc < 0) return 1e12;
        double a = (-3 * k1 + Math.sqrt(disc)) / (10 * k2), b = (-3 * k1 - Math.sqrt(disc)) / (10 * k2);
        double lo = Math.min(a, b), hi = Math.max(a, b);
        return lo > 0 ? lo : hi > 0 ? hi : 1e12;
    }
}
