package dasein.app.stage;

import dasein.app.store.MediaStore;
import dasein.app.store.Results;
import dasein.app.store.Shots;
import dasein.app.task.Task;
import dasein.app.task.Work;
import dasein.core.Progress;
import dasein.core.scene.ModelGlb;
import dasein.core.shot.PieceColours;
import dasein.core.shot.Shot;
import java.util.Map;
import org.springframework.stereotype.Component;

/** Lays the plate's colours onto the set pieces and writes them as a GLB with its textures. */
@Component
class ColoursWork implements Work {
    private final Shots shots;
    private final Results results;
    private final MediaStore media;
    private final Scenes scenes;

    ColoursWork(Shots shots, Results results, MediaStore media, Scenes scenes) {
        this.shots = shots;
        this.results = results;
        this.media = media;
        this.scenes = scenes;
    }

    @Override
    public String kind() {
        return "colours";
    }

    @Override
    public String run(Task task, Progress progress) {
        Shot s = shots.document(task.revisionId());
        String print = Results.coloursPrint(s), file = print + ".glb";
        if (results.find(kind(), print) == null) {
            PieceColours.Result r = scenes.colours(s, progress);
            ModelGlb.write(media.result(kind(), file), r.model());
            results.save(
                    kind(),
                    print,
                    Map.of(
                            "pieces",
                            r.seen().size(),
                            "seen",
                            r.seen().values().stream()
                                    .mapToDouble(v -> v)
                                    .average()
                                    .orElse(0)),
                    file);
        }
        return results.facts(kind(), print).path("pieces").asInt() + " pieces coloured";
    }
}
