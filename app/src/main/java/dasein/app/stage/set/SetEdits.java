package dasein.app.stage.set;

import dasein.app.scene.Scenes;
import dasein.app.stage.Change;
import dasein.app.stage.Form;
import dasein.app.store.Results;
import dasein.core.BadInput;
import dasein.core.ground.PickedPoint;
import dasein.core.ground.Piece;
import dasein.core.ground.SetRecipe;
import dasein.core.math.Vec3;
import dasein.core.shot.Shot;
import dasein.core.solve.SolvedCamera;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import org.springframework.stereotype.Component;

/** Changes of the Set stage. */
@Component
public class SetEdits {
    private static final int MOST = 500, MOST_COLOURS = 12;
    /** A length laid by eye is ten times less exact than a taped one. */
    private static final double EYE_WEIGHT = 0.01;

    private final Results results;

    private final Scenes scenes;

    private final PieceEdits pieces;

    SetEdits(Results results, Scenes scenes, PieceEdits pieces) {
        this.scenes = scenes;
        this.pieces = pieces;
        this.results = results;
    }

    Change apply(Shot s, String action, Form f) {
        Change c =
                switch (action) {
                    case "pick", "pick-above", "pick-on", "pick-delete" -> pick(s, action, f);
                    case "fit" -> byEye(s, f);
                    case "edge-add", "edge-delete" -> edge(s, action, f);
                    case "colour-add", "colour-delete" -> colour(s, action, f);
                    case "upright", "upright-delete" -> upright(s, action, f);
                    case "level", "level-delete" -> level(s, action, f);
                    case "yardstick", "camera-height", "remove", "weigh" -> yardstick(s, action, f);
                    case "piece-add",
                            "piece-set",
                            "piece-delete",
                            "piece-around",
                            "piece-settle",
                            "piece-key",
                            "piece-unkey",
                            "key",
                            "key-set",
                            "key-delete",
                            "key-clear",
                            "wave-add",
                            "wave-set",
                            "wave-delete" -> pieces.apply(s, action, f, () -> places(s));
                    default -> frame(s, action, f);
                };
        // What is newly said must work; taking something away must always be possible, also when what stays names lost
        // points.
        if (Set.of(
                        "ground",
                        "origin",
                        "heading",
                        "pick",
                        "pick-above",
                        "pick-on",
                        "edge-add",
                        "upright",
                        "level",
                        "yardstick",
                        "camera-height",
                        "fit")
                .contains(action)) results.set(c.shot());
        return c;
    }

    private Change frame(Shot s, String action, Form f) {
        SetRecipe r = s.set();
        List<Integer> ground = r.groundPoints();
        int origin = r.axes().originPoint(),
                from = r.axes().headingFrom(),
                to = r.axes().headingTo();
        List<Integer> ids = f.ids("ids");
        String said = "set changed";
        switch (action) {
            case "ground" -> {
                ground = ids;
                if (!ids.isEmpty() && ids.size() < 3)
                    throw new BadInput("the ground needs three points or more; " + ids.size() + " are chosen");
                said = ids.isEmpty() ? "ground proposed again" : "ground through " + ids.size() + " points";
            }
            case "origin" -> {
                origin = ids.isEmpty() ? 0 : ids.get(0);
                said = origin == 0 ? "origin proposed again" : "origin at point " + origin;
            }
            case "heading" -> {
                from = ids.isEmpty() ? 0 : two(ids).get(0);
                to = ids.isEmpty() ? 0 : ids.get(1);
                said = from == 0 ? "heading proposed again" : "heading along two points";
            }
            default -> {}
        }
        SetRecipe.Catcher c = r.catcher();
        SetRecipe.Catcher catcher = new SetRecipe.Catcher(
                f.number("catcherX", "the catcher's place", c.x(), -10_000, 10_000),
                f.number("catcherZ", "the catcher's place", c.z(), -10_000, 10_000),
                f.number("catcherWidth", "the catcher's width", c.width(), 0.05, 10_000),
                f.number("catcherDepth", "the catcher's depth", c.depth(), 0.05, 10_000),
                f.tick("goesOn", c.goesOn()));
        return new Change(
                s.with(new SetRecipe(
                        ground,
                        new SetRecipe.Axes(
                                origin,
                                from,
                                to,
                                f.number("turnDeg", "the turn", r.axes().turnDeg(), -3600, 3600)),
                        r.yardsticks(),
                        catcher,
                        new SetRecipe.Film(
                                f.number("wet", "wetness", r.wet(), 0, 1),
                                f.number("wetRoughness", "the roughness", r.wetRoughness(), 0.02, 1)),
                        r.points(),
                        r.edges(),
                        r.uprights(),
                        r.pieces(),
                        r.colours(),
                        r.levels())),
                said);
    }

    private static List<Integer> two(List<Integer> ids) {
        if (ids.size() != 2) throw new BadInput("choose exactly two points in the picture first");
        return ids;
    }

