package dasein.app.stage.blocking;

import dasein.app.scene.Scenes;
import dasein.app.stage.Edited;
import dasein.app.stage.Form;
import dasein.app.store.MediaMapper;
import dasein.core.BadInput;
import dasein.core.cast.Blocking;
import dasein.core.cast.Flock;
import dasein.core.cast.Look;
import dasein.core.cast.Performer;
import dasein.core.model.Material;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import org.springframework.stereotype.Component;

/** How a performer looks, and how many of it there are. */
@Component
class LookEdits {
    private final Scenes scenes;
    private final MediaMapper media;

    LookEdits(Scenes scenes, MediaMapper media) {
        this.scenes = scenes;
        this.media = media;
    }

    Edited<Performer> flock(Performer p, String action, Form f) {
        if (action.equals("flock-delete")) return new Edited<>(p.with((Flock) null), p.name() + " is one again");
        Flock o = p.flock() == null ? Flock.of(12) : p.flock();
        Flock.Room room = o.room();
        Flock.Differences d = o.differences();
        Flock.Fall fall = o.fall();
        Flock n = new Flock(
                f.whole("count", "the count", o.count(), 1, Flock.MOST),
                f.whole("seed", "the seed", o.seed(), 0, 1_000_000),
                new Flock.Room(
                        Flock.Layout.valueOf(f.choice("layout", room.layout().name(), "AREA", "ROUTE", "POINT")),
                        f.number("width", "the width", room.width(), 0, 1e4),
                        f.number("depth", "the depth", room.depth(), 0, 1e4),
                        f.number("high", "the height", room.height(), 0, 1e4)),
                new Flock.Differences(
                        f.number("sizeVar", "the size", 100 * d.size(), 0, 90) / 100,
                        f.number("headingVar", "the heading", d.heading(), 0, 180),
                        f.number("phaseVar", "the phase", d.phase(), 0, 1000),
                        f.number("speedVar", "the speed", 100 * d.speed(), 0, 90) / 100,
                        f.number("tintVar", "the tint", 100 * d.tint(), 0, 90) / 100),
                Flock.Motion.valueOf(f.choice("motion", o.motion().name(), "STAND", "FLY", "FALL")),
                f.number("wander", "how far they stray", o.wander(), 0, 1000),
                new Flock.Fall(
                        f.number("start", "the first frame", fall.start(), 0, 1e7),
                        f.number("over", "the frames", fall.over(), 0, 1e5),
                        f.number("push", "the push", fall.push(), 0, 1000),
                        f.number("gravity", "gravity", fall.gravity(), -100, 100),
                        f.number("drag", "drag", fall.drag(), 0, 100),
                        f.number("bounce", "the bounce", 100 * fall.bounce(), 0, 100) / 100,
                        f.number("tumble", "the tumbling", fall.tumble(), 0, 36_000)),
                f.tick("clear", o.clear()));
        // What cannot be held is refused before it is kept.
        Blocking.refuseTooMany(p.with(n), scenes.model(p));
        return new Edited<>(
                p.with(n), p.name() + (p.flock() == null ? " is a flock of " + n.count() : ": flock changed"));
    }

    Edited<Performer> look(Performer p, String action, Form f) {
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
        return new Edited<>(
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
