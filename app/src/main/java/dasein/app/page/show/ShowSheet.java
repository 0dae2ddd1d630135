package dasein.app.page.show;

import dasein.app.stage.CallSheet;
import dasein.app.stage.Form;
import dasein.app.stage.Seeing;
import dasein.app.stage.Seen;
import dasein.app.stage.Sheets;
import dasein.app.stage.Stages;
import dasein.app.stage.presence.Findings;
import dasein.app.store.Plates;
import dasein.app.store.ShotMapper;
import dasein.app.store.Shots;
import dasein.app.task.TaskMapper;
import dasein.core.BadInput;
import dasein.core.NoSolution;
import dasein.core.image.Image;
import dasein.core.output.Format;
import dasein.core.presence.Finding;
import dasein.core.presence.ShotLook;
import dasein.core.shot.Prints;
import java.time.Duration;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import org.springframework.stereotype.Controller;
import org.springframework.ui.Model;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.ResponseBody;

/** A show at a glance: how its shots stand, what is wrong with them, whether they agree, and all of them delivered. */
@Controller
class ShowSheet {
    private static final int MOST_HELD = 500;

    private final ShotMapper rows;
    private final Seeing seeing;
    private final Sheets sheets;
    private final Stages stages;
    private final TaskMapper tasks;
    private final Plates plates;
    /** By what they were measured in. */
    private final Map<String, ShotLook> looks = new ConcurrentHashMap<>();

    ShowSheet(ShotMapper rows, Seeing seeing, Sheets sheets, Stages stages, TaskMapper tasks, Plates plates) {
        this.rows = rows;
        this.seeing = seeing;
        this.sheets = sheets;
        this.stages = stages;
        this.tasks = tasks;
        this.plates = plates;
    }

    /**
     * @param done of ten stages; @param next where work goes on; @param worst sentence of the worst finding
     * @param left rendering that is left, in words; @param changed when, and {@code summary} what was changed last
     * @param frame that is shown, 0 for none; @param plain whether of that the plate is shown
     */
    public record Row(
            long id,
            String name,
            long done,
            String next,
            String worst,
            String left,
            String changed,
            String summary,
            int frame,
            boolean plain,
            String trouble) {}

    @GetMapping("/shows/{id}")
    String page(@PathVariable long id, Model m) {
        fill(id, m);
        return "show";
    }

    private List<ShotMapper.ShotRow> of(long show) {
        List<ShotMapper.ShotRow> all =
                rows.shots().stream().filter(r -> r.showId() == show).toList();
        if (all.isEmpty()) throw new Shots.NotThere("there is no such show");
        return all;
    }

    private void fill(long id, Model m) {
        List<ShotMapper.ShotRow> all = of(id);
        m.addAttribute("id", id);
        m.addAttribute("show", all.get(0).showName());
        m.addAttribute("rows", all.stream().map(this::row).toList());
        m.addAttribute("formats", Format.values());
    }

    private Row row(ShotMapper.ShotRow r) {
        try {
            Seen s = seeing.of(r.id());
            List<CallSheet.Entry> lines = sheets.of(s);
            List<Integer> rendered = s.plate() == null ? List.of() : s.renderedInCut();
            String next = lines.stream()
                    .filter(l -> !l.state().equals("fresh"))
                    .map(l -> l.name().toLowerCase(Locale.ROOT) + ": " + l.proof())
                    .findFirst()
                    .orElse("all stages done");
            return new Row(
                    r.id(),
                    r.name(),
                    lines.stream().filter(l -> l.state().equals("fresh")).count(),
                    next,
                    worst(s),
                    left(s, rendered.size()),
                    ago(rows.changed(s.head().revision().id())),
                    s.head().revision().summary(),
                    s.plate() == null ? 0 : rendered.isEmpty() ? middle(s) : rendered.get(rendered.size() / 2),
                    rendered.isEmpty(),
                    null);
        } catch (BadInput e) {
            return new Row(r.id(), r.name(), 0, "", "", "", "", "", 0, true, e.getMessage());
        }
    }

    private static int middle(Seen s) {
        return (s.cutFirst() + s.cutLast()) / 2;
    }

    /** Of what is not meant so, the finding that is furthest beyond its limit. */
    private static String worst(Seen s) {
        var waived = s.shot().presence().waived();
        return Findings.of(s).stream()
                .filter(f -> f.state() == Finding.State.FOUND && !waived.containsKey(f.key()))
                .max(Comparator.comparingDouble(
                        f -> f.limit() > 0 ? Math.abs(f.figure()) / f.limit() : Math.abs(f.figure())))
                .map(Finding::sentence)
                .orElse("");
    }

