package dasein.core.solve;

import dasein.core.lens.Lens;
import java.util.Arrays;
import java.util.Locale;
import java.util.stream.IntStream;

/**
 * How far a solve may be trusted: by how many pixels a thing that is put at some distance slides from frame to frame
 * because poses and lens are not known better. The covariance of all that is solved, carried into the picture (Hartley
 * and Zisserman 2004, section 5.2.6); the frame of everything is held at the first camera.
 *
 * @param near, far distance from the first camera of the tenth mark in a hundred and of the ninetieth, world units
 * @param within pixels, one standard deviation, at worst between these
 * @param nearer at half the near one; @param beyond at twice the far one; NaN where no frame would show it
 */
public record Reach(double near, double far, double within, double nearer, double beyond) {
    private static final int CAMERAS = 9;
    private static final double STEP = 1e-5;

    /** @param factored the factor of the bundle's reduced normal equations; @param variance of one coordinate */
    static Reach of(Bundle of, Skyline factored, double variance) {
        double[] far = IntStream.range(0, of.points.length)
                .filter(p -> Math.abs(of.points[p][3]) > 1e-9)
                .mapToDouble(p -> {
                    double[] q = of.points[p], c = of.cams[0].c;
                    return Math.sqrt(
                            square(q[0] / q[3] - c[0]) + square(q[1] / q[3] - c[1]) + square(q[2] / q[3] - c[2]));
                })
                .sorted()
                .toArray();
        if (far.length < 10) return null;
        double a = far[far.length / 10], b = far[far.length * 9 / 10];
        double[] at = {0.5 * a, a, Math.sqrt(a * b), b, 2 * b},
                px =
                        Arrays.stream(at)
                                .parallel()
                                .map(d -> slide(of, factored, variance, d))
                                .toArray();
        double within = IntStream.of(1, 2, 3)
                .mapToDouble(k -> px[k])
                .filter(v -> !Double.isNaN(v))
                .max()
                .orElse(Double.NaN);
        return new Reach(a, b, within, px[0], px[4]);
    }

    /** The worst frame's, of a place so far before the middle camera. */
    private static double slide(Bundle of, Skyline factored, double variance, double distance) {
        Rigid mid = of.cams[of.cams.length / 2];
        double[] p = {mid.c[0] + distance * mid.r[6], mid.c[1] + distance * mid.r[7], mid.c[2] + distance * mid.r[8], 1
        };
        double worst = Double.NaN;
        int step = Math.max(1, of.cams.length / CAMERAS);
        for (int c = step; c < of.cams.length; c += step) {
            double[] u = seen(of.cams[c], of.zoom[c], of.lens, p);
            if (u == null || u[0] < 0 || u[1] < 0 || u[0] > 2 * of.lens.centreX() || u[1] > 2 * of.lens.centreY())
                continue;
            double sum = 0;
            for (int axis = 0; axis < 2; axis++) {
                double[] slope = slope(of, c, p, axis), x = slope.clone();
                factored.solve(x);
                for (int i = 0; i < x.length; i++) sum += slope[i] * x[i];
            }
            worst = Double.isNaN(worst) ? Math.sqrt(variance * sum) : Math.max(worst, Math.sqrt(variance * sum));
        }
        return worst;
    }

    /** How the place's pixel changes with every unknown, less how it does in the first frame by the lens alone. */
    private static double[] slope(Bundle of, int c, double[] p, int axis) {
        double[] out = new double[of.size];
        Rigid cam = of.cams[c];
        for (int i = 0; i < 6; i++) {
            double[] d = new double[6];
            d[i] = STEP;
            Rigid up = cam.moved(d[0], d[1], d[2], d[3], d[4], d[5]),
                    down = cam.moved(-d[0], -d[1], -d[2], -d[3], -d[4], -d[5]);
            out[of.turnAt(c) + i] =
                    change(seen(up, of.zoom[c], of.lens, p)[axis], seen(down, of.zoom[c], of.lens, p)[axis]);
        }
        if (of.free.zooms())
            out[of.zoomAt(c)] = change(
                    seen(cam, of.zoom[c] + STEP, of.lens, p)[axis], seen(cam, of.zoom[c] - STEP, of.lens, p)[axis]);
        for (int k = 0; k < Bundle.LENS; k++) {
            if (of.lensAt(k) < 0) continue;
            out[of.lensAt(k)] = change(
                    seen(cam, of.zoom[c], with(of.lens, k, STEP), p)[axis],
                    seen(cam, of.zoom[c], with(of.lens, k, -STEP), p)[axis]);
        }
        return out;
    }

    private static double change(double up, double down) {
        return (up - down) / (2 * STEP);
    }

    private static Lens with(Lens l, int term, double by) {
        double[] v = LensTerms.values(l, 0, 0);
        if (term == Bundle.FOCAL) return l.withFocal(l.focalPx() * Math.exp(by));
        v[term] += by;
        return LensTerms.lens(l.focalPx(), v, 0, 0);
    }

    private static double[] seen(Rigid cam, double zoom, Lens l, double[] p) {
        double[] q = cam.toCamera(p);
        if (!(q[2] > 1e-9)) return null;
        return l.withFocal(l.focalPx() * Math.exp(zoom)).distortToPixel(q[0] / q[2], q[1] / q[2]);
    }

    private static double square(double v) {
        return v * v;
    }

    Reach scaled(double by) {
        return new Reach(near * by, far * by, within, nearer, beyond);
    }

    /** For a person, where a unit is a metre; empty where nothing is known. */
    public String inMetres() {
        if (Double.isNaN(within)) return "";
        StringBuilder s = new StringBuilder(String.format(
                Locale.ROOT,
                "What stands %s to %s m before the camera should stick within %.1f px",
                metres(near),
                metres(far),
                Math.max(0.1, 2 * within)));
        if (beyond > 2 * within) s.append(further("at " + metres(2 * far) + " m", beyond));
        if (nearer > 2 * within) s.append(further("at " + metres(near / 2) + " m", nearer));
        return s.append('.').toString();
    }

    private static String metres(double v) {
        return String.format(Locale.ROOT, v < 10 ? "%.1f" : "%.0f", v);
    }

    /** For a person, as long as nothing is known of sizes; empty where nothing is known. */
    String said() {
        if (Double.isNaN(within)) return "";
        StringBuilder s = new StringBuilder(String.format(
                Locale.ROOT, "What stands where its marks are should stick within %.1f px", Math.max(0.1, 2 * within)));
        if (beyond > 2 * within) s.append(further("twice as far off as they reach", beyond));
        if (nearer > 2 * within) s.append(further("at half the distance of the nearest", nearer));
        return s.append('.').toString();
    }

    private static String further(String where, double px) {
        return String.format(Locale.ROOT, "; %s it may slide by %.1f px", where, 2 * px);
    }
}
