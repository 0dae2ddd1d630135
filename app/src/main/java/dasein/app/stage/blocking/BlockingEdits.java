package dasein.app.stage.blocking;

import dasein.app.scene.Scenes;
import dasein.app.stage.Change;
import dasein.app.stage.Form;
import dasein.app.store.MediaMapper;
import dasein.app.store.Plates;
import dasein.app.store.Results;
import dasein.core.BadInput;
import dasein.core.cast.Blocking;
import dasein.core.cast.Card;
import dasein.core.cast.ClipUse;
import dasein.core.cast.Flock;
import dasein.core.cast.Look;
import dasein.core.cast.PartTurn;
import dasein.core.cast.Performer;
import dasein.core.cast.Route;
import dasein.core.cast.Tie;
import dasein.core.ground.SetRecipe;
import dasein.core.key.Curve;
import dasein.core.key.Curve.Ease;
import dasein.core.key.Curve.Key;
import dasein.core.math.Affine;
import dasein.core.math.Vec3;
import dasein.core.model.Material;
import dasein.core.model.Model;
import dasein.core.plate.PlateFacts;
import dasein.core.shot.Shot;
import dasein.core.shot.ShotSteps;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import org.springframework.stereotype.Component;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** Changes of the Blocking stage. */
@Component
public class BlockingEdits {
    private static final int MOST = 200, MOST_POINTS = 500;
    private static final String[] EASES =
            Arrays.stream(Ease.values()).map(Enum::name).toArray(String[]::new);

    private final MediaMapper media;
    private final Scenes scenes;
    private final Results results;
    private final Plates plates;

    BlockingEdits(MediaMapper media, Scenes scenes, Results results, Plates plates) {
        this.media = media;
        this.scenes = scenes;
        this.results = results;
        this.plates = plates;
    }

    Change apply(Shot s, String action, Form f) {
        List<Performer> all = new ArrayList<>(s.performers());
        if (action.equals("add")) return add(s, all, f);
        if (action.equals("card-add")) return card(s, all, f);
        int id = f.whole("id", "the performer", 0, 0, 1_000_000), at = -1;
        for (int i = 0; i < all.size(); i++) if (all.get(i).id() == id) at = i;
        if (at < 0) throw new BadInput("that performer is no longer in the shot");
        Performer p = all.get(at);
        if (action.equals("remove")) {
            List<String> tied = all.stream()
                    .filter(q -> q.tie() != null
                            && q.tie().to() == Tie.To.PERFORMER
                            && q.tie().id() == id)
                    .map(Performer::name)
                    .toList();
            if (!tied.isEmpty())
                throw new BadInput(String.join(", ", tied) + " goes along with " + p.name() + "; untie it first");
            all.remove(at);
            return new Change(s.with(all), p.name() + " taken away");
        }
        if (action.equals("copy")) {
            if (all.size() >= MOST) throw new BadInput("more than " + MOST + " performers are not kept");
            int next = all.stream().mapToInt(Performer::id).max().orElse(0) + 1;
            // Beside it, so that it is seen.
            all.add(p.at(p.x() + 0.5 * p.heightMetres(), p.y(), p.z()).as(next, name(all, p.name())));
            return new Change(s.with(all), p.name() + " copied");
        }
        Changed c =
                switch (action.contains("-") ? action.substring(0, action.indexOf('-')) : action) {
                    case "swap" -> swap(p, f);
                    case "move" -> move(s, p, f);
                    case "snap" -> snap(s, p, f);
                    case "match" -> match(s, p, f);
                    case "key" -> key(s, p, action, f);
                    case "wave" -> wave(p, action, f);
                    case "clip" -> clip(p, action, f);
                    case "route" -> route(s, p, action, f);
                    case "tie" -> tie(s, p, f);
                    case "part" -> part(p, action, f);
                    case "look" -> look(p, action, f);
                    case "flock" -> flock(p, action, f);
                    case "card" -> card(p, f);
                    default -> set(s, p, f);
                };
        all.set(at, c.performer);
        Shot out = s.with(all);
        // What is newly said must work: a tie in a ring or to something unsolved is refused with its sentence.
        if (action.equals("tie")) {
            Blocking b = scenes.blocking(out);
            if (b != null) b.foot(id, f.whole("frame", "the frame", 1, 0, 10_000_000));
        }
        return new Change(out, c.said);
    }

