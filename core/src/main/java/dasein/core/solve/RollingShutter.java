package dasein.core.solve;

import dasein.core.Progress;
import dasein.core.lens.Lens;
import dasein.core.math.Pose;
import dasein.core.math.Vec3;
import dasein.core.track.Track;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.function.BiFunction;

/**
 * Rows of a picture that are read one after the other. A solve gives the pose of the middle row; where another row's
 * moment would put a point, by the solve's own motion, is taken off its mark, and the marks are solved again, until
 * nothing changes. The readout time itself, where it is not known, is that with which the marks agree best: the lowest
 * point of a parabola through the errors of some.
 */
final class RollingShutter {
    private static final int ROUNDS = 3;
    private static final double[] TRIED = {0, 0.5, 1};
    private static final double UNDETERMINED = 0.15;
    /** Half the width of the second parabola. */
    private static final double NEAR = 0.12;
    /** Marks count as this far off at most. */
    private static final double LOST_PX = 10;

    private static final String TAKES = "Reading a picture out takes ";

    private RollingShutter() {}

    /** Whether a remark says what readout was found. */
    static boolean saysReadout(String remark) {
        return remark.startsWith(TAKES);
    }

    /**
     * @param c solved as if all rows were taken at once
     * @param again solves marks anew from where a solve stands
     */
    static SolvedCamera solve(
            SolvedCamera c,
            List<Track> tracks,
            double readout,
            BiFunction<SolvedCamera, List<Track>, SolvedCamera> again,
            Progress progress) {
        if (readout != Hints.SOLVE_READOUT) return settled(c, tracks, readout, ROUNDS, again);
        SolvedCamera[] at = new SolvedCamera[3];
        double[] near = {-NEAR, 0, NEAR};
        for (int i = 0; i < 3; i++) {
            progress.at(0.15 * i, "readout of " + TRIED[i] + " of a frame");
            at[i] = settled(i == 0 ? c : at[i - 1], tracks, TRIED[i], 2, again);
        }
        double[] wide = costs(at, TRIED, tracks);
        double first = Math.max(-1 + NEAR, Math.min(1 - NEAR, lowest(TRIED, wide)[0]));
        for (int i = 0; i < 3; i++) {
            near[i] += first;
            progress.at(0.45 + 0.15 * i, String.format(Locale.ROOT, "readout of %.2f of a frame", near[i]));
            at[i] = settled(
                    i == 0 ? at[first < 0.25 ? 0 : first < 0.75 ? 1 : 2] : at[i - 1], tracks, near[i], 2, again);
        }
        double[] best = lowest(near, costs(at, near, tracks));
        double found = Math.max(-1, Math.min(1, best[0]));
        // Small errors count by their square: the parabola's curvature over the variance of one coordinate is the
        // information.
        double off = best[1] > 0 ? Math.sqrt(0.5 * at[1].rmsPx() * at[1].rmsPx() / best[1]) : 1;
        // What the footage does not tell is not made up.
        SolvedCamera s = off > UNDETERMINED ? c : settled(at[1], tracks, found, 2, again);
        List<String> said = new java.util.ArrayList<>(s.remarks());
        said.add(
                off > UNDETERMINED
                        ? "The footage says nothing of the readout: the camera hardly turned. It was solved "
                                + "without; give it if you know it."
                        : String.format(Locale.ROOT, TAKES + "%.2f of a frame, +- %.2f.", found, Math.max(0.01, off)));
        return s.with(said);
    }

    /**
     * Robust cost of each solve over the marks of the tracks that all of them have, those a solve left out as well:
     * with a better readout more of them agree.
     */
    private static double[] costs(SolvedCamera[] solves, double[] readouts, List<Track> tracks) {
        Set<Integer> ids = new HashSet<>(places(solves[0]).keySet());
        for (SolvedCamera c : solves) ids.retainAll(places(c).keySet());
        List<Track> both = tracks.stream().filter(t -> ids.contains(t.id())).toList();
        double[] out = new double[solves.length];
        for (int i = 0; i < out.length; i++) out[i] = cost(solves[i], corrected(both, solves[i], readouts[i]));
        return out;
    }

    private static double cost(SolvedCamera c, List<Track> marks) {
        Map<Integer, Vec3> at = places(c);
        double sum = 0;
        for (Track t : marks) {
            for (int i = 0; i < t.length(); i++) {
                int f = t.frames()[i];
                double[] q = c.has(f) ? c.lens(f).project(c.frame(f).pose().toLocal(at.get(t.id()))) : null;
                sum += Math.log1p(
                        q == null
                                ? LOST_PX * LOST_PX
                                : Math.min(
                                        LOST_PX * LOST_PX,
                                        Math.pow(q[0] - t.x()[i], 2) + Math.pow(q[1] - t.y()[i], 2)));
            }
        }
        return sum;
    }

    private static Map<Integer, Vec3> places(SolvedCamera c) {
        Map<Integer, Vec3> at = new HashMap<>();
        for (SolvedCamera.Point p : c.points()) at.put(p.id(), p.position());
        return at;
    }

    /** Lowest point and curvature of the parabola through three. */
    private static double[] lowest(double[] x, double[] y) {
        double d1 = (y[1] - y[0]) / (x[1] - x[0]), d2 = (y[2] - y[1]) / (x[2] - x[1]), a = (d2 - d1) / (x[2] - x[0]);
        if (a <= 1e-12) return new double[] {y[0] < y[2] ? x[0] : x[2], 0};
        return new double[] {0.5 * (x[0] + x[1]) - 0.5 * d1 / a, a};
    }

    private static SolvedCamera settled(
            SolvedCamera c,
            List<Track> tracks,
            double readout,
            int rounds,
            BiFunction<SolvedCamera, List<Track>, SolvedCamera> again) {
        SolvedCamera s = c;
        for (int i = 0; i < rounds; i++) s = again.apply(s, corrected(tracks, s, readout));
        return s.withReadout(readout);
    }

    /** Marks as they would be if all rows were taken with the middle one. */
    static List<Track> corrected(List<Track> tracks, SolvedCamera c, double readout) {
        Map<Integer, Vec3> at = places(c);
        return tracks.parallelStream()
                .map(t -> {
                    double[] x = t.x().clone(), y = t.y().clone();
                    Vec3 p = at.get(t.id());
                    for (int i = 0; i < x.length; i++) {
                        double[] d = shift(c, t.frames()[i], p, x[i], y[i], readout);
                        x[i] -= d[0];
                        y[i] -= d[1];
                    }
                    return new Track(t.id(), t.frames(), x, y, t.match());
                })
                .toList();
    }

    /**
     * How far a point's image lies from where the middle row's moment would put it, pixels; of a mark without a point
     * as if it were far away.
     */
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

    /**
     * Pose some part of a frame's time away, by the motion to the neighbour on that side, or from the other where there
     * is none.
     */
    static Pose at(SolvedCamera c, int frame, double dt) {
        int next = frame + (dt >= 0 ? 1 : -1);
        Pose now = c.frame(frame).pose();
        if (c.has(next)) return now.interpolate(c.frame(next).pose(), Math.abs(dt));
        int other = 2 * frame - next;
        return c.has(other) ? now.interpolate(c.frame(other).pose(), -Math.abs(dt)) : now;
    }
}
