package dasein.core.comp.repair;

import dasein.core.math.Projective;
import dasein.core.track.Track;
import java.util.ArrayList;
import java.util.List;

/** Where a mark is that is hidden for a while: with its companions, which are seen both then and now. */
final class Companions {
    /** With so many the surface they lie on may turn away; with fewer they only move. */
    private static final int SURFACE = 6, LEAST = 2;

    private Companions() {}

    /** @return x, y; null where the mark is not between frames in which it is seen, or too few go with it */
    static double[] place(Track of, List<Track> others, int frame) {
        int before = -1, after = -1;
        for (int i = 0; i < of.length(); i++) {
            if (of.frames()[i] < frame) before = i;
            else if (of.frames()[i] > frame && after < 0) after = i;
        }
        int near = before < 0
                ? after
                : after < 0 || frame - of.frames()[before] <= of.frames()[after] - frame ? before : after;
        if (near < 0) return null;
        int then = of.frames()[near];
        List<double[]> from = new ArrayList<>(), to = new ArrayList<>();
        for (Track t : others) {
            int a = t.at(then), b = t.at(frame);
            if (t.id() == of.id() || a < 0 || b < 0) continue;
            from.add(new double[] {t.x()[a], t.y()[a]});
            to.add(new double[] {t.x()[b], t.y()[b]});
        }
        if (from.size() < LEAST) return null;
        double x = of.x()[near], y = of.y()[near];
        if (from.size() >= SURFACE) {
            Projective h = Projective.of(from.toArray(double[][]::new), to.toArray(double[][]::new));
            if (h != null) return h.at(x, y);
        }
        return similar(from, to, x, y);
    }

    /** Shift, turn and size, least squares: as complex numbers, to = a from + b. */
    private static double[] similar(List<double[]> from, List<double[]> to, double x, double y) {
        double fx = 0, fy = 0, tx = 0, ty = 0, n = from.size();
        for (int i = 0; i < n; i++) {
            fx += from.get(i)[0] / n;
            fy += from.get(i)[1] / n;
            tx += to.get(i)[0] / n;
            ty += to.get(i)[1] / n;
        }
        double re = 0, im = 0, all = 0;
        for (int i = 0; i < n; i++) {
            double u = from.get(i)[0] - fx, v = from.get(i)[1] - fy, p = to.get(i)[0] - tx, q = to.get(i)[1] - ty;
            re += u * p + v * q;
            im += u * q - v * p;
            all += u * u + v * v;
        }
        if (!(all > 0)) return new double[] {x - fx + tx, y - fy + ty};
        double a = re / all, b = im / all;
        return new double[] {tx + a * (x - fx) - b * (y - fy), ty + b * (x - fx) + a * (y - fy)};
    }
}
