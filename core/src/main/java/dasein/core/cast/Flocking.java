package dasein.core.cast;

import dasein.core.key.Curve;
import dasein.core.math.Affine;
import dasein.core.math.Pose;
import dasein.core.math.Quat;
import dasein.core.math.Vec3;
import dasein.core.model.Material;
import dasein.core.model.Mesh;
import dasein.core.model.Model;
import dasein.core.model.Moment;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.stream.IntStream;

/**
 * Where each copy of a flock is. Standing and flying are formulas of the frame; falling is followed once from its
 * beginning, in even steps.
 */
final class Flocking {
    /** Clips are played in so many ways; the renderer holds a copy's triangles once for each. */
    static final int WAYS = 64;

    private static final int TINTS = 6, STEPS = 8;
    /** Slower than this on the ground a thing lies still, metres a second. */
    private static final double STILL = 0.25, FRICTION = 0.6;
    /** How much higher than where they gather the ground may be that they are scattered on, metres. */
    private static final double SLOPE = 2;

    /** The same array for all, so that what plays the same is equal. */
    private static final double[] HERE = Affine.identity();

    private final Performer p;
    private final Flock flock;
    private final Model model;
    private final Blocking blocking;
    private final int first;
    private final double rate;
    private final Vec3 half;
    /** Height in model space of the middle, about which a falling copy turns. */
    private final double middle;
    /** Of falling copies: place and turn in each frame from the first; grown when a later one is asked for. */
    private Pose[][] fallen = new Pose[0][];

    private Fall[] falls;
    /** Null until somebody asks. */
    private Vec3[] clear;

    Flocking(Performer p, Model model, Blocking blocking, int first, double rate) {
        this.p = p;
        this.model = model;
        this.blocking = blocking;
        this.first = first;
        this.rate = rate;
        flock = p.flock();
        Blocking.refuseTooMany(p, model);
        float[] b = model.bounds();
        middle = b[1] + (b[4] - b[1]) / 2.0;
        half = size(model);
    }

    /** Half its extents, in its own units. */
    private static Vec3 size(Model m) {
        float[] b = m.bounds();
        return new Vec3((b[3] - b[0]) / 2, (b[4] - b[1]) / 2, (b[5] - b[2]) / 2);
    }

    /** @param share of its brightness, about 1 */
    record Copy(Moment moment, double share) {}

    /** Where a copy gathers against the performer's place: to its side, up and along. */
    private Vec3 spread(int i) {
        return keepsClear() ? room()[i] : spread(i, 0);
    }

    /** What falls does not. */
    private boolean keepsClear() {
        return flock.clear() && flock.motion() != Flock.Motion.FALL;
    }

    /** The places of all copies that are clear of all else; null where there is no room. */
    private synchronized Vec3[] room() {
        if (clear != null) return clear;
        Vec3[] out = new Vec3[flock.count()];
        Clearing room = new Clearing(blocking.around);
        for (Performer q : blocking.performers()) {
            if (q.id() == p.id() || q.flock() != null) continue;
            Vec3 size = size(blocking.model(q)).times(blocking.scale(q, first));
            room.keepOff(f -> blocking.foot(q.id(), f), first, Math.max(size.x(), size.z()), 2 * size.y());
        }
        for (int i = 0; i < out.length; i++) {
            int copy = i;
            double scale = scale(i, first), stray = flock.motion() == Flock.Motion.FLY ? flock.wander() : 0;
            Integer n = room.first(
                    k -> leader(copy, first, spread(copy, k)).position(),
                    scale * Math.max(half.x(), half.z()) + stray,
                    2 * scale * half.y() + stray,
                    flock.motion() == Flock.Motion.STAND && p.onGround());
            if (n != null) out[i] = spread(i, n);
        }
        return clear = out;
    }

    /** How many there is room for. */
    int found() {
        if (!keepsClear()) return flock.count();
        return (int) Arrays.stream(room()).filter(Objects::nonNull).count();
    }

    /** The n-th place that a copy may gather at. */
    private Vec3 spread(int copy, int n) {
        // Further on in the same even spread, past everybody.
        int i = copy + n * flock.count();
        return switch (flock.room().layout()) {
            // Additive recurrence by the plastic number (Roberts 2018): even without a grid, whatever the count; a
            // little shaken by the seed.
            case AREA ->
                new Vec3(
                        flock.room().width()
                                * (part(0.5 + i * 0.7548776662466927 + 0.5 * flock.random(0, 20))
                                        - 0.5
                                        + 0.02 * flock.random(i, 0)),
                        flock.room().height() * (0.5 + 0.5 * flock.random(i, 1)),
                        flock.room().depth()
                                * (part(0.5 + i * 0.5698402909980532 + 0.5 * flock.random(0, 21))
                                        - 0.5
                                        + 0.02 * flock.random(i, 2)));
            case ROUTE ->
                new Vec3(
                        0.5 * flock.room().width() * flock.random(i, 0),
                        flock.room().height() * (0.5 + 0.5 * flock.random(i, 1)),
                        0);
            case POINT -> Vec3.ZERO;
        };
    }

