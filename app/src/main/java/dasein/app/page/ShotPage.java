package dasein.app.page;

import dasein.app.stage.CallSheet;
import dasein.app.stage.Form;
import dasein.app.stage.Seeing;
import dasein.app.stage.Seen;
import dasein.app.stage.Sheets;
import dasein.app.stage.Stage;
import dasein.app.stage.Stages;
import dasein.app.store.Shots;
import dasein.app.task.Task;
import dasein.app.task.TaskMapper;
import dasein.app.task.Tasks;
import dasein.core.BadInput;
import dasein.core.plate.PlateFacts;
import dasein.core.shot.Shot;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import org.springframework.boot.autoconfigure.condition.ConditionalOnWebApplication;
import org.springframework.stereotype.Controller;
import org.springframework.ui.Model;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.multipart.MultipartFile;

/**
 * The page of a shot, and what changes it: edits, undo and redo, files, starting and cancelling work. It finds the
 * stage and hands over.
 */
@Controller
@ConditionalOnWebApplication
class ShotPage {
    private static final String STAGE = "/{stage:plate|tracks|camera|set|blocking|light|passes|comp|presence|output}";

    private final Seeing seeing;
    private final Shots shots;
    private final Editing editing;
    private final Stages stages;
    private final Sheets sheets;
    private final Panel panel;
    private final Tasks tasks;
    private final TaskMapper rows;
    private final ImportMap importMap;

    ShotPage(
            Seeing seeing,
            Shots shots,
            Editing editing,
            Stages stages,
            Sheets sheets,
            Panel panel,
            Tasks tasks,
            TaskMapper rows,
            ImportMap importMap) {
        this.seeing = seeing;
        this.shots = shots;
        this.editing = editing;
        this.stages = stages;
        this.sheets = sheets;
        this.panel = panel;
        this.tasks = tasks;
        this.rows = rows;
        this.importMap = importMap;
    }

    @GetMapping("/shots/{id}" + STAGE)
    String page(
            @PathVariable long id,
            @PathVariable String stage,
            Model model,
            HttpServletRequest request,
            HttpServletResponse response) {
        model.addAttribute("importMapText", importMap.text());
        fill(model, seeing.of(id), stages.of(stage), request, response);
        return "shot";
    }

    private void fill(Model model, Seen s, Stage stage, HttpServletRequest request, HttpServletResponse response) {
        around(model, s, stage);
        PlateFacts p = s.plate();
        model.addAttribute(
                "trouble", s.plateTrouble() == null ? null : s.plateTrouble().getMessage());
        model.addAttribute("gap", s.gap());
        model.addAttribute("rate", p == null ? "" : p.rate().words());
        try {
            model.addAttribute("first", p == null ? 1 : s.first());
            model.addAttribute("last", p == null ? 1 : s.last());
            model.addAttribute("cutFirst", p == null ? 1 : s.cutFirst());
            model.addAttribute("cutLast", p == null ? 1 : s.cutLast());
        } catch (BadInput e) {
            model.addAttribute("trouble", e.getMessage());
        }
        model.addAttribute("camera", s.camera());
        model.addAttribute("panel", panel.of(stage, s, model, request, response));
    }

    /** What stands around the panel: call sheet, revision, tasks. */
    private void around(Model model, Seen s, Stage stage) {
        List<CallSheet.Entry> lines = sheets.of(s);
        model.addAttribute("head", s.head());
        model.addAttribute("stage", stage.key());
        model.addAttribute("lines", lines);
        model.addAttribute(
                "line",
                lines.stream()
                        .filter(l -> l.key().equals(stage.key()))
                        .findFirst()
                        .orElseThrow());
        model.addAttribute("running", s.open());
        model.addAttribute("busy", s.busy());
        model.addAttribute("plate", s.plate());
        // Said until it is done again: with its reason, and a way to try again.
        model.addAttribute(
                "failed",
                stage.works().stream()
                        .map(s::last)
                        .filter(t -> t != null && t.state().equals("failed"))
                        .toList());
    }

    /** The parts that change together: panel, call sheet, top line. */
    private String parts(Model model, long id, Stage stage, HttpServletRequest request, HttpServletResponse response) {
        Seen s = seeing.of(id);
        fill(model, s, stage, request, response);
        response.setHeader(
                "HX-Trigger", "{\"shot-changed\": " + s.head().revision().id() + "}");
        return "parts";
    }

    /** The revision the person was looking at. */
    private static long seen(Form f) {
        if (!f.has("seen")) throw new BadInput("the page is too old; load it again");
        return (long) f.number("seen", "the revision", 0, 0, 1e15);
    }

    @PostMapping("/shots/{id}" + STAGE + "/edit")
    String edit(
            @PathVariable long id,
            @PathVariable String stage,
            @RequestParam Map<String, String> fields,
            Model model,
            HttpServletRequest request,
            HttpServletResponse response) {
        Form f = new Form(fields);
        Stage t = stages.of(stage);
        editing.edit(id, t, seen(f), f);
        return parts(model, id, t, request, response);
    }

