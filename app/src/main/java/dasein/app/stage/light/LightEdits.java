package dasein.app.stage.light;

import dasein.app.stage.Change;
import dasein.app.stage.Desk;
import dasein.app.stage.Edited;
import dasein.app.stage.Form;
import dasein.app.stage.KeyEdits;
import dasein.app.stage.Seen;
import dasein.app.store.MediaMapper;
import dasein.core.BadInput;
import dasein.core.light.Clues;
import dasein.core.light.LightRecipe;
import dasein.core.light.Lighting;
import dasein.core.light.level.PlateMatch;
import dasein.core.light.sun.ShadowSun;
import dasein.core.shot.Shot;
import java.util.List;
import java.util.Locale;
import org.springframework.stereotype.Component;

/** What a person changes about the light: its numbers, what is marked in the plate, and what follows from that. */
@Component
class LightEdits {
    /** A number that slides and can be keyed. */
    record Number(String field, String channel, String label, double least, double most) {}

    private static final List<Number> NUMBERS = List.of(
            new Number("turnDeg", "turn", "the turn", -3600, 3600),
            new Number("level", "level", "the level", 0, 1000),
            new Number("azimuthDeg", "sunAzimuth", "the sun's azimuth", -720, 720),
            new Number("elevationDeg", "sunElevation", "the sun's elevation", 0, 90),
            new Number("angleDeg", "sunSize", "the sun's size", 0.1, 90),
            new Number("sunLevel", "sunLevel", "the sun's level", 0, 1000));

    private static final int MOST_MARKS = 60, MOST_BALLS = 2;

    private final Desk desk;
    private final Clueing clueing;
    private final LampEdits lamps;
    private final Charts charts;

    LightEdits(Desk desk, Clueing clueing, LampEdits lamps, Charts charts) {
        this.lamps = lamps;
        this.charts = charts;
        this.desk = desk;
        this.clueing = clueing;
    }

    Change apply(Seen s, String action, Form f) {
        Shot shot = s.shot();
        LightRecipe l = shot.light();
        if (LampEdits.knows(action, f)) return lamps.apply(s, action, f);
        if (KeyEdits.knows(action)) {
            double rate = s.plate() == null ? 24 : s.plate().rate().perSecond();
            Edited<LightRecipe> e = KeyEdits.apply(
                    l, action, f, f.frame(), () -> l.at(f.frame(), rate).rest(KeyEdits.channel(l, f)));
            return new Change(shot.with(e.value()), e.said());
        }
        return switch (action) {
            case "shadow" -> clues(shot, l.clues().with(shadow(s, l.clues(), f)), "shadow drawn");
            case "patch" -> clues(shot, l.clues().with(patch(s, l.clues(), f)), "ground marked");
            case "remove-clue" -> clues(shot, l.clues().without(f.id()), "mark taken away");
            case "chart" -> clues(shot, l.clues().with(charts.inPlate(s, l.clues(), f)), "chart read in the plate");
            case "ball" -> clues(shot, l.clues().with(ball(l.clues(), f)), "ball view changed");
            case "albedo" ->
                clues(
                        shot,
                        l.clues().withAlbedo(f.number("albedo", "the reflectance", 0, 0, 1)),
                        "ground's reflectance");
            case "sun-from-shadows" -> {
                ShadowSun.Result found = clueing.sun(s);
                yield said(
                        shot,
                        PlateMatch.sunSet(l, clueing.now(s, f.frame()), found),
                        String.format(
                                Locale.ROOT,
                                "sun from %d shadows: %.1f high",
                                l.clues().shadows().size(),
                                found.elevationDeg()));
            }
            case "turn-to-shadows" ->
                said(shot, PlateMatch.turned(l, clueing.rig(s), clueing.sun(s)), "map turned to the shadows");
            case "level-from-ground" ->
                said(
                        shot,
                        PlateMatch.levelled(
                                l,
                                clueing.rig(s),
                                clueing.now(s, f.frame()),
                                clueing.ground(s),
                                l.clues().albedo()),
                        "level from the ground");
            default -> said(shot, numbers(s, l, f), "light changed");
        };
    }

    private static Change said(Shot shot, LightRecipe l, String summary) {
        return new Change(shot.with(l), summary);
    }

    private static Change clues(Shot shot, Clues c, String summary) {
        if (c.shadows().size() + c.patches().size() > MOST_MARKS)
            throw new BadInput("more than " + MOST_MARKS + " marks are not kept");
        if (c.balls().size() > MOST_BALLS) throw new BadInput("a map is made of one ball view or two");
        return said(shot, shot.light().with(c), summary);
    }

    private LightRecipe numbers(Seen s, LightRecipe l, Form f) {
        String map = f.text("environment", l.environment());
        if (!map.isEmpty()) {
            MediaMapper.ShelfItem item = desk.shelf().item(map);
            if (item == null || !item.kind().equals("environment")) throw new BadInput("that map is not on the shelf");
        }
        LightRecipe next = l.withEnvironment(map);
        String source = f.choice("source", l.sun().source(), "map", "own", "none");
        // An own sun starts as the one that shone.
        if (source.equals("own") && !l.sun().source().equals("own")) {
            Lighting now = clueing.nowIfSolved(s, f.frame());
            if (now != null) next = PlateMatch.own(next, now);
        }
        next = next.with(sun(source, next.sun(), l.sun(), f))
                .withColour(List.of(
                        f.number("mapRed", "red", l.colour().get(0), 0, 10),
                        f.number("mapGreen", "green", l.colour().get(1), 0, 10),
                        f.number("mapBlue", "blue", l.colour().get(2), 0, 10)));
        for (Number n : NUMBERS)
            if (f.has(n.field)) next = next.set(n.channel, f.number(n.field, n.label, 0, n.least, n.most), f.frame());
        return next;
    }

    /** The factors of a map's sun are no irradiance: who goes back to it gets it as it was found. */
    private static LightRecipe.SunRecipe sun(
            String source, LightRecipe.SunRecipe n, LightRecipe.SunRecipe before, Form f) {
        boolean back = source.equals("map") && before.source().equals("own");
        List<Double> colour = back ? List.of(1.0, 1.0, 1.0) : n.colour();
        return new LightRecipe.SunRecipe(
                source,
                n.disc(),
                back ? 1 : n.level(),
                List.of(
                        f.number("red", "red", colour.get(0), 0, 10),
                        f.number("green", "green", colour.get(1), 0, 10),
                        f.number("blue", "blue", colour.get(2), 0, 10)));
    }

    private static double x(Seen s, Form f, String name) {
        return f.number(
                name,
                "the place",
                0,
                -0.5 * s.needPlate().width(),
                1.5 * s.needPlate().width());
    }

    private static double y(Seen s, Form f, String name) {
        return f.number(
                name,
                "the place",
                0,
                -0.5 * s.needPlate().height(),
                1.5 * s.needPlate().height());
    }

    private Clues.Shadow shadow(Seen s, Clues c, Form f) {
        Clues.Shadow k = new Clues.Shadow(
                c.free(),
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

    private static Clues.Patch patch(Seen s, Clues c, Form f) {
        double x = f.number("x", "the place", 0, 0, s.needPlate().width()),
                y = f.number("y", "the place", 0, 0, s.needPlate().height());
        return new Clues.Patch(
                c.free(), frame(s, f), x, y, f.choice("lit", "yes", "yes", "no").equals("yes"));
    }

    private static int frame(Seen s, Form f) {
        return f.whole("frame", "the frame", s.first(), s.first(), s.last());
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
