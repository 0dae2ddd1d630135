package dasein.app.stage.plate;

import dasein.app.stage.Desk;
import dasein.app.store.Plates;
import dasein.app.store.Proxies;
import dasein.app.task.Task;
import dasein.app.task.Work;
import dasein.core.Progress;
import dasein.core.plate.FrameHealth;
import dasein.core.plate.Plate;
import dasein.core.plate.PlateHealth;
import dasein.core.shot.Prints;
import dasein.core.shot.Shot;
import dasein.core.shot.ShotSteps;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.function.ToDoubleFunction;
import org.springframework.stereotype.Component;

/** Looks a plate over, frame by frame, and leaves small pictures of it for quick scrubbing. */
@Component
class HealthWork implements Work {
    private final Desk desk;
    private final Proxies proxies;

    HealthWork(Desk desk, Proxies proxies) {
        this.desk = desk;
        this.proxies = proxies;
    }

    @Override
    public String kind() {
        return "health";
    }

    @Override
    public String run(Task task, Progress progress) {
        return look(desk.shots().document(task.revisionId()), progress);
    }

    String look(Shot s, Progress progress) {
        String print = Prints.health(s);
        if (desk.results().find(kind(), print) == null) {
            try (Plates.Lent lent = desk.plates().need(s)) {
                desk.results().save(kind(), print, facts(s, lent.plate(), progress), "");
            }
        }
        int n = desk.results().facts(kind(), print).path("findings").size();
        return n == 0 ? "nothing to mind" : n == 1 ? "one thing to mind" : n + " things to mind";
    }

    private Map<String, Object> facts(Shot s, Plate p, Progress progress) {
        int first = ShotSteps.first(s.plate(), p), last = ShotSteps.last(s.plate(), p);
        proxies.write(s, p, first, last, progress.part(0, 0.3));
        PlateHealth h = PlateHealth.of(p, first, last, progress.part(0.3, 1));
        Map<String, Object> facts = new LinkedHashMap<>();
        facts.put("first", first);
        facts.put("findings", h.findings());
        facts.put("repeated", h.repeated().stream().map(p::storedNumber).toList());
        facts.put("blurs", h.blurs());
        facts.put("blur", each(h, FrameHealth::blurPx));
        facts.put("edge", each(h, f -> Double.isNaN(f.edge()) ? 0 : f.edge()));
        facts.put("stops", each(h, FrameHealth::stops));
        facts.put("clipped", each(h, f -> f.clippedWhite() + f.clippedBlack()));
        facts.put(
                "change",
                Arrays.stream(h.change()).map(HealthWork::rounded).boxed().toList());
        facts.put(
                "noise",
                Arrays.stream(h.noise())
                        .map(v -> Double.isNaN(v) ? 0 : rounded(v))
                        .boxed()
                        .toList());
        return facts;
    }

    private static List<Double> each(PlateHealth h, ToDoubleFunction<FrameHealth> of) {
        return h.frames().stream().map(f -> rounded(of.applyAsDouble(f))).toList();
    }

    private static double rounded(double v) {
        return Math.rint(1000 * v) / 1000;
    }
}
