package dasein.app.stage.camera;

import dasein.app.stage.Change;
import dasein.app.stage.Form;
import dasein.app.store.MediaMapper;
import dasein.app.store.Plates;
import dasein.app.store.Results;
import dasein.core.BadInput;
import dasein.core.math.Pose;
import dasein.core.math.Vec3;
import dasein.core.plate.PlateFacts;
import dasein.core.shot.CameraRecipe;
import dasein.core.shot.Prints;
import dasein.core.shot.Shot;
import dasein.core.shot.TrackRecipe;
import dasein.core.solve.CameraMatch;
import dasein.core.solve.Hints;
import dasein.core.solve.LensTerms;
import dasein.core.solve.ObjectSolver;
import dasein.core.solve.StillSolver;
import dasein.core.solve.ThingSize;
import dasein.core.solve.file.CameraExchange;
import dasein.core.track.DrawnMask;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import org.springframework.stereotype.Component;

/** Changes of the Camera stage. */
@Component
public class CameraEdits {
    private static final int MOST_LINES = 200, MOST_KEPT = 12, MOST_OBJECTS = 40;
    /** Actions after which a match, or what was brought in, is worked out at once. */
    private static final List<String> AT_ONCE = List.of("line-", "rect-", "place-", "read-so");

    private final Plates plates;
    private final Results results;
    private final MediaMapper media;

    CameraEdits(Plates plates, Results results, MediaMapper media) {
        this.plates = plates;
        this.results = results;
        this.media = media;
    }

    static boolean atOnce(String action) {
        return AT_ONCE.stream().anyMatch(action::startsWith);
    }

    Change apply(Shot s, String action, Form f) {
        CameraRecipe c = s.camera();
        if (action.startsWith("line-")) return line(s, action, f);
        if (action.startsWith("rect-")) return rectangle(s, action, f);
        if (action.startsWith("place-")) return place(s, action, f);
        if (action.startsWith("object-")) return object(s, action, f);
        return switch (action) {
            case "no-file" ->
                new Change(s.with(c.withFile("", CameraExchange.Reading.PLAIN)), "camera to be solved, not brought in");
            case "read-so" ->
                new Change(
                        s.with(c.withFile(
                                c.file(),
                                new CameraExchange.Reading(
                                        f.choice("up", c.reading().zUp() ? "z" : "y", "y", "z")
                                                .equals("z"),
                                        f.number("unit", "the unit", c.reading().scale(), 1e-6, 1e6),
                                        f.whole(
                                                "offset",
                                                "the frame offset",
                                                c.reading().frameOffset(),
                                                -10_000_000,
                                                10_000_000),
                                        f.choice(
                                                "turn",
                                                c.reading().turn(),
                                                CameraExchange.TURNS.keySet().toArray(String[]::new))))),
                        "camera read otherwise");
            case "no-lens" -> new Change(s.with(c.withLens("")), "lens solved again");
            case "fill" ->
                new Change(
                        s.with(c.with(c.hints().withFilled(!c.hints().fillGaps()))),
                        c.hints().fillGaps() ? "gaps left out" : "gaps to be filled");
            case "weight" -> weight(s, f);
            case "measured" -> measured(s, f);
            case "keep", "use", "unkeep" -> kept(s, action, f);
            default -> settings(s, f);
        };
    }

    private static LensTerms.Ask ask(Form f, String term, LensTerms.Ask now) {
        return LensTerms.Ask.valueOf(f.choice(term, now.name(), "FIND", "ALWAYS", "NEVER"));
    }

    private Change settings(Shot s, Form f) {
        CameraRecipe c = s.camera();
        LensTerms t = c.terms();
        Hints h = hints(s, f);
        return new Change(
                s.with(new CameraRecipe(
                        f.choice("kind", c.kind(), "auto", "moving", "nodal", "locked"),
                        f.choice("focal", c.focal(), "auto", "unknown", "near", "given", "zoom"),
                        new LensTerms(
                                ask(f, "k1", t.k1()),
                                ask(f, "k2", t.k2()),
                                ask(f, "k3", t.k3()),
                                ask(f, "tangential", t.tangential()),
                                ask(f, "centre", t.centre())),
                        f.number("smoothPx", "the smoothing", c.smoothPx(), 0, 100),
                        c.file(),
                        c.reading(),
                        f.has("lens") ? lens(f.text("lens", "")) : c.lens(),
                        c.lines(),
                        h,
                        c.match(),
                        c.kept(),
                        "",
                        c.objects(),
                        f.has("surface") ? surface(s, f) : c.surface(),
                        c.from(),
                        f.choice("marks", c.marks(), "", CameraRecipe.HAND))),
                "camera settings changed");
    }

