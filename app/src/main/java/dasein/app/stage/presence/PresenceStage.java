package dasein.app.stage.presence;

import dasein.app.stage.Change;
import dasein.app.stage.Form;
import dasein.app.stage.Line;
import dasein.app.stage.Seen;
import dasein.app.stage.Stage;
import dasein.app.task.Task;
import dasein.app.task.Tasks;
import dasein.core.BadInput;
import dasein.core.presence.Finding;
import dasein.core.presence.Finding.State;
import dasein.core.presence.PresenceRecipe;
import dasein.core.presence.Verdict;
import dasein.core.shot.Prints;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.StreamSupport;
import org.springframework.stereotype.Component;
import org.springframework.ui.Model;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** The finished shot measured against its own plate. */
@Component
class PresenceStage implements Stage {
    private static final JsonMapper JSON = new JsonMapper();

    private final Tasks tasks;

    PresenceStage(Tasks tasks) {
        this.tasks = tasks;
    }

    @Override
    public String key() {
        return "presence";
    }

    @Override
    public String name() {
        return "Presence";
    }

    @Override
    public List<String> works() {
        return List.of("presence", Standing.KIND);
    }

    /**
     * What was found. @param frames over which finished frames were looked at, 0 for how things stand alone; null where
     * nothing was
     */
    record Found(int frames, List<Finding> all, Set<String> waived) {
        List<Finding> of(State state, boolean meant) {
            return all.stream()
                    .filter(f -> f.state() == state && (state != State.FOUND || waived.contains(f.key()) == meant))
                    .toList();
        }

        String verdict() {
            return Verdict.of(all, waived);
        }
    }

    /** Findings that need no hand, folded up on the page. @param kind of the sign before each */
    record Folded(String title, String kind, List<Finding> all) {}

    /** Over the frames that are rendered now; without, or until those are looked at, how everything stands. */
    private static Found found(Seen s) {
        List<Integer> frames = s.renderedInCut();
        JsonNode f = frames.isEmpty() ? null : s.facts("presence", Prints.presence(s.shot(), frames, s.filtered()));
        if (f == null) f = s.facts(Standing.KIND, Prints.standing(s.shot()));
        if (f == null) return null;
        List<Finding> all = StreamSupport.stream(f.path("findings").spliterator(), false)
                .map(n -> JSON.treeToValue(n, Finding.class))
                .toList();
        return new Found(
                f.path("frames").asInt(), all, s.shot().presence().waived().keySet());
    }

    static List<Finding> findings(Seen s) {
        Found f = found(s);
        return f == null ? List.of() : f.all;
    }

    @Override
    public Line line(Seen s) {
        Task t = s.last("presence");
        Found f = found(s);
        return Line.computed(t, () -> f == null ? null : said(f), "not looked at yet");
    }

    private static String said(Found f) {
        return Verdict.counted(f.of(State.FOUND, false).size(), "nothing found")
                + (f.frames == 0 ? " in how it stands" : ", " + f.frames + " frames");
    }

    @Override
    public void bench(Model m, Seen s) {
        Found f = found(s);
        m.addAttribute("rendered", s.rendered());
        m.addAttribute("solved", s.camera() != null);
        m.addAttribute("lookedAt", f == null ? -1 : f.frames);
        if (f != null) {
            m.addAttribute("verdict", f.verdict());
            m.addAttribute("bad", f.of(State.FOUND, false));
            m.addAttribute(
                    "folded",
                    List.of(
                            new Folded("meant so", "okay", f.of(State.FOUND, true)),
                            new Folded("could not be looked at", "blind", f.of(State.UNSEEN, false)),
                            new Folded("found nothing", "okay", f.of(State.GOOD, false))));
        }
        m.addAttribute("waived", s.shot().presence().waived());
    }

    @Override
    public void data(Map<String, Object> m, Seen s) {
        Found f = s.plate() == null ? null : found(s);
        m.put("found", f == null ? List.of() : f.of(State.FOUND, false));
    }

    @Override
    public Change edit(Seen s, String action, Form f) {
        PresenceRecipe now = s.shot().presence();
        String key = f.text("key", "");
        Found found = found(s);
        String name = found == null
                ? key
                : found.all.stream()
                        .filter(k -> k.key().equals(key))
                        .map(Finding::check)
                        .findFirst()
                        .orElseThrow(() -> new BadInput("that finding is gone"));
        return switch (action) {
            case "waive" -> new Change(s.shot().with(now.waive(key, f.text("reason", ""))), name + " is meant so");
            case "unwaive" -> new Change(s.shot().with(now.unwaive(key)), name + " is looked at again");
            default -> throw new BadInput("there is nothing to change on this stage");
        };
    }

    @Override
    public void start(Seen s, Form f) {
        s.needPlate();
        boolean standing = s.renderedInCut().isEmpty();
        if (standing && s.camera() == null)
            throw new BadInput("there is nothing to look at yet; solve the camera first");
        String kind = standing ? Standing.KIND : "presence";
        s.refuseWhile(kind);
        tasks.start(s.id(), s.head().revision().id(), kind, "Presence", "");
    }
}
