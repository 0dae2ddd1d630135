package dasein.app.stage;

import dasein.app.store.Plates;
import dasein.app.store.Results;
import dasein.app.store.Shots;
import dasein.app.task.Task;
import dasein.app.task.Work;
import dasein.core.BadInput;
import dasein.core.Progress;
import dasein.core.plate.Plate;
import dasein.core.shot.Shot;
import dasein.core.shot.ShotSteps;
import dasein.core.solve.Cleaning;
import dasein.core.solve.LensFile;
import dasein.core.solve.SolvedCamera;
import dasein.core.track.Track;
import java.util.List;
import java.util.Locale;
import java.util.TreeSet;
import org.springframework.stereotype.Component;

/** Takes the worst tracks out of a solve until that stops helping, as one change that can be undone. */
@Component
class CleanWork implements Work {
    private final Shots shots;
    private final Plates plates;
    private final Results results;
    private final CameraWork cameras;

    CleanWork(Shots shots, Plates plates, Results results, CameraWork cameras) {
        this.shots = shots;
        this.plates = plates;
        this.results = results;
        this.cameras = cameras;
    }

    @Override
    public String kind() {
        return "clean";
    }

    @Override
    public String run(Task task, Progress progress) {
        Shot s = shots.document(task.revisionId());
        SolvedCamera start = results.camera(s);
        List<Track> tracks = results.still(s);
        Plate p = plates.of(s);
        if (start == null || tracks == null || p == null) throw new BadInput("there is no solve to clean yet");
        // A locked group stays whatever its error.
        java.util.Set<Integer> locked = s.tracks().locked();
        LensFile.Calibrated lens = cameras.lens(s);
        int[] round = {0};
        Cleaning.Cleaned c = Cleaning.clean(start, tracks, (before, left) -> {
            progress.at(Math.min(0.9, 0.2 * round[0]++), "round " + round[0]);
            List<Track> all = tracks.stream()
                    .filter(t -> locked.contains(t.id()) || left.contains(t))
                    .toList();
            return ShotSteps.camera(s, all, p, before, lens, Progress.NONE);
        });
        List<Integer> out =
                c.removed().stream().filter(i -> !locked.contains(i)).toList();
        if (out.isEmpty())
            return c.log().isEmpty() ? "no track stands out" : c.log().get(0);
        String said = String.format(
                Locale.ROOT,
                "cleaned: %d tracks out, %.2f to %.2f px",
                out.size(),
                start.rmsPx(),
                c.camera().rmsPx());
        Shots.Head h = shots.edit(task.shotId(), task.revisionId(), said, k -> {
            TreeSet<Integer> deleted = new TreeSet<>(k.tracks().deleted());
            deleted.addAll(out);
            return k.with(k.tracks().withDeleted(List.copyOf(deleted)));
        });
        cameras.save(h.shot(), c.camera());
        return String.join(" ", c.log());
    }
}
