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
    private final Shots shots;
    private final Plates plates;
    private final Results results;
    private final MediaStore media;
    private final MarkWork marks;
    private final Map<Long, Live> live = new ConcurrentHashMap<>();

    TrackWork(Shots shots, Plates plates, Results results, MediaStore media, MarkWork marks) {
        this.shots = shots;
        this.plates = plates;
        this.results = results;
        this.media = media;
        this.marks = marks;
    }

    /** What is alive in the frame that was tracked last, as x, y pairs. */
    public record Live(int frame, double[] xy) {}

    /** What this very process is tracking in a shot now, or null. */
    public Live live(long shot) {
        return live.get(shot);
    }

    private List<Track> broughtIn(Shot s, Plate p) {
        int first = ShotSteps.first(s.plate(), p), last = ShotSteps.last(s.plate(), p);
        List<Track> t = ShotSteps.inRange(TrackFile.read(media.path(s.tracks().file())), first, last);
        if (t.isEmpty())
            throw new BadInput("the tracks that were brought in have nothing in frames " + first + " to " + last);
        return t;
    }

    @Override
    public String kind() {
        return "tracks";
    }

    @Override
    public String run(Task task, Progress progress) {
        Shot s = shots.document(task.revisionId());
        String print = Results.tracksPrint(s), file = print + ".csv";
        if (results.find(kind(), print) == null) {
            Plate p = plates.of(s);
            if (!results.uncarried(s).isEmpty() || !results.unfollowed(s).isEmpty()) marks.run(task, Progress.NONE);
            int[] at = {ShotSteps.first(s.plate(), p)};
            List<Track> tracks;
            try {
                tracks = !s.tracks().file().isEmpty()
                        ? broughtIn(s, p)
                        : ShotSteps.tracks(
                                s,
                                p,
                                null,
                                results.planes(s),
                                progress,
                                xy -> live.put(task.shotId(), new Live(at[0]++, xy)));
            } finally {
                live.remove(task.shotId());
            }
            TrackFile.write(media.result(kind(), file), tracks, true);
            int first = ShotSteps.first(s.plate(), p), last = ShotSteps.last(s.plate(), p);
            results.save(
                    kind(),
                    print,
                    Map.of(
                            "count",
                            tracks.size(),
                            "covered",
                            Coverage.covered(tracks, first, last, p.width(), p.height()),
                            "alive",
                            Coverage.alive(tracks, first, last),
                            "first",
                            first,
                            "doubts",
                            TrackCheck.doubts(tracks),
                            "groups",
                            Movers.find(tracks, p.width(), p.height())),
                    file);
        }
        return results.facts(kind(), print).path("count").asInt() + " tracks";
    }
}
