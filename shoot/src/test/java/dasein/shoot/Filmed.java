package dasein.shoot;

import dasein.core.Progress;
import dasein.core.cast.Performer;
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

    /** Nobody was filmed in these: whoever stands there stands in the plate alone. */
    static final List<Film> TAKES = List.of(
            take("LW_020", -1.5, -6.5),
            take("LW_030", -1.5, -6.5),
            take("LW_040", 1.3, -4.6),
            take("LW_050", 1.3, -4.6));

    private static Film take(String name, double x, double z) {
        Performer cast = new Performer(1, "strider", "strider.glb", x, 0, z, -28, 1.8, "look around", 0, 1, true);
        return new Film(name, Sky.MORNING, cast, "strider.glb", 1, 36);
    }

    static Filmed of(Film film) throws Exception {
        Plate plate = Plate.open(film.plate(TRUTH, DEMO), null, null);
        String name = film.name().substring(0, 6);
        TrueCamera real = TrueCamera.of(name);
        // Nobody solves a tripod by tracks.
        LowWaterSolve solve = name.equals("LW_050") ? new LowWaterSolve(List.of(), null) : LowWaterSolve.of(name);
        return new Filmed(
                film,
                plate,
                film.ownPlate() ? plate.first() - film.first() : 0,
                solve.camera() == null ? real.known(plate.rate()) : real.surveyed(solve.camera()),
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
