package dasein.core.track;

import dasein.core.Progress;
import dasein.core.image.Pyramid;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.function.IntFunction;

/**
 * Follows marks put by hand, each held against its look at the nearest fix as long as it looks like that. Between two
 * fixes it is followed from both, and the two ways are blended by nearness, so that both fixes are met; beyond them
 * from the one, until it is lost or the wanted end is reached.
 */
public final class HandTracker {
    /** Below this the look it is held against is no longer the mark's; from one frame to the next more is asked. */
    private static final double LOST = 0.75, RENEWED = 0.85;
    /** A step against the prediction must stay within the search area even when a coarse level was misled. */
    private static final int MOST_LEVELS = 6;
    /** A whole picture's shift is believed where it leaves them less unlike than this part of what others leave. */
    private static final double ALIKE = 0.7;

    private final IntFunction<float[]> grey;
    private final int width, height;
    /** The last few frames, ready: marks follow one after the other over the same frames. */
    private final Map<Integer, Pyramid> ready = new HashMap<>();

    private final List<Integer> order = new ArrayList<>();
    private boolean tooFar;
    private String lost = "", before = "", after = "";

    public HandTracker(IntFunction<float[]> grey, int width, int height) {
        this.grey = grey;
        this.width = width;
        this.height = height;
    }

    /** @return the mark's track under its own id; frames in which it was lost are missing. */
    public Track follow(HandMark m, Progress progress) {
        TreeMap<Integer, double[]> out = new TreeMap<>();
        List<HandMark.Fix> fixes = m.fixes();
        for (HandMark.Fix f : fixes) out.put(f.frame(), new double[] {f.x(), f.y(), 1});
        HandMark.Fix a = fixes.get(0), z = fixes.get(fixes.size() - 1);
        lost = "";
        run(m, a, m.first(), progress.part(0, 0.3)).forEach(out::putIfAbsent);
        before = lost;
        for (int i = 0; i + 1 < fixes.size(); i++) {
            HandMark.Fix from = fixes.get(i), to = fixes.get(i + 1);
            Map<Integer, double[]> there = run(m, from, to.frame() - 1, progress),
                    back = run(m, to, from.frame() + 1, progress);
            for (int f = from.frame() + 1; f < to.frame(); f++) {
                double[] p = there.get(f), q = back.get(f);
                if (p == null && q == null) continue;
                double t = p == null ? 1 : q == null ? 0 : (double) (f - from.frame()) / (to.frame() - from.frame());
                if (p == null) p = q;
                if (q == null) q = p;
                out.put(f, new double[] {p[0] + t * (q[0] - p[0]), p[1] + t * (q[1] - p[1]), Math.min(p[2], q[2])});
            }
        }
        lost = "";
        run(m, z, m.last(), progress.part(0.5, 1)).forEach(out::putIfAbsent);
        after = lost;
        int n = out.size(), i = 0;
        int[] frames = new int[n];
        double[] x = new double[n], y = new double[n];
        float[] match = new float[n];
        for (var e : out.entrySet()) {
            frames[i] = e.getKey();
            x[i] = e.getValue()[0];
            y[i] = e.getValue()[1];
            match[i++] = (float) e.getValue()[2];
        }
        return new Track(m.id(), frames, x, y, match);
    }

    /** Why the mark that was followed last is lost before its first fix; empty where it is not. */
    public String lostBefore() {
        return before;
    }

    /** Likewise after its last. */
    public String lostAfter() {
        return after;
    }

