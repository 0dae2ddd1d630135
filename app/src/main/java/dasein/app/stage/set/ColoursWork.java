package dasein.app.stage.set;

import dasein.app.stage.Computed;
import dasein.app.stage.Desk;
import dasein.app.task.Task;
import dasein.app.task.Work;
import dasein.core.Progress;
import dasein.core.model.file.ModelGlb;
import dasein.core.shot.Prints;
import dasein.core.shot.Shot;
import java.util.Map;
import org.springframework.stereotype.Component;

/** Lays the plate's colours onto the set pieces and writes them as a GLB with its textures. */
@Component
class ColoursWork implements Work {
    private final Desk desk;

    ColoursWork(Desk desk) {
        this.desk = desk;
    }

    @Override
    public String kind() {
        return "colours";
    }

    @Override
    public String run(Task task, Progress progress) throws Exception {
        Shot s = desk.shots().document(task.revisionId());
        int pieces = Computed.once(
                        desk,
                        kind(),
                        Prints.colours(s),
                        ".glb",
                        () -> desk.scenes().colours(s, progress),
                        (file, r) -> ModelGlb.write(file, r.model()),
                        r -> Map.of(
                                "pieces",
                                r.seen().size(),
                                "seen",
                                r.seen().values().stream()
                                        .mapToDouble(v -> v)
                                        .average()
                                        .orElse(0)))
                .path("pieces")
                .asInt();
        return pieces + " pieces coloured";
    }
}
