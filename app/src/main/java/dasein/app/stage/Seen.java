package dasein.app.stage;

import dasein.app.scene.Filtered;
import dasein.app.store.Shots;
import dasein.app.task.Task;
import dasein.app.task.TaskMapper;
import dasein.core.BadInput;
import dasein.core.plate.Plate;
import dasein.core.plate.PlateFacts;
import dasein.core.plate.Rate;
import dasein.core.shot.Prints;
import dasein.core.shot.Shot;
import dasein.core.shot.ShotSteps;
import dasein.core.solve.SolvedCamera;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.Function;
import java.util.function.IntFunction;
import java.util.function.Supplier;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import tools.jackson.databind.JsonNode;

/**
 * A shot as one request sees it. Everything is looked up when it is first asked for and once only, so that all parts of
 * a page speak of the same state.
 */
public final class Seen {
    private final Shots.Head head;
    private final Desk desk;
    private final TaskMapper rows;
    private final Map<String, Object> known = new HashMap<>();
    private static final Object NOTHING = new Object();

    public Seen(Shots.Head head, Desk desk, TaskMapper rows) {
        this.head = head;
        this.desk = desk;
        this.rows = rows;
    }

    public Shots.Head head() {
        return head;
    }

    public long id() {
        return head.id();
    }

    public Shot shot() {
        return head.shot();
    }

    public Desk desk() {
        return desk;
    }

    @SuppressWarnings("unchecked")
    private <T> T once(String key, Supplier<T> look) {
        Object o = known.get(key);
        if (o == null) {
            o = look.get();
            known.put(key, o == null ? NOTHING : o);
        }
        return o == NOTHING ? null : (T) o;
    }

    /** What is wrong with the plate; null when nothing is, or there is none. */
    public BadInput plateTrouble() {
        plate();
        return (BadInput) known.get("trouble");
    }

    /** Whether frames are missing in the plate, which can be bridged. */
    public boolean gap() {
        return plateTrouble() instanceof Plate.Gap;
    }

    /** What is known of the plate; null when there is none, or it cannot be read. */
    public PlateFacts plate() {
        return once("plate", () -> {
            try {
                return desk.plates().facts(shot());
            } catch (BadInput e) {
                known.put("trouble", e);
                return null;
            }
        });
    }

    /** @throws BadInput when there is no plate, or it cannot be read */
    public PlateFacts needPlate() {
        PlateFacts p = plate();
        if (plateTrouble() != null) throw plateTrouble();
        if (p == null) throw new BadInput("bring in a plate first");
        return p;
    }

    /** First frame that is worked on. @throws BadInput without a plate */
    public int first() {
        return ShotSteps.first(shot().plate(), needPlate());
    }

    public int last() {
        return ShotSteps.last(shot().plate(), needPlate());
    }

    /** First frame of what is delivered. @throws BadInput without a plate */
    public int cutFirst() {
        return ShotSteps.cutFirst(shot().plate(), needPlate());
    }

    public int cutLast() {
        return ShotSteps.cutLast(shot().plate(), needPlate());
    }

    /** Frames a second as somebody said them; null when nobody did, neither the file nor a person. */
    public Rate saidRate() {
        PlateFacts p = plate();
        return p == null || !p.rateSaid() ? null : p.rate();
    }

    /** @throws BadInput when there is no plate, or nobody said its rate: the classic trap of this job */
    public void needRate() {
        needPlate();
        if (saidRate() == null)
            throw new BadInput("say on the Plate stage how many frames a second these are: nothing tells, and a wrong "
                    + "rate ruins all that moves");
    }

    /** A sentence when the plate's rate is not the show's; else null. Nothing ruins a shot more quietly. */
    public String otherRate() {
        String said = head.row().showRate();
        Rate r = saidRate();
        if (said.isEmpty() || r == null) return null;
        Rate show = Rate.parse(said);
        return (long) show.num() * r.den() == (long) r.num() * show.den()
                ? null
                : "the plate has " + r.words() + " frames a second, the show " + show.words();
    }

    /** Facts of a result, null when it is not there. */
    public JsonNode facts(String kind, String print) {
        return once(kind + print, () -> desk.results().facts(kind, print));
    }

    /** The solve in its own frame, or null. */
    public SolvedCamera camera() {
        return once("camera", () -> desk.results().camera(shot()));
    }

    private Map<String, Task> lastTasks() {
        return once("last", () -> rows.last(id()).stream().collect(Collectors.toMap(Task::kind, Function.identity())));
    }

    /** The last task of a kind, or null. */
    public Task last(String kind) {
        return lastTasks().get(kind);
    }

    /** Tasks that wait or run. */
    public List<Task> open() {
        return once("open", () -> rows.open(id()));
    }

    /** Kinds of tasks that wait or run; what is done in the background is in nobody's way. */
    public Set<String> busy() {
        return open().stream().filter(t -> !t.low()).map(Task::kind).collect(Collectors.toSet());
    }

    /** @throws BadInput when a task of one of these kinds waits or runs */
    public void refuseWhile(String... kinds) {
        for (Task t : open())
            for (String k : kinds)
                if (t.kind().equals(k) && !t.low()) throw new BadInput(t.label() + " is under way already");
    }

    /** Frames that are rendered as everything is set now. */
    public List<Integer> rendered() {
        return once("rendered", () -> {
            if (plate() == null) return List.of();
            Map<String, Integer> prints = IntStream.rangeClosed(first(), last())
                    .boxed()
                    .collect(Collectors.toMap(f -> Prints.frame(shot(), f), f -> f));
            return desk.results().known("passes", List.copyOf(prints.keySet())).stream()
                    .map(prints::get)
                    .sorted()
                    .toList();
        });
    }

    /** Those of them that are filtered over their neighbours. */
    public List<Integer> filtered() {
        return once("filtered", () -> {
            if (!Filtered.asked(shot())) return List.of();
            Map<Integer, String> prints = desk.filtered().prints(shot(), rendered());
            Set<String> there = Set.copyOf(desk.results().known(Filtered.KIND, List.copyOf(prints.values())));
            return rendered().stream()
                    .filter(f -> there.contains(prints.get(f)))
                    .toList();
        });
    }

    /** Rendered frames that can be filtered over their neighbours, and are not. */
    public List<Integer> toFilter() {
        if (!Filtered.asked(shot())) return List.of();
        Set<Integer> there = Set.copyOf(rendered()), done = Set.copyOf(filtered());
        IntFunction<List<Integer>> windows = desk.filtered().windows(shot());
        return rendered().stream()
                .filter(f -> !done.contains(f) && there.containsAll(windows.apply(f)))
                .toList();
    }

    /** Those of them that are delivered. */
    public List<Integer> renderedInCut() {
        if (plate() == null) return List.of();
        int from = cutFirst(), to = cutLast();
        return rendered().stream().filter(f -> f >= from && f <= to).toList();
    }

    /** @throws BadInput when frames from one to another cannot be rendered yet, with what is missing */
    public void readyToRender(int from, int to) {
        SolvedCamera c = camera();
        if (c == null) throw new BadInput("the camera is not solved yet");
        for (int f = from; f <= to; f++)
            if (!c.has(f))
                throw new BadInput("frame " + f + " is not solved; the camera has frames " + c.first() + " to "
                        + c.last() + (c.gaps().isEmpty() ? "" : " without " + c.gaps()));
        desk.results().set(shot());
        if (shot().performers().isEmpty()) throw new BadInput("nobody is placed in the shot yet");
    }
}
