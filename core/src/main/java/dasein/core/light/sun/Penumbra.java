package dasein.core.light.sun;

import dasein.core.BadInput;
import dasein.core.image.Image;
import dasein.core.math.Vec3;
import dasein.core.solve.SolvedCamera;
import org.ejml.simple.SimpleMatrix;

/**
 * The soft edge of a real shadow, measured across. A disc seen past a straight edge lights in proportion to the part of
 * it that is seen: along the stroke that profile's derivative is a half circle, here blurred by what camera and picture
 * add, a normal distribution of known width. (Fitting a plain error function instead makes the sun 11 % too large.)
 */
public final class Penumbra {
    private static final int ROUNDS = 60;
    /** Samples along a stroke: so many a pixel, but within these. */
    private static final int A_PIXEL = 4, FEWEST = 48, MOST = 200;

    private static final int STROKES = 9;
    /** Of the half circle: Gauss-Chebyshev of the second kind, whose weight it is (Abramowitz and Stegun 25.4.40). */
    private static final int NODES = 24;

    /** Standard deviation of an edge between pixels that are even within themselves and joined by straight lines. */
    public static final double PIXEL_BLUR = 0.45;

    /**
     * @param centre along the stroke from 0 to 1; @param radiusPx half of the width across the edge over which the
     *     light changes, pixels; @param lit, shaded linear light of either side, by colour; @param lean of the edge
     *     against a right angle to the stroke, radians
     */
    public record Edge(double centre, double radiusPx, double[] lit, double[] shaded, double lean) {}

    private Penumbra() {}

    /**
     * Fits the edge between two places, over strokes to both sides of the one drawn.
     *
     * @param linear the plate; @param from, to pixels on either side of the edge
     * @param blur standard deviation of a sharp edge in this picture, pixels
     * @throws BadInput when the stroke is too short or shows no edge
     */
    public static Edge measure(Image linear, double[] from, double[] to, double blur) {
        double length = Math.hypot(to[0] - from[0], to[1] - from[1]);
        if (!(length >= 4)) throw new BadInput("the stroke across the shadow's edge is shorter than four pixels");
        double ux = (to[0] - from[0]) / length, uy = (to[1] - from[1]) / length;
        double side = Math.min(6, length / 4);
        double[] centres = new double[STROKES], radii = new double[STROKES];
        double[][] ends = new double[STROKES][];
        for (int k = 0; k < STROKES; k++) {
            double off = side * (2.0 * k / (STROKES - 1) - 1);
            double[] profile = luma(linear, from[0] - uy * off, from[1] + ux * off, ux, uy, length);
            double[] f = fit(profile, blur / length);
            centres[k] = f[0] * length;
            radii[k] = f[1] * length;
            ends[k] = new double[] {off, f[2], f[3]};
        }
        // A line through the centres gives the edge's lean; the median width is not moved by one bad stroke.
        double sxy = 0, sxx = 0, mean = 0;
        for (int k = 0; k < STROKES; k++) mean += centres[k] / STROKES;
        for (int k = 0; k < STROKES; k++) {
            sxy += ends[k][0] * (centres[k] - mean);
            sxx += ends[k][0] * ends[k][0];
        }
        double lean = Math.atan(sxy / sxx);
        double[] sorted = radii.clone();
        java.util.Arrays.sort(sorted);
        double radius = sorted[STROKES / 2] * Math.cos(lean);
        double[] lit = new double[3], shaded = new double[3];
        double[] middle = fit(luma(linear, from[0], from[1], ux, uy, length), blur / length);
        for (int c = 0; c < 3; c++) {
            double[] p = profile(linear, from[0], from[1], ux, uy, length, c);
            double[] levels = levels(p, middle[0], middle[1], blur / length);
            boolean fromLit = middle[2] > middle[3];
            lit[c] = fromLit ? levels[0] : levels[1];
            shaded[c] = fromLit ? levels[1] : levels[0];
        }
        double l = lit[0] + lit[1] + lit[2], s = shaded[0] + shaded[1] + shaded[2];
        if (!(s >= 0) || !(l > 1.1 * s))
            throw new BadInput("across the stroke the light hardly changes: there is no shadow's edge");
        return new Edge(mean / length, radius, lit, shaded, lean);
    }

    /** Brightness; only where it is asked for, since whole pictures are large. */
    private static double[] luma(Image im, double x, double y, double ux, double uy, double length) {
        double[] r = profile(im, x, y, ux, uy, length, 0);
        if (im.channels() < 3) return r;
        double[] g = profile(im, x, y, ux, uy, length, 1), b = profile(im, x, y, ux, uy, length, 2);
        for (int i = 0; i < r.length; i++) r[i] = 0.2126 * r[i] + 0.7152 * g[i] + 0.0722 * b[i];
        return r;
    }