    /** The mask whose surface carries the perspective. */
    private static int surface(Shot s, Form f) {
        int id = f.whole("surface", "the surface", 0, 0, 1_000_000);
        if (id != 0 && s.tracks().masks().stream().noneMatch(m -> m.id() == id && m.carry() == DrawnMask.Carry.PLANE))
            throw new BadInput("that surface is not followed on the Tracks stage");
        return id;
    }

    private Hints hints(Shot s, Form f) {
        Hints h = s.camera().hints();
        if (f.has("partFirst") || f.has("partLast"))
            h = h.part(part(f, "partFirst", h.first()), part(f, "partLast", h.last()));
        if (f.has("readoutMs")) {
            PlateFacts p = plates.facts(s);
            if (p == null) throw new BadInput("bring in a plate first");
            h = h.withReadout(
                    f.text("readoutMs", "").isBlank()
                            ? 0
                            : f.number("readoutMs", "the readout", 0, -1000, 1000)
                                    * p.rate().perSecond()
                                    / 1000);
        }
        if (f.has("findReadout_")) h = h.withReadout(f.tick("findReadout", false) ? Hints.SOLVE_READOUT : 0);
        return h;
    }

    private static int part(Form f, String name, int now) {
        return f.has(name) && f.text(name, "").isBlank() ? 0 : f.whole(name, "the frame", now, 0, 10_000_000);
    }

    private String lens(String hash) {
        if (!hash.isEmpty()
                && (media.item(hash) == null || !media.item(hash).kind().equals("lens")))
            throw new BadInput("that lens is not on the shelf");
        return hash;
    }

    /** By how much the chosen tracks count; 1 takes the weight away. */
    private static Change weight(Shot s, Form f) {
        double w = f.number("weight", "the weight", 1, 0.01, 100);
        List<Integer> ids = f.ids("ids");
        if (ids.isEmpty()) throw new BadInput("choose tracks first");
        List<Hints.Weight> all = new ArrayList<>(s.camera().hints().weights());
        all.removeIf(k -> ids.contains(k.track()));
        if (w != 1) for (int i : ids) all.add(new Hints.Weight(i, w));
        return new Change(
                s.with(s.camera().with(s.camera().hints().withWeights(all))),
                ids.size() + (ids.size() == 1 ? " track counts " : " tracks count ") + w + " times");
    }

    /** Where a chosen track was measured; without numbers it is no longer known. */
    private static Change measured(Shot s, Form f) {
        List<Integer> ids = f.ids("ids");
        if (ids.size() != 1) throw new BadInput("choose exactly one track first");
        List<Hints.Measured> all = new ArrayList<>(s.camera().hints().measured());
        all.removeIf(k -> k.track() == ids.get(0));
        boolean away = f.text("mx", "").isBlank()
                && f.text("my", "").isBlank()
                && f.text("mz", "").isBlank();
        if (!away) {
            for (String n : List.of("mx", "my", "mz"))
                if (f.text(n, "").isBlank()) throw new BadInput("a measured place needs x, y and z in metres");
            all.add(new Hints.Measured(
                    ids.get(0),
                    new Vec3(
                            f.number("mx", "x", 0, -1e6, 1e6),
                            f.number("my", "y", 0, -1e6, 1e6),
                            f.number("mz", "z", 0, -1e6, 1e6)),
                    f.number("within", "how exactly", 1, 0.001, 1e5) / 100));
        }
        return new Change(
                s.with(s.camera().with(s.camera().hints().withMeasured(all))),
                "track " + ids.get(0) + (away ? " no longer measured" : " measured"));
    }

