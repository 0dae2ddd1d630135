package dasein.app.stage.blocking;

import dasein.app.scene.Scenes;
import dasein.app.stage.Edited;
import dasein.app.stage.Form;
import dasein.app.store.Plates;
import dasein.app.store.Results;
import dasein.core.BadInput;
import dasein.core.cast.Blocking;
import dasein.core.cast.Performer;
import dasein.core.cast.Route;
import dasein.core.math.Affine;
import dasein.core.math.Pose;
import dasein.core.math.Vec3;
import dasein.core.shot.CameraRecipe;
import dasein.core.shot.Shot;
import dasein.core.solve.ObjectSolver;
import dasein.core.solve.SolvedCamera;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.springframework.stereotype.Component;

/** Where a performer stands, by numbers, by hand, on a point, or where another stands. */
@Component
class PlaceEdits {
    private final Scenes scenes;
    private final Results results;
    private final Plates plates;

    PlaceEdits(Scenes scenes, Results results, Plates plates) {
        this.scenes = scenes;
        this.results = results;
        this.plates = plates;
    }

    Blocking blocking(Shot s) {
        Blocking b = scenes.blocking(s);
        if (b == null) throw new BadInput("the camera must be solved before somebody is moved");
        return b;
    }

    /** To a place on the ground in this frame: a route goes along as a whole, a tied one keeps its tie. */
    Edited<Performer> move(Shot s, Performer p, Form f) {
        int frame = f.frame();
        Vec3 now = blocking(s).foot(p.id(), frame);
        return to(
                s,
                p,
                frame,
                new Vec3(f.number("x", "x", now.x(), -1e4, 1e4), now.y(), f.number("z", "z", now.z(), -1e4, 1e4)),
                false,
                p.name() + " moved");
    }

    Edited<Performer> to(Shot s, Performer p, int frame, Vec3 target, boolean height, String said) {
        Blocking b = blocking(s);
        Vec3 d = target.minus(b.foot(p.id(), frame));
        if (p.route() != null) {
            List<Double> moved = new ArrayList<>();
            for (int i = 0; i < p.route().points().size(); i++)
                moved.add(p.route().points().get(i) + (i % 2 == 0 ? d.x() : d.z()));
            return new Edited<>(
                    p.with(new Route(
                            moved,
                            p.route().start(),
                            p.route().speed(),
                            p.route().steps())),
                    said);
        }
        if (p.tie() != null) d = b.carrier(p.id(), frame).rotation().conjugate().rotate(d);
        Map<String, Double> rest = p.rests();
        double rate = plates.facts(s).rate().perSecond();
        Performer q = p.set("x", p.curve("x").at(frame, rest.get("x"), rate) + d.x(), frame);
        q = q.set("z", p.curve("z").at(frame, rest.get("z"), rate) + d.z(), frame);
        if (height || p.tie() != null) q = q.set("y", p.curve("y").at(frame, rest.get("y"), rate) + d.y(), frame);
        return new Edited<>(q, said);
    }

    /** A point of something that moves. @param object that thing's number; @param at in the set, in one frame */
    record OnThing(int object, String name, Vec3 at) {}

    /** The chosen point where it is one of something that moves; null where it is none. */
    OnThing thing(Shot s, Form f) {
        List<Integer> ids = f.ids("ids");
        if (ids.size() != 1) return null;
        for (CameraRecipe.Moved o : s.camera().objects()) {
            ObjectSolver.Result r = results.object(s, o);
            if (r == null) continue;
            for (SolvedCamera.Point q : r.points()) {
                if (q.id() != ids.get(0)) continue;
                Pose now = results.moved(s).get(o.id()).get(f.frame());
                if (now == null) throw new BadInput(o.name() + " is not solved in frame " + f.frame());
                double scale = results.set(s).toSet().scale();
                return new OnThing(o.id(), o.name(), now.toWorld(q.position().times(scale)));
            }
        }
        return null;
    }

    /** Onto the chosen point. */
    Edited<Performer> snap(Shot s, Performer p, Form f) {
        List<Integer> ids = f.ids("ids");
        if (ids.size() != 1) throw new BadInput("choose exactly one point in the picture first");
        var c = results.cameraInSet(s);
        Vec3 at = c == null
                ? null
                : c.points().stream()
                        .filter(q -> q.id() == ids.get(0))
                        .map(q -> q.position())
                        .findFirst()
                        .orElse(results.places(s, scenes::model).get(ids.get(0)));
        if (at == null) throw new BadInput("point " + ids.get(0) + " is not solved");
        return to(s, p, f.frame(), at, !p.onGround(), p.name() + " on point " + ids.get(0));
    }

    /** To another performer's place and heading, without being tied to it. */
    Edited<Performer> match(Shot s, Performer p, Form f) {
        int other = f.whole("other", "the other performer", 0, 0, 1_000_000), frame = f.frame();
        Performer o = s.performers().stream()
                .filter(q -> q.id() == other && q.id() != p.id())
                .findFirst()
                .orElseThrow(() -> new BadInput("choose another performer first"));
        Blocking b = blocking(s);
        Edited<Performer> c = to(s, p, frame, b.foot(other, frame), true, p.name() + " where " + o.name() + " is");
        if (p.tie() != null || p.route() != null) return c;
        return new Edited<>(
                c.value().set("heading", Affine.headingDeg(b.at(other, frame).toSet()), frame), c.said());
    }
}
