package dasein.core.cast;

import dasein.core.BadInput;
import dasein.core.math.Quat;
import dasein.core.math.Vec3;
import dasein.core.model.Model;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;

/**
 * Parts that turn about their own pivots: by numbers, and wheels by the way that each of them goes, so that none is
 * dragged. On a bend they go different ways.
 */
final class Rolling {
    /** Radians; a wheel that would have to point further aside than this is pushed there by other means. */
    private static final double MOST = Math.toRadians(60);
    /** Slower than this, metres a frame, a wheel keeps pointing where it pointed. */
    private static final double STANDS = 1e-5;

    private final Blocking blocking;
    private final int first;
    private final Map<Integer, List<Wheel>> wheels = new ConcurrentHashMap<>();
    private final Map<Integer, Way> ways = new ConcurrentHashMap<>();
    private final Map<String, Model.Clip> clips = new ConcurrentHashMap<>();

    /**
     * Of each wheel in each frame from the first: radians it points aside, and metres it has rolled forwards; backwards
     * counts against it.
     */
    private record Way(double[][] aside, double[][] gone) {}

    /** @param first frame from which the way is counted */
    Rolling(Blocking blocking, int first) {
        this.blocking = blocking;
        this.first = first;
    }

    List<Wheel> wheels(Performer p) {
        if (p.parts().isEmpty()) return List.of();
        return wheels.computeIfAbsent(p.id(), k -> Wheel.of(blocking.model(p), p.parts()));
    }

    /** A clip without what it does to wheels: they roll instead. */
    Model.Clip without(Performer p, Model.Clip clip) {
        List<Wheel> all = wheels(p);
        if (all.isEmpty()) return clip;
        // The same one each time: moments of one clip are known by it.
        return clips.computeIfAbsent(
                p.id() + "\0" + clip.name(),
                k -> new Model.Clip(
                        clip.name(),
                        clip.seconds(),
                        clip.channels().stream()
                                .filter(c -> c.property() != Model.Property.ROTATION
                                        || all.stream().noneMatch(w -> w.node() == c.node()))
                                .toList()));
    }

    Map<Integer, Quat> turns(Performer p, double frame, double scale) {
        if (p.parts().isEmpty()) return Map.of();
        Map<Integer, Quat> out = new HashMap<>(), spun = new HashMap<>();
        for (PartTurn t : p.parts()) {
            int node = Blocking.node(blocking.model(p), t.node());
            if (node < 0) continue;
            double angle = Math.toRadians(blocking.value(p, t.channel(), t.deg(), frame));
            (t.rolls() ? spun : out).merge(node, Quat.axisAngle(axis(t), angle), Quat::times);
        }
        rolled(p, frame, scale, out, spun);
        return out;
    }

    private static Vec3 axis(PartTurn t) {
        return t.axis().equals("x") ? Vec3.X : t.axis().equals("y") ? Vec3.Y : Vec3.Z;
    }

    /** @param set by numbers before a wheel rolls; @param spun by numbers about its axle */
    private void rolled(Performer p, double frame, double scale, Map<Integer, Quat> set, Map<Integer, Quat> spun) {
        List<Wheel> all = wheels(p);
        if (all.isEmpty()) return;
        double steer = Math.toRadians(blocking.value(p, "steer", p.wheels().steerDeg(), frame)),
                spin = Math.toRadians(blocking.value(p, "spin", p.wheels().spinDeg(), frame));
        Vec3 fixed = Wheel.fixed(all);
        Way way = way(p, all, (int) Math.floor(frame));
        for (int i = 0; i < all.size(); i++) {
            Wheel w = all.get(i);
            PartTurn t = w.turn();
            Quat turn = w.local().times(set.getOrDefault(w.node(), Quat.IDENTITY));
            if (t.steers()) {
                // Behind the axle that does not steer, wheels point the other way.
                double by = fixed != null && w.hub().z() < fixed.z() ? -steer : steer;
                Vec3 up = w.above().conjugate().rotate(Vec3.Y);
                turn = Quat.axisAngle(up, aside(way, i, frame) + by).times(turn);
            }
            if (t.rolls() && w.radius() > 1e-9) {
                // Forwards is the nose's way, whichever way the axle points.
                double ahead = w.ahead().z() < 0 ? -1 : 1,
                        angle = gone(p, way, i, w, frame, scale) / (w.radius() * scale) + ahead * spin;
                turn = turn.times(Quat.axisAngle(axis(t), angle)).times(spun.getOrDefault(w.node(), Quat.IDENTITY));
            }
            set.put(w.node(), w.local().conjugate().times(turn).unit());
        }
    }

