package dasein.app.stage.blocking;

import dasein.app.scene.Scenes;
import dasein.app.stage.Edited;
import dasein.app.stage.Form;
import dasein.app.store.Plates;
import dasein.core.BadInput;
import dasein.core.cast.Blocking;
import dasein.core.cast.Performer;
import dasein.core.cast.Route;
import dasein.core.cast.Tie;
import dasein.core.key.Curve;
import dasein.core.math.Affine;
import dasein.core.math.Vec3;
import dasein.core.plate.PlateFacts;
import dasein.core.shot.Shot;
import dasein.core.shot.ShotSteps;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import org.springframework.stereotype.Component;

/** Where a performer goes: a route over the ground, or along with something else. */
@Component
class WayEdits {
    private final Scenes scenes;
    private final Plates plates;
    private final PlaceEdits places;
    private final ClipEdits clips;

    WayEdits(Scenes scenes, Plates plates, PlaceEdits places, ClipEdits clips) {
        this.scenes = scenes;
        this.plates = plates;
        this.places = places;
        this.clips = clips;
    }

    private static final int MOST_POINTS = 500;

    Edited<Performer> route(Shot s, Performer p, String action, Form f) {
        if (p.route() == null && !action.equals("route-draw")) throw new BadInput(p.name() + " has no route");
        if (action.equals("route-delete")) {
            // It stays where the route began.
            Performer q = p.with((Route) null).with("way", Curve.NONE);
            return new Edited<>(
                    q.at(p.route().points().get(0), p.y(), p.route().points().get(1)),
                    "route of " + p.name() + " taken away");
        }
        if (action.equals("route-draw")) {
            List<Double> points = new ArrayList<>();
            for (String v : f.text("points", "").split(",")) points.add(number(v));
            if (points.size() > 2 * MOST_POINTS) throw new BadInput("a route has at most " + MOST_POINTS + " points");
            Performer ready = p.route() == null ? clips.ready(p) : p;
            Blocking b = scenes.blocking(instead(s, ready));
            double pace = b == null ? 0 : b.slide(p.id(), 2).stepSpeed();
            double length = new Route(points, 1, 1, false).walked().length();
            PlateFacts plate = plates.facts(s);
            int first = ShotSteps.first(s.plate(), plate);
            // As fast as its steps are; without steps so that it arrives in the last frame.
            double speed = pace > 0.01
                    ? pace
                    : length
                            / Math.max(
                                    0.1,
                                    (ShotSteps.last(s.plate(), plate) - first)
                                            / plate.rate().perSecond());
            Route old = p.route();
            Route r = new Route(
                    points,
                    old == null ? first : old.start(),
                    old == null ? Math.round(100 * speed) / 100.0 : old.speed(),
                    old == null ? pace > 0.01 : old.steps());
            return new Edited<>(
                    ready.at(0, p.y(), 0)
                            .turned(old == null ? 0 : p.headingDeg(), p.pitchDeg(), p.rollDeg())
                            .with("x", Curve.NONE)
                            .with("z", Curve.NONE)
                            .with(r),
                    String.format(Locale.ROOT, "route of %.1f m for %s", length, p.name()));
        }
        Route r = p.route();
        double start = f.number("start", "the first frame", r.start(), 0, 10_000_000),
                speed = f.number("speed", "the speed", r.speed(), -1000, 1000),
                rate = plates.facts(s).rate().perSecond();
        int shown = arrives(r, rate),
                arrive = f.whole("arrive", "the frame in which it arrives", shown, -1, 10_000_000);
        if (arrive != shown) {
            if (arrive <= start) throw new BadInput("it sets out in frame " + Math.round(start) + " and arrives later");
            speed = r.walked().length() * rate / (arrive - start);
        }
        return new Edited<>(
                p.with(new Route(r.points(), start, speed, f.tick("steps", r.steps()))),
                "route of " + p.name() + " changed");
    }

    /** Frame in which its end is reached; -1: never. */
    static int arrives(Route r, double rate) {
        return r.speed() > 0 ? (int) Math.round(r.start() + r.walked().length() / r.speed() * rate) : -1;
    }

    /** The first key of a way keys the frame, too, in which it sets out: until then nothing has changed. */
    Performer setsOut(Shot s, Performer was, Performer now) {
        List<Curve.Key> keys = now.curve("way").keys();
        if (was.route() == null || !was.curve("way").keys().isEmpty() || keys.size() != 1) return now;
        int start = Math.max(ShotSteps.first(s.plate(), plates.facts(s)), (int)
                Math.round(was.route().start()));
        if (keys.get(0).frame() <= start) return now;
        return now.with("way", now.curve("way").with(new Curve.Key(start, 0, Curve.Ease.LINEAR)));
    }