    /** Mean over a band three pixels wide. */
    private static double[] profile(Image im, double x, double y, double ux, double uy, double length, int c) {
        int n = (int) Math.max(FEWEST, Math.min(MOST, Math.round(A_PIXEL * length)));
        double[] p = new double[n];
        for (int i = 0; i < n; i++) {
            double t = (i + 0.5) / n * length;
            for (int j = -1; j <= 1; j++) p[i] += im.sample(x + ux * t - uy * j, y + uy * t + ux * j, c) / 3;
        }
        return p;
    }

    /** Centre and radius (parts of the stroke), level before, level after. */
    static double[] fit(double[] p, double blur) {
        int n = p.length, end = Math.max(2, n / 8);
        double a = 0, b = 0;
        for (int i = 0; i < end; i++) {
            a += p[i] / end;
            b += p[n - 1 - i] / end;
        }
        double[] best = null;
        double least = Double.MAX_VALUE;
        for (double start : new double[] {0.08, 0.3}) {
            double[] x = {0.5, Math.log(start), a, b};
            double lambda = 1e-3, cost = cost(p, x, blur);
            for (int round = 0; round < ROUNDS && lambda < 1e8; round++) {
                SimpleMatrix j = new SimpleMatrix(n, 4), r = new SimpleMatrix(n, 1);
                double h = 1e-5, radius = Math.exp(x[1]), wider = Math.exp(x[1] + h);
                for (int i = 0; i < n; i++) {
                    double t = (i + 0.5) / n, w = seen(t - x[0], radius, blur), step = (x[3] - x[2]) / h;
                    j.set(i, 0, step * (seen(t - x[0] - h, radius, blur) - w));
                    j.set(i, 1, step * (seen(t - x[0], wider, blur) - w));
                    j.set(i, 2, 1 - w);
                    j.set(i, 3, w);
                    r.set(i, 0, p[i] - (x[2] * (1 - w) + x[3] * w));
                }
                SimpleMatrix m = j.transpose().mult(j), g = j.transpose().mult(r);
                for (int k = 0; k < 4; k++) m.set(k, k, m.get(k, k) * (1 + lambda) + 1e-15);
                SimpleMatrix step = m.solve(g);
                double[] next = x.clone();
                for (int k = 0; k < 4; k++) next[k] += step.get(k);
                next[0] = Math.max(-0.2, Math.min(1.2, next[0]));
                next[1] = Math.max(Math.log(1e-3), Math.min(Math.log(2), next[1]));
                double there = cost(p, next, blur);
                if (there < cost) {
                    boolean done = cost - there < 1e-10 * cost;
                    x = next;
                    cost = there;
                    lambda /= 4;
                    if (done) break;
                } else {
                    lambda *= 6;
                }
            }
            if (cost < least) {
                least = cost;
                best = new double[] {x[0], Math.exp(x[1]), x[2], x[3]};
            }
        }
        return best;
    }

    /** Levels on either side, the edge known: linear least squares. */
    private static double[] levels(double[] p, double centre, double radius, double blur) {
        double aa = 0, ab = 0, bb = 0, pa = 0, pb = 0;
        for (int i = 0; i < p.length; i++) {
            double w = seen((i + 0.5) / p.length - centre, radius, blur), v = 1 - w;
            aa += v * v;
            ab += v * w;
            bb += w * w;
            pa += v * p[i];
            pb += w * p[i];
        }
        double det = aa * bb - ab * ab;
        return new double[] {(pa * bb - pb * ab) / det, (aa * pb - ab * pa) / det};
    }

    private static double cost(double[] p, double[] x, double blur) {
        double s = 0;
        for (int i = 0; i < p.length; i++) {
            double d = p[i] - model(x, (i + 0.5) / p.length, blur);
            s += d * d;
        }
        return s;
    }

    private static double model(double[] x, double t, double blur) {
        double w = seen(t - x[0], Math.exp(x[1]), blur);
        return x[2] * (1 - w) + x[3] * w;
    }

    /** How far the change has come at t: 0 well before the edge, 1 well behind it. */
    static double seen(double t, double radius, double blur) {
        double wide = Math.max(blur, radius / NODES);
        if (Math.abs(t) > radius + FAR * wide) return t > 0 ? 1 : 0;
        double s = 0;
        for (int k = 0; k < NODES; k++) s += WEIGHT[k] * step((t - radius * NODE[k]) / wide);
        return s;
    }