    private static double part(double v) {
        return v - Math.floor(v);
    }

    private double scale(int i, double frame) {
        return blocking.scale(p, frame) * (1 + flock.differences().size() * flock.random(i, 3));
    }

    List<Copy> at(double frame) {
        List<Copy> out = new ArrayList<>();
        if (flock.motion() == Flock.Motion.FALL) follow((int) Math.ceil(frame));
        for (int i = 0; i < flock.count(); i++) if (!keepsClear() || room()[i] != null) out.add(copy(i, frame));
        return out;
    }

    private Copy copy(int i, double frame) {
        double scale = scale(i, frame);
        Pose at =
                switch (flock.motion()) {
                    case STAND -> standing(i, frame);
                    case FLY -> flying(i, frame);
                    case FALL -> falling(i, frame);
                };
        // The clip runs a little earlier or later, faster or slower.
        int way = i % WAYS;
        double since = (frame - first) / rate,
                shifted =
                        first
                                + rate
                                        * (since * (1 + flock.differences().speed() * flock.random(way, 4))
                                                + flock.differences().phase() * flock.random(way, 5));
        Moment play = blocking.playing(p, shifted, scale);
        double lowest = flock.motion() == Flock.Motion.FALL ? middle : blocking.lowest(p, play);
        return new Copy(
                blocking.placed(at.position(), at.rotation(), scale, lowest, play, Map.of()),
                1 + flock.differences().tint() * flock.random(i, 6));
    }

    /** The performer's own place and heading at a frame, or further along its route. */
    private Pose leader(int i, double frame, Vec3 off) {
        Route r = p.route();
        if (flock.room().layout() == Flock.Layout.ROUTE && r != null) {
            double length = blocking.walked(p).length(),
                    way = blocking.way(p, frame) + length * (i + 0.5 + 0.3 * flock.random(i, 2)) / flock.count();
            // Those that have come to the end come in again at its beginning.
            double[] on = blocking.walked(p).at(way % Math.max(length, 1e-6));
            Quat turn = Quat.axisAngle(Vec3.Y, on[2]);
            return new Pose(turn, new Vec3(on[0], blocking.foot(p.id(), frame).y(), on[1]).plus(turn.rotate(off)));
        }
        Pose lead = blocking.pose(p, frame);
        return new Pose(lead.rotation(), lead.position().plus(lead.rotation().rotate(off)));
    }

    private Pose standing(int i, double frame) {
        Pose q = leader(i, frame, spread(i));
        Vec3 at = q.position();
        if (p.onGround())
            at = new Vec3(at.x(), blocking.ground(at, SLOPE) + p.y() + spread(i).y(), at.z());
        return new Pose(
                q.rotation()
                        .times(Quat.axisAngle(
                                Vec3.Y, Math.toRadians(flock.differences().heading() * flock.random(i, 7)))),
                at);
    }

    private Vec3 place(int i, double frame) {
        // Those behind come later: the flock bends along its way like a train.
        Vec3 off = spread(i), stray = new Vec3(stray(i, frame, 8), 0.5 * stray(i, frame, 9), stray(i, frame, 10));
        return leader(i, frame, off).position().plus(stray);
    }

    private double stray(int i, double frame, int k) {
        if (flock.wander() == 0) return 0;
        double slow = 2.2 * (1 + 0.3 * flock.random(i, 11 + k));
        return Curve.NONE
                .withWaves(List.of(new Curve.Wave(
                        Curve.Shape.NOISE, flock.wander(), slow, 100 * flock.random(i, 14 + k), flock.seed() + k)))
                .at(frame, 0, rate);
    }

