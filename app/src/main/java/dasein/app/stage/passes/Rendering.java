package dasein.app.stage.passes;

import dasein.app.stage.Seen;
import dasein.app.task.FrameOrder;
import dasein.app.task.Tasks;
import dasein.core.BadInput;
import java.util.List;
import java.util.stream.IntStream;
import org.springframework.stereotype.Component;

/** Has those frames of a shot rendered that are not, as its newest revision wants them. */
@Component
public class Rendering {
    private final Tasks tasks;

    Rendering(Tasks tasks) {
        this.tasks = tasks;
    }

    /** The whole of what is shown, the ends and the middle first. */
    public void start(Seen s) {
        start(s, s.cutFirst(), s.cutLast(), FrameOrder.ENDS_FIRST);
    }

    void start(Seen s, int from, int to, FrameOrder order) {
        if (to < from) throw new BadInput("the range ends before it begins");
        s.refuseWhile("passes", "output");
        s.readyToRender(from, to);
        List<Integer> frames = IntStream.rangeClosed(from, to)
                .filter(k -> !s.rendered().contains(k))
                .boxed()
                .toList();
        tasks.startFrames(s.id(), s.head().revision().id(), "passes", "Passes", order.of(frames));
    }
}
