package dasein.app.stage.camera;

import dasein.app.stage.Desk;
import dasein.app.store.Plates;
import dasein.app.store.Shots;
import dasein.app.task.Task;
import dasein.app.task.Work;
import dasein.core.BadInput;
import dasein.core.Progress;
import dasein.core.plate.Plate;
import dasein.core.shot.Prints;
import dasein.core.shot.Shot;
import dasein.core.shot.ShotSteps;
import dasein.core.solve.Cleaning;
import dasein.core.solve.SolvedCamera;
import dasein.core.solve.file.LensFile;
import dasein.core.track.Track;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import java.util.TreeSet;
import org.springframework.stereotype.Component;

/** Takes the worst tracks out of a solve until that stops helping, as one change that can be undone. */
@Component
class CleanWork implements Work {
    private final Desk desk;
    private final CameraWork cameras;

    CleanWork(Desk desk, CameraWork cameras) {
        this.desk = desk;
        this.cameras = cameras;
    }

    @Override
    public String kind() {
        return "clean";
    }

    @Override
    public String run(Task task, Progress progress) {
        Shot s = desk.shots().document(task.revisionId());
        SolvedCamera start = desk.results().camera(s);
        List<Track> tracks = desk.results().still(s);
        if (start == null || tracks == null) throw new BadInput("there is no solve to clean yet");
        try (Plates.Lent lent = desk.plates().need(s)) {
            return clean(task, s, start, tracks, lent.plate(), progress);
        }
    }

    private String clean(Task task, Shot s, SolvedCamera start, List<Track> tracks, Plate p, Progress progress) {
        // A locked group stays whatever its error.
        Set<Integer> locked = s.tracks().locked();
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
        // Whatever else was changed meanwhile stays; only tracks that were found anew have other numbers.
        Shots.Head h = desk.shots().change(task.shotId(), said, k -> {
            if (!Prints.tracks(k).equals(Prints.tracks(s)))
                throw new BadInput("the tracks were found anew while they were cleaned; clean them again");
            TreeSet<Integer> deleted = new TreeSet<>(k.tracks().deleted());
            deleted.addAll(out);
            return Prints.goingOn(
                    k,
                    k.with(k.tracks().withDeleted(List.copyOf(deleted))),
                    desk.results().camera(k) != null);
        });
        // Solved as the recipe now says, so that its numbers do not depend on the rounds that led here.
        Shot now = h.shot();
        if (desk.results().find(cameras.kind(), Prints.camera(now)) == null) {
            SolvedCamera before = now.camera().from().isEmpty()
                    ? null
                    : desk.results().keptSolve(now.camera().from());
            cameras.save(now, ShotSteps.camera(now, desk.results().still(now), p, before, lens, Progress.NONE));
        }
        return String.join(" ", c.log());
    }
}
