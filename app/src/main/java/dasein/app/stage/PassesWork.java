package dasein.app.stage;

import dasein.app.store.MediaStore;
import dasein.app.store.Plates;
import dasein.app.store.Results;
import dasein.app.store.Shots;
import dasein.app.task.Task;
import dasein.app.task.Work;
import dasein.core.Progress;
import dasein.core.render.Passes;
import dasein.core.shot.Shot;
import java.util.Map;
import org.springframework.stereotype.Component;

/** Renders passes, every frame a job of its own; a frame that is there already is not rendered again. */
@Component
class PassesWork implements Work.ByFrame {
    private final Shots shots;
    private final Plates plates;
    private final Results results;
    private final MediaStore media;
    private final Scenes scenes;

    PassesWork(Shots shots, Plates plates, Results results, MediaStore media, Scenes scenes) {
        this.shots = shots;
        this.plates = plates;
        this.results = results;
        this.media = media;
        this.scenes = scenes;
    }

    @Override
    public String kind() {
        return "passes";
    }

    @Override
    public String run(Task task, Progress progress) {
        throw new IllegalStateException("passes are rendered frame by frame");
    }

    @Override
    public void frame(Task task, int frame, Progress progress) {
        render(shots.document(task.revisionId()), frame, progress);
    }

    void render(Shot s, int frame, Progress progress) {
        String print = Results.framePrint(s, frame);
        if (results.find(kind(), print) != null) return;
        long t = System.nanoTime();
        Passes p = scenes.of(s)
                .render(
                        frame,
                        plates.of(s).frame(frame),
                        s.passes().size(),
                        s.passes().quality(),
                        progress);
        String file = print + ".exr";
        p.write(media.result(kind(), file));
        results.save(
                kind(),
                print,
                Map.of(
                        "noise",
                        p.noise,
                        "samples",
                        p.samples,
                        "seconds",
                        (System.nanoTime() - t) / 1e9,
                        "width",
                        p.width,
                        "height",
                        p.height),
                file);
    }
}
