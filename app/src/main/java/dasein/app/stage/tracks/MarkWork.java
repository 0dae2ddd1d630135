package dasein.app.stage.tracks;

import dasein.app.stage.Desk;
import dasein.app.store.Plates;
import dasein.app.task.Task;
import dasein.app.task.Work;
import dasein.core.Progress;
import dasein.core.plate.Plate;
import dasein.core.shot.Prints;
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
public class MarkWork implements Work {
    private final Desk desk;

    MarkWork(Desk desk) {
        this.desk = desk;
    }

    @Override
    public String kind() {
        return "marks";
    }

    @Override
    public String run(Task task, Progress progress) {
        Shot s = desk.shots().document(task.revisionId());
        // What was put while this was waiting is followed, too.
        Shot now = desk.shots().head(task.shotId()).shot();
        return follow(Prints.plate(now).equals(Prints.plate(s)) ? now : s, progress);
    }

    /** Follows all marks and surfaces of a shot that are not followed yet. @return a sentence on what came out */
    public String follow(Shot s, Progress progress) {
        try (Plates.Lent lent = desk.plates().need(s)) {
            Plate p = lent.plate();
            List<HandMark> open = desk.results().unfollowed(s);
            // Marks that look at the same colours share the frames that are ready.
            Map<List<Double>, HandTracker> trackers = new HashMap<>();
            int lost = 0;
            for (int i = 0; i < open.size(); i++) {
                HandMark m = open.get(i);
                HandTracker by = trackers.computeIfAbsent(m.weights(), w -> ShotSteps.tracker(p, w));
                Progress part = progress.part((double) i / open.size(), (i + 1.0) / open.size());
                save(s, m, ShotSteps.mark(s, p, by, m, part), by);
                if (!by.lostBefore().isEmpty() || !by.lostAfter().isEmpty()) lost++;
            }
            for (DrawnMask k : desk.results().uncarried(s))
                desk.results()
                        .save(
                                "planes",
                                Prints.plane(s, k),
                                ShotSteps.plane(s, p, k, desk.results().planes(s), progress),
                                "");
            return open.size()
                    + (open.size() == 1 ? " mark followed" : " marks followed")
                    + (lost == 0 ? "" : ", " + lost + " lost on the way");
        }
    }

    private void save(Shot s, HandMark m, Track t, HandTracker by) {
        String print = Prints.mark(s, m), file = print + ".csv";
        TrackFile.write(desk.media().result(kind(), file), List.of(t), true);
        desk.results()
                .save(
                        kind(),
                        print,
                        Map.of(
                                "from", t.frames()[0],
                                "to", t.frames()[t.length() - 1],
                                "frames", t.length(),
                                "lostBefore", by.lostBefore(),
                                "lostAfter", by.lostAfter()),
                        file);
    }
}