    private Change kept(Shot s, String action, Form f) {
        CameraRecipe c = s.camera();
        List<CameraRecipe.Kept> all = new ArrayList<>(c.kept());
        String print = f.text("print", "");
        boolean known = all.stream().anyMatch(k -> k.print().equals(print));
        switch (action) {
            case "keep" -> {
                String now = Prints.camera(s);
                if (results.camera(s) == null) throw new BadInput("there is no solve to keep yet");
                if (all.stream().anyMatch(k -> k.print().equals(now))) throw new BadInput("this solve is kept already");
                if (all.size() >= MOST_KEPT)
                    throw new BadInput("more than " + MOST_KEPT + " solves are not kept; drop one first");
                String name = f.text("name", "");
                all.add(new CameraRecipe.Kept(
                        now,
                        name.isEmpty() ? "solve " + (all.size() + 1) : name.substring(0, Math.min(60, name.length()))));
                return new Change(s.with(c.withKept(all, c.use())), "solve kept");
            }
            case "use" -> {
                if (!print.isEmpty() && !known) throw new BadInput("that solve is not kept");
                return new Change(
                        s.with(c.withKept(all, print)),
                        print.isEmpty() ? "the solve of these settings counts" : "a kept solve counts");
            }
            default -> {
                all.removeIf(k -> k.print().equals(print));
                return new Change(s.with(c.withKept(all, c.use().equals(print) ? "" : c.use())), "kept solve dropped");
            }
        }
    }

    private Change object(Shot s, String action, Form f) {
        List<CameraRecipe.Moved> all = new ArrayList<>(s.camera().objects());
        if (action.equals("object-add")) {
            int group = f.whole("group", "the group", 0, 0, 1_000_000);
            TrackRecipe.TrackGroup g = s.tracks().groups().stream()
                    .filter(k -> k.id() == group && k.moving())
                    .findFirst()
                    .orElseThrow(() -> new BadInput("that group does not move by itself"));
            if (all.size() >= MOST_OBJECTS)
                throw new BadInput("more than " + MOST_OBJECTS + " moving things are not solved");
            all.add(new CameraRecipe.Moved(
                    all.stream().mapToInt(CameraRecipe.Moved::id).max().orElse(0) + 1, g.name(), group, 0));
            return new Change(s.with(s.camera().withObjects(all)), g.name() + " to be solved");
        }
        int id = f.whole("id", "the thing", 0, 0, 1_000_000);
        for (int i = 0; i < all.size(); i++) {
            CameraRecipe.Moved o = all.get(i);
            if (o.id() != id) continue;
            if (action.equals("object-remove")) all.remove(i);
            else if (action.equals("object-length") || action.equals("object-ground"))
                all.set(i, sized(s, o, action.equals("object-ground"), f));
            else
                all.set(
                        i,
                        new CameraRecipe.Moved(
                                id,
                                o.name(),
                                o.group(),
                                f.text("distance", "").isBlank() && f.has("distance")
                                        ? 0
                                        : f.number("distance", "the distance", o.distance(), 0, 1e6)));
            return new Change(
                    s.with(s.camera().withObjects(all)),
                    o.name()
                            + (switch (action) {
                                case "object-remove" -> " no longer solved";
                                case "object-length" -> " as large as was measured";
                                case "object-ground" -> " put on the ground";
                                default -> " at another distance";
                            }));
        }
        throw new BadInput("that thing is no longer there");
    }

    /** As far off as makes it as large as is known, by the chosen marks on it. */
    private CameraRecipe.Moved sized(Shot s, CameraRecipe.Moved o, boolean ground, Form f) {
        ObjectSolver.Result r = results.object(s, o);
        if (r == null) throw new BadInput(o.name() + " is not solved yet");
        double scale = results.set(s).toSet().scale();
        List<Vec3> points = f.ids("ids").stream()
                .flatMap(id -> r.points().stream().filter(q -> q.id() == id))
                .map(q -> q.position().times(scale))
                .toList();
        if (points.size() != (ground ? 1 : 2))
            throw new BadInput(
                    ground
                            ? "choose the one mark on " + o.name() + " that touches the ground"
                            : "choose two marks on " + o.name());
        double times;
        if (ground) {
            Pose now = results.moved(s).get(o.id()).get(f.frame());
            if (now == null) throw new BadInput(o.name() + " is not solved in frame " + f.frame());
            times = ThingSize.byGround(results.cameraInSet(s).pose(f.frame()).position(), now.toWorld(points.get(0)));
        } else times = ThingSize.byLength(points.get(0), points.get(1), f.number("metres", "the length", 0, 1e-4, 1e5));
        return new CameraRecipe.Moved(o.id(), o.name(), o.group(), r.distance() * scale * times);
    }

