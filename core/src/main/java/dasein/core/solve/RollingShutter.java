package dasein.core.solve;

import dasein.core.Progress;
import dasein.core.lens.Lens;
import dasein.core.math.Pose;
import dasein.core.math.Vec3;
import dasein.core.track.Track;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.function.BiFunction;

/**
 * Rows of a picture that are read one after the other. A solve gives the pose of the middle row; where another row's
 * moment would put a point, by the solve's own motion, is taken off its mark, and the marks are solved again, until
 * nothing changes. The readout time itself, where it is not known, is that at which what is left at the marks no longer
 * pulls at it: the root is found by secants, since the camera's poses have followed part of every step.
 */
final class RollingShutter {
    private static final int ROUNDS = 3, TRIES = 8;
    /** A readout that changes by less is found; one that is thought to change by more is approached. */
    private static final double FOUND = 0.002, FARTHEST = 0.5;

    private static final double UNDETERMINED = 0.15;
    /** Marks further off than this pull less. */
    private static final double NEAR_PX = 1;
    /** For differences over the readout. */
    private static final double STEP = 0.01;

    private static final double LEAST_FOLLOWING = 0.02;

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
        SolvedCamera s = c;
        Pull pull = Pull.of(s, tracks, 0);
        double found = 0, step = pull.step(), follows = 1;
        for (int i = 0; i < TRIES && Math.abs(step) > FOUND; i++) {
            double next = Math.max(-1, Math.min(1, found + Math.max(-FARTHEST, Math.min(FARTHEST, step))));
            if (next == found) break;
            progress.at((double) i / TRIES, String.format(Locale.ROOT, "readout of %.2f of a frame", next));
            s = settled(s, tracks, next, 2, again);
            Pull now = Pull.of(s, tracks, next);
            follows = (pull.step() - now.step()) / (next - found);
            found = next;
            pull = now;
            // Where the poses follow all of it, the marks tell nothing of it.
            step = follows > LEAST_FOLLOWING ? pull.step() / follows : pull.step();
        }
        double off = pull.off(follows, s.rmsPx());
        // What the footage does not tell is not made up.
        if (off > UNDETERMINED) s = c;
        List<String> said = new ArrayList<>(s.remarks());
        said.add(
                off > UNDETERMINED
                        ? "The footage says nothing of the readout: the camera hardly turned. It was solved "
                                + "without; give it if you know it."
                        : String.format(Locale.ROOT, TAKES + "%.2f of a frame, +- %.2f.", found, Math.max(0.01, off)));
        return s.with(said);
    }

    /**
     * What is left at the marks, against how each would move with the readout.
     *
     * @param along sum of their products, pixels squared a unit of readout; @param square of the marks' own motions
     */
    private record Pull(double along, double square) {
        static Pull of(SolvedCamera c, List<Track> marks, double readout) {
            Map<Integer, Vec3> at = places(c);
            double near = Math.max(NEAR_PX, 2 * c.rmsPx());
            return marks.parallelStream()
                    .filter(t -> at.containsKey(t.id()))
                    .map(t -> of(c, t, at.get(t.id()), readout, near))
                    .reduce(new Pull(0, 0), (a, b) -> new Pull(a.along + b.along, a.square + b.square));
        }

        private static Pull of(SolvedCamera c, Track t, Vec3 p, double readout, double near) {
            double along = 0, square = 0;
            for (int i = 0; i < t.length(); i++) {
                int f = t.frames()[i];
                double[] q = c.has(f) ? c.lens(f).project(c.frame(f).pose().toLocal(p)) : null;
                if (q == null) continue;
                double[] a = shift(c, f, p, t.x()[i], t.y()[i], readout - STEP),
                        b = shift(c, f, p, t.x()[i], t.y()[i], readout + STEP);
                double gx = (b[0] - a[0]) / (2 * STEP), gy = (b[1] - a[1]) / (2 * STEP);
                double ex = t.x()[i] - (a[0] + b[0]) / 2 - q[0],
                        ey = t.y()[i] - (a[1] + b[1]) / 2 - q[1],
                        w = 1 / (1 + (ex * ex + ey * ey) / (near * near));
                along += w * (gx * ex + gy * ey);
                square += w * (gx * gx + gy * gy);
            }
            return new Pull(along, square);
        }

        /** By how much the readout would change if the camera did not follow. */
        double step() {
            return square < 1e-12 ? 0 : along / square;
        }

        /**
         * One standard deviation of the readout.
         *
         * @param follows part of a step that the camera's poses leave to the readout
         */
        double off(double follows, double rmsPx) {
            double information = Math.min(1, follows) * square;
            return information <= 1e-9 ? 1 : Math.sqrt(0.5 * rmsPx * rmsPx / information);
        }
    }

    private static Map<Integer, Vec3> places(SolvedCamera c) {
        Map<Integer, Vec3> at = new HashMap<>();
        for (SolvedCamera.Point p : c.points()) at.put(p.id(), p.position());
        return at;
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