    private record Changed(Performer performer, String said) {}

    private static String name(List<Performer> all, String wanted) {
        String base = wanted.replaceAll(" \\d+$", ""), out = base;
        for (int k = 2; ; k++) {
            String n = out;
            if (all.stream().noneMatch(p -> p.name().equals(n))) return out;
            out = base + " " + k;
        }
    }

    private Change add(Shot s, List<Performer> all, Form f) {
        if (all.size() >= MOST) throw new BadInput("more than " + MOST + " performers are not kept");
        MediaMapper.ShelfItem item = item(f.text("model", ""));
        JsonNode facts = new JsonMapper().readTree(item.facts());
        int id = all.stream().mapToInt(Performer::id).max().orElse(0) + 1;
        SetRecipe.Catcher c = s.set().catcher();
        Performer p = new Performer(
                        id,
                        name(all, item.name()),
                        item.hash(),
                        f.number("x", "x", c.x(), -1e4, 1e4),
                        0,
                        f.number("z", "z", c.z(), -1e4, 1e4),
                        0,
                        Math.max(0.01, Math.round(facts.path("height").asDouble(1.8) * 100) / 100.0),
                        facts.path("clips").path(0).path("name").asString(""),
                        0,
                        1,
                        true)
                .standing(Performer.Feet.CLIP, true);
        all.add(p);
        return new Change(s.with(all), p.name() + " placed");
    }

    private Change card(Shot s, List<Performer> all, Form f) {
        if (all.size() >= MOST) throw new BadInput("more than " + MOST + " performers are not kept");
        MediaMapper.ShelfItem item = media.item(f.text("footage", ""));
        if (item == null || !item.kind().equals("footage")) throw new BadInput("that footage is not on the shelf");
        int id = all.stream().mapToInt(Performer::id).max().orElse(0) + 1;
        SetRecipe.Catcher c = s.set().catcher();
        boolean alpha = new JsonMapper().readTree(item.facts()).path("alpha").asBoolean(false);
        Performer p = new Performer(id, name(all, item.name()), "", c.x(), 0, c.z(), 0, 1.8, "", 0, 1, true)
                .standing(Performer.Feet.REST, true)
                .with(Card.of(item.hash(), alpha ? Card.Cut.ALPHA : Card.Cut.NONE));
        all.add(p);
        return new Change(s.with(all), p.name() + " placed on a card");
    }

    private static Changed card(Performer p, Form f) {
        Card c = p.card();
        if (c == null) throw new BadInput(p.name() + " is not a card");
        return new Changed(
                p.with(new Card(
                        c.footage(),
                        Card.Cut.valueOf(
                                f.choice("cut", c.cut().name(), "NONE", "ALPHA", "PREMULTIPLIED", "BLACK", "WHITE")),
                        f.number("bend", "the bend", c.bendDeg(), -300, 300),
                        f.tick("faces", c.faces()),
                        f.tick("seen", c.seen()),
                        f.tick("shadow", c.shadow()),
                        f.tick("mirrored", c.mirrored()),
                        f.number("shadowTurn", "the shadow's turn", c.shadowTurnDeg(), -360, 360),
                        f.tick("added", c.added()),
                        f.tick("lit", c.lit()),
                        f.number("level", "the level", c.level(), 0, 1000),
                        f.number("offset", "the offset", c.offset(), -1e6, 1e6),
                        f.number("rate", "the rate", c.rate(), 0, 1000),
                        f.tick("again", c.again()))),
                p.name() + ": card changed");
    }

    private MediaMapper.ShelfItem item(String hash) {
        MediaMapper.ShelfItem item = media.item(hash);
        if (item == null || !item.kind().equals("model")) throw new BadInput("that model is not on the shelf");
        return item;
    }

