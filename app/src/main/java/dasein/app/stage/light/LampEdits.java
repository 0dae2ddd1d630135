package dasein.app.stage.light;

import dasein.app.scene.Scenes;
import dasein.app.stage.Change;
import dasein.app.stage.Edited;
import dasein.app.stage.Form;
import dasein.app.stage.KeyEdits;
import dasein.app.stage.Seen;
import dasein.core.BadInput;
import dasein.core.cast.Blocking;
import dasein.core.cast.Performer;
import dasein.core.cast.Tie;
import dasein.core.key.Curve;
import dasein.core.light.LightRecipe;
import dasein.core.light.lamp.Lamp;
import dasein.core.light.lamp.LampAim;
import dasein.core.light.lamp.LampRecipe;
import dasein.core.light.lamp.Photometry;
import dasein.core.math.Pose;
import dasein.core.math.Vec3;
import dasein.core.model.Model;
import dasein.core.render.Probe;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import org.springframework.stereotype.Component;

/** Lamps of a shot: added, set, aimed, keyed, tied to performers and their parts. */
@Component
class LampEdits {
    private static final int MOST = 24, MOST_NODES = 60;
    private static final String[] KINDS =
            Arrays.stream(Lamp.Kind.values()).map(Enum::name).toArray(String[]::new);

    private final Scenes scenes;

    LampEdits(Scenes scenes) {
        this.scenes = scenes;
    }

    static boolean knows(String action, Form f) {
        return action.startsWith("lamp") || KeyEdits.knows(action) && f.has("id");
    }

    Change apply(Seen s, String action, Form f) {
        LightRecipe l = s.shot().light();
        List<LampRecipe> all = new ArrayList<>(l.lamps());
        if (action.equals("lamp-add")) {
            if (all.size() >= MOST) throw new BadInput("more than " + MOST + " lamps are not rendered");
            int id = all.stream().mapToInt(LampRecipe::id).max().orElse(0) + 1;
            Lamp.Kind kind = Lamp.Kind.valueOf(f.choice("kind", "SPOT", KINDS));
            all.add(LampRecipe.fresh(
                    id, kind, f.number("x", "the place", 0, -1e4, 1e4), f.number("z", "the place", -4, -1e4, 1e4)));
            return change(s, all, "lamp " + id + " added");
        }
        int at = -1;
        for (int i = 0; i < all.size(); i++) if (all.get(i).id() == f.id()) at = i;
        if (at < 0) throw new BadInput("that lamp is no longer there");
        LampRecipe k = all.get(at);
        if (action.equals("lamp-remove")) {
            all.remove(at);
            return change(s, all, k.name() + " taken away");
        }
        Edited<LampRecipe> e =
                switch (action) {
                    case "lamp-tie" -> new Edited<>(tied(s, k, f), k.name() + " goes along with something else");
                    case "lamp-highlight" -> new Edited<>(highlighted(s, k, f), k.name() + " put to its highlight");
                    case "lamp-shadow" -> new Edited<>(shadowed(s, k, f), k.name() + " put to a shadow's tip");
                    case "lamp-aim" -> new Edited<>(aimed(s, k, f), k.name() + " aimed");
                    case "lamp" -> new Edited<>(set(k, l.clues().white(), f), k.name() + " changed");
                    default -> {
                        double rate = s.needPlate().rate().perSecond();
                        yield KeyEdits.apply(k, action, f, f.frame(), () -> k.curve(KeyEdits.channel(k, f))
                                .at(f.frame(), k.rest(KeyEdits.channel(k, f)), rate));
                    }
                };
        all.set(at, e.value());
        return change(s, all, e.said());
    }

    /** The picture that a lamp shines with. */
    static LightRecipe showing(LightRecipe l, int id, String picture) {
        if (l.lamps().stream().noneMatch(k -> k.id() == id)) throw new BadInput("that lamp is no longer there");
        return l.withLamps(l.lamps().stream()
                .map(k -> k.id() == id ? k.with(k.shine().showing(picture)) : k)
                .toList());
    }

    private static Change change(Seen s, List<LampRecipe> all, String said) {
        return new Change(s.shot().with(s.shot().light().withLamps(all)), said);
    }

    private static LampRecipe set(LampRecipe k, double white, Form f) {
        LampRecipe.Shape s = k.shape();
        LampRecipe.Shine h = k.shine();
        LampRecipe out = k.as(
                        f.name("name", k.name()),
                        Lamp.Kind.valueOf(f.choice("kind", k.kind().name(), KINDS)),
                        f.tick("on", k.on()),
                        f.tick("real", k.real()))
                .with(new LampRecipe.Shape(
                        f.number("width", "the width", s.width(), 0.005, 100),
                        f.number("height", "the height", s.height(), 0.005, 100),
                        f.number("coneDeg", "the cone", s.coneDeg(), 2, 170),
                        f.number("softness", "the softness", s.softness(), 0, 1)))
                .with(new LampRecipe.Shine(
                        h.level(),
                        f.has("kelvin") && f.text("kelvin", "").isEmpty()
                                ? 0
                                : f.number("kelvin", "the colour temperature", h.kelvin(), 0, 25_000),
                        List.of(
                                f.number("red", "red", h.colour().get(0), 0, 10),
                                f.number("green", "green", h.colour().get(1), 0, 10),
                                f.number("blue", "blue", h.colour().get(2), 0, 10)),
                        f.has("picture") ? "" : h.picture()));
        for (String c : LampRecipe.CHANNELS)
            if (f.has(c) && !c.equals("level")) out = out.set(c, f.number(c, c, 0, -1e4, 1e4), f.frame());
        if (f.has("level")) {
            double v = Photometry.level(f.text("level", ""), white, out);
            if (v > 1e5) throw new BadInput("the level must lie between 0 and 100000");
            out = out.set("level", v, f.frame());
        }
        return out;
    }

