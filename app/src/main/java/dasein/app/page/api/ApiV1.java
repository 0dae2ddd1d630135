package dasein.app.page.api;

import dasein.app.page.Editing;
import dasein.app.page.NewShot;
import dasein.app.stage.CallSheet;
import dasein.app.stage.Desk;
import dasein.app.stage.FileNames;
import dasein.app.stage.Form;
import dasein.app.stage.Pictures;
import dasein.app.stage.Seeing;
import dasein.app.stage.Seen;
import dasein.app.stage.Sheets;
import dasein.app.stage.Stage;
import dasein.app.stage.Stages;
import dasein.app.stage.output.HandedOver;
import dasein.app.stage.output.WrittenFiles;
import dasein.app.stage.presence.Findings;
import dasein.app.store.ModelShelf;
import dasein.app.store.ShotMapper;
import dasein.app.store.Shots;
import dasein.app.task.Task;
import dasein.app.task.TaskMapper;
import dasein.app.task.Tasks;
import dasein.core.image.Image;
import dasein.core.model.file.ModelFile;
import dasein.core.presence.Finding;
import dasein.core.shot.Shot;
import dasein.core.shot.ShotJson;
import io.swagger.v3.oas.annotations.Operation;
import java.io.IOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.springframework.core.io.FileSystemResource;
import org.springframework.core.io.Resource;
import org.springframework.http.CacheControl;
import org.springframework.http.HttpStatus;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;
import org.springframework.web.multipart.MultipartFile;

/**
 * The programming interface: everything from footage to the written movie. What may be edited and started on a stage,
 * and the fields of it, are those of its page.
 */
@RestController
@RequestMapping("/api/v1")
class ApiV1 {
    private final Desk desk;
    private final Seeing seeing;
    private final Stages stages;
    private final Sheets sheets;
    private final Editing editing;
    private final Tasks tasks;
    private final TaskMapper rows;
    private final ShotMapper shots;
    private final ModelShelf shelf;
    private final WrittenFiles written;
    private final NewShot newShot;
    private final HandedOver handedOver;

    ApiV1(
            Desk desk,
            Seeing seeing,
            Stages stages,
            Sheets sheets,
            Editing editing,
            Tasks tasks,
            TaskMapper rows,
            ShotMapper shots,
            ModelShelf shelf,
            WrittenFiles written,
            NewShot newShot,
            HandedOver handedOver) {
        this.desk = desk;
        this.seeing = seeing;
        this.stages = stages;
        this.sheets = sheets;
        this.editing = editing;
        this.tasks = tasks;
        this.rows = rows;
        this.shots = shots;
        this.shelf = shelf;
        this.written = written;
        this.newShot = newShot;
        this.handedOver = handedOver;
    }

    record ShotRef(long id, String show, String name) {}

    record StageState(String key, String name, String state, String proof) {}

    /** @param state waiting, running, paused, done, failed or cancelled; @param done part of it, 0 to 1 */
    record TaskState(long id, long shot, String kind, String state, double done, String note, long secondsLeft) {
        static TaskState of(Task t) {
            return new TaskState(t.id(), t.shotId(), t.kind(), t.state(), t.done(), t.note(), t.secondsLeft());
        }
    }

    record ShotState(
            long id, String show, String name, long revision, List<StageState> stages, List<TaskState> tasks) {}

    record Edited(long revision, String summary) {}

    record Brought(String hash, String name) {}

    @Operation(summary = "All shots")
    @GetMapping("/shots")
    List<ShotRef> shots() {
        return shots.shots().stream()
                .map(r -> new ShotRef(r.id(), r.showName(), r.name()))
                .toList();
    }

    @Operation(summary = "A new shot, with its plate: a movie, or a zip of numbered frames")
    @PostMapping(value = "/shots", consumes = MediaType.MULTIPART_FORM_DATA_VALUE)
    @ResponseStatus(HttpStatus.CREATED)
    ShotState create(
            @RequestParam String show, @RequestParam String name, @RequestParam(required = false) MultipartFile plate)
            throws IOException {
        return state(newShot.create(show, name, plate));
    }

    @Operation(summary = "A new shot from a scene.zip that was taken away, here or elsewhere")
    @PostMapping(value = "/shots/handed-over", consumes = MediaType.MULTIPART_FORM_DATA_VALUE)
    @ResponseStatus(HttpStatus.CREATED)
    ShotState handedOver(@RequestParam String show, @RequestParam String name, @RequestParam MultipartFile scene)
            throws IOException {
        return state(handedOver.bring(scene.getInputStream(), show, name));
    }

    @Operation(summary = "How a shot stands: its revision, each stage, and what is under way")
    @GetMapping("/shots/{id}")
    ShotState state(@PathVariable long id) {
        Seen s = seeing.of(id);
        List<StageState> lines = new ArrayList<>();
        for (CallSheet.Entry e : sheets.of(s)) lines.add(new StageState(e.key(), e.name(), e.state(), e.proof()));
        return new ShotState(
                id,
                s.head().row().showName(),
                s.head().row().name(),
                s.head().revision().id(),
                lines,
                s.open().stream().map(TaskState::of).toList());
    }

