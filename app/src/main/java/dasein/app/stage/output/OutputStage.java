package dasein.app.stage.output;

import dasein.app.stage.Desk;
import dasein.app.stage.Form;
import dasein.app.stage.Line;
import dasein.app.stage.Seen;
import dasein.app.stage.Stage;
import dasein.app.store.ShotMapper;
import dasein.app.task.Task;
import dasein.app.task.TaskMapper;
import dasein.app.task.Tasks;
import dasein.core.BadInput;
import dasein.core.shot.Prints;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import org.springframework.stereotype.Component;
import org.springframework.ui.Model;

/** What other people open: movie, frames, camera and scene. */
@Component
class OutputStage implements Stage {
    private static final List<String> FORMATS = List.of("movie", "png", "exr", "straight");

    private final Desk desk;
    private final Tasks tasks;
    private final TaskMapper rows;

    OutputStage(Desk desk, Tasks tasks, TaskMapper rows) {
        this.desk = desk;
        this.tasks = tasks;
        this.rows = rows;
    }

    @Override
    public String key() {
        return "output";
    }

    @Override
    public String name() {
        return "Output";
    }

    @Override
    public List<String> works() {
        return List.of("output");
    }

    @Override
    public Line line(Seen s) {
        Task t = s.last("output");
        if (t != null && t.open()) return new Line("running", t.note());
        boolean written = s.plate() != null
                && desk.results().find("output", Prints.output(s.shot(), "movie", s.cutFirst(), s.cutLast())) != null;
        if (written) return Line.fresh("movie written");
        if (t != null && t.state().equals("failed")) return Line.failed(t.note());
        return t != null && t.state().equals("done")
                ? Line.stale("written, not the whole or older")
                : Line.missing("nothing written yet");
    }

    record Written(String label, String url, String size, boolean movie) {}

    @Override
    public void bench(Model m, Seen s) {
        m.addAttribute("rendered", s.rendered());
        m.addAttribute("written", s.plate() == null ? List.of() : written(s));
    }

    private List<Written> written(Seen s) {
        int first = s.cutFirst(), last = s.cutLast();
        Set<Writing> asked = new LinkedHashSet<>();
        for (String f : FORMATS) asked.add(new Writing(f, first, last));
        for (String done : rows.written(s.id())) asked.add(Writing.parse(done));
        List<Written> out = new ArrayList<>();
        for (Writing w : asked) {
            ShotMapper.Result r =
                    desk.results().find("output", Prints.output(s.shot(), w.format(), w.first(), w.last()));
            if (r == null) continue;
            String range = w.first() == first && w.last() == last ? "" : ", " + w.first() + " to " + w.last();
            out.add(new Written(
                    label(w.format()) + range,
                    r.fingerprint(),
                    size(r.bytes()),
                    w.format().equals("movie")));
        }
        return out;
    }

    private static String label(String format) {
        return switch (format) {
            case "movie" -> "H.264 movie";
            case "straight" -> "undistorted plate, ST maps";
            default -> format.toUpperCase(Locale.ROOT) + " frames";
        };
    }

    static String size(long bytes) {
        return bytes < 1 << 20
                ? (bytes + 1023) / 1024 + " KB"
                : String.format(Locale.ROOT, "%.1f MB", bytes / 1048576.0);
    }

    @Override
    public void start(Seen s, Form f) {
        int from = f.whole("from", "the first frame", s.first(), s.first(), s.last()),
                to = f.whole("to", "the last frame", s.last(), s.first(), s.last());
        if (to < from) throw new BadInput("the range ends before it begins");
        String format = f.choice("format", "movie", FORMATS.toArray(String[]::new));
        s.refuseWhile("output", "passes");
        boolean rendered = !format.equals("straight") && !s.shot().performers().isEmpty();
        if (rendered) s.readyToRender(from, to);
        tasks.start(s.id(), s.head().revision().id(), "output", "Output", new Writing(format, from, to).settings());
    }
}