    /** A point put by hand: a new one, or another frame of a chosen one. */
    private static Change pick(Shot s, String action, Form f) {
        List<PickedPoint> all = new ArrayList<>(s.set().points());
        int id = f.whole("id", "the point", 0, 0, Integer.MAX_VALUE), at = -1;
        for (int i = 0; i < all.size(); i++) if (all.get(i).id() == id) at = i;
        if (action.equals("pick-delete")) {
            if (at < 0) throw new BadInput("that point is no longer there");
            String name = all.remove(at).name();
            return new Change(s.with(s.set().withPoints(all)), name + " taken away");
        }
        if (action.equals("pick-above")) {
            if (at < 0) throw new BadInput("choose a picked point first");
            int below = f.whole("above", "the point below", 0, 0, Integer.MAX_VALUE);
            if (below == id) throw new BadInput("a point cannot stand over itself");
            PickedPoint p = all.get(at);
            all.set(at, p.over(below, 0));
            return new Change(
                    s.with(s.set().withPoints(all)),
                    p.name() + (below == 0 ? " on the ground" : " over another point"));
        }
        if (action.equals("pick-on")) {
            if (at < 0) throw new BadInput("that point is no longer there");
            int piece = f.whole("on", "the piece", 0, 0, 1_000_000);
            String on = piece == 0
                    ? "the ground"
                    : s.set().pieces().stream()
                            .filter(p -> p.id() == piece)
                            .map(Piece::name)
                            .findFirst()
                            .orElseThrow(() -> new BadInput("that piece is no longer there"));
            PickedPoint p = all.get(at);
            all.set(at, p.over(0, piece));
            return new Change(s.with(s.set().withPoints(all)), p.name() + " on " + on);
        }
        PickedPoint.Pick k = new PickedPoint.Pick(
                f.whole("frame", "the frame", 0, 0, 10_000_000),
                f.number("x", "x", 0, -1e5, 1e5),
                f.number("y", "y", 0, -1e5, 1e5));
        if (at >= 0) {
            all.set(at, all.get(at).with(k));
            return new Change(s.with(s.set().withPoints(all)), all.get(at).name() + " picked in frame " + k.frame());
        }
        if (all.size() >= MOST) throw new BadInput("more than " + MOST + " picked points are not kept");
        int next = all.stream().mapToInt(PickedPoint::id).max().orElse(PickedPoint.FIRST_ID) + 1;
        all.add(new PickedPoint(next, "point " + (next - PickedPoint.FIRST_ID), List.of(k), 0));
        return new Change(s.with(s.set().withPoints(all)), "point " + (next - PickedPoint.FIRST_ID) + " picked");
    }

    /**
     * A stick of known height laid over the picture by eye: its foot on the ground, its top above it, and a yardstick
     * that gives way to measured ones.
     */
    private static Change byEye(Shot s, Form f) {
        List<PickedPoint> points = new ArrayList<>(s.set().points());
        if (points.size() + 2 > MOST) throw new BadInput("more than " + MOST + " picked points are not kept");
        int frame = f.whole("frame", "the frame", 0, 0, 10_000_000),
                id = points.stream().mapToInt(PickedPoint::id).max().orElse(PickedPoint.FIRST_ID) + 1;
        double m = f.number("metres", "the stick", 1.8, 0.01, 1000);
        points.add(new PickedPoint(
                id,
                "foot by eye",
                List.of(new PickedPoint.Pick(
                        frame, f.number("fromX", "x", 0, -1e5, 1e5), f.number("fromY", "y", 0, -1e5, 1e5))),
                0));
        points.add(new PickedPoint(
                id + 1,
                "top by eye",
                List.of(new PickedPoint.Pick(
                        frame, f.number("toX", "x", 0, -1e5, 1e5), f.number("toY", "y", 0, -1e5, 1e5))),
                id));
        List<SetRecipe.Yardstick> sticks = new ArrayList<>(s.set().yardsticks());
        sticks.add(new SetRecipe.Yardstick("by eye, " + m + " m", id, id + 1, m, EYE_WEIGHT));
        return new Change(s.with(s.set().withPoints(points).withYardsticks(sticks)), "size by eye");
    }

    private static Change edge(Shot s, String action, Form f) {
        List<SetRecipe.Edge> all = new ArrayList<>(s.set().edges());
        if (action.equals("edge-delete")) {
            all.remove(f.index(all.size()));
            return new Change(s.with(s.set().withEdges(all)), "edge taken away");
        }
        if (all.size() >= MOST) throw new BadInput("more than " + MOST + " edges are not kept");
        SetRecipe.Axis axis = SetRecipe.Axis.valueOf(f.choice("axis", "Y", "X", "Y", "Z"));
        all.add(new SetRecipe.Edge(
                axis,
                f.whole("frame", "the frame", 0, 0, 10_000_000),
                f.number("fromX", "x", 0, -1e5, 1e5),
                f.number("fromY", "y", 0, -1e5, 1e5),
                f.number("toX", "x", 0, -1e5, 1e5),
                f.number("toY", "y", 0, -1e5, 1e5)));
        return new Change(
                s.with(s.set().withEdges(all)),
                axis == SetRecipe.Axis.Y
                        ? "upright edge drawn"
                        : "edge along " + axis.name().toLowerCase(Locale.ROOT));
    }

