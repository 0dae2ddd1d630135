package dasein.shoot;

import dasein.core.comp.front.Pops;
import dasein.core.comp.match.Around;
import dasein.core.comp.match.ColourPair;
import dasein.core.comp.match.HazePick;
import dasein.core.image.Filters;
import dasein.core.image.Image;
import dasein.core.light.Clues;
import dasein.core.math.Vec3;
import dasein.core.render.pass.Passes;
import dasein.core.solve.SolvedCamera;
import java.util.ArrayList;
import java.util.List;

/** What an artist picks and draws in a frame, picked here by what is known of it. */
final class ByHand {
    /** Pixels from the picture's border. */
    private static final int MARGIN = 12;
    /** Distances between which one dark place is picked each, metres. */
    private static final double[] FAR = {3, 7, 12, 40};

    private ByHand() {}

    private static double luma(double[] v) {
        return 0.2126 * v[0] + 0.7152 * v[1] + 0.0722 * v[2];
    }

    private static double[] pixel(SolvedCamera c, int frame, Vec3 p) {
        double[] q = c.lens(frame).project(c.frame(frame).pose().toLocal(p));
        return q == null || q[0] < MARGIN || q[1] < MARGIN || q[0] > c.width() - MARGIN || q[1] > c.height() - MARGIN
                ? null
                : q;
    }

    /** The darkest solved place of each distance; none where one is missing. */
    static List<HazePick> hazes(Filmed of, int frame) {
        Image plate = of.frame(frame);
        List<HazePick> out = new ArrayList<>();
        for (int k = 0; k + 1 < FAR.length; k++) {
            HazePick best = null;
            double least = Double.MAX_VALUE;
            for (SolvedCamera.Point p : of.camera().points()) {
                double far = of.camera().frame(frame).pose().position().distance(p.position());
                double[] q = pixel(of.camera(), frame, p.position());
                if (q == null || far < FAR[k] || far >= FAR[k + 1]) continue;
                double y = luma(Around.of(plate, q[0], q[1]));
                if (y >= least) continue;
                least = y;
                best = new HazePick(k + 1, frame, q[0], q[1], far);
            }
            if (best != null) out.add(best);
        }
        return out.size() < FAR.length - 1 ? List.of() : out;
    }

    /** A solved place, and the place of the performer that lies deepest within it. */
    static List<ColourPair> pairs(Filmed of, int frame, Passes p) {
        float[] deep = Filters.gaussian(p.alpha, p.width, p.height, 8);
        int own = 0;
        for (int i = 0; i < deep.length; i++) if (deep[i] > deep[own]) own = i;
        for (SolvedCamera.Point at : of.camera().points()) {
            double[] q = pixel(of.camera(), frame, at.position());
            if (q == null || p.alpha[(int) q[1] * p.width + (int) q[0]] > 0) continue;
            double part = (double) of.plate().width() / p.width;
            return List.of(
                    new ColourPair(1, frame, q[0], q[1], part * (own % p.width + 0.5), part * (own / p.width + 0.5)));
        }
        return List.of();
    }

    /** From ground that is marked as in shadow to that beside it in the sun. */
    static Clues stroke(Clues c) {
        for (Clues.Patch dark : c.patches())
            for (Clues.Patch lit : c.patches())
                if (!dark.lit() && lit.id() == dark.id() + 1)
                    return c.with(new Clues.Edge(c.free(), dark.frame(), dark.x(), dark.y(), lit.x(), lit.y(), 2, 0));
        return c;
    }

    /**
     * Frames in which the mask of a post pops, drawn in each frame where it stands. @param larger by what part in
     * {@code at}
     */
    static List<Integer> pops(Filmed of, int at, double larger) {
        SolvedCamera c = of.camera();
        int first = c.first(), last = c.last();
        double[] area = new double[last - first + 1];
        for (int f = first; f <= last; f++) {
            if (!c.has(f)) return null;
            Vec3 side = c.frame(f).pose().rotation().rotate(new Vec3(0.1, 0, 0)), foot = new Vec3(-0.6, 0, -9);
            double[][] q = new double[4][];
            for (int k = 0; k < 4; k++) {
                Vec3 p = foot.plus(side.times(k == 0 || k == 3 ? -1 : 1)).plus(new Vec3(0, k < 2 ? 0 : 1.5, 0));
                q[k] = c.lens(f).project(c.frame(f).pose().toLocal(p));
                if (q[k] == null) return null;
            }
            for (int k = 0; k < 4; k++) {
                double[] a = q[k], b = q[(k + 1) % 4];
                area[f - first] += (a[0] * b[1] - b[0] * a[1]) / 2;
            }
            area[f - first] = Math.abs(area[f - first]) * (f == at ? 1 + larger : 1);
        }
        return Pops.of(area, first);
    }
}
