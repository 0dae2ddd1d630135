package dasein.app.stage.light;

import dasein.app.stage.Form;
import dasein.app.stage.Seen;
import dasein.core.BadInput;
import dasein.core.light.Clues;
import dasein.core.light.lamp.Photometry;
import dasein.core.light.sun.ShadowSun;
import java.util.List;
import java.util.Set;
import java.util.function.ToIntFunction;
import org.springframework.stereotype.Component;

/** What a person marks in the plate, or notes of the set, to find its light by. */
@Component
class Marks {
    private static final int MOST = 60, MOST_BALLS = 2;
    private static final Set<String> KNOWN = Set.of(
            "shadow",
            "patch",
            "edge",
            "grey",
            "pair",
            "stand",
            "when",
            "ball",
            "chart",
            "chart-in-map",
            "white",
            "albedo",
            "remove-clue");

    private final Clueing clueing;
    private final Charts charts;

    Marks(Clueing clueing, Charts charts) {
        this.clueing = clueing;
        this.charts = charts;
    }

    static boolean knows(String action) {
        return KNOWN.contains(action);
    }

    /** The clues after that action. */
    Clues apply(Seen s, String action, Form f) {
        Clues c = s.shot().light().clues();
        Clues out =
                switch (action) {
                    case "shadow" -> c.with(shadow(s, c, f));
                    case "patch" ->
                        c.with(new Clues.Patch(
                                number(c, c.patches(), Clues.Patch::id, f),
                                frame(s, f),
                                inside(s, f, "x"),
                                inside(s, f, "y"),
                                yes(f, "lit", true)));
                    case "edge" -> c.with(edge(s, c, f));
                    case "grey" -> c.with(grey(s, c, f));
                    case "pair" ->
                        c.with(new Clues.Pair(
                                number(c, c.pairs(), Clues.Pair::id, f),
                                frame(s, f),
                                inside(s, f, "x"),
                                inside(s, f, "y"),
                                f.number("azimuthDeg", "the azimuth", 0, -720, 720),
                                f.number("elevationDeg", "the height", 0, -90, 90)));
                    case "stand" -> c.with(stand(c, f));
                    case "when" -> c.with(when(c, f));
                    case "chart" -> c.with(charts.inPlate(s, c, f));
                    case "chart-in-map" -> c.with(charts.inMap(s, c, f));
                    case "ball" -> c.with(ball(c, f));
                    case "white" -> c.withWhite(white(c, f));
                    case "albedo" -> c.withAlbedo(f.number("albedo", "the reflectance", 0, 0, 1));
                    default -> c.without(f.id());
                };
        if (out.marks() > MOST) throw new BadInput("more than " + MOST + " marks are not kept");
        if (out.balls().size() > MOST_BALLS) throw new BadInput("a map is made of one ball view or two");
        return out;
    }

    static String said(String action) {
        return switch (action) {
            case "shadow" -> "shadow drawn";
            case "patch" -> "ground marked";
            case "edge" -> "shadow's edge marked";
            case "grey" -> "grey ball marked";
            case "pair" -> "thing marked in plate and map";
            case "stand" -> "ball to look at";
            case "when" -> "place and time";
            case "chart" -> "chart read in the plate";
            case "chart-in-map" -> "chart read in the map";
            case "ball" -> "ball view changed";
            case "white" -> "brightness of the plate's white";
            case "albedo" -> "ground's reflectance";
            default -> "mark taken away";
        };
    }

    /** The mark that is changed; null for a new one. */
    private static <T> T changed(List<T> of, ToIntFunction<T> id, Form f) {
        if (!f.has("id")) return null;
        int n = f.id();
        return of.stream().filter(t -> id.applyAsInt(t) == n).findFirst().orElseThrow(Marks::gone);
    }

    /** The number of the mark that is changed, else one that is free. */
    private static <T> int number(Clues c, List<T> of, ToIntFunction<T> id, Form f) {
        T was = changed(of, id, f);
        return was == null ? c.free() : id.applyAsInt(was);
    }

    /** Marks may lie some way outside the picture. */
    private static double x(Seen s, Form f, String name) {
        int w = s.needPlate().width();
        return f.number(name, "the place", 0, -0.5 * w, 1.5 * w);
    }

    private static double y(Seen s, Form f, String name) {
        int h = s.needPlate().height();
        return f.number(name, "the place", 0, -0.5 * h, 1.5 * h);
    }

    private static double inside(Seen s, Form f, String name) {
        return f.number(
                name,
                "the place",
                0,
                0,
                name.equals("x") ? s.needPlate().width() : s.needPlate().height());
    }

    private static int frame(Seen s, Form f) {
        return f.whole("frame", "the frame", s.first(), s.first(), s.last());
    }

    private static boolean yes(Form f, String name, boolean now) {
        return f.choice(name, now ? "yes" : "no", "yes", "no").equals("yes");
    }

    private Clues.Shadow shadow(Seen s, Clues c, Form f) {
        Clues.Shadow k = new Clues.Shadow(
                number(c, c.shadows(), Clues.Shadow::id, f),
                frame(s, f),
                x(s, f, "footX"),
                y(s, f, "footY"),
                x(s, f, "topX"),
                y(s, f, "topY"),
                x(s, f, "tipX"),
                y(s, f, "tipY"));
        // What is impossible by itself is refused at once.
        ShadowSun.check(clueing.camera(s), k.line());
        return k;
    }