    /** Another model in its place: clips and parts it lacks are left out, looks stay. */
    private Changed swap(Performer p, Form f) {
        MediaMapper.ShelfItem item = item(f.text("model", ""));
        Model m = scenes.model(item.hash());
        Performer q = p.withModel(item.hash()).with((Card) null);
        List<ClipUse> clips =
                p.clips().stream().filter(c -> m.clip(c.clip()) != null).toList();
        if (clips.isEmpty() && !p.clips().isEmpty() && !m.clips().isEmpty()) {
            ClipUse c = p.clips().get(0);
            clips = List.of(new ClipUse(m.clips().get(0).name(), 0, 0, 0, 0, c.speed(), c.repeat(), 0));
        }
        return new Changed(
                q.withClips(clips)
                        .withParts(p.parts().stream()
                                .filter(t -> m.nodes().stream()
                                        .anyMatch(n -> n.name().equals(t.node())))
                                .toList()),
                p.name() + " is " + item.name() + " now");
    }

    private static int frame(Form f) {
        return f.whole("frame", "the frame", 1, 0, 10_000_000);
    }

    /** Sets a number: a key in this frame where it is keyed, else what it is throughout. */
    private static Performer set(Performer p, String channel, double v, int frame) {
        Curve c = p.curve(channel);
        if (!c.keys().isEmpty()) {
            Key old = c.keys().stream()
                    .filter(k -> k.frame() == frame)
                    .findFirst()
                    .orElse(null);
            return p.with(
                    channel,
                    c.with(
                            old == null
                                    ? new Key(frame, v, Ease.EASED)
                                    : new Key(frame, v, old.ease(), old.in(), old.out())));
        }
        return switch (channel) {
            case "x" -> p.at(v, p.y(), p.z());
            case "y" -> p.at(p.x(), v, p.z());
            case "z" -> p.at(p.x(), p.y(), v);
            case "heading" -> p.turned(v, p.pitchDeg(), p.rollDeg());
            case "pitch" -> p.turned(p.headingDeg(), v, p.rollDeg());
            case "roll" -> p.turned(p.headingDeg(), p.pitchDeg(), v);
            case "height" -> p.sized(v);
            default ->
                p.withParts(p.parts().stream()
                        .map(t -> t.channel().equals(channel) ? new PartTurn(t.node(), t.axis(), v, t.rolls()) : t)
                        .toList());
        };
    }

    private Changed set(Shot s, Performer p, Form f) {
        int frame = frame(f);
        Performer q = p;
        for (String c : List.of("x", "y", "z")) if (f.has(c)) q = set(q, c, f.number(c, c, 0, -1e4, 1e4), frame);
        for (String c : List.of("heading", "pitch", "roll"))
            if (f.has(c)) q = set(q, c, f.number(c, "the " + c, 0, -36_000, 36_000), frame);
        if (f.has("height")) q = set(q, "height", f.number("height", "the height", 1, 0.01, 1000), frame);
        if (f.has("length")) {
            float[] b = scenes.model(p).bounds();
            q = set(
                    q,
                    "height",
                    f.number("length", "the length", 1, 0.01, 1000) * (b[4] - b[1]) / Math.max(1e-6, b[5] - b[2]),
                    frame);
        }
        if (f.has("feet") || f.has("onGround_"))
            q = q.standing(
                    Performer.Feet.valueOf(f.choice("feet", p.feet().name(), "REST", "CLIP", "ALWAYS")),
                    f.tick("onGround", p.onGround()));
        if (f.has("name")) q = q.as(p.id(), f.name("name", p.name()));
        return new Changed(q, q.name() + " changed");
    }

    private Blocking blocking(Shot s) {
        Blocking b = scenes.blocking(s);
        if (b == null) throw new BadInput("the camera must be solved before somebody is moved");
        return b;
    }

