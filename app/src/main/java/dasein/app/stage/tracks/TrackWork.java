package dasein.app.stage.tracks;

import dasein.app.stage.Computed;
import dasein.app.stage.Desk;
import dasein.app.store.Plates;
import dasein.app.task.Task;
import dasein.app.task.Work;
import dasein.core.BadInput;
import dasein.core.Progress;
import dasein.core.plate.Plate;
import dasein.core.shot.Prints;
import dasein.core.shot.Shot;
import dasein.core.shot.ShotSteps;
import dasein.core.solve.Movers;
import dasein.core.track.Coverage;
import dasein.core.track.Track;
import dasein.core.track.TrackCheck;
import dasein.core.track.TrackFile;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import org.springframework.stereotype.Component;

/** Finds and follows marks, as a task. */
@Component
public class TrackWork implements Work {
    private final Desk desk;
    private final MarkWork marks;
    private final Map<Long, Live> live = new ConcurrentHashMap<>();

    TrackWork(Desk desk, MarkWork marks) {
        this.desk = desk;
        this.marks = marks;
    }

    /** What is alive in the frame that was tracked last, as x, y pairs. */
    public record Live(int frame, double[] xy) {}

    /** What this very process is tracking in a shot now, or null. */
    public Live live(long shot) {
        return live.get(shot);
    }

    @Override
    public String kind() {
        return "tracks";
    }

    @Override
    public String run(Task task, Progress progress) throws Exception {
        Shot s = desk.shots().document(task.revisionId());
        if (desk.results().toFollow(s)) marks.follow(s, Progress.NONE);
        return find(s, task.shotId(), progress) + " tracks";
    }

    /** Finds a shot's marks where they are not found yet. @return how many there are */
    public int find(Shot s, long shot, Progress progress) throws Exception {
        try (Plates.Lent lent = desk.plates().need(s)) {
            Plate p = lent.plate();
            int first = ShotSteps.first(s.plate(), p), last = ShotSteps.last(s.plate(), p);
            return Computed.once(
                            desk,
                            kind(),
                            Prints.tracks(s),
                            ".csv",
                            () -> tracks(s, shot, p, progress),
                            (file, t) -> TrackFile.write(file, t, true),
                            t -> Map.of(
                                    "count", t.size(),
                                    "covered", Coverage.covered(t, first, last, p.width(), p.height()),
                                    "alive", Coverage.alive(t, first, last),
                                    "first", first,
                                    "doubts", TrackCheck.doubts(t),
                                    "groups", Movers.find(t, p.width(), p.height())))
                    .path("count")
                    .asInt();
        }
    }

    private List<Track> tracks(Shot s, long shot, Plate p, Progress progress) {
        if (!s.tracks().file().isEmpty()) return broughtIn(s, p);
        int[] at = {ShotSteps.first(s.plate(), p)};
        try {
            return ShotSteps.tracks(
                    s, p, null, desk.results().planes(s), progress, xy -> live.put(shot, new Live(at[0]++, xy)));
        } finally {
            live.remove(shot);
        }
    }

    private List<Track> broughtIn(Shot s, Plate p) {
        int first = ShotSteps.first(s.plate(), p), last = ShotSteps.last(s.plate(), p);
        List<Track> t =
                ShotSteps.inRange(TrackFile.read(desk.media().path(s.tracks().file())), first, last);
        if (t.isEmpty())
            throw new BadInput("the tracks that were brought in have nothing in frames " + first + " to " + last);
        return t;
    }
}
