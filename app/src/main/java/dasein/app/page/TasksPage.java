package dasein.app.page;

import dasein.app.stage.Stages;
import dasein.app.store.ShotMapper;
import dasein.app.store.Shots;
import dasein.app.task.FrameState;
import dasein.app.task.Task;
import dasein.app.task.TaskMapper;
import dasein.app.task.Tasks;
import java.util.ArrayList;
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

/** All tasks: who works on what, what waits for what, and frames one by one. */
@Controller
class TasksPage {
    /** Finished frames that are shown of a task. */
    private static final int SHOWN = 12;

    private final TaskMapper tasks;
    private final Tasks engine;
    private final Shots shots;
    private final ShotMapper rows;
    private final Stages stages;

    TasksPage(TaskMapper tasks, Tasks engine, Shots shots, ShotMapper rows, Stages stages) {
        this.tasks = tasks;
        this.engine = engine;
        this.shots = shots;
        this.rows = rows;
        this.stages = stages;
    }

    /**
     * A task that is not over, or that failed last.
     *
     * @param where its shot; @param frames empty for work that is one job; @param shown finished frames, spread; @param
     *     waits what it waits for, empty for nothing; @param stage whose work it is; @param revision the shot's newest
     */
    public record Open(
            Task task,
            String where,
            List<FrameState> frames,
            List<Integer> shown,
            String waits,
            String stage,
            long revision) {
        public List<FrameState> failed() {
            return frames.stream().filter(FrameState::failed).toList();
        }

        public long count(String state) {
            return frames.stream().filter(f -> f.state().equals(state)).count();
        }
    }

    @GetMapping("/tasks")
    String tasks(Model model) {
        Map<Long, String> names = new LinkedHashMap<>();
        for (ShotMapper.ShotRow r : rows.shots()) names.put(r.id(), r.showName() + " / " + r.name());
        // Of a shot that was taken away there is nothing to see.
        List<Task> newest = tasks.newest().stream()
                .filter(t -> names.containsKey(t.shotId()))
                .toList();
        Map<Long, Task> byId = newest.stream().collect(Collectors.toMap(Task::id, t -> t));
        List<TaskMapper.AtWork> atWork = tasks.atWork();
        List<Open> open = new ArrayList<>();
        for (Task t : newest)
            if (t.open() || retriable(t, newest))
                open.add(open(t, names.getOrDefault(t.shotId(), ""), atWork, byId, names));
        model.addAttribute("open", open);
        model.addAttribute("atWork", atWork);
        model.addAttribute("byId", byId);
        model.addAttribute(
                "over",
                newest.stream()
                        .filter(t -> open.stream().noneMatch(o -> o.task().id() == t.id()))
                        .toList());
        model.addAttribute("names", names);
        return "tasks";
    }

    /** Failed, and nothing of its kind was started in its shot since. */
    private static boolean retriable(Task t, List<Task> newest) {
        return t.state().equals("failed")
                && newest.stream()
                        .noneMatch(o -> o.id() > t.id()
                                && o.shotId() == t.shotId()
                                && o.kind().equals(t.kind()));
    }

    private Open open(
            Task t, String where, List<TaskMapper.AtWork> atWork, Map<Long, Task> byId, Map<Long, String> names) {
        List<FrameState> frames = tasks.frameStates(t.id());
        List<Integer> done = frames.stream()
                .filter(FrameState::finished)
                .map(FrameState::frame)
                .toList();
        List<Integer> shown = new ArrayList<>();
        int n = Math.min(SHOWN, done.size());
        for (int k = 0; k < n; k++) shown.add(done.get(n == 1 ? 0 : k * (done.size() - 1) / (n - 1)));
        return new Open(
                t,
                where,
                frames,
                shown,
                waits(t, frames, atWork, byId, names),
                stages.owner(t.kind()),
                shots.head(t.shotId()).revision().id());
    }

    private static String waits(
            Task t,
            List<FrameState> frames,
            List<TaskMapper.AtWork> atWork,
            Map<Long, Task> byId,
            Map<Long, String> names) {
        if (t.note().endsWith("gives way")) return "gives way to what somebody waits for";
        if (!t.state().equals("waiting")) return "";
        // Frames wait for frames, the rest for the rest.
        String others = atWork.stream()
                .filter(a -> a.taskId() != t.id() && (a.frame() >= 0) == !frames.isEmpty())
                .map(a -> byId.get(a.taskId()))
                .filter(o -> o != null)
                .map(o -> o.label() + " of " + names.getOrDefault(o.shotId(), "another shot"))
                .distinct()
                .collect(Collectors.joining(", "));
        return others.isEmpty() ? "begins as soon as a program is free" : "waits for " + others;
    }

    @PostMapping("/tasks/{id}/cancel")
    String cancel(@PathVariable long id) {
        engine.cancel(id);
        return "redirect:/tasks";
    }

    @PostMapping("/tasks/{id}/pause")
    String pause(@PathVariable long id) {
        engine.pause(id);
        return "redirect:/tasks";
    }

    @PostMapping("/tasks/{id}/go-on")
    String goOn(@PathVariable long id) {
        engine.goOn(id);
        return "redirect:/tasks";
    }

    @PostMapping("/tasks/{id}/retry")
    String retry(@PathVariable long id, @RequestParam int frame) {
        engine.retry(id, frame);
        return "redirect:/tasks";
    }

    /** Work that failed, once more, on the shot as it stands now. */
    @PostMapping("/tasks/{id}/again")
    String again(@PathVariable long id) {
        Task t = tasks.find(id);
        if (t == null) throw new Shots.NotThere("there is no such task");
        engine.again(t, shots.head(t.shotId()).revision().id());
        return "redirect:/tasks";
    }
}