    /** To a place on the ground in this frame: a route goes along as a whole, a tied one keeps its tie. */
    private Changed move(Shot s, Performer p, Form f) {
        int frame = frame(f);
        Vec3 now = blocking(s).foot(p.id(), frame);
        return to(
                s,
                p,
                frame,
                new Vec3(f.number("x", "x", now.x(), -1e4, 1e4), now.y(), f.number("z", "z", now.z(), -1e4, 1e4)),
                false,
                p.name() + " moved");
    }

    private Changed to(Shot s, Performer p, int frame, Vec3 target, boolean height, String said) {
        Blocking b = blocking(s);
        Vec3 d = target.minus(b.foot(p.id(), frame));
        if (p.route() != null) {
            List<Double> moved = new ArrayList<>();
            for (int i = 0; i < p.route().points().size(); i++)
                moved.add(p.route().points().get(i) + (i % 2 == 0 ? d.x() : d.z()));
            return new Changed(
                    p.with(new Route(
                            moved,
                            p.route().start(),
                            p.route().speed(),
                            p.route().steps())),
                    said);
        }
        if (p.tie() != null) d = b.carrier(p.id(), frame).rotation().conjugate().rotate(d);
        Map<String, Double> rest = BlockingData.values(p);
        double rate = plates.facts(s).rate().perSecond();
        Performer q = set(p, "x", p.curve("x").at(frame, rest.get("x"), rate) + d.x(), frame);
        q = set(q, "z", p.curve("z").at(frame, rest.get("z"), rate) + d.z(), frame);
        if (height || p.tie() != null) q = set(q, "y", p.curve("y").at(frame, rest.get("y"), rate) + d.y(), frame);
        return new Changed(q, said);
    }

    /** Onto the chosen point. */
    private Changed snap(Shot s, Performer p, Form f) {
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
        return to(s, p, frame(f), at, !p.onGround(), p.name() + " on point " + ids.get(0));
    }

    /** To another performer's place and heading, without being tied to it. */
    private Changed match(Shot s, Performer p, Form f) {
        int other = f.whole("other", "the other performer", 0, 0, 1_000_000), frame = frame(f);
        Performer o = s.performers().stream()
                .filter(q -> q.id() == other && q.id() != p.id())
                .findFirst()
                .orElseThrow(() -> new BadInput("choose another performer first"));
        Blocking b = blocking(s);
        Changed c = to(s, p, frame, b.foot(other, frame), true, p.name() + " where " + o.name() + " is");
        if (p.tie() != null || p.route() != null) return c;
        return new Changed(
                set(c.performer, "heading", Affine.headingDeg(b.at(other, frame).toSet()), frame), c.said);
    }

    private static String channel(Performer p, Form f) {
        String c = f.text("channel", "");
        if (!Performer.CHANNELS.contains(c)
                && p.parts().stream().noneMatch(t -> t.channel().equals(c)))
            throw new BadInput("there is nothing called \"" + c + "\" to be keyed");
        return c;
    }

