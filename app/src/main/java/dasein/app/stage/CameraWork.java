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
import dasein.core.solve.CameraFile;
import dasein.core.solve.SolvedCamera;
import dasein.core.track.Track;
import java.util.List;
import java.util.Map;
import org.springframework.stereotype.Component;

/** Solves the camera, as a task; tracks first when they are missing. */
@Component
class CameraWork implements Work {
    private final Shots shots;
    private final Plates plates;
    private final Results results;
    private final MediaStore media;
    private final TrackWork tracking;
    private final MarkWork marks;

    CameraWork(Shots shots, Plates plates, Results results, MediaStore media, TrackWork tracking, MarkWork marks) {
        this.shots = shots;
        this.plates = plates;
        this.results = results;
        this.media = media;
        this.tracking = tracking;
        this.marks = marks;
    }

    @Override
    public String kind() { return "camera"; }

    @Override
    public String run(Task task, Progress progress) {
        Shot s = shots.document(task.revisionId());
        String print = Results.cameraPrint(s), file = print + ".json";
        if (results.find(kind(), print) == null) {
            if (results.tracks(s) == null) tracking.run(task, progress.part(0, 0.6));
            if (!results.unfollowed(s).isEmpty()) marks.run(task, Progress.NONE);
            List<Track> tracks = results.still(s);
            Plate p = plates.of(s);
            if (p == null) throw new BadInput("the shot has no plate yet");
            SolvedCamera c = ShotSteps.camera(s, tracks, p.width(), p.height(), p.rate(), progress.part(0.6, 1));
            CameraFile.write(media.result(kind(), file), c);
            results.save(kind(), print, Map.of("rms", c.rmsPx(), "focalPx", c.frames().get(0).focalPx(), "frames", c.frames().size(), "points", c.points().size(),
                "k1", c.k1(), "k2", c.k2(), "parallax", c.parallaxPx(), "width", c.width()), file);
        }
        return String.format(java.util.Locale.ROOT, "%.2f px RMS", results.facts(kind(), print).path("rms").asDouble());
    }
}
