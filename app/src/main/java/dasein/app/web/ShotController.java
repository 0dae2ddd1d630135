package dasein.app.web;

import dasein.app.stage.CallSheet;
import dasein.app.store.Inbox;
import dasein.app.store.Media;
import dasein.app.store.MediaStore;
import dasein.app.store.Plates;
import dasein.app.store.Results;
import dasein.app.store.Shots;
import dasein.app.task.Task;
import dasein.app.task.TaskMapper;
import dasein.app.task.Tasks;
import dasein.core.BadInput;
import dasein.core.ground.SetRecipe;
import dasein.core.plate.Plate;
import dasein.core.shot.CameraRecipe;
import dasein.core.shot.Shot;
import dasein.core.shot.ShotSteps;
import dasein.core.solve.CameraExchange;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.springframework.stereotype.Controller;
import org.springframework.ui.Model;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.multipart.MultipartFile;

/** The page of a shot, and what changes it: edits, undo and redo, uploads, starting and cancelling work. */
@Controller
class ShotController {
    private final Shots shots;
    private final CallSheet sheet;
    private final Bench bench;
    private final ModelController models;
    private final Edits edits;
    private final Tasks tasks;
    private final TaskMapper taskRows;
    private final Plates plates;
    private final MediaStore media;
    private final Results results;
    private final Inbox inbox;
    private final ImportMap importMap;

    ShotController(
            Shots shots,
            CallSheet sheet,
            Bench bench,
            Edits edits,
            Tasks tasks,
            TaskMapper taskRows,
            Plates plates,
            MediaStore media,
            Results results,
            Inbox inbox,
            ImportMap importMap,
            ModelController models) {
        this.models = models;
        this.shots = shots;
        this.sheet = sheet;
        this.bench = bench;
        this.edits = edits;
        this.tasks = tasks;
        this.taskRows = taskRows;
        this.plates = plates;
        this.media = media;
        this.results = results;
        this.inbox = inbox;
        this.importMap = importMap;
    }

    @GetMapping("/shots/{id}/{stage:plate|tracks|camera|set|blocking|light|passes|comp|presence|output}")
    String page(@PathVariable long id, @PathVariable String stage, Model model) {
        fill(model, id, stage);
        return "shot";
    }

    private Shots.Head fill(Model model, long id, String stage) {
        Shots.Head h = shots.head(id);
        List<CallSheet.Line> lines = sheet.of(h);
        model.addAttribute("importMapText", importMap.text());
        model.addAttribute("head", h);
        model.addAttribute("stage", stage);
        model.addAttribute("lines", lines);
        model.addAttribute("line", lines.get(CallSheet.STAGES.indexOf(stage)));
        model.addAttribute("running", taskRows.open(id));
        bench.fill(model, h, stage);
        return h;
    }

    /** The parts that change together: bench, call sheet, top line. */
    private String parts(Model model, long id, String stage, HttpServletResponse response) {
        Shots.Head h = fill(model, id, stage);
        response.setHeader("HX-Trigger", "{\"shot-changed\": " + h.revision().id() + "}");
        return "parts";
    }

    @PostMapping("/shots/{id}/{stage}/edit")
    String edit(
            @PathVariable long id,
            @PathVariable String stage,
            @RequestParam Map<String, String> fields,
            Model model,
            HttpServletResponse response) {
        Form f = new Form(fields);
        long seen = (long)
                f.number("seen", "the revision", shots.head(id).revision().id(), 0, 1e15);
        Edits.Change c = edits.apply(stage, f.text("action", ""), shots.head(id).shot(), f);
        shots.edit(id, seen, c.summary(), s -> c.shot());
        if (stage.equals("tracks")) followMarks(id);
        if (stage.equals("camera") && CameraEdits.atOnce(f.text("action", ""))) match(id);
        if (stage.equals("camera")
                && f.text("action", "").startsWith("object-")
                && results.camera(shots.head(id).shot()) != null
                && !shots.head(id).shot().camera().objects().isEmpty()) follow(id);
        return parts(model, id, stage, response);
    }

    @PostMapping("/shots/{id}/{stage}/undo")
    String undo(@PathVariable long id, @PathVariable String stage, Model model, HttpServletResponse response) {
        shots.undo(id);
        return parts(model, id, stage, response);
    }

    @PostMapping("/shots/{id}/{stage}/redo")
    String redo(@PathVariable long id, @PathVariable String stage, Model model, HttpServletResponse response) {
        shots.redo(id);
        return parts(model, id, stage, response);
    }

    /** Starts a stage's work. */
    @PostMapping("/shots/{id}/{stage}/start")
    String start(
            @PathVariable long id,
            @PathVariable String stage,
            @RequestParam Map<String, String> fields,
            Model model,
            HttpServletResponse response) {
        begin(id, stage, new Form(fields));
        return parts(model, id, stage, response);
    }

