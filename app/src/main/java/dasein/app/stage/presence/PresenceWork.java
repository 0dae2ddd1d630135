package dasein.app.stage.presence;

import dasein.app.stage.Desk;
import dasein.app.store.Plates;
import dasein.app.task.Task;
import dasein.app.task.Work;
import dasein.core.BadInput;
import dasein.core.Progress;
import dasein.core.presence.Check;
import dasein.core.presence.Checks;
import dasein.core.presence.Finding;
import dasein.core.render.pass.Passes;
import dasein.core.shot.Prints;
import dasein.core.shot.Shot;
import dasein.core.shot.ShotScene;
import dasein.core.shot.ShotSteps;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.springframework.stereotype.Component;

/** Runs the presence checks over every rendered frame. */
@Component
class PresenceWork implements Work {
    private final Desk desk;

    PresenceWork(Desk desk) {
        this.desk = desk;
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
        List<Integer> seen = new ArrayList<>(), filtered = new ArrayList<>();
        ShotScene scene = desk.scenes().of(s);
        for (int f = first; f <= last; f++) {
            progress.at((double) (f - first) / (last - first + 1), "frame " + f);
            Passes p = desk.comps().passes(s, f);
            if (p == null) continue;
            if (desk.filtered().done(s, f)) filtered.add(f);
            Check.Frame frame = desk.comps().checked(s, lent.plate(), f, p, scene);
            for (Check c : checks) c.look(frame);
            seen.add(f);
        }
        if (seen.isEmpty()) throw new BadInput("no frame is rendered yet; render passes first");
        List<Finding> found = checks.stream().map(Check::finding).toList();
        desk.results()
                .save(kind(), Prints.presence(s, seen, filtered), Map.of("frames", seen.size(), "findings", found), "");
        long bad = found.stream().filter(x -> !x.passed()).count();
        return bad == 0
                ? "nothing found in " + seen.size() + " frames"
                : bad + " findings in " + seen.size() + " frames";
    }
}
