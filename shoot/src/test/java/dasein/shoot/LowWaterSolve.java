package dasein.shoot;

import dasein.core.Progress;
import dasein.core.plate.Plate;
import dasein.core.shot.Shot;
import dasein.core.shot.ShotSteps;
import dasein.core.solve.Movers;
import dasein.core.solve.SolvedCamera;
import dasein.core.track.AutoTracker;
import dasein.core.track.Track;
import dasein.core.track.TrackSettings;
import java.nio.file.Path;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;

/** A plate as it is tracked and solved, once for all tests of a run. @param camera in its own frame */
record LowWaterSolve(List<Track> tracks, SolvedCamera camera) {
    private static final Map<String, LowWaterSolve> KNOWN = new HashMap<>();

    static LowWaterSolve get() throws Exception {
        return of("LW_010");
    }

    /** @param name of the plate, whose camera moves */
    static synchronized LowWaterSolve of(String name) throws Exception {
        LowWaterSolve known = KNOWN.get(name);
        if (known != null) return known;
        try (Plate plate = Plate.open(Path.of("demo/" + name + ".mp4"), null, null)) {
            long t = System.nanoTime();
            List<Track> tracks =
                    name.equals("LW_010") ? ShotSteps.tracks(Shot.BLANK, plate, null, Progress.NONE) : still(plate);
            known = new LowWaterSolve(tracks, ShotSteps.camera(Shot.BLANK, tracks, plate, null, null, Progress.NONE));
            System.out.printf("%s tracked and solved in %.1f s%n", name, (System.nanoTime() - t) / 1e9);
        }
        KNOWN.put(name, known);
        return known;
    }

    /** Tracks of what stands still; the camera may be shaken. */
    private static List<Track> still(Plate plate) throws Exception {
        TrackSettings s = new TrackSettings(400, 0.02, 7, 0, 6, TrackSettings.Quality.THOROUGH);
        List<Track> all = AutoTracker.track(plate, plate.first(), plate.last(), null, s, Progress.NONE);
        Set<Integer> moving = new HashSet<>();
        Movers.find(all, plate.width(), plate.height()).forEach(g -> moving.addAll(g.tracks()));
        return all.stream().filter(t -> !moving.contains(t.id())).toList();
    }
}