    @PostMapping("/shots/{id}" + STAGE + "/{which:undo|redo}")
    String undo(
            @PathVariable long id,
            @PathVariable String stage,
            @PathVariable String which,
            @RequestParam Map<String, String> fields,
            Model model,
            HttpServletRequest request,
            HttpServletResponse response) {
        long seen = seen(new Form(fields));
        Shot before = shots.head(id).shot();
        if (which.equals("undo")) shots.undo(id, seen);
        else shots.redo(id, seen);
        editing.follow(id, before);
        return parts(model, id, stages.of(stage), request, response);
    }

    /** Starts a stage's work. */
    @PostMapping("/shots/{id}" + STAGE + "/start")
    String start(
            @PathVariable long id,
            @PathVariable String stage,
            @RequestParam Map<String, String> fields,
            Model model,
            HttpServletRequest request,
            HttpServletResponse response) {
        Stage t = stages.of(stage);
        t.start(seeing.of(id), new Form(fields));
        return parts(model, id, t, request, response);
    }

    /** Starts work that failed once more. */
    @PostMapping("/shots/{id}" + STAGE + "/again")
    String again(
            @PathVariable long id,
            @PathVariable String stage,
            @RequestParam long task,
            Model model,
            HttpServletRequest request,
            HttpServletResponse response) {
        tasks.again(mine(id, task), shots.head(id).revision().id());
        return parts(model, id, stages.of(stage), request, response);
    }

    @PostMapping("/shots/{id}" + STAGE + "/cancel")
    String cancel(
            @PathVariable long id,
            @PathVariable String stage,
            @RequestParam long task,
            Model model,
            HttpServletRequest request,
            HttpServletResponse response) {
        Task t = mine(id, task);
        model.addAttribute(
                "said",
                tasks.cancel(task)
                        ? t.label() + " cancelled" + (t.kind().equals("passes") ? "; finished frames stay." : ".")
                        : t.label() + " had ended already.");
        return parts(model, id, stages.of(stage), request, response);
    }

    @PostMapping("/shots/{id}" + STAGE + "/{what:pause|go-on}")
    String pause(
            @PathVariable long id,
            @PathVariable String stage,
            @PathVariable String what,
            @RequestParam long task,
            Model model,
            HttpServletRequest request,
            HttpServletResponse response) {
        mine(id, task);
        if (what.equals("pause")) tasks.pause(task);
        else tasks.goOn(task);
        return parts(model, id, stages.of(stage), request, response);
    }

    private Task mine(long shot, long task) {
        Task t = rows.find(task);
        if (t == null || t.shotId() != shot) throw new Shots.NotThere("there is no such task in this shot");
        return t;
    }

    /** What runs now; the page asks every second while something does. */
    @GetMapping("/shots/{id}" + STAGE + "/progress")
    String progress(
            @PathVariable long id,
            @PathVariable String stage,
            @RequestParam(defaultValue = "") String was,
            @RequestParam(defaultValue = "0") long seen,
            Model model,
            HttpServletRequest request,
            HttpServletResponse response) {
        Stage t = stages.of(stage);
        Seen s = seeing.of(id);
        // A task that ended meanwhile, or a change made in another window, changes panel and call sheet: send all of
        // it.
        if (!was.equals(ids(s.open())) || seen != s.head().revision().id())
            return parts(model, id, t, request, response);
        around(model, s, t);
        // Only the parts named out of band are exchanged: a form somebody is filling in stays as it is.
        response.setHeader("HX-Reswap", "none");
        if (s.busy().contains("passes") || s.busy().contains("output"))
            response.setHeader("HX-Trigger", "frames-rendered");
        return "progress";
    }

    private static String ids(List<Task> open) {
        return open.stream().map(t -> Long.toString(t.id())).collect(Collectors.joining(","));
    }

    /** Files for a stage. The page's script gets the parts that change, a browser without it the whole page. */
    @PostMapping("/shots/{id}" + STAGE + "/upload")
    String upload(
            @PathVariable long id,
            @PathVariable String stage,
            @RequestParam("file") List<MultipartFile> files,
            @RequestParam Map<String, String> fields,
            Model model,
            HttpServletRequest request,
            HttpServletResponse response)
            throws IOException {
        if (files.isEmpty() || files.get(0).isEmpty()) throw new BadInput("choose a file first");
        Stage t = stages.of(stage);
        Seen before = seeing.of(id);
        t.bring(before, files, new Form(fields));
        editing.follow(id, before.shot());
        return request.getHeader("HX-Request") == null
                ? "redirect:/shots/" + id + "/" + stage
                : parts(model, id, t, request, response);
    }
}
