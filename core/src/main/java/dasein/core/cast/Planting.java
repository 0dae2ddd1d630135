package dasein.core.cast;

import dasein.core.math.Quat;
import dasein.core.math.Vec3;
import dasein.core.model.Model;
import dasein.core.model.Moment;
import dasein.core.model.Posing;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.concurrent.ConcurrentHashMap;

/**
 * Keeps feet where they are set down while the body goes along a bent route. Where steps are matched, clip and body
 * both follow from the way gone, so where a foot stands is known at any frame: where it is half way through its stand.
 * Between two stands it goes evenly from what the one asks to what the next asks.
 */
final class Planting {
    /** How far a stand's middle is looked for, and how often the span is halved. */
    private static final int MOST_FRAMES = 120, HALVINGS = 16;

    private final Blocking blocking;
    private final Map<Footing, Legs> legs = new ConcurrentHashMap<>();

    Planting(Blocking blocking) {
        this.blocking = blocking;
    }

    /** How far a foot is to be moved, in the set, and turned. */
    record Push(Legs.Leg leg, double x, double y, double z, double twist) {
        Push plus(Push o) {
            return new Push(leg, x + o.x, y + o.y, z + o.z, twist + o.twist);
        }

        Push times(double k) {
            return new Push(leg, k * x, k * y, k * z, k * twist);
        }

        Vec3 by() {
            return new Vec3(x, y, z);
        }
    }

    /** @param turn of the body; @param m as it is without, of one clip */
    Moment planted(Performer p, Quat turn, double frame, int depth, double scale, Moment m) {
        ClipUse use = p.clips().get(Blocking.use(p, frame));
        Map<Integer, Push> pushes = pushes(p, use, m.clip(), m.seconds(), frame, depth, scale);
        if (pushes.isEmpty()) return m;
        Quat back = turn.conjugate();
        Posing posed = new Posing(blocking.model(p));
        posed.at(m);
        Map<Integer, Quat> turns = new HashMap<>(m.turns());
        // On uneven ground the body stands as low as its lowest foot: others bend, but none is too short.
        Vec3 up =
                Vec3.Y.times(pushes.values().stream().mapToDouble(Push::y).min().orElse(0));
        double[] to = m.toSet().clone();
        to[7] += up.y();
        for (Push q : pushes.values())
            Legs.reach(q.leg, posed, back.rotate(q.by().minus(up)).times(1 / scale), q.twist, turns);
        return new Moment(to, m.clip(), m.seconds(), m.before(), m.beforeSeconds(), m.share(), turns);
    }

    /** Legs of a clip that walks on; none of one that does not. */
    List<Legs.Leg> legs(Performer p, ClipUse use) {
        Footing f = blocking.footing(p, use.clip());
        Model.Clip clip = blocking.model(p).clip(use.clip());
        // Only a whole clip that goes on and on has a next stand to go to.
        if (f.stepSpeed() == 0
                || use.speed() <= 0
                || use.repeat() != ClipUse.Repeat.LOOP
                || use.from() != 0
                || use.to() != 0
                || clip.seconds() <= 0) return List.of();
        return legs.computeIfAbsent(f, n -> Legs.of(blocking.model(p), clip, f)).all();
    }

    /** By the foot; none where its clip does not walk. */
    Map<Integer, Push> pushes(
            Performer p, ClipUse use, Model.Clip clip, double seconds, double frame, int depth, double scale) {
        Map<Integer, Push> out = new TreeMap<>();
        List<Legs.Leg> all = legs(p, use);
        if (all.isEmpty()) return out;
        double pace = blocking.footing(p, use.clip()).stepSpeed() * scale / use.speed(), way = blocking.way(p, frame);
        Posing now = new Posing(blocking.model(p));
        now.at(clip, seconds);
        for (Legs.Leg leg : all) {
            double[] at = now.node(leg.foot());
            out.put(
                    leg.foot(),
                    push(
                            p,
                            leg,
                            new Vec3(at[3], at[7], at[11]),
                            seconds,
                            clip.seconds(),
                            way,
                            pace,
                            frame,
                            depth,
                            scale));
        }
        return out;
    }

    private Push push(
            Performer p,
            Legs.Leg leg,
            Vec3 foot,
            double seconds,
            double length,
            double way,
            double pace,
            double frame,
            int depth,
            double scale) {
        Legs.Stand before = null, after = null;
        double since = Double.MAX_VALUE, until = Double.MAX_VALUE;
        for (Legs.Stand s : leg.stands()) {
            double t = seconds < s.from() && seconds + length <= s.to() ? seconds + length : seconds;
            if (t >= s.from() && t <= s.to()) return asked(p, leg, s, t, foot, way, pace, frame, depth, scale);
            double gone = wrapped(seconds - s.to(), length), comes = wrapped(s.from() - seconds, length);
            if (gone < since) {
                since = gone;
                before = s;
            }
            if (comes < until) {
                until = comes;
                after = s;
            }
        }
        Push from = asked(p, leg, before, before.to(), before.last(), way - since * pace, pace, frame, depth, scale),
                to = asked(p, leg, after, after.from(), after.first(), way + until * pace, pace, frame, depth, scale);
        double u = since / (since + until), k = u * u * (3 - 2 * u);
        return from.times(1 - k).plus(to.times(k));
    }

    private static double wrapped(double t, double length) {
        return t - Math.floor(t / length) * length;
    }

    /** From where a foot is at a moment of its stand, the body having gone so far, to where it is to stand. */
    private Push asked(
            Performer p,
            Legs.Leg leg,
            Legs.Stand s,
            double seconds,
            Vec3 foot,
            double way,
            double pace,
            double frame,
            int depth,
            double scale) {
        Blocking.Place body = there(p, way, frame, depth),
                half = there(p, way + (s.half() - seconds) * pace, frame, depth);
        Vec3 is = body.at().plus(body.turn().rotate(foot).times(scale)),
                wanted = half.at().plus(half.turn().rotate(s.middle()).times(scale));
        // From a step above down, as the body's own ground is found.
        double level = body.at().y() - blocking.value(p, "y", p.y(), frame),
                height =
                        p.onGround()
                                ? blocking.ground(new Vec3(wanted.x(), level, wanted.z()), 0.25 * p.heightMetres())
                                : level;
        return new Push(
                leg,
                wanted.x() - is.x(),
                height - level,
                wanted.z() - is.z(),
                Math.IEEEremainder(heading(half) - heading(body), 2 * Math.PI));
    }

    /**
     * Where the body is once it has gone so far. What else is keyed counts as it is then; where it never goes so far,
     * as it is in this frame.
     */
    private Blocking.Place there(Performer p, double way, double frame, int depth) {
        return blocking.place(p, p.curves().isEmpty() ? frame : when(p, way, frame), depth, way);
    }

    private double when(Performer p, double way, double frame) {
        double now = blocking.way(p, frame), near = frame, far = frame;
        if (now == way) return frame;
        for (int k = 1; k <= MOST_FRAMES; k++) {
            far = frame + (now < way ? k : -k);
            if (now < way == blocking.way(p, far) >= way) break;
            if (k == MOST_FRAMES) return frame;
            near = far;
        }
        for (int k = 0; k < HALVINGS; k++) {
            double middle = (near + far) / 2;
            if (now < way == blocking.way(p, middle) >= way) far = middle;
            else near = middle;
        }
        return far;
    }

    private static double heading(Blocking.Place p) {
        Vec3 z = p.turn().rotate(Vec3.Z);
        return Math.atan2(z.x(), z.z());
    }
}
