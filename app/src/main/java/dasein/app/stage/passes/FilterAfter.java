package dasein.app.stage.passes;

import dasein.app.scene.Filtered;
import dasein.app.stage.Seeing;
import dasein.app.stage.Seen;
import dasein.app.task.Task;
import dasein.app.task.TaskEnded;
import dasein.app.task.Tasks;
import java.util.List;
import org.springframework.context.event.EventListener;
import org.springframework.stereotype.Component;

/** Once frames are rendered, those that have all their neighbours are filtered over them. */
@Component
class FilterAfter {
    private final Seeing seeing;
    private final Tasks tasks;

    FilterAfter(Seeing seeing, Tasks tasks) {
        this.seeing = seeing;
        this.tasks = tasks;
    }

    @EventListener
    void ended(TaskEnded ended) {
        Seen s = seeing.of(ended.shot());
        Task passes = s.last("passes");
        if (passes == null
                || passes.open()
                || !passes.state().equals("done") && !passes.state().equals("failed")) return;
        if (s.last("filtered") != null && s.last("filtered").id() > passes.id()) return;
        start(s, passes.low());
    }

    /** @return whether there was anything to do */
    boolean start(Seen s, boolean low) {
        if (!Filtered.asked(s.shot())) return false;
        List<Integer> frames = s.toFilter();
        if (!frames.isEmpty())
            tasks.startFramesAnew(s.id(), s.head().revision().id(), Filtered.KIND, "Filter over frames", frames, low);
        return !frames.isEmpty();
    }
}
