package dasein.core.comp.match;

import dasein.core.NoSolution;
import dasein.core.comp.step.Group;
import dasein.core.image.Image;
import dasein.core.track.Track;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;

/**
 * For which part of a frame's time the plate's shutter was open, from its streaks: an edge that moves by v pixels a
 * frame across its own way is drawn over a length of s v besides by the lens. Of edges that move alike those count that
 * are drawn most sharply, as for softness.
 */
final class ShutterMatch implements Match {
    private static final int FRAMES = 5, LEAST_EDGES = 12, LEAST_CLASSES = 4, NEAREST = 4;
    /**
     * Pixels a frame: width of a class of edges that move alike, the fastest that is looked at, what must be reached.
     */
    private static final double CLASS = 1, FASTEST = 14, LEAST_SPEED = 4;

    private static final double SHARPEST = 0.2, REACH = 60, FINE = 0.005, SHARPEST_LENS = 0.25, SOFTEST_LENS = 3;

    @Override
    public String key() {
        return "shutter";
    }

    @Override
    public Group group() {
        return Group.LENS;
    }

    /** It makes frames old. */
    @Override
    public boolean ofAll() {
        return false;
    }

    @Override
    public Outcome of(Taken t) {
        List<double[]> edges = new ArrayList<>();
        for (int k = 0; k < FRAMES; k++) {
            int f = t.spread(FRAMES)[k];
            List<double[]> moving = moving(t.tracks(), f);
            if (moving.size() < NEAREST) continue;
            Image im = t.plate().apply(f);
            EdgeMeasure m = new EdgeMeasure();
            m.look(im, t.encoding(), null);
            for (EdgeMeasure.Edge e : m.edges()) {
                double[] v = velocity(moving, e.x(), e.y());
                if (v != null) edges.add(new double[] {Math.abs(v[0] * e.ux() + v[1] * e.uy()), e.luma()});
            }
        }
        double[] s = fit(edges);
        double deg = 360 * Math.max(0, Math.min(1, s[0]));
        return new Outcome(
                t.now(),
                String.format(Locale.ROOT, "%.0f deg +- %.0f, of %d edges", deg, 360 * s[1], edges.size()),
                String.format(Locale.ROOT, "%.0f deg", 360 * t.shutter()),
                Map.of(),
                deg,
                360 * s[1]);
    }

    /** Place and velocity, pixels a frame, of what is seen before and after a frame. */
    private static List<double[]> moving(List<Track> tracks, int f) {
        List<double[]> out = new ArrayList<>();
        for (Track k : tracks) {
            int a = k.at(f - 1), m = k.at(f), b = k.at(f + 1);
            if (a >= 0 && m >= 0 && b >= 0)
                out.add(new double[] {k.x()[m], k.y()[m], (k.x()[b] - k.x()[a]) / 2, (k.y()[b] - k.y()[a]) / 2});
        }
        return out;
    }

    /** The mean of the nearest few; null where none is near, or they move differently. */
    private static double[] velocity(List<double[]> moving, double x, double y) {
        double[][] near = moving.stream()
                .filter(m -> Math.hypot(m[0] - x, m[1] - y) < REACH)
                .sorted((p, q) -> Double.compare(Math.hypot(p[0] - x, p[1] - y), Math.hypot(q[0] - x, q[1] - y)))
                .limit(NEAREST)
                .toArray(double[][]::new);
        if (near.length < 2) return null;
        double vx = 0, vy = 0;
        for (double[] m : near) {
            vx += m[2] / near.length;
            vy += m[3] / near.length;
        }
        for (double[] m : near) if (Math.hypot(m[2] - vx, m[3] - vy) > 0.5 + 0.1 * Math.hypot(vx, vy)) return null;
        return new double[] {vx, vy};
    }

    /** A class of edges that move alike. */
    private record Class(double speed, double sigma, double weight) {}

    /** @param edges speed across, sigma. @return part of the frame's time, and its uncertainty */
    static double[] fit(List<double[]> edges) {
        List<Class> all = new ArrayList<>();
        double fastest = 0;
        for (double from = 0; from < FASTEST; from += CLASS) {
            double low = from;
            double[][] these = edges.stream()
                    .filter(e -> e[0] >= low && e[0] < low + CLASS)
                    .sorted((a, b) -> Double.compare(a[1], b[1]))
                    .toArray(double[][]::new);
            if (these.length < LEAST_EDGES) continue;
            // About the sharpest fifth, with the speed of those.
            int at = (int) (SHARPEST * these.length), to = Math.min(these.length, 2 * at + 1);
            double v = 0;
            for (int k = 0; k < to; k++) v += these[k][0] / to;
            all.add(new Class(v, these[at][1], Math.sqrt(these.length) / these[at][1]));
            fastest = Math.max(fastest, v);
        }
        if (all.size() < LEAST_CLASSES || fastest < LEAST_SPEED)
            throw new NoSolution("nothing with clear edges moves fast enough to leave streaks: " + LEAST_SPEED
                    + " pixels a frame are needed");
        double least = Double.MAX_VALUE, best = 0;
        for (double part = 0; part <= 1.1; part += FINE) {
            double left = left(all, part);
            if (left < least) {
                least = left;
                best = part;
            }
        }
        // How fast what is left grows about it tells how sure it is.
        double d = 0.1, bend = (left(all, best + d) + left(all, Math.max(0, best - d)) - 2 * least) / (d * d);
        return new double[] {best, bend > 0 ? Math.sqrt(least / Math.max(1, all.size() - 2) / (bend / 2)) : 1};
    }

    /** What that part of the time leaves unexplained, with the lens that leaves least. */
    private static double left(List<Class> all, double part) {
        double least = Double.MAX_VALUE;
        for (double lens = SHARPEST_LENS; lens < SOFTEST_LENS; lens *= 1.03) {
            double sum = 0;
            for (Class c : all) {
                double e = lens * drawn(part * c.speed / lens) - c.sigma;
                sum += c.weight * e * e;
            }
            least = Math.min(least, sum);
        }
        return least;
    }

    /** Sigma of the edge that is most like one of sigma 1 that is drawn over a length. */
    private static double drawn(double length) {
        double x = Math.min(DRAWN.length - 1.001, length / LENGTH_STEP);
        int i = (int) x;
        return DRAWN[i] + (x - i) * (DRAWN[i + 1] - DRAWN[i]);
    }

    private static final double LENGTH_STEP = 0.5;
    private static final double[] DRAWN = new double[41];

    static {
        for (int i = 0; i < DRAWN.length; i++) DRAWN[i] = like(i * LENGTH_STEP);
    }

    private static double like(double length) {
        double best = 1, least = Double.MAX_VALUE;
        for (double s = 0.9; s < 8; s *= 1.01) {
            double sum = 0;
            for (double x = -12; x <= 12; x += 0.5) {
                double is = 0;
                for (int k = 0; k < 24; k++) is += EdgeMeasure.normal(x - length * ((k + 0.5) / 24 - 0.5)) / 24;
                double e = EdgeMeasure.normal(x / s) - is;
                sum += e * e;
            }
            if (sum < least) {
                least = sum;
                best = s;
            }
        }
        return best;
    }
}
