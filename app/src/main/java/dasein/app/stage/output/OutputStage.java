package dasein.app.stage.output;

import dasein.app.stage.Form;
import dasein.app.stage.Line;
import dasein.app.stage.Seen;
import dasein.app.stage.Stage;
import dasein.app.task.Task;
import dasein.app.task.Tasks;
import dasein.core.BadInput;
import dasein.core.image.Encoding;
import dasein.core.output.Format;
import dasein.core.output.Reframe;
import dasein.core.render.pass.PassList;
import java.util.Arrays;
import java.util.List;
import org.springframework.stereotype.Component;
import org.springframework.ui.Model;

/** What other people open: movie, frames, camera and scene. */
@Component
class OutputStage implements Stage {
    private final Tasks tasks;
    private final WrittenFiles files;

    OutputStage(Tasks tasks, WrittenFiles files) {
        this.tasks = tasks;
        this.files = files;
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
        List<WrittenFiles.Written> there = files.of(s);
        if (!there.isEmpty()) return Line.fresh(there.size() == 1 ? "written" : there.size() + " files written");
        if (t != null && t.state().equals("failed")) return Line.failed(t.note());
        return t != null && t.state().equals("done")
                ? Line.stale("written, older than the shot")
                : Line.missing("nothing written yet");
    }

    @Override
    public void bench(Model m, Seen s) {
        m.addAttribute("rendered", s.rendered());
        m.addAttribute("formats", Format.values());
        m.addAttribute("shapes", Reframe.Shape.values());
        m.addAttribute(
                "encodings",
                Arrays.stream(Encoding.values()).filter(e -> !e.linear()).toList());
        m.addAttribute(
                "passNames", PassList.ALL_PASSES.stream().map(p -> p.name()).toList());
        m.addAttribute("written", files.of(s));
        m.addAttribute("next", files.next(s));
        // The form stands as it was sent last.
        Task t = s.last("output");
        m.addAttribute("asked", t == null ? Writing.plain(Format.H264.key, 0, 0) : Writing.parse(t.settings()));
        if (s.plate() == null) return;
        m.addAttribute("cutFirst", s.cutFirst());
        m.addAttribute("cutLast", s.cutLast());
    }

    @Override
    public void start(Seen s, Form f) {
        int from = f.whole("from", "the first frame", s.first(), s.first(), s.last()),
                to = f.whole("to", "the last frame", s.last(), s.first(), s.last());
        if (to < from) throw new BadInput("the range ends before it begins");
        Format k = Format.of(f.text("format", Format.H264.key));
        boolean picture = k.finished();
        String encoding = k.light() ? "" : f.text("encoding", "");
        if (!encoding.isEmpty()) Encoding.of(encoding);
        List<String> passes = k != Format.PASSES
                ? List.of()
                : PassList.ALL_PASSES.stream()
                        .map(p -> p.name())
                        .filter(n -> f.tick("pass_" + n, false))
                        .toList();
        Writing w = new Writing(
                k.key,
                from,
                to,
                encoding,
                picture ? f.text("shape", Reframe.Shape.WHOLE.label) : null,
                f.number("across", "what is kept across", 50, 0, 100) / 100,
                f.number("down", "what is kept down", 50, 0, 100) / 100,
                picture ? f.whole("width", "the width", 0, 0, 8192) : 0,
                picture && f.tick("slate", false),
                picture && f.tick("burnIn", false),
                k.movie != null && f.tick("sound", false),
                f.whole("version", "the version", files.next(s), 1, 999),
                passes.size() == PassList.ALL_PASSES.size() ? List.of() : passes);
        w.reframe();
        if (k.movie != null) {
            int[] size = w.reframe().size(s.plate().width(), s.plate().height());
            if (size[0] < k.movie.leastWidth() || size[1] < k.movie.leastHeight())
                throw new BadInput(k.label + " begins at " + k.movie.leastWidth() + " x " + k.movie.leastHeight()
                        + " pixels; this would be " + size[0] + " x " + size[1]);
        }
        s.refuseWhile("output", "passes");
        if (k == Format.PASSES && s.shot().performers().isEmpty())
            throw new BadInput("there is nobody in the shot yet, so there are no passes");
        if (k == Format.MATTES
                && s.shot().performers().isEmpty()
                && s.shot().tracks().masks().isEmpty())
            throw new BadInput("nothing is masked and nobody is in the shot: there are no mattes");
        if (k != Format.STRAIGHT && !s.shot().performers().isEmpty()) s.readyToRender(from, to);
        tasks.start(s.id(), s.head().revision().id(), "output", "Output", w.settings());
    }
}
