package dasein.app.stage.light;

import dasein.app.stage.Change;
import dasein.app.stage.Desk;
import dasein.app.stage.Edited;
import dasein.app.stage.Form;
import dasein.app.stage.KeyEdits;
import dasein.app.stage.Seen;
import dasein.app.store.MediaMapper;
import dasein.core.BadInput;
import dasein.core.light.LightRecipe;
import dasein.core.light.Lighting;
import dasein.core.light.level.PlateMatch;
import dasein.core.math.Vec3;
import dasein.core.shot.Shot;
import java.util.List;
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

    private final Desk desk;
    private final Clueing clueing;
    private final LampEdits lamps;
    private final Marks marks;
    private final Matches matches;

    LightEdits(Desk desk, Clueing clueing, LampEdits lamps, Marks marks, Matches matches) {
        this.lamps = lamps;
        this.marks = marks;
        this.matches = matches;
        this.desk = desk;
        this.clueing = clueing;
    }

    Change apply(Seen s, String action, Form f) {
        Shot shot = s.shot();
        LightRecipe l = shot.light();
        if (BlockerEdits.knows(action)) {
            Lighting now = clueing.nowIfSolved(s, f.frame());
            Vec3 sun = now == null || now.suns().isEmpty()
                    ? null
                    : now.suns().get(0).towards();
            return BlockerEdits.apply(s, action, f, sun);
        }
        if (LampEdits.knows(action, f)) return lamps.apply(s, action, f);
        if (KeyEdits.knows(action)) {
            double rate = s.plate() == null ? 24 : s.plate().rate().perSecond();
            Edited<LightRecipe> e = KeyEdits.apply(
                    l, action, f, f.frame(), () -> l.at(f.frame(), rate).rest(KeyEdits.channel(l, f)));
            return new Change(shot.with(e.value()), e.said());
        }
        if (Marks.knows(action)) return new Change(shot.with(l.with(marks.apply(s, action, f))), Marks.said(action));
        if (Matches.knows(action)) return matches.apply(s, action, f);
        return new Change(shot.with(numbers(s, l, f)), "light changed");
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
}