    /** Sets, moves or takes away a key. */
    private Changed key(Shot s, Performer p, String action, Form f) {
        String channel = channel(p, f);
        Curve c = p.curve(channel);
        int frame = frame(f);
        Key here = c.keys().stream().filter(k -> k.frame() == frame).findFirst().orElse(null);
        switch (action) {
            case "key-delete" -> {
                if (here == null) throw new BadInput("there is no key of " + channel + " in frame " + frame);
                return new Changed(
                        p.with(channel, c.without(frame)),
                        channel + " of " + p.name() + " no longer keyed in frame " + frame);
            }
            case "key-clear" -> {
                return new Changed(
                        p.with(channel, new Curve(List.of(), c.waves())),
                        "keys of " + channel + " of " + p.name() + " taken away");
            }
            case "key-set" -> {
                if (here == null) throw new BadInput("there is no key of " + channel + " in frame " + frame);
                int to = f.whole("to", "the frame", frame, 0, 10_000_000);
                if (to != frame && c.keys().stream().anyMatch(k -> k.frame() == to))
                    throw new BadInput(channel + " of " + p.name() + " is keyed in frame " + to + " already");
                Ease ease = Ease.valueOf(f.choice("ease", here.ease().name(), EASES));
                double in = f.number("in", "the slope", here.in(), -1e6, 1e6),
                        out = f.number("out", "the slope", here.out(), -1e6, 1e6);
                // A key that becomes free begins along its neighbours.
                if (ease == Ease.FREE && here.ease() != Ease.FREE && !f.has("in") && !f.has("out"))
                    in = out = c.smooth(frame);
                Key k = new Key(to, f.number("value", "the value", here.value(), -1e6, 1e6), ease, in, out);
                return new Changed(
                        p.with(channel, c.without(frame).with(k)),
                        channel + " of " + p.name() + " keyed in frame " + to);
            }
            default -> {
                // In this frame, as it is now; a second press takes it away again.
                if (here != null)
                    return new Changed(
                            p.with(channel, c.without(frame)),
                            channel + " of " + p.name() + " no longer keyed in frame " + frame);
                double rate = plates.facts(s).rate().perSecond(),
                        rest = BlockingData.values(p).getOrDefault(channel, 0.0);
                double v = f.has("value")
                        ? f.number("value", "the value", 0, -1e6, 1e6)
                        : new Curve(c.keys(), List.of()).at(frame, rest, rate);
                if (!f.has("value") && c.keys().isEmpty() && channel.equals("way") && p.route() != null)
                    v = Math.max(
                            0, (frame - p.route().start()) / rate * p.route().speed());
                if (!f.has("value") && c.keys().isEmpty() && channel.equals("clip"))
                    v = scenes.blocking(s).at(p.id(), frame).seconds();
                return new Changed(
                        p.with(channel, c.with(new Key(frame, v, Ease.valueOf(f.choice("ease", "EASED", EASES))))),
                        channel + " of " + p.name() + " keyed in frame " + frame);
            }
        }
    }

    private static Changed wave(Performer p, String action, Form f) {
        String channel = channel(p, f);
        Curve c = p.curve(channel);
        List<Curve.Wave> all = new ArrayList<>(c.waves());
        if (action.equals("wave-delete")) all.remove(f.index(all.size()));
        else {
            Curve.Wave w = new Curve.Wave(
                    Curve.Shape.valueOf(f.choice("shape", "SINE", "SINE", "NOISE")),
                    f.number("amplitude", "the amplitude", 0.1, -1e5, 1e5),
                    f.number("seconds", "the period", 1, 0.01, 1e4),
                    f.number("phase", "the phase", 0, -1e4, 1e4),
                    f.whole("seed", "the seed", 1, 0, 1_000_000));
            if (action.equals("wave-set")) all.set(f.index(all.size()), w);
            else all.add(w);
        }
        return new Changed(
                p.with(channel, c.withWaves(all)),
                action.equals("wave-delete") ? "wave taken away" : channel + " of " + p.name() + " waves");
    }

    private Changed clip(Performer p, String action, Form f) {
        List<ClipUse> all = new ArrayList<>(p.clips());
        Model m = scenes.model(p);
        if (action.equals("clip-add")) {
            if (m.clips().isEmpty()) throw new BadInput("its model has no clips");
            int at = all.isEmpty() ? 0 : frame(f);
            String name = f.text("clip", m.clips().get(0).name());
            if (m.clip(name) == null) throw new BadInput("its model has no clip " + name);
            all.add(new ClipUse(name, at, 0, 0, 0, 1, ClipUse.Repeat.LOOP, all.isEmpty() ? 0 : 8));
            return new Changed(p.withClips(all), name + " from frame " + (at == 0 ? "the first on" : at + " on"));
        }
        int i = f.index(all.size());
        ClipUse c = all.get(i);
        if (action.equals("clip-delete")) {
            all.remove(i);
            // The first plays from the start.
            if (i == 0 && !all.isEmpty())
                all.set(
                        0,
                        new ClipUse(
                                all.get(0).clip(),
                                0,
                                all.get(0).from(),
                                all.get(0).to(),
                                all.get(0).offset(),
                                all.get(0).speed(),
                                all.get(0).repeat(),
                                0));
            return new Changed(p.withClips(all), c.clip() + " taken away");
        }
        String name = f.text("clip", c.clip());
        if (m.clip(name) == null) throw new BadInput("its model has no clip " + name);
        all.set(
                i,
                new ClipUse(
                        name,
                        i == 0 ? 0 : f.whole("at", "the first frame", c.at(), 0, 10_000_000),
                        f.number("from", "its beginning", c.from(), 0, 1e5),
                        f.number("to", "its end", c.to(), 0, 1e5),
                        f.number("offset", "the offset", c.offset(), -1e5, 1e5),
                        f.number("speed", "the speed", c.speed(), -100, 100),
                        ClipUse.Repeat.valueOf(f.choice("repeat", c.repeat().name(), "HOLD", "LOOP", "THERE_AND_BACK")),
                        f.number("blend", "the blend", c.blend(), 0, 1000)));
        return new Changed(p.withClips(all), name + " of " + p.name() + " changed");
    }