    /** Along its way, nose after the way, leaning into turns. */
    private Pose flying(int i, double frame) {
        double d = 0.5;
        Vec3 at = place(i, frame), ahead = place(i, frame + d).minus(place(i, frame - d));
        Quat lead = leader(i, frame, Vec3.ZERO).rotation();
        if (ahead.length() < 1e-6) return new Pose(lead, at);
        double heading = Math.atan2(ahead.x(), ahead.z()),
                pitch = Math.atan2(ahead.y(), Math.hypot(ahead.x(), ahead.z()));
        Vec3 before = place(i, frame).minus(place(i, frame - 2 * d)),
                after = place(i, frame + 2 * d).minus(place(i, frame));
        double
                turn =
                        Math.IEEEremainder(
                                        Math.atan2(after.x(), after.z()) - Math.atan2(before.x(), before.z()),
                                        2 * Math.PI)
                                * rate,
                speed = ahead.length() * rate / (2 * d);
        // A turn is held by leaning so that lift and weight add to what it takes: tan of the bank is speed times turn
        // over g.
        double bank = Math.max(-1.1, Math.min(1.1, Math.atan(speed * turn / 9.81)));
        return new Pose(
                Quat.axisAngle(Vec3.Y, heading)
                        .times(Quat.axisAngle(Vec3.X, -0.7 * pitch))
                        .times(Quat.axisAngle(Vec3.Z, -bank))
                        .unit(),
                at);
    }

    /** A falling copy on its way. */
    private static final class Fall {
        Vec3 at, speed, spin;
        Quat turn;
        boolean lies;
    }

    private Pose falling(int i, double frame) {
        double f = Math.max(0, frame - first);
        int k = (int) Math.floor(f);
        return fallen[i][k].interpolate(fallen[i][Math.min(k + 1, fallen[i].length - 1)], f - k);
    }

    private synchronized void follow(int last) {
        int n = Math.max(1, last - first + 2);
        if (fallen.length > 0 && fallen[0].length >= n) return;
        int grown = Math.max(n, fallen.length == 0 ? 48 : 2 * fallen[0].length);
        Pose[][] out = new Pose[flock.count()][];
        if (falls == null) falls = new Fall[flock.count()];
        IntStream.range(0, out.length).parallel().forEach(i -> {
            int have = fallen.length == 0 ? 0 : fallen[i].length;
            out[i] = fallen.length == 0 ? new Pose[grown] : Arrays.copyOf(fallen[i], grown);
            if (have == 0) {
                falls[i] = begin(i);
                out[i][0] = new Pose(falls[i].turn, falls[i].at);
                have = 1;
            }
            for (int k = have; k < grown; k++) {
                double frame = first + k - 1,
                        go = flock.fall().start() + flock.fall().over() * i / Math.max(1, flock.count());
                if (frame >= go)
                    for (int s = 0; s < STEPS && !falls[i].lies; s++)
                        step(falls[i], scale(i, frame), 1 / (rate * STEPS));
                out[i][k] = new Pose(falls[i].turn, falls[i].at);
            }
        });
        fallen = out;
    }

    private Fall begin(int i) {
        Fall f = new Fall();
        Pose q = leader(i, Math.max(first, flock.fall().start()), spread(i));
        f.turn = q.rotation()
                .times(Quat.axisAngle(Vec3.Y, Math.toRadians(flock.differences().heading() * flock.random(i, 7))))
                .unit();
        f.at = q.position().plus(new Vec3(0, half.y() * scale(i, first), 0));
        double round = Math.PI * flock.random(i, 8),
                up = 0.5 + 0.5 * flock.random(i, 9),
                out = flock.fall().push() * (0.6 + 0.4 * flock.random(i, 10));
        f.speed = new Vec3(out * Math.cos(round) * (1 - 0.5 * up), out * up, out * Math.sin(round) * (1 - 0.5 * up));
        Vec3 axis = new Vec3(flock.random(i, 11), flock.random(i, 12), flock.random(i, 13));
        f.spin = axis.length() < 1e-6
                ? Vec3.X
                : axis.unit().times(Math.toRadians(flock.fall().tumble()) * (0.7 + 0.3 * flock.random(i, 14)));
        return f;
    }

    /** How far a box turned so reaches downwards from its middle. */
    private double reach(Quat turn, double scale) {
        double[] m = turn.matrix();
        return scale * (Math.abs(m[3]) * half.x() + Math.abs(m[4]) * half.y() + Math.abs(m[5]) * half.z());
    }

