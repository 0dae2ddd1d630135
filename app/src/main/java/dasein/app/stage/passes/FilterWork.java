package dasein.app.stage.passes;

import dasein.app.scene.Filtered;
import dasein.app.stage.Computed;
import dasein.app.stage.Desk;
import dasein.app.task.Task;
import dasein.app.task.Work;
import dasein.core.BadInput;
import dasein.core.Progress;
import dasein.core.render.pass.AddUp;
import dasein.core.render.pass.Passes;
import dasein.core.shot.Shot;
import java.util.List;
import java.util.Map;
import org.springframework.stereotype.Component;

/** Filters rendered frames over their neighbours, every frame a job of its own. */
@Component
public class FilterWork implements Work.ByFrame {
    private final Desk desk;

    FilterWork(Desk desk) {
        this.desk = desk;
    }

    @Override
    public String kind() {
        return Filtered.KIND;
    }

    @Override
    public String run(Task task, Progress progress) {
        throw new IllegalStateException("frames are filtered one by one");
    }

    @Override
    public void frame(Task task, int frame, Progress progress) throws Exception {
        filter(desk.shots().document(task.revisionId()), frame, progress);
    }

    /** @throws BadInput when a frame that it is filtered over is not rendered */
    public void filter(Shot s, int frame, Progress progress) throws Exception {
        List<Integer> window = desk.filtered().window(s, frame);
        Computed.once(
                desk,
                kind(),
                desk.filtered().print(s, frame),
                ".exr",
                () -> desk.scenes()
                        .of(s)
                        .filtered(s, frame, window, f -> raw(s, f), s.passes().size(), progress),
                (file, p) -> p.write(file),
                p -> Map.of("frames", window.size(), "parts", AddUp.worst(p)));
    }

    private Passes raw(Shot s, int frame) {
        Passes p = desk.filtered().raw(s, frame);
        if (p == null) throw new BadInput("frame " + frame + " must be rendered again: its samples are lost");
        return p;
    }
}
