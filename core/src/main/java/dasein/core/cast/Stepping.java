package dasein.core.cast;

import dasein.core.math.Affine;
import dasein.core.math.Quat;
import dasein.core.math.Vec3;
import dasein.core.model.Model;
import dasein.core.model.Moment;
import dasein.core.model.Posing;
import java.util.HashMap;
import java.util.List;
import java.util.Map;

/**
 * Feet while one clip takes over from another: a foot that stands stays until its turn comes, then takes one step to
 * where the new clip has it. Half of them have their turn in the first half of the time, the others in the second, so
 * that there is always one to stand on. What a mixture of both clips would do instead is to slide.
 */
final class Stepping {
    /** Of the height: how high a foot is lifted, and how near it may be to where it goes without being lifted. */
    private static final double LIFT = 0.06, NEAR = 0.005;

    private final Blocking blocking;
    private final Planting planting;

    Stepping(Blocking blocking, Planting planting) {
        this.blocking = blocking;
        this.planting = planting;
    }

    /** Where a clip alone has a foot, in the set; how it is turned there; and whether it stands. */
    private record Foot(Vec3 at, Quat turn, boolean stands) {}

    /** @param m between two clips, as it is without */
    Moment stepped(Performer p, double frame, int depth, double scale, Moment m) {
        int k = Blocking.use(p, frame);
        ClipUse before = p.clips().get(k - 1), now = p.clips().get(k);
        List<Legs.Leg> legs = planting.legs(p, before);
        if (legs.isEmpty()) legs = planting.legs(p, now);
        if (legs.isEmpty()) return m;
        Map<Integer, Foot> held = feet(p, before, legs, now.at(), depth),
                from = feet(p, before, legs, frame, depth),
                to = feet(p, now, legs, frame, depth);
        Posing posed = new Posing(blocking.model(p));
        posed.at(m);
        Quat back = Affine.rotation(m.toSet()).conjugate();
        Map<Integer, Quat> turns = new HashMap<>(m.turns());
        double half = now.blend() / 2, high = scale * blocking.footing(p, "").height();
        for (int i = 0; i < legs.size(); i++) {
            Legs.Leg leg = legs.get(i);
            Foot stood = held.get(leg.foot()), goes = to.get(leg.foot());
            double begins = stood.stands && i % 2 == 1 ? half : 0,
                    u = Math.max(0, Math.min(1, (frame - now.at() - begins) / half)),
                    s = u * u * (3 - 2 * u);
            Foot start = stood.stands ? stood : from.get(leg.foot());
            Vec3 way = goes.at.minus(start.at);
            double lift = Math.hypot(way.x(), way.z()) < NEAR * high ? 0 : LIFT * high * Math.sin(Math.PI * u);
            double[] node = Affine.times(m.toSet(), posed.node(leg.foot()));
            Vec3 by =
                    start.at.plus(way.times(s)).plus(new Vec3(0, lift, 0)).minus(new Vec3(node[3], node[7], node[11]));
            Quat twist = back.times(start.turn.slerp(goes.turn, s))
                    .times(Affine.rotation(posed.node(leg.foot())).conjugate());
            Legs.reach(leg, posed, back.rotate(by).times(1 / scale), twist.unit(), turns);
        }
        return new Moment(m.toSet(), m.clip(), m.seconds(), m.before(), m.beforeSeconds(), m.share(), turns);
    }

    private Map<Integer, Foot> feet(Performer p, ClipUse use, List<Legs.Leg> legs, double frame, int depth) {
        Model model = blocking.model(p);
        Model.Clip clip = model.clip(use.clip());
        double scale = blocking.scale(p, frame), seconds = blocking.seconds(p, use, frame, scale, clip);
        Moment alone = Moment.still(null, clip, seconds);
        double lowest = blocking.lowest(p, alone);
        Blocking.Place body = blocking.place(p, frame, depth);
        Map<Integer, Planting.Push> pushes = planting.pushes(p, use, clip, seconds, frame, depth, scale);
        Posing posed = new Posing(model);
        posed.at(alone);
        boolean steps = blocking.footing(p, use.clip()).stepSpeed() != 0;
        Map<Integer, Foot> out = new HashMap<>();
        for (Legs.Leg leg : legs) {
            double[] n = posed.node(leg.foot());
            Vec3 at = body.at().plus(body.turn().rotate(new Vec3(n[3], n[7] - lowest, n[11]).times(scale)));
            Planting.Push push = pushes.get(leg.foot());
            if (push != null) at = at.plus(push.by());
            Quat turn = Quat.axisAngle(Vec3.Y, push == null ? 0 : push.twist())
                    .times(body.turn())
                    .times(Affine.rotation(n));
            out.put(leg.foot(), new Foot(at, turn.unit(), !steps || stands(leg, seconds, clip.seconds())));
        }
        return out;
    }

    private static boolean stands(Legs.Leg leg, double seconds, double length) {
        return leg.stands().stream()
                .anyMatch(s -> seconds >= s.from() && seconds <= s.to()
                        || seconds + length >= s.from() && seconds + length <= s.to());
    }
}
