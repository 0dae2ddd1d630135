package dasein.shoot;

import dasein.core.Progress;
import dasein.core.image.Image;
import dasein.core.plate.Plate;
import dasein.core.render.Quality;
import dasein.core.render.pass.Passes;
import dasein.core.shot.Shot;
import dasein.core.shot.ShotScene;
import dasein.core.solve.SolvedCamera;
import dasein.core.track.Track;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;

/**
 * A film's shot with its plate and solve. @param off from frames of the shot to those of the plate; @param camera laid
 * where the truth is
 */
record Filmed(Film film, Plate plate, int off, SolvedCamera camera, List<Track> tracks) {
    static final Path TRUTH = Path.of("shoot/truth"), DEMO = Path.of("demo");

    static Filmed of(Film film) throws Exception {
        Plate plate = Plate.open(film.plate(TRUTH, DEMO), null, null);
        LowWaterSolve solve = LowWaterSolve.get();
        return new Filmed(
                film,
                plate,
                film.ownPlate() ? plate.first() - film.first() : 0,
                TrueCamera.of("LW_010").surveyed(solve.camera()),
                solve.tracks());
    }

    Image frame(int f) {
        return plate.frame(f + off);
    }

    Map<Integer, Passes> rendered(Shot shot, int first, int last) throws Exception {
        return rendered(shot, first, last, 6);
    }

    Map<Integer, Passes> rendered(Shot shot, int first, int last, int samples) throws Exception {
        ShotScene scene = FilmedShot.scene(film, shot, camera);
        Map<Integer, Passes> out = new TreeMap<>();
        for (int f = first; f <= last; f++) {
            Passes p = scene.render(shot, f, frame(f), 1, new Quality(samples, samples, 0, 1, true), Progress.NONE);
            // Nobody looks at what they were before the filter, and they are large.
            p.raw = null;
            out.put(f, p);
        }
        return out;
    }
}
