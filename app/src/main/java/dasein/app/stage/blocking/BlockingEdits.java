package dasein.app.stage.blocking;

import dasein.app.scene.Scenes;
import dasein.app.stage.Change;
import dasein.app.stage.Edited;
import dasein.app.stage.Form;
import dasein.app.stage.KeyEdits;
import dasein.app.store.MediaMapper;
import dasein.app.store.Plates;
import dasein.app.store.Results;
import dasein.core.BadInput;
import dasein.core.cast.Blocking;
import dasein.core.cast.Card;
import dasein.core.cast.ClipUse;
import dasein.core.cast.FreeGround;
import dasein.core.cast.Matte;
import dasein.core.cast.Performer;
import dasein.core.cast.Tie;
import dasein.core.ground.SetRecipe;
import dasein.core.key.Curve;
import dasein.core.lens.Lens;
import dasein.core.math.Pose;
import dasein.core.math.Vec3;
import dasein.core.model.Model;
import dasein.core.shot.Shot;
import dasein.core.solve.SolvedCamera;
import java.util.ArrayList;
import java.util.List;
import java.util.function.Predicate;
import java.util.stream.Stream;
import org.springframework.stereotype.Component;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** Changes of the Blocking stage. */
@Component
public class BlockingEdits {
    private static final int MOST = 200;

    private final MediaMapper media;
    private final Scenes scenes;
    private final Plates plates;
    private final Results results;
    private final PlaceEdits places;
    private final WayEdits ways;
    private final ClipEdits clips;
    private final LookEdits looks;

    BlockingEdits(
            MediaMapper media,
            Scenes scenes,
            Plates plates,
            Results results,
            PlaceEdits places,
            WayEdits ways,
            ClipEdits clips,
            LookEdits looks) {
        this.media = media;
        this.scenes = scenes;
        this.plates = plates;
        this.results = results;
        this.places = places;
        this.ways = ways;
        this.clips = clips;
        this.looks = looks;
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
        Edited<Performer> e = edit(s, p, action, f);
        all.set(at, e.value());
        Shot out = s.with(all);
        // What is newly said must work: a tie in a ring or to something unsolved is refused with its sentence.
        if (action.equals("tie")) {
            Blocking b = scenes.blocking(out);
            if (b != null) b.foot(id, f.frame());
        }
        return new Change(out, e.said());
    }

    private Edited<Performer> edit(Shot s, Performer p, String action, Form f) {
        if (KeyEdits.knows(action)) {
            Edited<Performer> e =
                    KeyEdits.apply(p, action, f, f.frame(), () -> now(s, p, KeyEdits.channel(p, f), f.frame()));
            return new Edited<>(ways.setsOut(s, p, e.value()), e.said());
        }
        return switch (action.contains("-") ? action.substring(0, action.indexOf('-')) : action) {
            case "swap" -> swap(p, f);
            case "move" -> places.move(s, p, f);
            case "snap" -> ways.snap(s, p, f);
            case "match" -> places.match(s, p, f);
            case "clip" -> clips.clip(p, action, f);
            case "part" -> clips.part(p, action, f);
            case "route" -> ways.route(s, p, action, f);
            case "tie" -> ways.tie(s, p, f);
            case "look" -> looks.look(p, action, f);
            case "flock" -> looks.flock(p, action, f);
            case "card" -> card(p, f);
            default -> set(p, f);
        };
    }