    private Changed route(Shot s, Performer p, String action, Form f) {
        if (action.equals("route-delete")) {
            // It stays where the route began.
            Performer q = p.with((Route) null).with("way", Curve.NONE);
            return new Changed(
                    q.at(p.route().points().get(0), p.y(), p.route().points().get(1)),
                    "route of " + p.name() + " taken away");
        }
        if (action.equals("route-draw")) {
            List<Double> points = new ArrayList<>();
            for (String v : f.text("points", "").split(",")) points.add(number(v));
            if (points.size() > 2 * MOST_POINTS) throw new BadInput("a route has at most " + MOST_POINTS + " points");
            Blocking b = scenes.blocking(s);
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
            return new Changed(
                    p.at(0, p.y(), 0)
                            .turned(old == null ? 0 : p.headingDeg(), p.pitchDeg(), p.rollDeg())
                            .with("x", Curve.NONE)
                            .with("z", Curve.NONE)
                            .with(r),
                    String.format(Locale.ROOT, "route of %.1f m for %s", length, p.name()));
        }
        Route r = p.route();
        if (r == null) throw new BadInput(p.name() + " has no route");
        return new Changed(
                p.with(new Route(
                        r.points(),
                        f.number("start", "the first frame", r.start(), 0, 10_000_000),
                        f.number("speed", "the speed", r.speed(), -1000, 1000),
                        f.tick("steps", r.steps()))),
                "route of " + p.name() + " changed");
    }

    private static double number(String v) {
        try {
            return Double.parseDouble(v.trim());
        } catch (NumberFormatException e) {
            throw new BadInput("a point of the route is not a number");
        }
    }

    /** What it goes along with; it stays where it is in this frame. */
    private Changed tie(Shot s, Performer p, Form f) {
        String to = f.text("to", "");
        int frame = frame(f);
        Blocking b = blocking(s);
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
            return new Changed(q, p.name() + " untied");
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
        if (node || kind == Tie.To.PERFORMER) q = q.standing(p.feet(), false);
        Shot with = s.with(s.performers().stream()
                .map(o -> o.id() == p.id() ? p.with((Route) null).with(t) : o)
                .toList());
        var carrier = blocking(with).carrier(p.id(), frame);
        if (node) return new Changed(q.turned(0, 0, 0), p.name() + " on " + t.node());
        Vec3 local = carrier.toLocal(now);
        Vec3 ahead = carrier.rotation().conjugate().rotate(new Vec3(m[2], m[6], m[10]));
        if (kind == Tie.To.TRACK) local = Vec3.ZERO;
        return new Changed(
                q.at(local.x(), q.onGround() ? p.y() : local.y(), local.z())
                        .turned(
                                kind == Tie.To.TRACK
                                        ? p.headingDeg()
                                        : Math.toDegrees(Math.atan2(ahead.x(), ahead.z())),
                                p.pitchDeg(),
                                p.rollDeg()),
                p.name() + " goes along");
    }

    /** The last word of a node's name: what kind of part it is. */
    static String kind(String node) {
        String[] words =
                node.toLowerCase(Locale.ROOT).replaceAll("[^a-z]+", " ").strip().split(" ");
        return words[words.length - 1];
    }

