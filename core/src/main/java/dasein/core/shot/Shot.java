package dasein.core.shot;

import dasein.core.cast.Performer;
import dasein.core.comp.CompRecipe;
import dasein.core.ground.SetRecipe;
import dasein.core.light.LightRecipe;
import dasein.core.light.lamp.LampRecipe;
import dasein.core.presence.PresenceRecipe;
import dasein.core.render.LightGroups;
import dasein.core.render.PassesRecipe;
import dasein.core.solve.CameraMatch;
import dasein.core.solve.Hints;
import dasein.core.solve.LensTerms;
import dasein.core.solve.file.CameraExchange;
import dasein.core.track.TrackSettings;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** Everything a person decided about a shot. Every edit makes a new one; results are pure functions of parts of it. */
public record Shot(
        String schema,
        PlateRecipe plate,
        TrackRecipe tracks,
        CameraRecipe camera,
        SetRecipe set,
        List<Performer> performers,
        LightRecipe light,
        PassesRecipe passes,
        CompRecipe comp,
        PresenceRecipe presence) {
    public Shot {
        if (presence == null) presence = PresenceRecipe.BLANK;
    }

    public static final String SCHEMA = "dasein-shot/" + Upgrades.newest();

    public static final Shot BLANK = new Shot(
            SCHEMA,
            PlateRecipe.BLANK,
            new TrackRecipe(
                    400,
                    0.02,
                    7,
                    0,
                    TrackSettings.Quality.STANDARD,
                    "",
                    "",
                    List.of(),
                    List.of(),
                    List.of(),
                    List.of(),
                    List.of(),
                    List.of()),
            new CameraRecipe(
                    "auto",
                    "auto",
                    LensTerms.FIND,
                    0,
                    "",
                    CameraExchange.Reading.PLAIN,
                    "",
                    List.of(),
                    Hints.NONE,
                    CameraMatch.NONE,
                    List.of(),
                    "",
                    List.of(),
                    0,
                    "",
                    ""),
            SetRecipe.BLANK,
            List.of(),
            LightRecipe.BLANK,
            PassesRecipe.BLANK,
            CompRecipe.BLANK,
            PresenceRecipe.BLANK);

    /** Part of a frame's time for which the shutter is open: as set for the passes, else as noted on set, else half. */
    public double shutter() {
        return (passes.shutterDeg() >= 0 ? passes.shutterDeg() : plate.shutterDeg() > 0 ? plate.shutterDeg() : 180)
                / 360;
    }

    public Shot with(PlateRecipe p) {
        return new Shot(schema, p, tracks, camera, set, performers, light, passes, comp, presence);
    }

    public Shot with(TrackRecipe t) {
        return new Shot(schema, plate, t, camera, set, performers, light, passes, comp, presence);
    }

    public Shot with(CameraRecipe c) {
        return new Shot(schema, plate, tracks, c, set, performers, light, passes, comp, presence);
    }

    public Shot with(SetRecipe s) {
        return new Shot(schema, plate, tracks, camera, s, performers, light, passes, comp, presence);
    }

    public Shot with(List<Performer> p) {
        return new Shot(schema, plate, tracks, camera, set, List.copyOf(p), light, passes, comp, presence);
    }

    public Shot with(LightRecipe l) {
        return new Shot(schema, plate, tracks, camera, set, performers, l, passes, comp, presence);
    }

    /** Lights that its passes keep apart, as passes call them, and what people call them; none when all is together. */
    public Map<String, String> lightsApart() {
        Map<String, String> all = new LinkedHashMap<>();
        if (passes.lights() == LightGroups.Apart.TOGETHER) return all;
        all.put("map", "map");
        all.put("sun", "sun");
        for (LampRecipe l : light.lamps()) if (l.on()) all.put("lamp" + l.id(), l.name());
        all.put("glow", "what glows");
        return all;
    }

    public Shot with(PassesRecipe p) {
        return new Shot(schema, plate, tracks, camera, set, performers, light, p, comp, presence);
    }

    public Shot with(CompRecipe c) {
        return new Shot(schema, plate, tracks, camera, set, performers, light, passes, c, presence);
    }

    public Shot with(PresenceRecipe p) {
        return new Shot(schema, plate, tracks, camera, set, performers, light, passes, comp, p);
    }
}