    private static Change line(Shot s, String action, Form f) {
        List<StillSolver.Line> all = new ArrayList<>(s.camera().lines());
        if (action.equals("line-delete")) {
            all.remove(f.index(all.size()));
            return new Change(s.with(s.camera().withLines(all)), "line taken away");
        }
        StillSolver.Line l = new StillSolver.Line(
                StillSolver.Axis.valueOf(f.choice("axis", "X", "X", "Y", "Z")),
                pixel(f, "fromX"),
                pixel(f, "fromY"),
                pixel(f, "toX"),
                pixel(f, "toY"));
        if (action.equals("line-set")) all.set(f.index(all.size()), l);
        else all.add(l);
        if (all.size() > MOST_LINES) throw new BadInput("more than " + MOST_LINES + " lines are not kept");
        return new Change(
                s.with(s.camera().withLines(all)),
                action.equals("line-set")
                        ? "line moved"
                        : "line along " + l.axis().name().toLowerCase(Locale.ROOT));
    }

    private static double pixel(Form f, String name) {
        return f.number(name, "a pixel", 0, -1e5, 1e5);
    }

    /** A rectangle of known proportions: its corners from the picture, its size from the bench. */
    private static Change rectangle(Shot s, String action, Form f) {
        CameraMatch m = s.camera().match();
        if (action.equals("rect-delete"))
            return new Change(s.with(s.camera().with(m.with(null))), "rectangle taken away");
        CameraMatch.Rectangle r = m.rectangle();
        List<Double> corners = r == null ? List.of() : r.corners();
        if (f.has("corners")) {
            corners = new ArrayList<>();
            for (String v : f.text("corners", "").split(","))
                corners.add(new Form(java.util.Map.of("v", v)).number("v", "a corner", 0, -1e5, 1e5));
        }
        CameraMatch.Rectangle next = new CameraMatch.Rectangle(
                corners,
                f.number("rectWidth", "the width", r == null ? 1 : r.width(), 1e-3, 1e5),
                f.number("rectLength", "the length", r == null ? 1 : r.length(), 1e-3, 1e5),
                f.choice("rectStanding", r != null && r.standing() ? "standing" : "lying", "lying", "standing")
                        .equals("standing"),
                f.tick("rectMetres", r != null && r.metres()));
        return new Change(s.with(s.camera().with(m.with(next))), r == null ? "rectangle drawn" : "rectangle changed");
    }

    /** A place of the set whose numbers are known, put in the picture. */
    private static Change place(Shot s, String action, Form f) {
        CameraMatch m = s.camera().match();
        List<CameraMatch.Placed> all = new ArrayList<>(m.points());
        int at = action.equals("place-add") ? all.size() : f.index(all.size());
        if (action.equals("place-delete")) {
            all.remove(at);
            return new Change(s.with(s.camera().with(m.withPoints(all))), "known place taken away");
        }
        CameraMatch.Placed old = at < all.size() ? all.get(at) : new CameraMatch.Placed(0, 0, Vec3.ZERO);
        CameraMatch.Placed p = new CameraMatch.Placed(
                f.number("px", "a pixel", old.x(), -1e5, 1e5),
                f.number("py", "a pixel", old.y(), -1e5, 1e5),
                new Vec3(
                        f.number("wx", "x", old.position().x(), -1e6, 1e6),
                        f.number("wy", "y", old.position().y(), -1e6, 1e6),
                        f.number("wz", "z", old.position().z(), -1e6, 1e6)));
        if (at == all.size()) all.add(p);
        else all.set(at, p);
        if (all.size() > MOST_LINES) throw new BadInput("more than " + MOST_LINES + " places are not kept");
        return new Change(
                s.with(s.camera().with(m.withPoints(all))),
                at < m.points().size() ? "known place changed" : "known place put");
    }
}