    /**
     * Marks put or moved by hand are followed at once. A task that waits will see them; one that runs may have looked
     * before.
     */
    private void followMarks(long id) {
        Shots.Head h = shots.head(id);
        if ((!results.unfollowed(h.shot()).isEmpty()
                        || !results.uncarried(h.shot()).isEmpty())
                && taskRows.open(id).stream()
                        .noneMatch(t -> t.kind().equals("marks") && t.state().equals("waiting")))
            tasks.start(id, h.revision().id(), "marks", "Following", "");
    }

    /** Things that move are solved at once. */
    private void follow(long id) {
        if (taskRows.open(id).stream()
                .noneMatch(t -> t.kind().equals("object") && t.state().equals("waiting")))
            tasks.start(id, shots.head(id).revision().id(), "object", "Moving things", "");
    }

    /** The perspective follows what it is matched by, and a camera from elsewhere how it is read, at once. */
    private void match(long id) {
        Shots.Head h = shots.head(id);
        CameraRecipe c = h.shot().camera();
        boolean enough = c.lines().size() >= 3
                || c.match().rectangle() != null
                || c.match().points().size() >= 4;
        if ((!c.file().isEmpty() || c.locked() && enough)
                && taskRows.open(id).stream()
                        .noneMatch(t -> t.kind().equals("camera") && t.state().equals("waiting")))
            tasks.start(id, h.revision().id(), "camera", "Camera", "");
    }

    private void begin(long id, String stage, Form f) {
        Shots.Head h = shots.head(id);
        Shot s = h.shot();
        Plate p = plates.of(s);
        if (p == null) throw new BadInput("bring in a plate first");
        for (Task t : taskRows.open(id))
            if (t.kind().equals(stage.equals("plate") ? "health" : stage.equals("set") ? "colours" : stage))
                throw new BadInput("that is running already");
        int first = ShotSteps.first(s.plate(), p), last = ShotSteps.last(s.plate(), p);
        int from = f.whole("from", "the first frame", first, first, last),
                to = f.whole("to", "the last frame", last, first, last);
        if (to < from) throw new BadInput("the range ends before it begins");
        switch (stage) {
            case "plate" -> tasks.start(id, h.revision().id(), "health", "Plate health", "");
            case "set" -> tasks.start(id, h.revision().id(), "colours", "Colours of the set", "");
            case "tracks" -> tasks.start(id, h.revision().id(), "tracks", "Tracks", "");
            case "camera" -> {
                boolean clean = f.text("action", "").equals("clean");
                tasks.start(id, h.revision().id(), clean ? "clean" : "camera", clean ? "Cleaning" : "Camera", "");
            }
            case "presence" -> tasks.start(id, h.revision().id(), "presence", "Presence", "");
            case "passes" -> {
                bench.readyToRender(s, from, to);
                List<Integer> done = sheet.renderedFrames(s, p), frames = new ArrayList<>();
                for (int k = from; k <= to; k++) if (!done.contains(k)) frames.add(k);
                tasks.startFrames(id, h.revision().id(), "passes", "Passes", frames);
            }
            case "output" -> {
                String format = f.choice("format", "movie", "movie", "png", "exr", "straight");
                if (!format.equals("straight")) bench.readyToRender(s, from, to);
                tasks.start(id, h.revision().id(), "output", "Output", format + " " + from + " " + to);
            }
            default -> throw new BadInput("there is nothing to start on this stage");
        }
    }

    /** Brings in a plate from the watched folder. */
    @PostMapping("/shots/{id}/plate/bring")
    String bring(@PathVariable long id, @RequestParam String name, Model model, HttpServletResponse response) {
        inbox.of(name);
        for (Task t : taskRows.open(id))
            if (t.kind().equals("bring")) throw new BadInput("a plate is being brought in already");
        tasks.start(id, shots.head(id).revision().id(), "bring", "Bringing in", name);
        return parts(model, id, "plate", response);
    }

    @PostMapping("/shots/{id}/{stage}/cancel")
    String cancel(
            @PathVariable long id,
            @PathVariable String stage,
            @RequestParam long task,
            Model model,
            HttpServletResponse response) {
        Task t = taskRows.find(task);
        if (t != null && t.shotId() == id) tasks.cancel(task);
        return parts(model, id, stage, response);
    }

    /** What runs now; the page asks every second while something does. */
    @GetMapping("/shots/{id}/{stage}/progress")
    String progress(
            @PathVariable long id,
            @PathVariable String stage,
            @RequestParam(defaultValue = "") String was,
            Model model,
            HttpServletResponse response) {
        List<Task> open = taskRows.open(id);
        // A task that ended meanwhile changes bench and call sheet: send all of it.
        if (!was.equals(ids(open))) return parts(model, id, stage, response);
        Shots.Head h = shots.head(id);
        model.addAttribute("head", h);
        model.addAttribute("stage", stage);
        model.addAttribute("running", open);
        model.addAttribute("lines", sheet.of(h));
        model.addAttribute("plate", plates.of(h.shot()));
        // Only the parts named out of band are exchanged: a form somebody is filling in stays as it is.
        response.setHeader("HX-Reswap", "none");
        if (!open.isEmpty() && stage.equals("passes")) response.setHeader("HX-Trigger", "frames-rendered");
        return "progress";
    }