    private Changed part(Performer p, String action, Form f) {
        List<PartTurn> all = new ArrayList<>(p.parts());
        if (action.equals("part-add")) {
            String node = f.text("node", "");
            if (node.startsWith("*")) {
                String kind = node.substring(1);
                for (Model.Node n : scenes.model(p).nodes())
                    if (kind(n.name()).equals(kind)
                            && all.stream().noneMatch(t -> t.node().equals(n.name())))
                        all.add(new PartTurn(n.name(), "x", 0, kind.matches("wheel|tyre|tire|roller")));
                return new Changed(p.withParts(all), "every " + kind + " can turn");
            }
            if (scenes.model(p).nodes().stream().noneMatch(n -> n.name().equals(node)))
                throw new BadInput("its model has no part " + node);
            String axis = List.of("y", "x", "z").stream()
                    .filter(a -> all.stream()
                            .noneMatch(t -> t.node().equals(node) && t.axis().equals(a)))
                    .findFirst()
                    .orElseThrow(() -> new BadInput(node + " turns about all its axes already"));
            all.add(new PartTurn(node, axis, 0, false));
            return new Changed(p.withParts(all), node + " can turn");
        }
        int i = f.index(all.size());
        PartTurn t = all.get(i);
        if (action.equals("part-delete")) {
            all.remove(i);
            return new Changed(p.withParts(all).with(t.channel(), Curve.NONE), t.node() + " as its clip has it");
        }
        PartTurn n =
                new PartTurn(t.node(), f.choice("axis", t.axis(), "x", "y", "z"), t.deg(), f.tick("rolls", t.rolls()));
        if (!n.axis().equals(t.axis()) && all.stream().anyMatch(o -> o.channel().equals(n.channel())))
            throw new BadInput(t.node() + " turns about " + n.axis() + " already");
        all.set(i, n);
        Performer q = p.withParts(all);
        if (!n.channel().equals(t.channel()))
            q = q.with(t.channel(), Curve.NONE).with(n.channel(), p.curve(t.channel()));
        if (f.has("deg")) q = set(q, n.channel(), f.number("deg", "the turn", t.deg(), -360_000, 360_000), frame(f));
        return new Changed(q, t.node() + " turned");
    }

    private Changed flock(Performer p, String action, Form f) {
        if (action.equals("flock-delete")) return new Changed(p.with((Flock) null), p.name() + " is one again");
        Flock o = p.flock() == null ? Flock.of(12) : p.flock();
        Flock n = new Flock(
                f.whole("count", "the count", o.count(), 1, Flock.MOST),
                f.whole("seed", "the seed", o.seed(), 0, 1_000_000),
                Flock.Layout.valueOf(f.choice("layout", o.layout().name(), "AREA", "ROUTE", "POINT")),
                f.number("width", "the width", o.width(), 0, 1e4),
                f.number("depth", "the depth", o.depth(), 0, 1e4),
                f.number("high", "the height", o.height(), 0, 1e4),
                f.number("sizeVar", "the size", 100 * o.size(), 0, 90) / 100,
                f.number("headingVar", "the heading", o.heading(), 0, 180),
                f.number("phaseVar", "the phase", o.phase(), 0, 1000),
                f.number("speedVar", "the speed", 100 * o.speed(), 0, 90) / 100,
                f.number("tintVar", "the tint", 100 * o.tint(), 0, 90) / 100,
                Flock.Motion.valueOf(f.choice("motion", o.motion().name(), "STAND", "FLY", "FALL")),
                f.number("wander", "how far they stray", o.wander(), 0, 1000),
                f.number("start", "the first frame", o.start(), 0, 1e7),
                f.number("over", "the frames", o.over(), 0, 1e5),
                f.number("push", "the push", o.push(), 0, 1000),
                f.number("gravity", "gravity", o.gravity(), -100, 100),
                f.number("drag", "drag", o.drag(), 0, 100),
                f.number("bounce", "the bounce", 100 * o.bounce(), 0, 100) / 100,
                f.number("tumble", "the tumbling", o.tumble(), 0, 36_000));
        // What cannot be held is refused before it is kept.
        Blocking.refuseTooMany(p.with(n), scenes.model(p));
        return new Changed(
                p.with(n), p.name() + (p.flock() == null ? " is a flock of " + n.count() : ": flock changed"));
    }

