package dasein.app.stage.camera;

import dasein.app.stage.Desk;
import dasein.app.stage.tracks.MarkWork;
import dasein.app.stage.tracks.TrackWork;
import dasein.app.store.Plates;
import dasein.app.task.Task;
import dasein.app.task.Work;
import dasein.core.BadInput;
import dasein.core.Progress;
import dasein.core.plate.Plate;
import dasein.core.shot.Prints;
import dasein.core.shot.Shot;
import dasein.core.shot.ShotSteps;
import dasein.core.solve.CameraSolver;
import dasein.core.solve.SolvedCamera;
import dasein.core.solve.file.CameraExchange;
import dasein.core.solve.file.CameraFile;
import dasein.core.solve.file.LensFile;
import dasein.core.track.Track;
import java.nio.file.Path;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import org.springframework.stereotype.Component;

/** Solves the camera, as a task; tracks first when they are missing. */
@Component
class CameraWork implements Work {
    private final Desk desk;
    private final TrackWork tracking;
    private final MarkWork marks;

    CameraWork(Desk desk, TrackWork tracking, MarkWork marks) {
        this.desk = desk;
        this.tracking = tracking;
        this.marks = marks;
    }

    @Override
    public String kind() {
        return "camera";
    }

    @Override
    public String run(Task task, Progress progress) throws Exception {
        Shot s = desk.shots().document(task.revisionId());
        if (desk.results().find(kind(), Prints.camera(s)) == null) save(s, solve(s, task.shotId(), progress));
        return String.format(
                Locale.ROOT,
                "%.2f px RMS",
                desk.results().facts(kind(), Prints.camera(s)).path("rms").asDouble());
    }

    private SolvedCamera solve(Shot s, long shot, Progress progress) throws Exception {
        if (!s.camera().use().isEmpty())
            throw new BadInput("the kept solve that counts is no longer there; choose another, or the one as set now");
        try (Plates.Lent lent = desk.plates().need(s)) {
            Plate p = lent.plate();
            if (!s.camera().file().isEmpty()) return broughtIn(s, p);
            if (s.camera().locked()) return still(s, p, progress);
            if (!s.camera().byHand() && desk.results().tracks(s) == null) tracking.find(s, shot, progress.part(0, 0.6));
            if (!desk.results().unfollowed(s).isEmpty()) marks.follow(s, Progress.NONE);
            List<Track> from = desk.results().still(s);
            if (s.camera().byHand() && from.size() < CameraSolver.FEWEST_TRACKS)
                throw new BadInput("there are " + from.size() + " marks by hand, and a camera needs at least "
                        + CameraSolver.FEWEST_TRACKS + ": put more, or solve it from all marks");
            return ShotSteps.camera(s, from, p, before(s), lens(s), progress.part(0.6, 1));
        }
    }

    /** The solve that this one goes on from, as the recipe says; null for one from the start. */
    private SolvedCamera before(Shot s) {
        String from = s.camera().from();
        if (from.isEmpty()) return null;
        SolvedCamera c = desk.results().keptSolve(from);
        if (c == null)
            throw new BadInput(
                    "the solve that this one goes on from is no longer there; change a setting of the camera, "
                            + "and it is solved from the start");
        return c;
    }

    private SolvedCamera still(Shot s, Plate p, Progress progress) {
        if (s.camera().surface() != 0 && !desk.results().uncarried(s).isEmpty()) marks.follow(s, progress.part(0, 0.6));
        SolvedCamera c = ShotSteps.camera(s, null, p, null, lens(s), progress.part(0.6, 1));
        return ShotSteps.carried(
                s, c, s.camera().surface() == 0 ? Map.of() : desk.results().planes(s));
    }

    private SolvedCamera broughtIn(Shot s, Plate p) {
        Path file = desk.media().path(s.camera().file());
        SolvedCamera c = CameraExchange.read(file, s.camera().reading());
        int first = ShotSteps.first(s.plate(), p), last = ShotSteps.last(s.plate(), p);
        if (c.last() < first || c.first() > last)
            throw new BadInput("the camera has frames " + c.first() + " to " + c.last() + ", the plate " + first
                    + " to " + last + "; shift them by a frame offset");
        if (Math.abs((double) c.width() / c.height() - (double) p.width() / p.height()) > 0.01)
            throw new BadInput("the camera is for pictures of " + c.width() + " x " + c.height()
                    + ", which have another shape than the plate's " + p.width() + " x " + p.height());
        List<Track> tracks = desk.results().kept(s);
        CameraExchange.Landing landing = CameraExchange.check(
                CameraExchange.read(file, CameraExchange.Reading.PLAIN),
                s.camera().reading(),
                tracks == null ? List.of() : tracks);
        double k = (double) p.width() / c.width();
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
                : LensFile.read(desk.media().path(s.camera().lens()));
    }

    /** Keeps a solve as that of a shot. */
    void save(Shot s, SolvedCamera c) {
        String print = Prints.camera(s), file = print + ".json";
        CameraFile.write(desk.media().result(kind(), file), c);
        desk.results()
                .save(
                        kind(),
                        print,
                        Map.of(
                                "rms", c.rmsPx(),
                                "focalPx", c.frames().get(0).focalPx(),
                                "frames", c.frames().size(),
                                "points", c.points().size(),
                                "kind", c.kind(),
                                "k1", c.k1(),
                                "k2", c.k2(),
                                "parallax", c.parallaxPx(),
                                "width", c.width()),
                        file);
    }
}
