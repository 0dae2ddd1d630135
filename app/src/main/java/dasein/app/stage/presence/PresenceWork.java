package dasein.app.stage.presence;

import dasein.app.scene.Subjects;
import dasein.app.stage.Desk;
import dasein.app.store.Plates;
import dasein.app.task.Task;
import dasein.app.task.Work;
import dasein.core.BadInput;
import dasein.core.Progress;
import dasein.core.presence.Check;
import dasein.core.presence.Checks;
import dasein.core.presence.Finding;
import dasein.core.presence.Subject;
import dasein.core.presence.Verdict;
import dasein.core.render.pass.Passes;
import dasein.core.shot.Prints;
import dasein.core.shot.Shot;
import dasein.core.shot.ShotScene;
import dasein.core.shot.ShotSteps;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.stream.IntStream;
import org.springframework.stereotype.Component;

/** Runs the presence checks over every rendered frame. */
@Component
class PresenceWork implements Work {
    private final Desk desk;
    private final Subjects subjects;

    PresenceWork(Desk desk, Subjects subjects) {
        this.desk = desk;
        this.subjects = subjects;
    }

    @Override
    public String kind() {
        return "presence";
    }

    @Override
    public String run(Task task, Progress progress) {
        Shot s = desk.shots().document(task.revisionId());
        try (Plates.Lent lent = desk.plates().need(s)) {
            return look(s, lent, progress);
        }
    }

    private String look(Shot s, Plates.Lent lent, Progress progress) {
        int first = ShotSteps.cutFirst(s.plate(), lent.plate()), last = ShotSteps.cutLast(s.plate(), lent.plate());
        List<Check> checks = Checks.all();
        List<Integer> rendered = IntStream.rangeClosed(first, last)
                .filter(f -> desk.filtered().file(s, f) != null)
                .boxed()
                .toList();
        if (rendered.isEmpty()) throw new BadInput("no frame is rendered yet; render passes first");
        Subject subject = subjects.of(s, lent.plate(), rendered);
        List<Integer> seen = new ArrayList<>(), filtered = new ArrayList<>();
        ShotScene scene = desk.scenes().of(s);
        for (int f : rendered) {
            progress.at((double) (f - first) / (last - first + 1), "frame " + f);
            Passes p = desk.comps().passes(s, f);
            if (p == null) continue;
            if (desk.filtered().done(s, f)) filtered.add(f);
            Check.Frame frame = desk.comps().checked(s, lent.plate(), f, p, scene);
            for (Check c : checks) c.look(frame, subject);
            seen.add(f);
        }
        List<Finding> found = checks.stream().map(c -> c.finding(subject)).toList();
        desk.results()
                .save(kind(), Prints.presence(s, seen, filtered), Map.of("frames", seen.size(), "findings", found), "");
        return Verdict.counted(found.stream().filter(x -> !x.passed()).count(), "nothing found") + " in " + seen.size()
                + " frames, by " + found.size() + " checks";
    }
}
