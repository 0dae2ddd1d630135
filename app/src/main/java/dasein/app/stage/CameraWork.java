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
import dasein.core.shot.ShotJson;
import dasein.core.shot.ShotSteps;
import dasein.core.solve.CameraExchange;
import dasein.core.solve.CameraFile;
import dasein.core.solve.LensFile;
import dasein.core.solve.SolvedCamera;
import dasein.core.track.Track;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
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

    /** The last solve of each shot in this process: with the same settings the next goes on from there. */
    private record Solved(String settings, SolvedCamera camera) {}

    private final Map<Long, Solved> lately = new ConcurrentHashMap<>();

    CameraWork(Shots shots, Plates plates, Results results, MediaStore media, TrackWork tracking, MarkWork marks) {
        this.shots = shots;
        this.plates = plates;
        this.results = results;
        this.media = media;
        this.tracking = tracking;
        this.marks = marks;
    }

    @Override
    public String kind() {
        return "camera";
    }

    @Override
    public String run(Task task, Progress progress) {
        Shot s = shots.document(task.revisionId());
        String print = Results.cameraPrint(s);
        if (results.find(kind(), print) == null) {
            Plate p = plates.of(s);
            if (p == null) throw new BadInput("the shot has no plate yet");
            List<Track> tracks = null;
            boolean broughtIn = !s.camera().file().isEmpty();
            if (!s.camera().locked() && !broughtIn) {
                if (results.tracks(s) == null) tracking.run(task, progress.part(0, 0.6));
                if (!results.unfollowed(s).isEmpty()) marks.run(task, Progress.NONE);
                tracks = results.still(s);
            }
            if (s.camera().locked()
                    && s.camera().surface() != 0
                    && !results.uncarried(s).isEmpty()) marks.run(task, progress.part(0, 0.6));
            String settings = ShotJson.fingerprint(
                    Results.rangePrint(s),
                    s.camera().solving(),
                    s.plate().focalMm(),
                    s.plate().sensorWidthMm());
            Solved last = lately.get(task.shotId());
            SolvedCamera before = last != null && last.settings.equals(settings) ? last.camera : null;
            LensFile.Calibrated lens = lens(s);
            SolvedCamera c = broughtIn
                    ? broughtIn(s, p)
                    : ShotSteps.carried(
                            s,
                            ShotSteps.camera(s, tracks, p, before, lens, progress.part(0.6, 1)),
                            s.camera().surface() == 0 ? Map.of() : results.planes(s));
            if (!broughtIn) lately.put(task.shotId(), new Solved(settings, c));
            save(s, c);
        }
        return String.format(
                java.util.Locale.ROOT,
                "%.2f px RMS",
                results.facts(kind(), print).path("rms").asDouble());
    }

    private SolvedCamera broughtIn(Shot s, Plate p) {
        Path file = media.path(s.camera().file());
        SolvedCamera c = CameraExchange.read(file, s.camera().reading());
        int first = ShotSteps.first(s.plate(), p), last = ShotSteps.last(s.plate(), p);
        if (c.last() < first || c.first() > last)
            throw new BadInput("the camera has frames " + c.first() + " to " + c.last() + ", the plate " + first
                    + " to " + last + "; shift them by a frame offset");
        if (Math.abs((double) c.width() / c.height() - (double) p.width() / p.height()) > 0.01)
            throw new BadInput("the camera is for pictures of " + c.width() + " x " + c.height()
                    + ", which have another shape than the plate's " + p.width() + " x " + p.height());
        double k = (double) p.width() / c.width();
        List<Track> tracks = results.kept(s);
        CameraExchange.Landing landing = CameraExchange.check(
                CameraExchange.read(file, CameraExchange.Reading.PLAIN),
                s.camera().reading(),
                tracks == null ? List.of() : tracks);
        SolvedCamera in = new SolvedCamera(
                        p.width(),
                        p.height(),
                        p.rate(),
                        c.kind(),
                        Double.isNaN(landing.px()) ? c.rmsPx() * k : landing.px(),
                        c.parallaxPx(),
                        c.lens().scaled(k),
                        c.frames().stream()
                                .map(f -> new SolvedCamera.Frame(
                                        f.frame(),
                                        f.pose(),
                                        f.focalPx() * k,
                                        f.rmsPx(),
                                        f.tracks(),
                                        f.off(),
                                        f.offDeg()))
                                .toList(),
                        c.points(),
                        c.focalOff(),
                        List.of("It was brought in. " + landing.sentence()))
                .withReadout(c.readout());
        return c.measured() ? in.asMeasured() : in;
    }

    /** The calibrated lens a shot holds, or null. */
    LensFile.Calibrated lens(Shot s) {
        return s.camera().lens().isEmpty()
                ? null
                : LensFile.read(media.path(s.camera().lens()));
    }

    /** Keeps a solve as that of a shot. */
    void save(Shot s, SolvedCamera c) {
        String print = Results.cameraPrint(s), file = print + ".json";
        CameraFile.write(media.result(kind(), file), c);
        results.save(
                kind(),
                print,
                Map.of(
                        "rms",
                        c.rmsPx(),
                        "focalPx",
                        c.frames().get(0).focalPx(),
                        "frames",
                        c.frames().size(),
                        "points",
                        c.points().size(),
                        "kind",
                        c.kind(),
                        "k1",
                        c.k1(),
                        "k2",
                        c.k2(),
                        "parallax",
                        c.parallaxPx(),
                        "width",
                        c.width()),
                file);
    }
}
