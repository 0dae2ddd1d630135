package dasein.app.stage.presence;

import dasein.app.scene.Subjects;
import dasein.app.stage.Desk;
import dasein.app.store.Plates;
import dasein.app.task.Task;
import dasein.app.task.Work;
import dasein.core.Progress;
import dasein.core.presence.Checks;
import dasein.core.presence.Finding;
import dasein.core.presence.Subject;
import dasein.core.presence.Verdict;
import dasein.core.shot.Prints;
import dasein.core.shot.Shot;
import java.util.List;
import java.util.Map;
import org.springframework.stereotype.Component;

/** Looks at how everything stands, before a frame is rendered. */
@Component
class Standing implements Work {
    static final String KIND = "standing";

    private final Desk desk;
    private final Subjects subjects;

    Standing(Desk desk, Subjects subjects) {
        this.desk = desk;
        this.subjects = subjects;
    }

    @Override
    public String kind() {
        return KIND;
    }

    @Override
    public String run(Task task, Progress progress) {
        Shot s = desk.shots().document(task.revisionId());
        try (Plates.Lent lent = desk.plates().need(s)) {
            Subject subject = subjects.of(s, lent.plate(), List.of());
            List<Finding> found =
                    Checks.layout().stream().map(c -> c.finding(subject)).toList();
            desk.results().save(KIND, Prints.standing(s), Map.of("frames", 0, "findings", found), "");
            return Verdict.counted(found.stream().filter(f -> !f.passed()).count(), "everything stands");
        }
    }
}