    /** Deviations beyond which the normal distribution's integral is 0 or 1 to 1e-9. */
    private static final double FAR = 6;

    private static final double[] NODE = new double[NODES], WEIGHT = new double[NODES];

    static {
        for (int k = 0; k < NODES; k++) {
            double a = (k + 1) * Math.PI / (NODES + 1), sin = Math.sin(a);
            NODE[k] = Math.cos(a);
            WEIGHT[k] = 2.0 / (NODES + 1) * sin * sin;
        }
    }

    /** The normal distribution's integral (Abramowitz and Stegun 7.1.26 for erf, to 1.5e-7). */
    static double step(double z) {
        double a = Math.abs(z) / Math.sqrt(2), t = 1 / (1 + 0.3275911 * a);
        double erf = 1
                - t
                        * (0.254829592 + t * (-0.284496736 + t * (1.421413741 + t * (-1.453152027 + t * 1.061405429))))
                        * Math.exp(-a * a);
        return z > 0 ? (1 + erf) / 2 : (1 - erf) / 2;
    }

    /**
     * By how many metres along a direction on level ground the edge's shadow moves when the sun moves by a radian, the
     * way that moves it most.
     *
     * @param towards unit, to the sun; @param along unit and level, across the shadow's edge
     * @param distance from the edge that casts it to its shadow, metres
     */
    public static double metresPerRadian(Vec3 towards, Vec3 along, double distance) {
        // The shadow lies at P - l s; l follows from the ground's height: dl = -l ds.y / s.y.
        Vec3 a = towards.anyPerpendicular().unit(), b = towards.cross(a);
        double sum = 0;
        for (Vec3 ds : new Vec3[] {a, b}) {
            Vec3 move = ds.times(-distance).plus(towards.times(distance * ds.y() / towards.y()));
            sum += Math.pow(move.dot(along), 2);
        }
        return Math.sqrt(sum);
    }

    /** The sun's angle across, radians. @param radius of the edge on the ground, metres */
    public static double sunAngle(double radius, double metresPerRadian) {
        return 2 * radius / metresPerRadian;
    }

    /**
     * The sun's angle across, radians, from a stroke across a shadow's edge on the ground.
     *
     * @param linear the plate's frame; @param towards unit, to the sun
     */
    public static double sunAngle(Image linear, SolvedCamera camera, ShadowsFile.Edge stroke, Vec3 towards) {
        if (!(stroke.height() > 0)) throw new BadInput("the height of what casts the shadow's edge must be above 0");
        if (!camera.has(stroke.frame())) throw new BadInput("the camera of the edge's frame is not known");
        Edge e = measure(linear, stroke.from(), stroke.to(), stroke.blur());
        if (e.radiusPx() < stroke.blur())
            throw new BadInput("that edge is as sharp as the picture can show: mark one that is cast from higher up, "
                    + "or one nearer to the camera");
        double length = Math.hypot(stroke.to()[0] - stroke.from()[0], stroke.to()[1] - stroke.from()[1]);
        // About the edge's middle, where a pixel is worth what it is worth there.
        double ux = (stroke.to()[0] - stroke.from()[0]) / length, uy = (stroke.to()[1] - stroke.from()[1]) / length;
        double x = stroke.from()[0] + ux * length * e.centre(), y = stroke.from()[1] + uy * length * e.centre();
        // The edge leans against the stroke: across it is what counts.
        double cos = Math.cos(e.lean()), sin = Math.sin(e.lean());
        double nx = ux * cos + uy * sin, ny = uy * cos - ux * sin;
        Vec3 a = ShadowSun.ground(camera, stroke.frame(), new double[] {x - nx, y - ny}, 0, "edge"),
                b = ShadowSun.ground(camera, stroke.frame(), new double[] {x + nx, y + ny}, 0, "edge"),
                c = ShadowSun.ground(camera, stroke.frame(), new double[] {x - ny, y + nx}, 0, "edge"),
                d = ShadowSun.ground(camera, stroke.frame(), new double[] {x + ny, y - nx}, 0, "edge");
        // On the ground, at a slant, the picture's right angle is none: what runs along the edge is taken out.
        Vec3 run = c.minus(d).unit(), across = b.minus(a).times(0.5);
        Vec3 square = across.minus(run.times(across.dot(run)));
        double metres = e.radiusPx() * square.length();
        return sunAngle(metres, metresPerRadian(towards, square.unit(), stroke.height() / towards.y()));
    }
}
