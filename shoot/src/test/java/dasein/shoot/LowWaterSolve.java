package dasein.shoot;

import dasein.core.Progress;
import dasein.core.plate.Plate;
import dasein.core.shot.Shot;
import dasein.core.shot.ShotSteps;
import dasein.core.solve.SolvedCamera;
import dasein.core.track.Track;
import java.nio.file.Path;
import java.util.List;

/** LW_010 as it is tracked and solved, once for all tests of a run. @param camera in its own frame */
record LowWaterSolve(List<Track> tracks, SolvedCamera camera) {
    private static LowWaterSolve known;

    static synchronized LowWaterSolve get() throws Exception {
        if (known != null) return known;
        try (Plate plate = Plate.open(Path.of("demo/LW_010.mp4"), null, null)) {
            long t = System.nanoTime();
            List<Track> tracks = ShotSteps.tracks(Shot.BLANK, plate, null, Progress.NONE);
            known = new LowWaterSolve(tracks, ShotSteps.camera(Shot.BLANK, tracks, plate, null, null, Progress.NONE));
            System.out.printf("LW_010 tracked and solved in %.1f s%n", (System.nanoTime() - t) / 1e9);
        }
        return known;
    }
}
