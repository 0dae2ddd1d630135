package dasein.core.shot;

import dasein.core.BadInput;
import dasein.core.Progress;
import dasein.core.ground.GroundFit;
import dasein.core.image.Encoding;
import dasein.core.plate.Plate;
import dasein.core.plate.Rate;
import dasein.core.solve.CameraSolver;
import dasein.core.solve.SolveSettings;
import dasein.core.solve.SolvedCamera;
import dasein.core.track.AutoTracker;
import dasein.core.track.Track;
import dasein.core.track.TrackSettings;
import java.nio.file.Path;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import java.util.function.IntFunction;

/** Each stage computed from its recipe and the results before it: the one place where recipes meet the algorithms. */
public final class ShotSteps {
    private static final int SHORTEST_TRACK = 6;

    private ShotSteps() {}

    public static Plate plate(Shot.PlateRecipe r, Path path) {
        return Plate.open(path, r.encoding().isEmpty() ? null : Encoding.of(r.encoding()), r.rate().isEmpty() ? null : Rate.parse(r.rate()));
    }

    public static int first(Shot.PlateRecipe r, Plate p) { return r.first() == 0 ? p.first() : within(r.first(), p); }

    public static int last(Shot.PlateRecipe r, Plate p) {
        int last = r.last() == 0 ? p.last() : within(r.last(), p);
        if (last < first(r, p)) throw new BadInput("the range ends at frame " + last + ", before its first frame " + first(r, p));
        return last;
    }

    private static int within(int frame, Plate p) {
        if (frame < p.first() || frame > p.last()) throw new BadInput("frame " + frame + " is outside the plate, which has frames " + p.first() + " to " + p.last());
        return frame;
    }

    public static List<Track> tracks(Shot shot, Plate plate, IntFunction<boolean[]> mask, Progress progress) {
        Shot.TrackRecipe r = shot.tracks();
        int first = first(shot.plate(), plate), last = last(shot.plate(), plate);
        TrackSettings s = new TrackSettings(r.count(), r.threshold(), r.region(), 0, Math.min(SHORTEST_TRACK, last - first + 1), TrackSettings.Quality.STANDARD);
        return AutoTracker.track(plate, first, last, mask, s, progress);
    }

    /** @param width of the plate, {@code height} likewise */
    public static SolvedCamera camera(Shot shot, List<Track> tracks, int width, int height, Rate rate, Progress progress) {
        Set<Integer> gone = new HashSet<>(shot.tracks().deleted());
        List<Track> kept = tracks.stream().filter(t -> !gone.contains(t.id())).toList();
        Shot.PlateRecipe p = shot.plate();
        double focal = 0;
        if (shot.camera().focal().equals("given")) {
            if (p.focalMm() <= 0 || p.sensorWidthMm() <= 0) throw new BadInput("the focal length is to be held as given, but the plate's notes lack the focal length or the sensor width");
            focal = p.focalMm() / p.sensorWidthMm() * width;
        }
        SolveSettings s = new SolveSettings(focal, shot.camera().solveK1(), shot.camera().solveK2(), 1);
        return CameraSolver.solve(kept, width, height, rate, s, progress);
    }

    /** The solve in the set's frame. */
    public static SolvedCamera inSet(Shot shot, SolvedCamera solve) { return solve.in(GroundFit.fit(solve, shot.set()).toSet()); }
}
