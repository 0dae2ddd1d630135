package dasein.app.stage.camera;

import dasein.app.stage.Change;
import dasein.app.stage.Desk;
import dasein.app.stage.FileNames;
import dasein.app.stage.Form;
import dasein.app.stage.Line;
import dasein.app.stage.Seen;
import dasein.app.stage.Stage;
import dasein.app.store.Media;
import dasein.app.task.Tasks;
import dasein.core.BadInput;
import dasein.core.NoSolution;
import dasein.core.shot.CameraRecipe;
import dasein.core.shot.Prints;
import dasein.core.shot.Shot;
import dasein.core.solve.SolvedCamera;
import dasein.core.solve.file.CameraExchange;
import dasein.core.track.HandMark;
import java.io.IOException;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import org.springframework.stereotype.Component;
import org.springframework.ui.Model;
import org.springframework.web.multipart.MultipartFile;
import tools.jackson.databind.JsonNode;

/** The camera: solved from tracks, matched by what stands still, or brought in. */
@Component
class CameraStage implements Stage {
    private final Desk desk;
    private final CameraEdits edits;
    private final CameraBench bench;
    private final CameraData data;
    private final Tasks tasks;

    CameraStage(Desk desk, CameraEdits edits, CameraBench bench, CameraData data, Tasks tasks) {
        this.desk = desk;
        this.edits = edits;
        this.bench = bench;
        this.data = data;
        this.tasks = tasks;
    }

    @Override
    public String key() {
        return "camera";
    }

    @Override
    public String name() {
        return "Camera";
    }

    @Override
    public List<String> works() {
        return List.of("camera", "clean", "calibrate", "object");
    }

    @Override
    public Line line(Seen s) {
        JsonNode f = s.facts("camera", Prints.camera(s.shot()));
        return Line.computed(s.last("camera"), () -> f == null ? null : proof(s.shot(), f), "not solved yet");
    }

    private static String proof(Shot s, JsonNode f) {
        String px = String.format(Locale.ROOT, "%.2f px", f.path("rms").asDouble());
        double sensor = s.plate().sensorWidthMm(), focal = f.path("focalPx").asDouble();
        return px
                + (sensor <= 0
                        ? String.format(Locale.ROOT, ", focal %.0f px", focal)
                        : String.format(
                                Locale.ROOT,
                                ", %.1f mm",
                                focal * sensor / f.path("width").asDouble()));
    }

    @Override
    public void bench(Model m, Seen s) {
        bench.fill(m, s);
    }

    @Override
    public Change edit(Seen s, String action, Form f) {
        return edits.apply(s.shot(), action, f);
    }

    /**
     * The perspective follows what it is matched by, a camera from elsewhere how it is read, and things that move the
     * camera that counts, at once.
     */
    @Override
    public void after(Seen s, String action) {
        CameraRecipe c = s.shot().camera();
        long revision = s.head().revision().id();
        if (CameraEdits.atOnce(action)) {
            boolean enough = c.lines().size() >= 3
                    || c.match().rectangle() != null
                    || c.match().points().size() >= 4;
            if (!c.file().isEmpty() || c.locked() && enough)
                tasks.startOnceMore(s.id(), revision, "camera", "Camera", "");
        }
        if (action.startsWith("object-") && s.camera() != null && !c.objects().isEmpty())
            tasks.startOnceMore(s.id(), revision, "object", "Moving things", "");
    }

    @Override
    public void start(Seen s, Form f) {
        s.needRate();
        boolean clean = f.text("action", "").equals("clean");
        s.refuseWhile("camera", "clean", "tracks", "bring");
        // Who put marks by hand and had none found did not ask for the whole plate to be tracked.
        if (!clean
                && !s.shot().camera().byHand()
                && s.shot().tracks().marks().size() >= HandMark.ENOUGH
                && desk.results().tracks(s.shot()) == null) {
            desk.shots()
                    .change(
                            s.id(),
                            "solved from marks by hand",
                            k -> k.with(k.camera().byHand(true)));
            tasks.start(s.id(), desk.shots().head(s.id()).revision().id(), "camera", "Camera", "");
            return;
        }
        tasks.start(s.id(), s.head().revision().id(), clean ? "clean" : "camera", clean ? "Cleaning" : "Camera", "");
    }

    @Override
    public void bring(Seen s, List<MultipartFile> files, Form f) throws IOException {
        MultipartFile file = files.get(0);
        String name = FileNames.of(file);
        switch (f.text("as", "")) {
            case "boards" -> {
                int columns = f.whole("columns", "the corners across", 9, 3, 60),
                        rows = f.whole("rows", "the corners down", 6, 3, 60);
                Media m = desk.media().boards(file.getInputStream(), name);
                tasks.start(
                        s.id(),
                        s.head().revision().id(),
                        "calibrate",
                        "Calibrating",
                        m.hash() + " " + columns + " " + rows);
            }
            case "camera" -> {
                Media m = desk.media().camera(file.getInputStream(), name);
                var h = desk.shots()
                        .change(
                                s.id(),
                                "camera " + name,
                                k -> k.with(k.camera().withFile(m.hash(), CameraExchange.Reading.PLAIN)));
                tasks.startOnceMore(s.id(), h.revision().id(), "camera", "Camera", "");
            }
            default -> {
                Media m = desk.media().lens(file.getInputStream(), name);
                desk.shots()
                        .change(s.id(), "lens " + name, k -> k.with(k.camera().withLens(m.hash())));
            }
        }
    }

    @Override
    public void data(Map<String, Object> m, Seen s) {
        Shot shot = s.shot();
        m.put("lines", shot.camera().locked() ? shot.camera().lines() : null);
        m.put("match", shot.camera().locked() ? shot.camera().match() : null);
        try {
            SolvedCamera c = desk.results().cameraInSet(shot);
            if (c != null) data.put(m, shot, c);
        } catch (BadInput | NoSolution e) {
            m.put("trouble", e.getMessage());
        }
    }
}
