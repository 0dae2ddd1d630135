package dasein.app.stage.presence;

import dasein.app.stage.Seeing;
import dasein.app.stage.Seen;
import dasein.app.task.TaskEnded;
import dasein.app.task.Tasks;
import dasein.core.shot.Prints;
import java.util.Set;
import org.springframework.context.event.EventListener;
import org.springframework.stereotype.Component;

/** Once a camera is there, and after every change of what stands in it, how performers stand is looked at. */
@Component
public class StandingAfter {
    private static final Set<String> BRINGS = Set.of("camera", "object");

    private final Seeing seeing;
    private final Tasks tasks;

    StandingAfter(Seeing seeing, Tasks tasks) {
        this.seeing = seeing;
        this.tasks = tasks;
    }

    @EventListener
    void ended(TaskEnded e) {
        if (BRINGS.contains(e.kind()) && e.state().equals("done")) look(seeing.of(e.shot()));
    }

    /** Unless it was looked at already. */
    public void look(Seen s) {
        if (s.camera() == null
                || s.shot().performers().isEmpty()
                || s.facts(Standing.KIND, Prints.standing(s.shot())) != null) return;
        tasks.startOnceMore(s.id(), s.head().revision().id(), Standing.KIND, "How it stands", "");
    }
}