    /** With a performer in the place of the one of its number. */
    private static Shot instead(Shot s, Performer p) {
        return s.with(s.performers().stream().map(o -> o.id() == p.id() ? p : o).toList());
    }

    private static double number(String v) {
        try {
            return Double.parseDouble(v.trim());
        } catch (NumberFormatException e) {
            throw new BadInput("a point of the route is not a number");
        }
    }

    /** What it goes along with; it stays where it is in this frame. */
    /** Onto the chosen point; on one of something that moves it goes along with that from there on. */
    Edited<Performer> snap(Shot s, Performer p, Form f) {
        PlaceEdits.OnThing on = places.thing(s, f);
        if (on == null) return places.snap(s, p, f);
        String frame = String.valueOf(f.frame());
        boolean along =
                p.tie() != null && p.tie().to() == Tie.To.OBJECT && p.tie().id() == on.object();
        Performer q = along
                ? p
                : tie(s, p, new Form(Map.of("to", "object " + on.object(), "frame", frame)))
                        .value();
        return places.to(instead(s, q), q, f.frame(), on.at(), true, p.name() + " sticks to " + on.name());
    }

    Edited<Performer> tie(Shot s, Performer p, Form f) {
        String to = f.text("to", "");
        int frame = f.frame();
        Blocking b = places.blocking(s);
        Vec3 now = b.foot(p.id(), frame);
        double[] m = b.at(p.id(), frame).toSet();
        if (to.isEmpty()) {
            Performer q = p.with((Tie) null);
            q = q.at(now.x(), p.onGround() ? p.y() : now.y(), now.z())
                    .turned(Affine.headingDeg(m), p.pitchDeg(), p.rollDeg())
                    .with("x", Curve.NONE)
                    .with("z", Curve.NONE)
                    .with("y", Curve.NONE)
                    .with("heading", Curve.NONE);
            return new Edited<>(q, p.name() + " untied");
        }
        String[] what = to.split(" ", 3);
        Tie.To kind =
                switch (what[0]) {
                    case "object" -> Tie.To.OBJECT;
                    case "track", "chosen" -> Tie.To.TRACK;
                    case "performer" -> Tie.To.PERFORMER;
                    default -> throw new BadInput("there is nothing called \"" + to + "\" to go along with");
                };
        int id;
        try {
            List<Integer> ids = what[0].equals("chosen") ? f.ids("ids") : List.of();
            if (what[0].equals("chosen") && ids.size() != 1)
                throw new BadInput("choose exactly one point in the picture first: switch points on above it");
            id = ids.isEmpty() ? Integer.parseInt(what.length > 1 ? what[1] : "") : ids.get(0);
        } catch (NumberFormatException e) {
            throw new BadInput("choose what it goes along with");
        }
        Tie t = new Tie(kind, id, what.length > 2 ? what[2] : "", kind != Tie.To.TRACK);
        // Its place becomes one against what it is tied to; what was keyed against the set means nothing there.
        Performer q = p.with(t)
                .with((Route) null)
                .with("x", Curve.NONE)
                .with("y", Curve.NONE)
                .with("z", Curve.NONE)
                .with("heading", Curve.NONE)
                .with("way", Curve.NONE)
                .at(0, 0, 0);
        boolean node = !t.node().isEmpty();
        // On the deck of something that moves it stands where it is put, not on the ground under that.
        if (node || kind != Tie.To.TRACK) q = q.standing(p.feet(), false);
        var carrier = places.blocking(instead(s, p.with((Route) null).with(t))).carrier(p.id(), frame);
        if (node) return new Edited<>(q.turned(0, 0, 0), p.name() + " on " + t.node());
        Vec3 local = carrier.toLocal(now);
        Vec3 ahead = carrier.rotation().conjugate().rotate(new Vec3(m[2], m[6], m[10]));
        if (kind == Tie.To.TRACK) local = Vec3.ZERO;
        return new Edited<>(
                q.at(local.x(), q.onGround() ? p.y() : local.y(), local.z())
                        .turned(
                                kind == Tie.To.TRACK
                                        ? p.headingDeg()
                                        : Math.toDegrees(Math.atan2(ahead.x(), ahead.z())),
                                p.pitchDeg(),
                                p.rollDeg()),
                p.name() + " goes along");
    }
}
