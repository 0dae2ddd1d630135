package dasein.app.page;

import dasein.app.stage.CallSheet;
import dasein.app.stage.Sheets;
import dasein.app.stage.output.HandedOver;
import dasein.app.store.SheetMapper;
import dasein.app.store.ShotMapper;
import dasein.app.store.Shots;
import dasein.app.task.TaskMapper;
import dasein.app.task.Tasks;
import dasein.core.BadInput;
import dasein.core.plate.Rate;
import java.io.IOException;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import org.springframework.stereotype.Controller;
import org.springframework.ui.Model;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.multipart.MultipartFile;
import org.springframework.web.util.HtmlUtils;

/** Shows and their shots; a new shot. */
@Controller
class ShowPage {
    private final ShotMapper mapper;
    private final SheetMapper kept;
    private final Sheets sheets;
    private final TaskMapper tasks;
    private final NewShot newShot;
    private final HandedOver handedOver;
    private final Shots shots;
    private final Tasks queue;

    ShowPage(
            ShotMapper mapper,
            SheetMapper kept,
            Sheets sheets,
            TaskMapper tasks,
            NewShot newShot,
            HandedOver handedOver,
            Shots shots,
            Tasks queue) {
        this.mapper = mapper;
        this.kept = kept;
        this.sheets = sheets;
        this.tasks = tasks;
        this.newShot = newShot;
        this.handedOver = handedOver;
        this.shots = shots;
        this.queue = queue;
    }

    /** @param revisions how many states it has gone through */
    record Card(ShotMapper.ShotRow row, int revisions, Sheets.Kept sheet) {
        public List<CallSheet.Entry> lines() {
            return sheet.lines();
        }

        /** The call sheet as markup: of hundreds of shots, a template would take half a second over it. */
        public String list() {
            StringBuilder b = new StringBuilder();
            for (CallSheet.Entry l : lines()) {
                String state = HtmlUtils.htmlEscape(l.state());
                b.append("<li><i class=\"st ")
                        .append(state)
                        .append("\" title=\"")
                        .append(state);
                b.append("\"></i><b>").append(HtmlUtils.htmlEscape(l.name())).append("</b><span>");
                b.append(HtmlUtils.htmlEscape(l.proof())).append("</span></li>");
            }
            return b.toString();
        }

        /** The first stage that is not done, where work goes on. */
        public String next() {
            if (lines().isEmpty()) return "plate";
            return lines().stream()
                    .filter(l -> !l.state().equals("fresh"))
                    .findFirst()
                    .map(CallSheet.Entry::key)
                    .orElse("output");
        }

        // Addresses are put together here: a template's links are looked up among the static files, each of them.
        public String href() {
            return "/shots/" + row.id() + "/" + next();
        }

        /** Null without a plate. */
        public String thumb() {
            return sheet.first() == null ? null : "/shots/" + row.id() + "/plate/" + sheet.first() + ".jpg?by=2";
        }

        public long doneStages() {
            return lines().stream().filter(l -> l.state().equals("fresh")).count();
        }
    }

    @GetMapping("/")
    String shows(Model model) {
        // The newest first: it is the one that is worked on.
        List<ShotMapper.ShotRow> rows = mapper.shots().stream()
                .sorted(Comparator.comparingLong(ShotMapper.ShotRow::id).reversed())
                .toList();
        Map<Long, Sheets.Kept> of = sheets.of(rows);
        Map<Long, Integer> revisions = mapper.numbers().stream()
                .collect(Collectors.toMap(ShotMapper.Count::shot, ShotMapper.Count::revisions));
        Map<String, List<Card>> byShow = new LinkedHashMap<>();
        for (ShotMapper.ShotRow r : rows)
            byShow.computeIfAbsent(r.showName(), k -> new ArrayList<>())
                    .add(new Card(r, revisions.getOrDefault(r.id(), 1), of.get(r.id())));
        model.addAttribute("shows", byShow);
        model.addAttribute("busy", tasks.busy());
        model.addAttribute("gone", mapper.takenAway());
        return "shows";
    }

    @PostMapping("/shots")
    String create(
            @RequestParam String show, @RequestParam String name, @RequestParam(required = false) MultipartFile plate)
            throws IOException {
        long id = newShot.create(show, name, plate);
        return "redirect:/shots/" + id + "/plate";
    }

    /** A shot that was taken away as a scene. */
    @PostMapping("/shots/handed-over")
    String handedOver(@RequestParam String show, @RequestParam String name, @RequestParam MultipartFile scene)
            throws IOException {
        if (scene.isEmpty()) throw new BadInput("choose the zip first");
        long id = handedOver.bring(scene.getInputStream(), show, name);
        return "redirect:/shots/" + id + "/plate";
    }

    @PostMapping("/shots/{id}/take-away")
    String takeAway(@PathVariable long id) {
        takeOne(id);
        return "redirect:/";
    }

    @PostMapping("/shots/{id}/put-back")
    String putBack(@PathVariable long id) {
        shots.putBack(id);
        return "redirect:/";
    }

    /** Nobody needs any more what is being computed for it. */
    private void takeOne(long id) {
        shots.takeAway(id);
        tasks.open(id).forEach(t -> queue.cancel(t.id()));
    }

    /** All shots of a show, and so the show. */
    @PostMapping("/shows/{id}/take-away")
    String takeShowAway(@PathVariable long id) {
        List<ShotMapper.ShotRow> all =
                mapper.shots().stream().filter(r -> r.showId() == id).toList();
        if (all.isEmpty()) throw new Shots.NotThere("there is no such show");
        all.forEach(r -> takeOne(r.id()));
        return "redirect:/";
    }

    @PostMapping("/shows/{id}/rate")
    String rate(@PathVariable long id, @RequestParam String rate) {
        mapper.showRate(id, rate.isBlank() ? "" : Rate.parse(rate).toString());
        kept.forget(id);
        return "redirect:/";
    }
}
