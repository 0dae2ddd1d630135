package dasein.core.ground;

import dasein.core.solve.SolvedCamera;
import dasein.core.track.Track;
import java.util.HashMap;
import java.util.List;
import java.util.Map;

/**
 * How far something that stands would be seen to slide over the plate. A mark may drift by itself; what all marks of a
 * part of the picture do together against their solved points is the camera's fault. Trembling is averaged away, since
 * the eye forgives it but not drift. Parts at the picture's border, where a lens or a focal length that is not quite
 * right shows first, count apart.
 */
public final class StickSlide {
    private static final int ACROSS = 6, DOWN = 4;
    /** Frames over which trembling is averaged, and marks that make a part's motion known. */
    private static final int WINDOW = 9, FEWEST = 3;

    private StickSlide() {}

    /** Pixels between the two places furthest apart, of the worst part; NaN where none holds marks for long enough. */
    public record Slide(double middlePx, double edgePx) {}

    public static Slide of(SolvedCamera c, List<Track> tracks) {
        Map<Integer, SolvedCamera.Point> at = new HashMap<>();
        for (SolvedCamera.Point p : c.points()) at.put(p.id(), p);
        int frames = c.last() - c.first() + 1;
        double[][] x = new double[ACROSS * DOWN][frames], y = new double[ACROSS * DOWN][frames];
        int[][] n = new int[ACROSS * DOWN][frames];
        for (Track t : tracks) {
            SolvedCamera.Point p = at.get(t.id());
            if (p == null) continue;
            for (int i = 0; i < t.length(); i++) {
                int f = t.frames()[i];
                double[] q = c.has(f) ? c.lens(f).project(c.frame(f).pose().toLocal(p.position())) : null;
                // A mark this far off belongs to something else.
                if (q == null || Math.hypot(t.x()[i] - q[0], t.y()[i] - q[1]) > 4 * Math.max(0.5, p.rmsPx())) continue;
                int k = cell(t.y()[i], c.height(), DOWN) * ACROSS + cell(t.x()[i], c.width(), ACROSS);
                x[k][f - c.first()] += t.x()[i] - q[0];
                y[k][f - c.first()] += t.y()[i] - q[1];
                n[k][f - c.first()]++;
            }
        }
        double middle = Double.NaN, edge = Double.NaN;
        for (int k = 0; k < n.length; k++) {
            double slide = slide(x[k], y[k], n[k]);
            if (Double.isNaN(slide)) continue;
            boolean border = k % ACROSS == 0 || k % ACROSS == ACROSS - 1 || k / ACROSS == 0 || k / ACROSS == DOWN - 1;
            if (border) edge = Double.isNaN(edge) ? slide : Math.max(edge, slide);
            else middle = Double.isNaN(middle) ? slide : Math.max(middle, slide);
        }
        return new Slide(middle, edge);
    }

    private static int cell(double v, int size, int parts) {
        return Math.max(0, Math.min(parts - 1, (int) (v * parts / size)));
    }

    /** Of the means over windows of frames in which enough marks are seen: how far apart they come. */
    private static double slide(double[] x, double[] y, int[] n) {
        double x0 = Double.MAX_VALUE, x1 = -x0, y0 = x0, y1 = -x0;
        boolean any = false;
        for (int f = 0; f + WINDOW <= n.length; f++) {
            double sx = 0, sy = 0;
            boolean known = true;
            for (int k = f; k < f + WINDOW && known; k++) {
                known = n[k] >= FEWEST;
                if (!known) break;
                sx += x[k] / n[k] / WINDOW;
                sy += y[k] / n[k] / WINDOW;
            }
            if (!known) continue;
            any = true;
            x0 = Math.min(x0, sx);
            x1 = Math.max(x1, sx);
            y0 = Math.min(y0, sy);
            y1 = Math.max(y1, sy);
        }
        return any ? Math.hypot(x1 - x0, y1 - y0) : Double.NaN;
    }
}
