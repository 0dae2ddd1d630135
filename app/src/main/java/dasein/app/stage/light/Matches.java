package dasein.app.stage.light;

import dasein.app.stage.Change;
import dasein.app.stage.Form;
import dasein.app.stage.Seen;
import dasein.core.BadInput;
import dasein.core.light.Clues;
import dasein.core.light.LightRecipe;
import dasein.core.light.level.PlateMatch;
import dasein.core.light.pano.MapTurn;
import dasein.core.light.sun.ShadowSun;
import dasein.core.math.Vec3;
import dasein.core.render.Probe;
import java.util.Locale;
import java.util.Set;
import org.springframework.stereotype.Component;

/** Sun, turn, level and colour set by what was marked. */
@Component
class Matches {
    private static final Set<String> KNOWN = Set.of(
            "sun-from-shadows",
            "sun-from-outline",
            "sun-from-time",
            "sun-size",
            "sun-highlight",
            "sun-shadow",
            "north-from-shadows",
            "turn-to-shadows",
            "turn-to-pairs",
            "level-from-ground",
            "match-grey");

    private final Clueing clueing;

    private final LampEdits lamps;

    Matches(Clueing clueing, LampEdits lamps) {
        this.lamps = lamps;
        this.clueing = clueing;
    }

    static boolean knows(String action) {
        return KNOWN.contains(action);
    }

    Change apply(Seen s, String action, Form f) {
        LightRecipe l = s.shot().light();
        Clues c = l.clues();
        return switch (action) {
            case "sun-from-shadows" -> {
                ShadowSun.Result found = clueing.sun(s);
                yield change(
                        s,
                        PlateMatch.sunSet(l, clueing.now(s, f.frame()), found),
                        String.format(
                                Locale.ROOT,
                                "sun from %d shadows: %.1f high",
                                c.shadows().size(),
                                found.elevationDeg()));
            }
            case "sun-from-outline" -> {
                ShadowSun.Result found = clueing.outline(s, f.id());
                yield change(
                        s,
                        PlateMatch.sunSet(l, clueing.now(s, f.frame()), found),
                        String.format(Locale.ROOT, "sun from a shadow's outline: %.1f high", found.elevationDeg()));
            }
            case "sun-from-time" ->
                change(s, PlateMatch.sunAt(l, clueing.now(s, f.frame()), when(c)), "sun by place and time");
            case "north-from-shadows" -> {
                double north = clueing.sun(s).azimuthDeg() - when(c).sun().azimuthDeg();
                Clues.When w = when(c);
                yield change(
                        s,
                        l.with(c.with(new Clues.When(
                                w.latitude(),
                                w.longitude(),
                                w.time(),
                                Math.rint(100 * (north - 360 * Math.rint(north / 360))) / 100))),
                        "north by the shadows");
            }
            case "sun-size" -> {
                double deg = clueing.sunSize(s);
                yield change(
                        s,
                        PlateMatch.sized(l, clueing.now(s, f.frame()), deg),
                        String.format(Locale.ROOT, "sun %.2f deg across, by a shadow's edge", deg));
            }
            case "sun-highlight" -> {
                Probe.Hit h = lamps.hit(s, f);
                yield change(s, stood(s, l, f, lamps.byHighlight(s, f, h)), "sun put to its highlight");
            }
            case "sun-shadow" ->
                change(s, stood(s, l, f, LampEdits.byShadow(f, lamps.hit(s, f))), "sun put to a shadow's tip");
            case "turn-to-shadows" ->
                change(s, PlateMatch.turned(l, clueing.rig(s), clueing.sun(s)), "map turned to the shadows");
            case "turn-to-pairs" -> {
                MapTurn t = MapTurn.of(clueing.camera(s), c.pairs());
                yield change(
                        s,
                        l.set("turn", Math.rint(100 * t.turnDeg()) / 100, f.frame()),
                        String.format(Locale.ROOT, "map turned by what both show, within %.1f deg", t.residualDeg()));
            }
            case "match-grey" ->
                change(
                        s,
                        PlateMatch.matched(l, clueing.rig(s), clueing.now(s, f.frame()), clueing.greys(s)),
                        "level and colour by the grey ball");
            default ->
                change(
                        s,
                        PlateMatch.levelled(
                                l, clueing.rig(s), clueing.now(s, f.frame()), clueing.ground(s), c.albedo()),
                        "level from the ground");
        };
    }

    private LightRecipe stood(Seen s, LightRecipe l, Form f, Vec3 way) {
        if (!(way.y() > 0.02)) throw new BadInput("the sun would have to stand below the ground for that");
        return PlateMatch.sunAt(
                l,
                clueing.now(s, f.frame()),
                Math.toDegrees(Math.atan2(way.x(), -way.z())),
                Math.toDegrees(Math.asin(way.y())));
    }

    private static Change change(Seen s, LightRecipe l, String summary) {
        return new Change(s.shot().with(l), summary);
    }

    private static Clues.When when(Clues c) {
        if (c.when() == null) throw new BadInput("say where and when it was shot first");
        return c.when();
    }
}
