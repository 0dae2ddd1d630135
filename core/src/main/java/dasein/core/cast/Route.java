package dasein.core.cast;

import dasein.core.BadInput;
import java.util.List;

/**
 * A way over the ground that a performer takes, heading along it: a smooth curve through points.
 *
 * @param points x, z of each, metres
 * @param start frame in which it sets out; @param speed metres a second, where the distance is not keyed
 * @param steps the clip runs as fast as its own steps need for that distance, so that feet stay where they are set down
 */
public record Route(List<Double> points, double start, double speed, boolean steps) {
    private static final int MOST = 500, PARTS = 32;

    public Route {
        int n = points.size();
        if (n < 4 || n % 2 != 0 || n > 2 * MOST) throw new BadInput("a route needs from 2 to " + MOST + " points");
        for (double v : points) if (!(Math.abs(v) < 1e5)) throw new BadInput("a point of the route lies nowhere");
        for (int i = 2; i < n; i += 2)
            if (Math.hypot(points.get(i) - points.get(i - 2), points.get(i + 1) - points.get(i - 1)) < 1e-3)
                throw new BadInput("two points of the route are the same");
        if (!(Math.abs(speed) <= 1000)) throw new BadInput("the speed along the route must lie below 1000 m/s");
    }

    /** Lengths along it and what lies there, made once. */
    public Walked walked() {
        return new Walked(points);
    }

    /** The curve by its length. */
    public static final class Walked {
        private final double[] x, z, s;

        private Walked(List<Double> points) {
            int n = points.size() / 2, m = (n - 1) * PARTS + 1;
            x = new double[m];
            z = new double[m];
            s = new double[m];
            for (int i = 0, k = 0; i < n - 1; i++) {
                for (int j = 0; j <= (i == n - 2 ? PARTS : PARTS - 1); j++, k++) {
                    double u = (double) j / PARTS;
                    x[k] = between(points, 0, i, u);
                    z[k] = between(points, 1, i, u);
                    if (k > 0) s[k] = s[k - 1] + Math.hypot(x[k] - x[k - 1], z[k] - z[k - 1]);
                }
            }
        }

        /**
         * Centripetal Catmull-Rom (Yuksel, Schaefer and Keyser 2011), which neither loops nor overshoots between close
         * points; the ends go on straight.
         */
        private static double between(List<Double> p, int axis, int i, double u) {
            int n = p.size() / 2;
            double[][] q = new double[4][];
            for (int k = 0; k < 4; k++) {
                int j = i - 1 + k;
                q[k] = j < 0
                        ? new double[] {2 * p.get(0) - p.get(2), 2 * p.get(1) - p.get(3)}
                        : j >= n
                                ? new double[] {
                                    2 * p.get(2 * n - 2) - p.get(2 * n - 4), 2 * p.get(2 * n - 1) - p.get(2 * n - 3)
                                }
                                : new double[] {p.get(2 * j), p.get(2 * j + 1)};
            }
            double[] t = new double[4];
            for (int k = 1; k < 4; k++)
                t[k] = t[k - 1] + Math.sqrt(Math.hypot(q[k][0] - q[k - 1][0], q[k][1] - q[k - 1][1]));
            double at = t[1] + u * (t[2] - t[1]);
            double a = line(q[0][axis], q[1][axis], t[0], t[1], at),
                    b = line(q[1][axis], q[2][axis], t[1], t[2], at),
                    c = line(q[2][axis], q[3][axis], t[2], t[3], at);
            double d = line(a, b, t[0], t[2], at), e = line(b, c, t[1], t[3], at);
            return line(d, e, t[1], t[2], at);
        }

        private static double line(double a, double b, double from, double to, double at) {
            return a + (b - a) * (at - from) / (to - from);
        }

        public double length() {
            return s[s.length - 1];
        }

        /**
         * x, z and the heading in radians (0 towards +Z, counter-clockwise from above) after a way; beyond either end
         * it goes on straight.
         */
        public double[] at(double way) {
            int k = java.util.Arrays.binarySearch(s, way);
            if (k < 0) k = -k - 2;
            k = Math.max(0, Math.min(s.length - 2, k));
            double u = (way - s[k]) / (s[k + 1] - s[k]);
            // Headings are those of the chords about the place, so that they change evenly.
            double h = direction(k),
                    next = direction(Math.min(s.length - 2, k + 1)),
                    before = direction(Math.max(0, k - 1)),
                    v = Math.max(0, Math.min(1, u));
            double heading = v < 0.5 ? before + (0.5 + v) * turn(before, h) : h + (v - 0.5) * turn(h, next);
            return new double[] {x[k] + u * (x[k + 1] - x[k]), z[k] + u * (z[k + 1] - z[k]), heading};
        }

        private double direction(int k) {
            return Math.atan2(x[k + 1] - x[k], z[k + 1] - z[k]);
        }

        private static double turn(double from, double to) {
            return Math.IEEEremainder(to - from, 2 * Math.PI);
        }
    }
}
