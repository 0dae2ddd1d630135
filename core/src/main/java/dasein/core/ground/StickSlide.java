package dasein.core.ground;

import dasein.core.solve.SolvedCamera;
import dasein.core.track.Track;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;

/**
 * How far something that stands would be seen to slide over the plate: the slow part of what marks do against their solved points, since the
 * eye forgives trembling but not drift. Marks near the picture's edges, where a lens or a focal length that is not quite right shows first,
 * count apart.
 */
public final class StickSlide {
    /** Frames over which trembling is averaged, and the part of the picture that is its edge. */
    private static final int WINDOW = 9;
    private static final double EDGE = 0.15;
    private static final double PERCENTILE = 0.9;

    private StickSlide() {}

    /** Pixels, for nine of ten marks; NaN where no mark is seen for long enough. */
    public record Slide(double middlePx, double edgePx) {}

    public static Slide of(SolvedCamera c, List<Track> tracks) {
        Map<Integer, SolvedCamera.Point> at = new HashMap<>();
        for (SolvedCamera.Point p : c.points()) at.put(p.id(), p);
        double[] middle = new double[tracks.size()], edge = new double[tracks.size()];
        int nm = 0, ne = 0;
        for (Track t : tracks) {
            SolvedCamera.Point p = at.get(t.id());
            if (p == null || t.length() < 2 * WINDOW) continue;
            double[] x = new double[t.length()], y = new double[t.length()];
            boolean outside = false, seen = true;
            for (int i = 0; i < x.length && seen; i++) {
                int f = t.frames()[i];
                double[] q = c.has(f) ? c.lens(f).project(c.frame(f).pose().toLocal(p.position())) : null;
                seen = q != null;
                if (!seen) break;
                x[i] = t.x()[i] - q[0];
                y[i] = t.y()[i] - q[1];
                outside |= t.x()[i] < EDGE * c.width() || t.x()[i] > (1 - EDGE) * c.width() || t.y()[i] < EDGE * c.height() || t.y()[i] > (1 - EDGE) * c.height();
            }
            if (!seen) continue;
            double slide = widest(smooth(x), smooth(y));
            if (outside) edge[ne++] = slide;
            else middle[nm++] = slide;
        }
        return new Slide(high(middle, nm), high(edge, ne));
    }

    private static double high(double[] v, int n) {
        if (n == 0) return Double.NaN;
        double[] s = Arrays.copyOf(v, n);
        Arrays.sort(s);
        return s[(int) (PERCENTILE * (n - 1))];
    }

    private static double[] smooth(double[] v) {
        double[] out = new double[v.length - WINDOW + 1];
        for (int i = 0; i < out.length; i++) for (int k = 0; k < WINDOW; k++) out[i] += v[i + k] / WINDOW;
        return out;
    }

    /** Distance between the two places furthest apart, by the box that holds them. */
    private static double widest(double[] x, double[] y) {
        double x0 = Double.MAX_VALUE, x1 = -x0, y0 = x0, y1 = -x0;
        for (int i = 0; i < x.length; i++) {
            x0 = Math.min(x0, x[i]);
            x1 = Math.max(x1, x[i]);
            y0 = Math.min(y0, y[i]);
            y1 = Math.max(y1, y[i]);
        }
        return Math.hypot(x1 - x0, y1 - y0);
    }
}
