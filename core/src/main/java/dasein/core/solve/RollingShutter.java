package dasein.core.solve;

import dasein.core.Progress;
import dasein.core.lens.Lens;
import dasein.core.math.Pose;
import dasein.core.math.Vec3;
import dasein.core.track.Track;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.function.BiFunction;

/**
 * Rows of a picture that are read one after the other. A solve gives the pose of the middle row; where another row's moment would put a
 * point, by the solve's own motion, is taken off its mark, and the marks are solved again, until nothing changes. The readout time itself,
 * where it is not known, is that with which the marks agree best: the lowest point of a parabola through the errors of some.
 */
final class RollingShutter {
    private static final int ROUNDS = 3;
    private static final double[] TRIED = {0, 0.5, 1};
    /** Half the width of the second parabola. */
    private static final double NEAR = 0.12;
    /** Marks of no point count as this far off. */
    private static final double LOST_PX = 10;

    private RollingShutter() {}

    /**
     * @param c solved as if all rows were taken at once
     * @param again solves marks anew from where a solve stands
     */
    static SolvedCamera solve(SolvedCamera c, List<Track> tracks, double readout, BiFunction<SolvedCamera, List<Track>, SolvedCamera> again, Progress progress) {
        if (readout != Hints.SOLVE_READOUT) return settled(c, tracks, readout, ROUNDS, again);
        SolvedCamera[] at = new SolvedCamera[3];
        double[] wide = new double[3], near = {-NEAR, 0, NEAR};
        for (int i = 0; i < 3; i++) {
            progress.at(0.15 * i, "readout of " + TRIED[i] + " of a frame");
            at[i] = TRIED[i] == 0 ? c : settled(at[i - 1], tracks, TRIED[i], 2, again);
            wide[i] = cost(at[i], corrected(tracks, at[i], TRIED[i]));
        }
        double first = Math.max(-1 + NEAR, Math.min(1 - NEAR, lowest(TRIED, wide)[0]));
        for (int i = 0; i < 3; i++) {
            near[i] += first;
            progress.at(0.45 + 0.15 * i, String.format(Locale.ROOT, "readout of %.2f of a frame", near[i]));
            at[i] = settled(i == 0 ? at[first < 0.25 ? 0 : first < 0.75 ? 1 : 2] : at[i - 1], tracks, near[i], 2, again);
            wide[i] = cost(at[i], corrected(tracks, at[i], near[i]));
        }
        double[] best = lowest(near, wide);
        double found = Math.max(-1, Math.min(1, best[0]));
        // Small errors count by their square: the parabola's curvature over the variance of one coordinate is the information.
        double off = best[1] > 0 ? Math.sqrt(0.5 * at[1].rmsPx() * at[1].rmsPx() / best[1]) : 1;
        SolvedCamera s = settled(at[1], tracks, found, 2, again);
        List<String> said = new java.util.ArrayList<>(s.remarks());
        said.add(off > 0.15 ? "The footage says nothing of the readout: the camera hardly turned. Give it, or leave it at none." : String.format(Locale.ROOT, "Reading a picture out takes %.2f of a frame, +- %.2f.", found, Math.max(0.01, off)));
        return s.with(said);
    }

    /** Robust cost of all marks, those that a solve left out as well: with a better readout more of them agree. */
    private static double cost(SolvedCamera c, List<Track> marks) {
        Map<Integer, Vec3> at = new HashMap<>();
        for (SolvedCamera.Point p : c.points()) at.put(p.id(), p.position());
        double sum = 0;
        for (Track t : marks) {
            Vec3 p = at.get(t.id());
            for (int i = 0; i < t.length(); i++) {
                int f = t.frames()[i];
                double[] q = p == null || !c.has(f) ? null : c.lens(f).project(c.frame(f).pose().toLocal(p));
                sum += Math.log1p(q == null ? LOST_PX * LOST_PX : Math.min(LOST_PX * LOST_PX, Math.pow(q[0] - t.x()[i], 2) + Math.pow(q[1] - t.y()[i], 2)));
            }
        }
        return sum;
    }

    /** Lowest point and curvature of the parabola through three. */
    private static double[] lowest(double[] x, double[] y) {
        double d1 = (y[1] - y[0]) / (x[1] - x[0]), d2 = (y[2] - y[1]) / (x[2] - x[1]), a = (d2 - d1) / (x[2] - x[0]);
        if (a <= 1e-12) return new double[] {y[0] < y[2] ? x[0] : x[2], 0};
        return new double[] {0.5 * (x[0] + x[1]) - 0.5 * d1 / a, a};
    }

    private static SolvedCamera settled(SolvedCamera c, List<Track> tracks, double readout, int rounds, BiFunction<SolvedCamera, List<Track>, SolvedCamera> again) {
        SolvedCamera s = c;
        for (int i = 0; i < rounds; i++) s = again.apply(s, corrected(tracks, s, readout));
        return s.withReadout(readout);
    }

    /** Marks as they would be if all rows were taken with the middle one. */
    static List<Track> corrected(List<Track> tracks, SolvedCamera c, double readout) {
        Map<Integer, Vec3> at = new HashMap<>();
        for (SolvedCamera.Point p : c.points()) at.put(p.id(), p.position());
        return tracks.parallelStream().map(t -> {
            double[] x = t.x().clone(), y = t.y().clone();
            Vec3 p = at.get(t.id());
            for (int i = 0; i < x.length; i++) {
                double[] d = shift(c, t.frames()[i], p, x[i], y[i], readout);
                x[i] -= d[0];
                y[i] -= d[1];
            }
            return new Track(t.id(), t.frames(), x, y, t.match());
        }).toList();
    }

    /** How far a point's image lies from where the middle row's moment would put it, pixels; of a mark without a point as if it were far away. */
    private static double[] shift(SolvedCamera c, int frame, Vec3 p, double x, double y, double readout) {
        if (!c.has(frame)) return new double[2];
        Lens lens = c.lens(frame);
        Pose now = c.frame(frame).pose(), then = at(c, frame, readout * (y / c.height() - 0.5));
        double[] a, b;
        if (p != null) {
            a = lens.project(now.toLocal(p));
            b = lens.project(then.toLocal(p));
        } else {
            a = new double[] {x, y};
            b = lens.project(then.rotation().conjugate().rotate(now.rotation().rotate(lens.ray(x, y))));
        }
        return a == null || b == null ? new double[2] : new double[] {b[0] - a[0], b[1] - a[1]};
    }

    /** Pose some part of a frame's time away, by the motion to the neighbour on that side, or from the other where there is none. */
    static Pose at(SolvedCamera c, int frame, double dt) {
        int next = frame + (dt >= 0 ? 1 : -1);
        Pose now = c.frame(frame).pose();
        if (c.has(next)) return now.interpolate(c.frame(next).pose(), Math.abs(dt));
        int other = 2 * frame - next;
        return c.has(other) ? now.interpolate(c.frame(other).pose(), -Math.abs(dt)) : now;
    }
}