    private String left(Seen s, int rendered) {
        if (s.plate() == null || s.shot().performers().isEmpty()) return "";
        int frames = s.cutLast() - s.cutFirst() + 1 - rendered;
        if (frames <= 0) return "all rendered";
        Double each = tasks.secondsOfFrame(s.id());
        return frames + " frames to render" + (each == null ? "" : ", " + words(each * frames));
    }

    private static String words(double seconds) {
        return seconds < 90
                ? Math.round(seconds) + " s"
                : seconds < 5400
                        ? Math.round(seconds / 60) + " min"
                        : String.format(Locale.ROOT, "%.1f hours", seconds / 3600);
    }

    private static String ago(java.time.OffsetDateTime t) {
        if (t == null) return "";
        long s = Duration.between(t, java.time.OffsetDateTime.now()).toSeconds();
        return s < 60
                ? "just now"
                : s < 5400 ? s / 60 + " min ago" : s < 129_600 ? s / 3600 + " h ago" : s / 86_400 + " days ago";
    }

    /**
     * @param unlike in what it differs from the shot before it, in words; empty where it does not
     * @param trouble why it cannot be measured, or null
     */
    record Look(ShotLook look, String unlike, String trouble) {}

    /** What of a shot has to agree with the one before it; measured when it is first asked for. */
    @GetMapping("/shows/{id}/look/{shot}.json")
    @ResponseBody
    Look look(@PathVariable long id, @PathVariable long shot) {
        List<ShotMapper.ShotRow> all = of(id);
        int k = 0;
        while (k < all.size() && all.get(k).id() != shot) k++;
        if (k == all.size()) throw new Shots.NotThere("that shot is not of this show");
        try {
            ShotLook mine = measured(shot);
            for (int b = k - 1; b >= 0; b--) {
                try {
                    String unlike = mine.unlike(measured(all.get(b).id()));
                    return new Look(
                            mine,
                            unlike.isEmpty()
                                    ? ""
                                    : unlike + " than " + all.get(b).name(),
                            null);
                } catch (BadInput | NoSolution none) {
                    // The one before that, then.
                }
            }
            return new Look(mine, "", null);
        } catch (BadInput | NoSolution e) {
            return new Look(null, "", e.getMessage());
        }
    }

    private ShotLook measured(long shot) {
        Seen s = seeing.of(shot);
        s.needPlate();
        List<Integer> rendered = s.renderedInCut();
        int f = rendered.isEmpty() ? middle(s) : rendered.get(rendered.size() / 2);
        if (f >= s.cutLast()) f = Math.max(s.cutFirst(), s.cutLast() - 1);
        int frame = f;
        String of = rendered.isEmpty() ? Prints.plate(s.shot()) + frame : Prints.comp(s.shot(), frame);
        ShotLook known = looks.get(of);
        if (known != null) return known;
        if (looks.size() >= MOST_HELD) looks.clear();
        try (Plates.Lent lent = plates.need(s.shot())) {
            Image a = s.desk().comps().frame(s.shot(), frame),
                    b = s.desk().comps().frame(s.shot(), frame + 1);
            boolean both = a != null && b != null;
            ShotLook l = ShotLook.of(
                    both ? a : lent.plate().frame(frame),
                    both ? b : lent.plate().frame(Math.min(frame + 1, s.last())),
                    lent.plate().encoding());
            looks.put(of, l);
            return l;
        }
    }

    /** Several shots written in one go, each over its whole cut. */
    @PostMapping("/shows/{id}/deliver")
    String deliver(
            @PathVariable long id,
            @RequestParam String format,
            @RequestParam(defaultValue = "") String shots,
            Model m) {
        Format.of(format);
        Map<String, String> said = new LinkedHashMap<>();
        List<String> wanted = new ArrayList<>(List.of(shots.split(",")));
        for (ShotMapper.ShotRow r : of(id)) {
            if (!wanted.contains(Long.toString(r.id()))) continue;
            try {
                Seen s = seeing.of(r.id());
                s.needPlate();
                stages.of("output")
                        .start(
                                s,
                                new Form(Map.of(
                                        "format",
                                        format,
                                        "from",
                                        Integer.toString(s.cutFirst()),
                                        "to",
                                        Integer.toString(s.cutLast()))));
                said.put(r.name(), "is being written");
            } catch (BadInput | NoSolution e) {
                said.put(r.name(), e.getMessage());
            }
        }
        if (said.isEmpty()) throw new BadInput("choose the shots that are to be written");
        m.addAttribute("said", said);
        fill(id, m);
        return "show";
    }
}
