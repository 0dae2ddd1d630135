package dasein.core.comp.repair;

import dasein.core.math.PlaneSimilarity;
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
        List<double[]> pairs = new ArrayList<>();
        for (Track t : others) {
            int a = t.at(then), b = t.at(frame);
            if (t.id() != of.id() && a >= 0 && b >= 0) pairs.add(new double[] {t.x()[a], t.y()[a], t.x()[b], t.y()[b]});
        }
        if (pairs.size() < LEAST) return null;
        double x = of.x()[near], y = of.y()[near];
        if (pairs.size() >= SURFACE) {
            Projective h = Projective.of(
                    pairs.stream().map(p -> new double[] {p[0], p[1]}).toArray(double[][]::new),
                    pairs.stream().map(p -> new double[] {p[2], p[3]}).toArray(double[][]::new));
            if (h != null) return h.at(x, y);
        }
        return PlaneSimilarity.fit(pairs, null).at(x, y);
    }
}