    static String ids(List<Task> open) {
        return open.stream()
                .map(t -> Long.toString(t.id()))
                .reduce((a, b) -> a + "," + b)
                .orElse("");
    }

    @PostMapping("/shots/{id}/{stage}/upload")
    String upload(
            @PathVariable long id,
            @PathVariable String stage,
            @RequestParam("file") List<MultipartFile> sent,
            @RequestParam(defaultValue = "") String as,
            @RequestParam Map<String, String> fields)
            throws IOException {
        if (sent.isEmpty() || sent.get(0).isEmpty()) throw new BadInput("choose a file first");
        MultipartFile file = sent.get(0);
        Shots.Head h = shots.head(id);
        String name = ShowController.fileName(file);
        switch (stage) {
            case "plate" -> {
                if (as.equals("photo")) {
                    Media photo = media.photo(file.getInputStream(), name);
                    List<Shot.Photo> all = new ArrayList<>(h.shot().plate().photos());
                    if (all.stream().noneMatch(k -> k.hash().equals(photo.hash())))
                        all.add(new Shot.Photo(photo.hash(), name));
                    shots.edit(
                            id,
                            h.revision().id(),
                            "photo " + name,
                            s -> s.with(s.plate().withPhotos(all)));
                    break;
                }
                if (name.toLowerCase(java.util.Locale.ROOT).endsWith(".cube")) {
                    Media t = media.table(file.getInputStream(), name);
                    shots.edit(
                            id,
                            h.revision().id(),
                            "colour table " + name,
                            s -> s.with(s.plate().withTable(t.hash())));
                    break;
                }
                Media m = media.plate(file.getInputStream(), name);
                shots.edit(
                        id,
                        h.revision().id(),
                        "plate " + name,
                        s -> s.with(s.plate().withFile(m.hash())));
                tasks.start(id, shots.head(id).revision().id(), "health", "Plate health", "");
            }
            case "tracks" -> {
                Media m = media.tracks(file.getInputStream(), name);
                shots.edit(
                        id,
                        h.revision().id(),
                        "tracks from " + name,
                        s -> s.with(s.tracks().withFile(m.hash())));
                tasks.start(id, shots.head(id).revision().id(), "tracks", "Tracks", "");
            }
            case "camera" -> {
                if (as.equals("boards")) {
                    Form f = new Form(fields);
                    int columns = f.whole("columns", "the corners across", 9, 3, 60),
                            rows = f.whole("rows", "the corners down", 6, 3, 60);
                    Media m = media.boards(file.getInputStream(), name);
                    tasks.start(
                            id, h.revision().id(), "calibrate", "Calibrating", m.hash() + " " + columns + " " + rows);
                    break;
                }
                if (as.equals("camera")) {
                    Media m = media.camera(file.getInputStream(), name);
                    shots.edit(
                            id,
                            h.revision().id(),
                            "camera " + name,
                            s -> s.with(s.camera().withFile(m.hash(), CameraExchange.Reading.PLAIN)));
                    tasks.start(id, shots.head(id).revision().id(), "camera", "Camera", "");
                    break;
                }
                Media m = media.lens(file.getInputStream(), name);
                shots.edit(
                        id,
                        h.revision().id(),
                        "lens " + name,
                        s -> s.with(s.camera().withLens(m.hash())));
            }
            case "set" -> {
                Form f = new Form(fields);
                int frame = f.whole("frame", "the frame", 0, 0, 10_000_000);
                Media painted = media.photo(file.getInputStream(), name);
                shots.edit(id, h.revision().id(), "painted frame " + frame, s -> {
                    List<SetRecipe.ColourFrame> all = new ArrayList<>(s.set().colours());
                    all.removeIf(c -> c.frame() == frame);
                    all.add(new SetRecipe.ColourFrame(frame, painted.hash()));
                    return s.with(s.set().withColours(all));
                });
            }
            case "blocking" -> models.bring(sent, new Form(fields));
            case "light" -> {
                Media m = media.environment(file.getInputStream(), name);
                var l = h.shot().light();
                shots.edit(
                        id,
                        h.revision().id(),
                        "map " + name,
                        s -> s.with(new dasein.core.light.LightRecipe(m.hash(), l.turnDeg(), l.level(), l.sun())));
            }
            default -> throw new BadInput("nothing can be brought in on this stage");
        }
        return "redirect:/shots/" + id + "/" + stage;
    }
}
