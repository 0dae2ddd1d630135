package dasein.app.stage.presence;

import dasein.app.stage.Form;
import dasein.app.stage.Line;
import dasein.app.stage.Seen;
import dasein.app.stage.Stage;
import dasein.app.task.Task;
import dasein.app.task.Tasks;
import dasein.core.BadInput;
import dasein.core.shot.Prints;
import java.util.List;
import org.springframework.stereotype.Component;
import org.springframework.ui.Model;
import tools.jackson.databind.JsonNode;

/** The finished shot measured against its own plate. */
@Component
class PresenceStage implements Stage {
    private final Tasks tasks;

    PresenceStage(Tasks tasks) {
        this.tasks = tasks;
    }

    @Override
    public String key() {
        return "presence";
    }

    @Override
    public String name() {
        return "Presence";
    }

    @Override
    public List<String> works() {
        return List.of("presence");
    }

    /** What the checks found over the frames that are rendered now, or null. */
    private static JsonNode found(Seen s) {
        List<Integer> frames = s.renderedInCut();
        return frames.isEmpty() ? null : s.facts("presence", Prints.presence(s.shot(), frames, s.filtered()));
    }

    @Override
    public Line line(Seen s) {
        Task t = s.last("presence");
        JsonNode f = found(s);
        return Line.computed(t, () -> f == null ? null : said(f), "not looked at yet");
    }

    private static String said(JsonNode f) {
        int bad = 0;
        for (JsonNode x : f.path("findings")) if (!x.path("passed").asBoolean()) bad++;
        return bad == 0
                ? "nothing found, " + f.path("frames").asInt() + " frames"
                : bad + (bad == 1 ? " finding" : " findings");
    }

    @Override
    public void bench(Model m, Seen s) {
        m.addAttribute("rendered", s.rendered());
        m.addAttribute("presence", found(s));
    }

    @Override
    public void start(Seen s, Form f) {
        s.needPlate();
        if (s.renderedInCut().isEmpty()) throw new BadInput("no frame is rendered yet; render passes first");
        s.refuseWhile("presence");
        tasks.start(s.id(), s.head().revision().id(), "presence", "Presence", "");
    }
}