    private double aside(Way way, int wheel, double frame) {
        double[] a = way.aside[wheel];
        int k = (int) Math.floor(frame) - first;
        if (k < 0) return a[0];
        return a[k] + (frame - first - k) * (a[k + 1] - a[k]);
    }

    private double gone(Performer p, Way way, int wheel, Wheel w, double frame, double scale) {
        int k = Math.max(0, (int) Math.floor(frame) - first);
        double begun = first + k;
        if (frame == begun) return way.gone[wheel][k];
        Step s = new Step(blocking.place(p, begun, 0), blocking.place(p, frame, 0));
        return way.gone[wheel][k] + s.rolled(w, (aside(way, wheel, begun) + aside(way, wheel, frame)) / 2, scale);
    }

    /** To two frames after one at least. */
    private Way way(Performer p, List<Wheel> all, int whole) {
        Way w = ways.get(p.id());
        int n = whole - first + 3;
        if (w != null && w.aside[0].length >= n) return w;
        // Outside of the map: what it goes along with may roll, too, and asks for its own way meanwhile.
        w = way(p, all, first, Math.max(n, w == null ? 64 : 2 * w.aside[0].length));
        ways.put(p.id(), w);
        return w;
    }

    private Way way(Performer p, List<Wheel> all, int from, int n) {
        boolean moves = p.route() != null
                || p.tie() != null
                || !p.curve("x").empty()
                || !p.curve("z").empty()
                || !p.curve("heading").empty();
        double[][] aside = new double[all.size()][n], gone = new double[all.size()][n];
        if (!moves) return new Way(aside, gone);
        Blocking.Place[] at = new Blocking.Place[n];
        double[] scale = new double[n];
        for (int i = 0; i < n; i++) {
            at[i] = i == 0 ? blocking.place(p, from, 0) : placeOr(p, from + i, at[i - 1]);
            scale[i] = blocking.scale(p, from + i);
        }
        for (int k = 0; k < all.size(); k++) {
            Wheel w = all.get(k);
            if (w.turn().steers()) points(w, at, scale, aside[k]);
            for (int i = 1; i < n; i++)
                gone[k][i] = gone[k][i - 1]
                        + new Step(at[i - 1], at[i]).rolled(w, (aside[k][i - 1] + aside[k][i]) / 2, scale[i]);
        }
        return new Way(aside, gone);
    }

    /** What it goes along with may not be there after the last frame. */
    private Blocking.Place placeOr(Performer p, int frame, Blocking.Place last) {
        try {
            return blocking.place(p, frame, 0);
        } catch (BadInput e) {
            return last;
        }
    }

    private static void points(Wheel w, Blocking.Place[] at, double[] scale, double[] aside) {
        int n = at.length, moved = -1;
        for (int i = 0; i < n; i++) {
            int a = Math.max(0, i - 1), b = Math.min(n - 1, i + 1);
            double angle = new Step(at[a], at[b]).aside(w, at[i], scale[i]);
            if (!Double.isNaN(angle)) {
                // What stands at first points already where it will go.
                if (moved < 0) java.util.Arrays.fill(aside, 0, i, angle);
                moved = i;
                aside[i] = angle;
            } else if (moved >= 0) {
                aside[i] = aside[i - 1];
            }
        }
    }

    /** From one place to another. */
    private record Step(Blocking.Place a, Blocking.Place b) {
        private Vec3 of(Wheel w, double scale) {
            Vec3 hub = w.hub().times(scale);
            return b.at().plus(b.turn().rotate(hub)).minus(a.at().plus(a.turn().rotate(hub)));
        }

        /** Radians to the left of its own rolling direction in which it goes, forwards or backwards; NaN: it stands. */
        double aside(Wheel w, Blocking.Place now, double scale) {
            Vec3 by = now.turn().conjugate().rotate(of(w, scale));
            if (Math.hypot(by.x(), by.z()) < STANDS) return Double.NaN;
            double angle = Math.atan2(by.x(), by.z())
                    - Math.atan2(w.ahead().x(), w.ahead().z());
            angle = Math.IEEEremainder(angle, Math.PI);
            return Math.max(-MOST, Math.min(MOST, angle));
        }

        /** Metres along where it points. */
        double rolled(Wheel w, double aside, double scale) {
            Vec3 points = Quat.axisAngle(Vec3.Y, aside).rotate(w.ahead());
            return of(w, scale)
                    .dot(a.turn().rotate(points).plus(b.turn().rotate(points)).times(0.5));
        }
    }
}
