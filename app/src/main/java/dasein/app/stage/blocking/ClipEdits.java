package dasein.app.stage.blocking;

import dasein.app.scene.Scenes;
import dasein.app.stage.Edited;
import dasein.app.stage.Form;
import dasein.core.BadInput;
import dasein.core.cast.ClipUse;
import dasein.core.cast.Footing;
import dasein.core.cast.PartTurn;
import dasein.core.cast.Performer;
import dasein.core.cast.Wheels;
import dasein.core.key.Curve;
import dasein.core.model.Model;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import org.springframework.stereotype.Component;

/** Which clips a performer plays, and which parts turn on top of them. */
@Component
class ClipEdits {
    private static final String WHEEL = "wheel|tyre|tire|roller";

    private final Scenes scenes;

    ClipEdits(Scenes scenes) {
        this.scenes = scenes;
    }

    Edited<Performer> clip(Performer p, String action, Form f) {
        List<ClipUse> all = new ArrayList<>(p.clips());
        Model m = scenes.model(p);
        if (action.equals("clip-add")) {
            if (m.clips().isEmpty()) throw new BadInput("its model has no clips");
            int at = all.isEmpty() ? 0 : f.frame();
            // Another than the one it comes after, where there is another.
            String last = all.isEmpty() ? "" : all.get(all.size() - 1).clip();
            String other = m.clips().stream()
                    .map(Model.Clip::name)
                    .filter(n -> !n.equals(last))
                    .findFirst()
                    .orElse(last);
            String name = f.text("clip", other);
            if (m.clip(name) == null) throw new BadInput("its model has no clip " + name);
            all.add(new ClipUse(name, at, 0, 0, 0, 1, ClipUse.Repeat.LOOP, all.isEmpty() ? 0 : 8));
            return new Edited<>(p.withClips(all), name + " from frame " + (at == 0 ? "the first on" : at + " on"));
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
            return new Edited<>(p.withClips(all), c.clip() + " taken away");
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
        return new Edited<>(p.withClips(all), name + " of " + p.name() + " changed");
    }

    /**
     * One that is to go somewhere and has not been told how: on its wheels, or by the first of its clips with steps.
     */
    Performer ready(Performer p) {
        Model m = scenes.model(p);
        if (!p.parts().isEmpty() || p.card() != null || p.clips().stream().anyMatch(c -> steps(m, m.clip(c.clip()))))
            return p;
        List<String> wheels = m.nodes().stream()
                .map(Model.Node::name)
                .filter(n -> kind(n).matches(WHEEL))
                .toList();
        if (!wheels.isEmpty()) return p.withParts(Wheels.of(m, wheels));
        return m.clips().stream()
                .filter(c -> steps(m, c))
                .findFirst()
                .map(c -> p.withClips(List.of(new ClipUse(c.name(), 0, 0, 0, 0, 1, ClipUse.Repeat.LOOP, 0))))
                .orElse(p);
    }

    /** Whether it would go somewhere, and slides while it stands. */
    static boolean steps(Model m, Model.Clip c) {
        return Math.abs(Footing.of(m, c, Set.of()).stepSpeed()) > 0;
    }

    /** The last word of a node's name: what kind of part it is. */
    static String kind(String node) {
        String[] words =
                node.toLowerCase(Locale.ROOT).replaceAll("[^a-z]+", " ").strip().split(" ");
        return words[words.length - 1];
    }

    Edited<Performer> part(Performer p, String action, Form f) {
        List<PartTurn> all = new ArrayList<>(p.parts());
        if (action.equals("part-add")) {
            String node = f.text("node", "");
            if (node.startsWith("*")) {
                String kind = node.substring(1);
                Model m = scenes.model(p);
                List<String> more = m.nodes().stream()
                        .map(Model.Node::name)
                        .filter(n -> kind(n).equals(kind)
                                && all.stream().noneMatch(t -> t.node().equals(n)))
                        .toList();
                if (kind.matches(WHEEL)) all.addAll(Wheels.of(m, more));
                else more.forEach(n -> all.add(new PartTurn(n, "x", 0)));
                return new Edited<>(p.withParts(all), "every " + kind + " can turn");
            }
            if (scenes.model(p).nodes().stream().noneMatch(n -> n.name().equals(node)))
                throw new BadInput("its model has no part " + node);
            String axis = List.of("y", "x", "z").stream()
                    .filter(a -> all.stream()
                            .noneMatch(t -> t.node().equals(node) && t.axis().equals(a)))
                    .findFirst()
                    .orElseThrow(() -> new BadInput(node + " turns about all its axes already"));
            all.add(new PartTurn(node, axis, 0));
            return new Edited<>(p.withParts(all), node + " can turn");
        }
        int i = f.index(all.size());
        PartTurn t = all.get(i);
        if (action.equals("part-delete")) {
            all.remove(i);
            return new Edited<>(p.withParts(all).with(t.channel(), Curve.NONE), t.node() + " as its clip has it");
        }
        PartTurn n = new PartTurn(
                t.node(),
                f.choice("axis", t.axis(), "x", "y", "z"),
                t.deg(),
                f.tick("rolls", t.rolls()),
                f.tick("steers", t.steers()));
        if (!n.axis().equals(t.axis()) && all.stream().anyMatch(o -> o.channel().equals(n.channel())))
            throw new BadInput(t.node() + " turns about " + n.axis() + " already");
        all.set(i, n);
        Performer q = p.withParts(all);
        if (!n.channel().equals(t.channel()))
            q = q.with(t.channel(), Curve.NONE).with(n.channel(), p.curve(t.channel()));
        if (f.has("deg")) q = q.set(n.channel(), f.number("deg", "the turn", t.deg(), -360_000, 360_000), f.frame());
        return new Edited<>(q, t.node() + " turned");
    }
}
