package dasein.core.shot;

import dasein.core.comp.CompRecipe;
import dasein.core.ground.SetRecipe;
import dasein.core.light.LightRecipe;
import dasein.core.render.PassesRecipe;
import dasein.core.scene.Performer;
import java.util.List;

/** Everything a person decided about a shot. Every edit makes a new one; results are pure functions of parts of it. */
public record Shot(String schema, PlateRecipe plate, TrackRecipe tracks, CameraRecipe camera, SetRecipe set, List<Performer> performers,
    LightRecipe light, PassesRecipe passes, CompRecipe comp) {
    public static final String SCHEMA = "dasein-shot/1";

    /**
     * @param file movie or folder of frames; @param encoding empty for the usual one; @param rate empty for the file's own
     * @param first first frame of the range, 0 for the file's own; {@code last} likewise
     * @param sensorWidthMm film back from the notes, 0 unknown; {@code focalMm} likewise
     */
    public record PlateRecipe(String file, String encoding, String rate, int first, int last, double sensorWidthMm, double focalMm, String notes) {}

    /** @param deleted tracks taken out by hand; @param mask picture or folder, white = do not look here, empty for none */
    public record TrackRecipe(int count, double threshold, int region, String mask, List<Integer> deleted) {}

    /**
     * @param focal {@code unknown} or {@code given} (from the plate's notes, held)
     * @param file a camera file to use instead of solving; empty to solve
     */
    public record CameraRecipe(String focal, boolean solveK1, boolean solveK2, String file) {}

    public static final Shot BLANK = new Shot(SCHEMA, new PlateRecipe("", "", "", 0, 0, 0, 0, ""), new TrackRecipe(400, 0.02, 7, "", List.of()),
        new CameraRecipe("unknown", true, false, ""), SetRecipe.BLANK, List.of(), LightRecipe.BLANK, PassesRecipe.BLANK, CompRecipe.BLANK);

    public Shot with(PlateRecipe p) { return new Shot(schema, p, tracks, camera, set, performers, light, passes, comp); }

    public Shot with(TrackRecipe t) { return new Shot(schema, plate, t, camera, set, performers, light, passes, comp); }

    public Shot with(CameraRecipe c) { return new Shot(schema, plate, tracks, c, set, performers, light, passes, comp); }

    public Shot with(SetRecipe s) { return new Shot(schema, plate, tracks, camera, s, performers, light, passes, comp); }

    public Shot with(List<Performer> p) { return new Shot(schema, plate, tracks, camera, set, List.copyOf(p), light, passes, comp); }

    public Shot with(LightRecipe l) { return new Shot(schema, plate, tracks, camera, set, performers, l, passes, comp); }

    public Shot with(PassesRecipe p) { return new Shot(schema, plate, tracks, camera, set, performers, light, p, comp); }

    public Shot with(CompRecipe c) { return new Shot(schema, plate, tracks, camera, set, performers, light, passes, c); }
}
