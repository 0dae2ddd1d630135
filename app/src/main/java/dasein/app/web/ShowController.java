package dasein.app.web;

import dasein.app.stage.CallSheet;
import dasein.app.store.Media;
import dasein.app.store.MediaStore;
import dasein.app.store.Plates;
import dasein.app.store.ShotMapper;
import dasein.app.store.Shots;
import dasein.app.task.TaskMapper;
import dasein.app.task.Tasks;
import dasein.core.BadInput;
import dasein.core.plate.Plate;
import dasein.core.plate.Rate;
import dasein.core.shot.Shot;
import dasein.core.shot.ShotSteps;
import java.io.IOException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.springframework.stereotype.Controller;
import org.springframework.ui.Model;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.multipart.MultipartFile;

/** Shows and their shots; bringing in a plate; all tasks. */
@Controller
class ShowController {
    private static final int NO_PLATE = Integer.MIN_VALUE;

    private final ShotMapper mapper;
    private final Shots shots;
    private final CallSheet sheet;
    private final MediaStore media;
    private final TaskMapper tasks;
    private final Tasks engine;
    private final Plates plates;

    ShowController(
            ShotMapper mapper,
            Shots shots,
            CallSheet sheet,
            MediaStore media,
            TaskMapper tasks,
            Tasks engine,
            Plates plates) {
        this.mapper = mapper;
        this.shots = shots;
        this.sheet = sheet;
        this.media = media;
        this.tasks = tasks;
        this.engine = engine;
        this.plates = plates;
    }

    /** @param first the plate's first frame, for the thumbnail */
    record Card(ShotMapper.ShotRow row, Shots.Head head, List<CallSheet.Line> lines, int first) {
        /** The first stage that is not done, where work goes on. */
        public String next() {
            return lines.stream()
                    .filter(l -> !l.state().equals("fresh"))
                    .findFirst()
                    .map(CallSheet.Line::key)
                    .orElse("output");
        }

        public boolean hasPlate() {
            return first != NO_PLATE;
        }

        public long doneStages() {
            return lines.stream().filter(l -> l.state().equals("fresh")).count();
        }
    }

    @GetMapping("/")
    String shows(Model model) {
        Map<String, List<Card>> byShow = new LinkedHashMap<>();
        for (ShotMapper.ShotRow r : mapper.shots()) {
            Shots.Head h = shots.head(r.id());
            byShow.computeIfAbsent(r.showName(), k -> new ArrayList<>()).add(new Card(r, h, sheet.of(h), first(h)));
        }
        model.addAttribute("shows", byShow);
        model.addAttribute("busy", tasks.busy());
        return "shows";
    }

    private int first(Shots.Head h) {
        try {
            Plate p = plates.of(h.shot());
            return p == null ? NO_PLATE : ShotSteps.first(h.shot().plate(), p);
        } catch (BadInput e) {
            // The call sheet says what is wrong with the plate.
            return NO_PLATE;
        }
    }

    @PostMapping("/shots")
    String create(
            @RequestParam String show, @RequestParam String name, @RequestParam(required = false) MultipartFile plate)
            throws IOException {
        Shot first = Shot.BLANK;
        if (plate != null && !plate.isEmpty()) {
            Media m = media.plate(plate.getInputStream(), fileName(plate));
            first = first.with(Shot.PlateRecipe.BLANK.withFile(m.hash()));
        }
        long id = shots.create(show, name, first);
        if (!first.plate().file().isEmpty())
            engine.start(id, shots.head(id).revision().id(), "health", "Plate health", "");
        return "redirect:/shots/" + id + "/plate";
    }

    static String fileName(MultipartFile f) {
        return plainName(f.getOriginalFilename() == null ? "file" : f.getOriginalFilename());
    }

    /** The last part of a path that a browser sent. */
    static String plainName(String path) {
        String n = path.replace('\\', '/');
        n = n.substring(n.lastIndexOf('/') + 1);
        if (n.isBlank() || n.length() > 120) throw new BadInput("that file name is empty or too long");
        return n;
    }

    @PostMapping("/shows/{id}/rate")
    String rate(@PathVariable long id, @RequestParam String rate) {
        mapper.showRate(id, rate.isBlank() ? "" : Rate.parse(rate).toString());
        return "redirect:/";
    }

    @GetMapping("/tasks")
    String tasks(Model model) {
        model.addAttribute("tasks", tasks.newest());
        Map<Long, String> names = new LinkedHashMap<>();
        for (ShotMapper.ShotRow r : mapper.shots()) names.put(r.id(), r.showName() + " / " + r.name());
        model.addAttribute("names", names);
        return "tasks";
    }

    @PostMapping("/tasks/{id}/cancel")
    String cancel(@PathVariable long id) {
        engine.cancel(id);
        return "redirect:/tasks";
    }
}