    /** Semi-implicit Euler: speed first, then place. */
    private void step(Fall f, double scale, double dt) {
        f.speed = f.speed
                .plus(new Vec3(0, -flock.fall().gravity() * dt, 0))
                .times(Math.exp(-flock.fall().drag() * dt));
        f.at = f.at.plus(f.speed.times(dt));
        double w = f.spin.length();
        if (w > 1e-6)
            f.turn = Quat.axisAngle(f.spin.times(1 / w), w * dt).times(f.turn).unit();
        double floor = blocking.ground(f.at, 0), low = f.at.y() - reach(f.turn, scale);
        if (low > floor) return;
        f.at = new Vec3(f.at.x(), f.at.y() + floor - low, f.at.z());
        if (f.speed.y() < 0) {
            // Rubbing along takes some of its way, the blow some of its turning.
            f.speed = new Vec3(
                    f.speed.x() * (1 - 0.3 * FRICTION),
                    -flock.fall().bounce() * f.speed.y(),
                    f.speed.z() * (1 - 0.3 * FRICTION));
            f.spin = f.spin.times(0.6);
        }
        if (Math.abs(f.speed.y()) > STILL + flock.fall().gravity() * dt) return;
        // Near its rest it leans over onto the side that is lowest.
        double[] m = f.turn.matrix();
        int side = Math.abs(m[3]) > Math.abs(m[4]) && Math.abs(m[3]) > Math.abs(m[5])
                ? 0
                : Math.abs(m[4]) > Math.abs(m[5]) ? 1 : 2;
        Vec3 up = f.turn.rotate(side == 0 ? Vec3.X : side == 1 ? Vec3.Y : Vec3.Z);
        Vec3 wanted = up.y() < 0 ? Vec3.Y.times(-1) : Vec3.Y;
        double lean = Math.acos(Math.max(-1, Math.min(1, up.dot(wanted)))), most = 4 * dt;
        Quat down = Quat.between(up, wanted);
        f.turn = (lean <= most ? down : Quat.IDENTITY.slerp(down, most / lean))
                .times(f.turn)
                .unit();
        f.speed = new Vec3(f.speed.x() * Math.exp(-6 * FRICTION * dt), 0, f.speed.z() * Math.exp(-6 * FRICTION * dt));
        f.spin = new Vec3(0, f.spin.y() * Math.exp(-6 * dt), 0);
        f.at = new Vec3(f.at.x(), floor + reach(f.turn, scale), f.at.z());
        if (lean <= most && Math.hypot(f.speed.x(), f.speed.z()) < 0.02) {
            f.speed = f.spin = Vec3.ZERO;
            f.lies = true;
        }
    }

    /** What a copy plays while the shutter is open, wherever it is. */
    private record Pair(Moment open, Moment close) {}

    /**
     * Copies that play the same are one mesh. @param shades of the performer's materials, as {@link #shades} gives them
     */
    List<Mesh> meshes(double open, double close, Material[] shades) {
        List<Copy> a = at(open), b = open == close ? a : at(close);
        Map<Pair, List<Integer>> same = new LinkedHashMap<>();
        for (int i = 0; i < a.size(); i++) {
            Moment from = here(a.get(i).moment);
            same.computeIfAbsent(
                            new Pair(from, a == b ? from : PosedCast.unwound(from, here(b.get(i).moment))),
                            k -> new ArrayList<>())
                    .add(i);
        }
        return same.entrySet().parallelStream()
                .map(e -> {
                    List<Integer> copies = e.getValue();
                    float[] from = new float[12 * copies.size()], to = a == b ? from : new float[from.length];
                    int[] shade = new int[copies.size()];
                    for (int k = 0; k < shade.length; k++) {
                        Copy c = a.get(copies.get(k)), d = b.get(copies.get(k));
                        for (int v = 0; v < 12; v++) {
                            from[12 * k + v] = (float) c.moment.toSet()[v];
                            to[12 * k + v] = (float) d.moment.toSet()[v];
                        }
                        // Tints come in a few shades, so that materials stay few.
                        shade[k] = model.materials().length * shade(c.share);
                    }
                    Pair pose = e.getKey();
                    return PosedMesh.of(
                                    p.id(),
                                    model,
                                    shades,
                                    pose.open,
                                    pose.open.equals(pose.close) ? pose.open : pose.close)
                            .with(new Mesh.Copies(from, Arrays.equals(from, to) ? from : to, shade));
                })
                .toList();
    }

    private static Moment here(Moment m) {
        return new Moment(HERE, m.clip(), m.seconds(), m.before(), m.beforeSeconds(), m.share(), m.turns());
    }

    private int shade(double share) {
        return flock.differences().tint() == 0
                ? 0
                : Math.max(0, Math.min(TINTS - 1, (int) Math.floor(
                        TINTS * (0.5 + 0.5 * (share - 1) / flock.differences().tint()))));
    }

    /** Materials in all tints of a flock, one set after the other. */
    static Material[] shades(Flock flock, Material[] materials) {
        if (flock.differences().tint() == 0) return materials;
        List<Material> out = new ArrayList<>();
        for (int s = 0; s < TINTS; s++) {
            double k = 1 + flock.differences().tint() * (2 * (s + 0.5) / TINTS - 1);
            Look look =
                    new Look("", null, null, null, null, null, null, null, List.of(k, k, k), null, null, null, null);
            for (Material m : materials) out.add(look.on(m, n -> null));
        }
        return out.toArray(Material[]::new);
    }
}