    /** A new one by its stroke, or the height of one that is there. */
    private Clues.Edge edge(Seen s, Clues c, Form f) {
        Clues.Edge was = changed(c.edges(), Clues.Edge::id, f);
        if (was != null && !f.has("x"))
            return new Clues.Edge(
                    was.id(),
                    was.frame(),
                    was.fromX(),
                    was.fromY(),
                    was.toX(),
                    was.toY(),
                    height(f, was.height()),
                    piece(s, f, was.piece()));
        double x = inside(s, f, "x"), y = inside(s, f, "y");
        double toX = f.number("toX", "the place", 0, 0, s.needPlate().width()),
                toY = f.number("toY", "the place", 0, 0, s.needPlate().height());
        Clues.Edge e = new Clues.Edge(
                was == null ? c.free() : was.id(),
                frame(s, f),
                x,
                y,
                toX,
                toY,
                height(f, clueing.height(s, frame(s, f), (x + toX) / 2, (y + toY) / 2)),
                was == null ? 0 : was.piece());
        clueing.edge(s, e);
        return e;
    }

    private static int piece(Seen s, Form f, int now) {
        int id = f.whole("piece", "the piece", now, 0, Integer.MAX_VALUE);
        if (id != 0 && s.shot().set().pieces().stream().noneMatch(p -> p.id() == id))
            throw new BadInput("that piece of the set is no longer there");
        return id;
    }

    private static double height(Form f, double now) {
        return f.number("height", "the height of what casts it", now, 0.01, 1000);
    }

    private static Clues.Grey grey(Seen s, Clues c, Form f) {
        Clues.Grey was = changed(c.greys(), Clues.Grey::id, f);
        if (was == null)
            was = new Clues.Grey(
                    c.free(),
                    frame(s, f),
                    inside(s, f, "x"),
                    inside(s, f, "y"),
                    f.number("r", "the radius", 20, 8, 5000),
                    0.18,
                    true);
        return new Clues.Grey(
                was.id(),
                was.frame(),
                f.has("x") ? inside(s, f, "x") : was.x(),
                f.has("y") ? inside(s, f, "y") : was.y(),
                f.number("r", "the radius", was.r(), 8, 5000),
                f.number("albedo", "the reflectance", was.albedo(), 0.01, 1),
                f.tick("lit", was.lit()));
    }

    private static Clues.Stand stand(Clues c, Form f) {
        Clues.Stand was = changed(c.stands(), Clues.Stand::id, f);
        if (was == null) was = new Clues.Stand(c.free(), yes(f, "mirror", false), 0, 0.3, 0, 0.3);
        double r = f.number("radius", "the radius", was.radius(), 0.01, 50);
        return new Clues.Stand(
                was.id(),
                was.mirror(),
                f.number("x", "the place", was.x(), -1e4, 1e4),
                // One that stood on the ground goes on standing there.
                f.number("y", "the height", was.y() == was.radius() ? r : was.y(), -1e3, 1e4),
                f.number("z", "the place", was.z(), -1e4, 1e4),
                r);
    }

    private Clues.When when(Clues c, Form f) {
        Clues.When was = c.when() == null ? new Clues.When(0, 0, "", 0) : c.when();
        String time = f.text("time", was.time());
        if (f.has("date"))
            time = f.text("date", "") + "T" + f.text("clock", "") + ":00"
                    + offset(f.number("offset", "hours ahead of universal time", 0, -14, 14));
        Clues.When w = new Clues.When(
                f.number("latitude", "the latitude", was.latitude(), -90, 90),
                f.number("longitude", "the longitude", was.longitude(), -180, 180),
                time,
                f.number("northDeg", "north", was.northDeg(), -360, 360));
        w.sun();
        return w;
    }

    /** As ISO 8601 writes it. */
    private static String offset(double hours) {
        int minutes = (int) Math.round(60 * Math.abs(hours));
        return String.format("%s%02d:%02d", hours < 0 ? "-" : "+", minutes / 60, minutes % 60);
    }

    /** As said, or by the camera's exposure. */
    private static double white(Clues c, Form f) {
        if (f.text("fStop", "").isEmpty()) return f.number("white", "the white's luminance", c.white(), 0, 1e9);
        String t = f.text("exposure", "");
        String[] part = t.split("/", 2);
        double seconds;
        try {
            seconds = Double.parseDouble(part[0].trim()) / (part.length > 1 ? Double.parseDouble(part[1].trim()) : 1);
        } catch (NumberFormatException e) {
            throw new BadInput("the exposure time must be seconds like 1/48, not \"" + t + "\"");
        }
        return Math.rint(Photometry.white(
                f.number("fStop", "the f-stop", 0, 0.5, 64), seconds, f.number("iso", "the ISO", 0, 1, 1e6)));
    }

    private static BadInput gone() {
        return new BadInput("that mark is no longer there");
    }

    private static Clues.Ball ball(Clues c, Form f) {
        Clues.Ball b = c.balls().stream()
                .filter(k -> k.id() == f.id())
                .findFirst()
                .orElseThrow(() -> new BadInput("that view is no longer there"));
        String stops = f.text("stops", b.stops()), circle = f.text("circle", b.circle());
        if (!stops.isEmpty()
                && BallMapWork.numbers(stops, "the stops").length != b.photos().size())
            throw new BadInput("there are " + b.photos().size() + " photographs: say the stops of each");
        if (!circle.isEmpty() && BallMapWork.numbers(circle, "the circle").length != 3)
            throw new BadInput("the circle must be x, y, radius in pixels");
        return new Clues.Ball(
                b.id(),
                b.photos(),
                stops,
                circle,
                f.has("fieldDeg") && f.text("fieldDeg", "").isEmpty()
                        ? 0
                        : f.number("fieldDeg", "the field of view", b.fieldDeg(), 0, 170),
                f.number("reflectance", "the ball's reflectance", b.reflectance(), 0.05, 1));
    }
}