    /** From a fix to a frame on either side of it: x, y and match by frame. */
    private Map<Integer, double[]> run(HandMark m, HandMark.Fix from, int until, Progress progress) {
        Map<Integer, double[]> out = new HashMap<>();
        int step = Integer.signum(until - from.frame());
        if (step == 0) return out;
        int levels = 1;
        while (levels < MOST_LEVELS && 0.4 * m.region() * (1 << levels - 1) < m.search()) levels++;
        // What is followed is the region; the mark rides on it, this far from its middle in the frame the region is
        // taken from.
        double cx = from.x() + from.aside(), cy = from.y() + from.asideY();
        double[] mark = {-from.aside(), -from.asideY()};
        PatchAligner a = new PatchAligner(
                pyramid(from.frame()), cx, cy, PatchAligner.square(m.region()), m.motion(), levels, !m.sameLight());
        if (!a.usable()) return out;
        double[] h = {1, 0, cx, 0, 1, cy, 0, 0, 1};
        double vx = 0, vy = 0;
        for (int f = from.frame() + step, n = 1; ; f += step, n++) {
            double x = h[2] / h[8], y = h[5] / h[8];
            double[] there = PlaneTracker.mapped(h, mark), got = null;
            tooFar = false;
            // Where it does not go on as it went, it goes as the whole picture does.
            for (int guess = 0; guess < 2 && got == null; guess++) {
                double[] by = guess == 0 ? new double[] {vx, vy} : GlobalShift.between(pyramid(f - step), pyramid(f));
                got = aligned(a, f, h, by, LOST, m);
                if (got != null) break;
                // What is behind the mark has changed, or it has turned: its last look goes on, at the cost of a little
                // drift.
                PatchAligner last = new PatchAligner(
                        pyramid(f - step), x, y, PatchAligner.square(m.region()), m.motion(), levels, !m.sameLight());
                got = last.usable() ? aligned(last, f, new double[] {1, 0, x, 0, 1, y, 0, 0, 1}, by, RENEWED, m) : null;
                if (got == null) continue;
                mark = new double[] {there[0] - x, there[1] - y};
                a = last;
            }
            if (got == null) {
                double[] by = GlobalShift.between(pyramid(f - step), pyramid(f));
                int seen = Math.min(m.region() << levels - 1, Math.min(width, height) / 4);
                boolean goes = by[2] < ALIKE;
                lost = leaves(x + vx, y + vy, seen) || goes && leaves(x + by[0], y + by[1], seen)
                        ? "it leaves the picture"
                        : tooFar ? "it moves further than its search area" : "nothing looks like it there";
                return out;
            }
            double gx = got[2] / got[8], gy = got[5] / got[8];
            vx = gx - x;
            vy = gy - y;
            h = got;
            double[] at = PlaneTracker.mapped(h, mark);
            out.put(f, new double[] {at[0], at[1], a.correlation});
            progress.at((double) n / Math.abs(until - from.frame()), "following " + m.name() + ", frame " + f);
            if (f == until) return out;
        }
    }

    /** With a part of its region as the coarsest level has it, which is then not seen whole. */
    private boolean leaves(double x, double y, int region) {
        return x < region || y < region || x > width - region || y > height - region;
    }

    private boolean inside(double x, double y) {
        return x >= 0 && y >= 0 && x <= width && y <= height;
    }

    /** Where a region lies in a frame, from a guess of its step; null where it is not found within the search area. */
    private double[] aligned(PatchAligner a, int frame, double[] h, double[] by, double least, HandMark m) {
        double x = h[2] / h[8], y = h[5] / h[8];
        double[] move = {1, 0, by[0], 0, 1, by[1], 0, 0, 1},
                got = a.align(pyramid(frame), PatchAligner.compose(move, h));
        if (got == null || a.correlation < least) return null;
        double gx = got[2] / got[8], gy = got[5] / got[8];
        if (!inside(gx, gy)) return null;
        if (Math.hypot(gx - x - by[0], gy - y - by[1]) <= m.search()) return got;
        tooFar = true;
        return null;
    }

    private Pyramid pyramid(int frame) {
        Pyramid p = ready.get(frame);
        if (p != null) return p;
        // A pyramid that is not wanted any more is filled anew.
        p = ready.size() >= 4 ? ready.remove(order.remove(0)) : new Pyramid(width, height, MOST_LEVELS);
        p.fill(grey.apply(frame));
        ready.put(frame, p);
        order.add(frame);
        return p;
    }
}