    /** Turned so that what it faces comes down on a place of the ground, where its highlight is wanted. */
    private LampRecipe aimed(Seen s, LampRecipe k, Form f) {
        int frame = f.frame();
        Pose carrier = carrier(s, k, frame);
        Vec3 to = new Vec3(f.number("x", "the place", 0, -1e4, 1e4), 0, f.number("z", "the place", 0, -1e4, 1e4));
        double rate = s.needPlate().rate().perSecond();
        Vec3 way = to.minus(k.at(frame, rate, carrier).at());
        if (way.length() < 1e-3) throw new BadInput("that is where the lamp stands");
        return facing(k, carrier, way, frame);
    }

    /** What is seen of a performer where the picture was clicked. */
    Probe.Hit hit(Seen s, Form f) {
        Probe.Hit h = scenes.of(s.shot())
                .seen(
                        f.frame(),
                        f.number("px", "the place", 0, 0, s.needPlate().width()),
                        f.number("py", "the place", 0, 0, s.needPlate().height()));
        if (h == null) throw new BadInput("there is no performer at that place of the picture");
        return h;
    }

    /** The way to a light that is mirrored where the picture was clicked. */
    Vec3 byHighlight(Seen s, Form f, Probe.Hit h) {
        Vec3 eye = scenes.of(s.shot()).camera().pose(f.frame()).position();
        return LampAim.byHighlight(eye, h.at(), h.normal());
    }

    /** The way to a light that throws the shadow of what was clicked there. */
    static Vec3 byShadow(Form f, Probe.Hit h) {
        return LampAim.byShadow(
                h.at(),
                new Vec3(f.number("x", "the place", 0, -1e4, 1e4), 0, f.number("z", "the place", 0, -1e4, 1e4)));
    }

    private LampRecipe highlighted(Seen s, LampRecipe k, Form f) {
        Probe.Hit h = hit(s, f);
        return along(s, k, f.frame(), h.at(), byHighlight(s, f, h));
    }

    private LampRecipe shadowed(Seen s, LampRecipe k, Form f) {
        Probe.Hit h = hit(s, f);
        return along(s, k, f.frame(), h.at(), byShadow(f, h));
    }

    /** As far from a place as it is, but that way; it faces the place. */
    private LampRecipe along(Seen s, LampRecipe k, int frame, Vec3 from, Vec3 way) {
        double rate = s.needPlate().rate().perSecond();
        Pose carrier = carrier(s, k, frame);
        double far = Math.max(0.05, k.at(frame, rate, carrier).at().distance(from));
        Vec3 at = carrier.inverse().toWorld(from.plus(way.times(far)));
        LampRecipe out =
                k.set("x", round(at.x()), frame).set("y", round(at.y()), frame).set("z", round(at.z()), frame);
        return facing(out, carrier, way.times(-1), frame);
    }

    private static LampRecipe facing(LampRecipe k, Pose carrier, Vec3 way, int frame) {
        Vec3 own = k.tie() == null || k.tie().turns()
                ? carrier.rotation().conjugate().rotate(way)
                : way;
        double tilt = Math.toDegrees(Math.asin(own.unit().y())), heading = Math.toDegrees(Math.atan2(own.x(), own.z()));
        return k.set("heading", Math.rint(100 * heading) / 100, frame).set("tilt", Math.rint(100 * tilt) / 100, frame);
    }

    Pose carrier(Seen s, LampRecipe k, int frame) {
        if (k.tie() == null) return Pose.IDENTITY;
        Blocking b = scenes.blocking(s.shot());
        if (b == null) throw new BadInput("the camera is not solved yet");
        return b.carrier(k.tie(), k.name(), frame);
    }

    /** It stays where it is in this frame. */
    private LampRecipe tied(Seen s, LampRecipe k, Form f) {
        int frame = f.frame();
        double rate = s.needPlate().rate().perSecond();
        Vec3 now = k.at(frame, rate, carrier(s, k, frame)).at();
        String to = f.text("to", "");
        Tie t = null;
        if (!to.isEmpty()) {
            String[] what = to.split(" ", 2);
            t = new Tie(Tie.To.PERFORMER, Form.id(what[0]), what.length > 1 ? what[1] : "", true);
        }
        LampRecipe out = k.with(t);
        Vec3 own = carrier(s, out, frame).inverse().toWorld(now);
        for (String c : List.of("x", "y", "z")) out = out.with(c, Curve.NONE);
        return out.resting("x", round(own.x())).resting("y", round(own.y())).resting("z", round(own.z()));
    }

    private static double round(double v) {
        return Math.rint(1000 * v) / 1000;
    }

    /** What a lamp can go along with: a performer, or one of its parts. */
    record Carrier(String key, String said) {}

    List<Carrier> carriers(Seen s) {
        List<Carrier> out = new ArrayList<>();
        for (Performer p : s.shot().performers()) {
            out.add(new Carrier(Integer.toString(p.id()), p.name()));
            if (p.card() != null) continue;
            scenes.model(p).nodes().stream()
                    .map(Model.Node::name)
                    .distinct()
                    .limit(MOST_NODES)
                    .forEach(n -> out.add(new Carrier(p.id() + " " + n, p.name() + ": " + n)));
        }
        return out;
    }
}