    /** How the camera's level read in a frame. */
    private static Change level(Shot s, String action, Form f) {
        List<SetRecipe.Level> all = new ArrayList<>(s.set().levels());
        if (action.equals("level-delete")) {
            SetRecipe.Level l = all.remove(f.index(all.size()));
            return new Change(s.with(s.set().withLevels(all)), "level in frame " + l.frame() + " taken away");
        }
        int frame = f.whole("frame", "the frame", 0, 0, 10_000_000);
        all.removeIf(l -> l.frame() == frame);
        if (all.size() >= MOST) throw new BadInput("more than " + MOST + " levels are not kept");
        if (f.text("roll", "").isEmpty()) throw new BadInput("type the roll that was noted first");
        all.add(new SetRecipe.Level(
                frame,
                f.number("roll", "the roll", 0, -180, 180),
                f.text("tilt", "").isEmpty() ? null : f.number("tilt", "the tilt", 0, -90, 90)));
        return new Change(s.with(s.set().withLevels(all)), "level noted in frame " + frame);
    }

    /** Frames whose colours the stand-ins have. */
    private static Change colour(Shot s, String action, Form f) {
        List<SetRecipe.ColourFrame> all = new ArrayList<>(s.set().colours());
        if (action.equals("colour-delete")) {
            SetRecipe.ColourFrame c = all.remove(f.index(all.size()));
            return new Change(s.with(s.set().withColours(all)), "colours no longer from frame " + c.frame());
        }
        int frame = f.whole("frame", "the frame", 0, 0, 10_000_000);
        all.removeIf(c -> c.frame() == frame && c.picture().isEmpty());
        if (all.size() >= MOST_COLOURS)
            throw new BadInput("colours are taken from " + MOST_COLOURS + " frames at most");
        all.add(new SetRecipe.ColourFrame(frame, ""));
        return new Change(s.with(s.set().withColours(all)), "colours from frame " + frame);
    }

    private Change upright(Shot s, String action, Form f) {
        List<SetRecipe.Upright> all = new ArrayList<>(s.set().uprights());
        if (action.equals("upright-delete")) {
            all.remove(f.index(all.size()));
            return new Change(s.with(s.set().withUprights(all)), "upright taken away");
        }
        List<Integer> ids = two(f.ids("ids"));
        Map<Integer, Vec3> at = places(s);
        // The higher one is above, as the set lies now.
        boolean first = at.containsKey(ids.get(0))
                && at.containsKey(ids.get(1))
                && at.get(ids.get(0)).y() >= at.get(ids.get(1)).y();
        all.add(first ? new SetRecipe.Upright(ids.get(0), ids.get(1)) : new SetRecipe.Upright(ids.get(1), ids.get(0)));
        return new Change(s.with(s.set().withUprights(all)), "upright between two points");
    }

    /** Places of solved and picked points in the set. */
    private Map<Integer, Vec3> places(Shot s) {
        Map<Integer, Vec3> at = new java.util.HashMap<>();
        SolvedCamera c = results.cameraInSet(s);
        if (c != null) for (SolvedCamera.Point p : c.points()) at.put(p.id(), p.position());
        at.putAll(results.places(s, scenes::model));
        return at;
    }

    private static Change yardstick(Shot s, String action, Form f) {
        List<SetRecipe.Yardstick> all = new ArrayList<>(s.set().yardsticks());
        if (action.equals("remove")) {
            SetRecipe.Yardstick y = all.remove(f.index(all.size()));
            return new Change(s.with(s.set().withYardsticks(all)), "yardstick " + y.name() + " taken away");
        }
        if (action.equals("weigh")) {
            int i = f.index(all.size());
            SetRecipe.Yardstick y = all.get(i);
            all.set(
                    i,
                    new SetRecipe.Yardstick(
                            y.name(),
                            y.from(),
                            y.to(),
                            y.metres(),
                            f.number("weight", "the weight", y.weight(), 0.001, 1000)));
            return new Change(s.with(s.set().withYardsticks(all)), y.name() + " weighed");
        }
        double m = f.number("metres", "the distance", 0, 0.001, 100_000);
        if (m <= 0) throw new BadInput("type the distance in metres first");
        List<Integer> ids = f.ids("ids");
        String name = f.text("name", "");
        if (action.equals("camera-height")) {
            all.add(new SetRecipe.Yardstick(
                    name.isEmpty() ? "camera height" : name,
                    SetRecipe.Yardstick.CAMERA,
                    SetRecipe.Yardstick.GROUND,
                    m));
        } else {
            if (ids.size() != 1 && ids.size() != 2)
                throw new BadInput(
                        "choose two points in the picture first, or one whose height over the ground is known");
            all.add(new SetRecipe.Yardstick(
                    name.isEmpty() ? "yardstick " + (all.size() + 1) : name,
                    ids.get(0),
                    ids.size() == 2 ? ids.get(1) : SetRecipe.Yardstick.GROUND,
                    m));
        }
        return new Change(s.with(s.set().withYardsticks(all)), "yardstick of " + m + " m");
    }
}