    @Operation(summary = "The document: every decision of the shot")
    @GetMapping(value = "/shots/{id}/document", produces = MediaType.APPLICATION_JSON_VALUE)
    String document(@PathVariable long id) {
        return ShotJson.writePretty(desk.shots().head(id).shot());
    }

    @Operation(
            summary = "An edit, with the fields of the stage's page",
            description = "action says which; seen is the revision that was looked at, the newest where it is not"
                    + " sent. Another edit in between answers with 409.")
    @PostMapping("/shots/{id}/{stage}/edit")
    Edited edit(@PathVariable long id, @PathVariable String stage, @RequestParam Map<String, String> fields) {
        Form f = new Form(fields);
        long seen = f.has("seen")
                ? (long) f.number("seen", "the revision", 0, 0, 1e15)
                : desk.shots().head(id).revision().id();
        String summary = editing.edit(id, stage(stage), seen, f);
        return new Edited(desk.shots().head(id).revision().id(), summary);
    }

    @Operation(summary = "Starts a stage's work, with the fields of its page; answers with what is under way")
    @PostMapping("/shots/{id}/{stage}/start")
    List<TaskState> start(@PathVariable long id, @PathVariable String stage, @RequestParam Map<String, String> fields) {
        stage(stage).start(seeing.of(id), new Form(fields));
        return seeing.of(id).open().stream().map(TaskState::of).toList();
    }

    @Operation(summary = "Files for a stage: photographs of the light, a camera, tracks")
    @PostMapping(value = "/shots/{id}/{stage}/files", consumes = MediaType.MULTIPART_FORM_DATA_VALUE)
    Edited files(
            @PathVariable long id,
            @PathVariable String stage,
            @RequestParam("file") List<MultipartFile> files,
            @RequestParam Map<String, String> fields)
            throws IOException {
        Seen before = seeing.of(id);
        stage(stage).bring(before, files, new Form(fields));
        editing.follow(id, before.shot());
        return new Edited(desk.shots().head(id).revision().id(), files.size() + " brought in");
    }

    @Operation(summary = "A model for the shelf; its hash is what blocking's edits name it by")
    @PostMapping(value = "/models", consumes = MediaType.MULTIPART_FORM_DATA_VALUE)
    @ResponseStatus(HttpStatus.CREATED)
    Brought model(@RequestParam("file") List<MultipartFile> files) throws IOException {
        List<ModelShelf.Sent> sent = new ArrayList<>();
        for (MultipartFile f : files) sent.add(new ModelShelf.Sent(FileNames.of(f), f.getInputStream()));
        var m = shelf.bring(sent, ModelFile.Reading.GUESS);
        return new Brought(m.hash(), m.name());
    }

    @Operation(summary = "How far a task is")
    @GetMapping("/tasks/{task}")
    TaskState task(@PathVariable long task) {
        Task t = rows.find(task);
        if (t == null) throw new Shots.NotThere("there is no such task");
        return TaskState.of(t);
    }

    @PostMapping("/tasks/{task}/cancel")
    TaskState cancel(@PathVariable long task) {
        task(task);
        tasks.cancel(task);
        return task(task);
    }

    @Operation(summary = "What Presence found, over rendered frames or of how everything stands")
    @GetMapping("/shots/{id}/findings")
    List<Finding> findings(@PathVariable long id) {
        return Findings.of(seeing.of(id));
    }

    @Operation(summary = "A finished frame to look at")
    @GetMapping(value = "/shots/{id}/frames/{frame}.jpg", produces = MediaType.IMAGE_JPEG_VALUE)
    ResponseEntity<byte[]> frame(@PathVariable long id, @PathVariable int frame) throws IOException {
        Shot s = desk.shots().head(id).shot();
        Image im = desk.comps().frame(s, frame);
        if (im == null) throw new Shots.NotThere("frame " + frame + " is not rendered yet");
        return Pictures.of(im, desk.plates().facts(s).colour().shown(), CacheControl.noStore());
    }

    @Operation(summary = "What was written of the shot as it is")
    @GetMapping("/shots/{id}/written")
    List<WrittenFiles.Written> written(@PathVariable long id) {
        return written.of(seeing.of(id));
    }

    @GetMapping("/shots/{id}/written/{print}")
    ResponseEntity<Resource> download(@PathVariable long id, @PathVariable String print) {
        WrittenFiles.Written w = written(id).stream()
                .filter(k -> k.print().equals(print))
                .findFirst()
                .orElseThrow(() -> new Shots.NotThere("that was not written, or the shot has changed since"));
        Path file = desk.results().file("output", print);
        if (file == null) throw new Shots.NotThere("that file is gone");
        return ResponseEntity.ok()
                .contentType(MediaType.APPLICATION_OCTET_STREAM)
                .header("Content-Disposition", "attachment; filename=\"" + w.name() + "\"")
                .body(new FileSystemResource(file));
    }

    private Stage stage(String key) {
        return stages.of(key);
    }
}