    private Changed look(Performer p, String action, Form f) {
        String material = f.text("material", "");
        Material[] has = scenes.model(p).materials();
        List<Look> all = new ArrayList<>(p.looks());
        Look old = all.stream()
                .filter(l -> l.material().equals(material))
                .findFirst()
                .orElse(Look.none(material));
        all.remove(old);
        if (!action.equals("look-delete")) {
            if (!material.isEmpty() && Arrays.stream(has).noneMatch(m -> material.equals(m.name())) && old.empty())
                throw new BadInput("its model has no material " + material);
            Look l = new Look(
                    material,
                    colour(f, "colour", old.colour()),
                    number(f, "roughness", old.roughness(), 0, 1),
                    number(f, "metallic", old.metallic(), 0, 1),
                    emission(
                            f,
                            old,
                            Arrays.stream(has)
                                    .filter(m -> material.equals(m.name() == null ? "" : m.name()))
                                    .findFirst()
                                    .orElse(has[0])),
                    number(f, "normals", old.normals(), 0, 10),
                    number(f, "brightness", old.brightness(), 0, 10),
                    number(f, "contrast", old.contrast(), 0.1, 4),
                    colour(f, "tint", old.tint()),
                    number(f, "opacity", old.opacity(), 0, 1),
                    f.has("twoSided_") ? (Boolean) f.tick("twoSided", false) : old.twoSided(),
                    number(f, "scatterMm", old.scatterMm(), 0, 1000),
                    f.has("mask") ? mask(f) : old.mask());
            if (!l.empty()) all.add(l);
        }
        return new Changed(
                p.withLooks(all),
                (material.isEmpty() ? p.name() : material)
                        + (action.equals("look-delete") ? " as the model has it" : " looks different"));
    }

    /** Colour and level come one by one; what does not come stays. */
    private static List<Double> emission(Form f, Look old, Material m) {
        if (!f.has("emission") && !f.has("level")) return old.emission();
        List<Double> now = BlockingBench.glow(old, m);
        double was = Look.level(now), level = f.number("level", "the level", was, 0, 10_000);
        List<Double> c = colour(f, "emission", now.stream().map(v -> v / was).toList());
        return c == null ? null : c.stream().map(v -> level * v).toList();
    }

    private String mask(Form f) {
        String m = f.text("mask", "");
        if (m.isEmpty() || m.equals(Look.BRIGHT) || m.equals(Look.DARK)) return m.isEmpty() ? null : m;
        return media.shelf("footage").stream()
                .map(MediaMapper.ShelfItem::hash)
                .filter(m::equals)
                .findFirst()
                .orElseThrow(() -> new BadInput("there is no such picture on the shelf"));
    }

    /** An emptied field gives the model's own back. */
    private static Double number(Form f, String name, Double now, double least, double most) {
        if (!f.has(name)) return now;
        return f.text(name, "").isEmpty() ? null : (Double) f.number(name, "the " + name, 0, least, most);
    }

    /** A colour as #rrggbb (sRGB), kept linear. */
    private static List<Double> colour(Form f, String name, List<Double> now) {
        if (!f.has(name)) return now;
        String v = f.text(name, "");
        if (v.isEmpty()) return null;
        if (!v.matches("#[0-9a-fA-F]{6}")) throw new BadInput("\"" + v + "\" is not a colour");
        List<Double> out = new ArrayList<>();
        for (int k = 0; k < 3; k++)
            out.add(dasein.core.image.Encoding.SRGB.decode(
                    Integer.parseInt(v.substring(1 + 2 * k, 3 + 2 * k), 16) / 255.0));
        return out;
    }
}