    /** What a channel is in a frame, for a key that keeps it there. */
    private double now(Shot s, Performer p, String channel, int frame) {
        Curve c = p.curve(channel);
        double rate = plates.facts(s).rate().perSecond();
        if (c.keys().isEmpty() && channel.equals("way") && p.route() != null)
            return Math.max(0, (frame - p.route().start()) / rate * p.route().speed());
        if (c.keys().isEmpty() && channel.equals("clip"))
            return scenes.blocking(s).at(p.id(), frame).seconds();
        return new Curve(c.keys(), List.of()).at(frame, p.rest(channel), rate);
    }

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
        // What would walk on the spot stands; its clip begins when it is sent along a route.
        Model m = scenes.model(item.hash());
        String clip = m.clips().stream()
                .filter(k -> !ClipEdits.steps(m, k))
                .findFirst()
                .map(Model.Clip::name)
                .orElse("");
        double height = Math.max(0.01, Math.round(facts.path("height").asDouble(1.8) * 100) / 100.0);
        Vec3 at = new Vec3(f.number("x", "x", c.x(), -1e4, 1e4), 0, f.number("z", "z", c.z(), -1e4, 1e4));
        Blocking b = scenes.blocking(s);
        double radius = FreeGround.radius(m, height);
        if (b != null && !f.has("x")) at = FreeGround.near(b, all, f.frame(), at, radius, seen(s, f.frame(), radius));
        Performer p = new Performer(
                        id, name(all, item.name()), item.hash(), at.x(), 0, at.z(), 0, height, clip, 0, 1, true)
                .standing(Performer.Feet.CLIP, true);
        all.add(p);
        return new Change(s.with(all), p.name() + " placed");
    }

    /** Whether somebody who stands there is in the picture from one side to the other. */
    private Predicate<Vec3> seen(Shot s, int frame, double radius) {
        SolvedCamera c = results.cameraInSet(s);
        if (c == null) return p -> true;
        Pose eye = c.pose(frame);
        Lens lens = c.lens(frame);
        Vec3 aside = eye.rotation().rotate(Vec3.X).times(radius);
        return p -> Stream.of(p.plus(aside), p.minus(aside)).allMatch(q -> {
            double[] px = lens.project(eye.toLocal(q));
            return px != null && px[0] > 0 && px[1] > 0 && px[0] < c.width() && px[1] < c.height();
        });
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

    private static Edited<Performer> card(Performer p, Form f) {
        Card c = p.card();
        if (c == null) throw new BadInput(p.name() + " is not a card");
        return new Edited<>(
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
                        f.tick("shaded", c.shaded()),
                        f.number("level", "the level", c.level(), 0, 1000),
                        f.number("offset", "the offset", c.offset(), -1e6, 1e6),
                        f.number("rate", "the rate", c.rate(), 0, 1000),
                        f.tick("again", c.again()),
                        f.tick("shadowToSun", c.shadowToSun()),
                        new Matte(
                                f.number("erode", "the erosion", c.matte().erodePx(), 0, 20),
                                f.number("soften", "the softness", c.matte().softenPx(), 0, 20),
                                f.number(
                                        "inside",
                                        "the edge's part from inside",
                                        c.matte().inside(),
                                        0,
                                        1),
                                Matte.Spill.valueOf(
                                        f.choice("spill", c.matte().spill().name(), "NONE", "GREEN", "BLUE"))))),
                p.name() + ": card changed");
    }

    private MediaMapper.ShelfItem item(String hash) {
        MediaMapper.ShelfItem item = media.item(hash);
        if (item == null || !item.kind().equals("model")) throw new BadInput("that model is not on the shelf");
        return item;
    }

    /** Another model in its place: clips and parts it lacks are left out, looks stay. */
    private Edited<Performer> swap(Performer p, Form f) {
        MediaMapper.ShelfItem item = item(f.text("model", ""));
        Model m = scenes.model(item.hash());
        Performer q = p.withModel(item.hash()).with((Card) null);
        List<ClipUse> clips =
                p.clips().stream().filter(c -> m.clip(c.clip()) != null).toList();
        if (clips.isEmpty() && !p.clips().isEmpty() && !m.clips().isEmpty()) {
            ClipUse c = p.clips().get(0);
            clips = List.of(new ClipUse(m.clips().get(0).name(), 0, 0, 0, 0, c.speed(), c.repeat(), 0));
        }
        return new Edited<>(
                q.withClips(clips)
                        .withParts(p.parts().stream()
                                .filter(t -> m.nodes().stream()
                                        .anyMatch(n -> n.name().equals(t.node())))
                                .toList()),
                p.name() + " is " + item.name() + " now");
    }

    private Edited<Performer> set(Performer p, Form f) {
        int frame = f.frame();
        Performer q = p;
        for (String c : List.of("x", "y", "z")) if (f.has(c)) q = q.set(c, f.number(c, c, 0, -1e4, 1e4), frame);
        for (String c : List.of("heading", "pitch", "roll"))
            if (f.has(c)) q = q.set(c, f.number(c, "the " + c, 0, -36_000, 36_000), frame);
        for (String c : List.of("steer", "spin"))
            if (f.has(c)) q = q.set(c, f.number(c, "the " + c, 0, -360_000, 360_000), frame);
        if (f.has("height")) q = q.set("height", f.number("height", "the height", 1, 0.01, 1000), frame);
        if (f.has("length")) {
            float[] b = scenes.model(p).bounds();
            q = q.set(
                    "height",
                    f.number("length", "the length", 1, 0.01, 1000) * (b[4] - b[1]) / Math.max(1e-6, b[5] - b[2]),
                    frame);
        }
        if (f.has("feet") || f.has("onGround_"))
            q = q.standing(
                    Performer.Feet.valueOf(f.choice("feet", p.feet().name(), "REST", "CLIP", "ALWAYS")),
                    f.tick("onGround", p.onGround()));
        if (f.has("name")) q = q.as(p.id(), f.name("name", p.name()));
        return new Edited<>(q, q.name() + " changed");
    }
}
