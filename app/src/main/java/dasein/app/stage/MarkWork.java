package dasein.app.stage;

import dasein.app.store.MediaStore;
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
import dasein.core.track.DrawnMask;
import dasein.core.track.HandMark;
import dasein.core.track.HandTracker;
import dasein.core.track.Track;
import dasein.core.track.TrackFile;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.springframework.stereotype.Component;

/**
 * Follows the marks put by hand, and the surfaces that carry masks. Each is a result of its own, so a change of one
 * leaves the others as they are.
 */
@Component
class MarkWork implements Work {
    private final Shots shots;
    private final Plates plates;
    private final Results results;
    private final MediaStore media;

    MarkWork(Shots shots, Plates plates, Results results, MediaStore media) {
        this.shots = shots;
        this.plates = plates;
        this.results = results;
        this.media = media;
    }

    @Override
    public String kind() {
        return "marks";
    }

    @Override
    public String run(Task task, Progress progress) {
        Shot s = shots.document(task.revisionId());
        // What was put while this was waiting is followed, too.
        Shot now = shots.head(task.shotId()).shot();
        if (Results.platePrint(now).equals(Results.platePrint(s))) s = now;
        Plate p = plates.of(s);
        if (p == null) throw new BadInput("the shot has no plate yet");
        List<HandMark> open = results.unfollowed(s);
        // Marks that look at the same colours share the frames that are ready.
        Map<List<Double>, HandTracker> trackers = new HashMap<>();
        for (int i = 0; i < open.size(); i++) {
            HandMark m = open.get(i);
            Track t = ShotSteps.mark(
                    s,
                    p,
                    trackers.computeIfAbsent(m.weights(), w -> ShotSteps.tracker(p, w)),
                    m,
                    progress.part((double) i / open.size(), (i + 1.0) / open.size()));
            String print = Results.markPrint(s, m), file = print + ".csv";
            TrackFile.write(media.result(kind(), file), List.of(t), true);
            results.save(
                    kind(),
                    print,
                    Map.of("from", t.frames()[0], "to", t.frames()[t.length() - 1], "frames", t.length()),
                    file);
        }
        for (DrawnMask k : results.uncarried(s))
            results.save("planes", Results.planePrint(s, k), ShotSteps.plane(s, p, k, results.planes(s), progress), "");
        return open.size() + (open.size() == 1 ? " mark followed" : " marks followed");
    }
}
