package dasein.app.stage.passes;

import dasein.app.scene.Filtered;
import dasein.app.stage.Computed;
import dasein.app.stage.Desk;
import dasein.app.store.Plates;
import dasein.app.task.Task;
import dasein.app.task.Work;
import dasein.core.Progress;
import dasein.core.render.pass.AddUp;
import dasein.core.render.pass.Passes;
import dasein.core.shot.Prints;
import dasein.core.shot.Shot;
import java.util.Map;
import org.springframework.stereotype.Component;

/** Renders passes, every frame a job of its own; a frame that is there already is not rendered again. */
@Component
public class PassesWork implements Work.ByFrame {
    private final Desk desk;

    PassesWork(Desk desk) {
        this.desk = desk;
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
    public void frame(Task task, int frame, Progress progress) throws Exception {
        // In the background it is the shot as it stands by now: nobody waits for what was.
        Shot s = task.low()
                ? desk.shots().head(task.shotId()).shot()
                : desk.shots().document(task.revisionId());
        render(s, frame, progress, shot(task));
    }

    /** For whom a frame was rendered: another shot that is made of the same may take it, too. */
    private Map<String, String> shot(Task task) {
        return Map.of(
                "shot", desk.shots().head(task.shotId()).row().name(), "revision", Long.toString(task.revisionId()));
    }

    /** Renders a frame's passes where they are not there yet. */
    public void render(Shot s, int frame, Progress progress) throws Exception {
        render(s, frame, progress, Map.of());
    }

    private void render(Shot s, int frame, Progress progress, Map<String, String> said) throws Exception {
        long t = System.nanoTime();
        String print = Prints.frame(s, frame);
        boolean raw = Filtered.asked(s);
        // Without its noise kept beside it a frame is of no use to its neighbours.
        if (raw && desk.results().find(Filtered.RAW, print) == null)
            desk.results().forget(kind(), print);
        Computed.once(
                desk,
                kind(),
                print,
                ".exr",
                () -> passes(s, frame, progress),
                (file, p) -> {
                    p.attributes.putAll(said);
                    p.write(file);
                    if (!raw) return;
                    p.raw.write(desk.media().result(Filtered.RAW, print + ".exr"));
                    desk.results().save(Filtered.RAW, print, Map.of(), print + ".exr");
                },
                p -> Map.of(
                        "noise", p.noise,
                        "samples", p.samples,
                        "seconds", (System.nanoTime() - t) / 1e9,
                        "width", p.width,
                        "height", p.height,
                        "parts", AddUp.worst(p)));
    }

    private Passes passes(Shot s, int frame, Progress progress) {
        try (Plates.Lent lent = desk.plates().need(s)) {
            // Scenes are kept by what they show: how they are rendered is said by the shot that is asked for.
            return desk.scenes()
                    .of(s)
                    .render(
                            s,
                            frame,
                            desk.comps().projected(s, lent.plate(), frame),
                            s.passes().size(),
                            s.passes().quality(),
                            progress);
        }
    }
}
