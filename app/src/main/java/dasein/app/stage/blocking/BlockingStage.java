package dasein.app.stage.blocking;

import dasein.app.stage.Change;
import dasein.app.stage.Form;
import dasein.app.stage.Line;
import dasein.app.stage.Seen;
import dasein.app.stage.Stage;
import java.io.IOException;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.stream.Collectors;
import org.springframework.stereotype.Component;
import org.springframework.ui.Model;
import org.springframework.web.multipart.MultipartFile;

/** Performers: where they stand and what they do. */
@Component
class BlockingStage implements Stage {
    private final BlockingEdits edits;
    private final BlockingBench bench;
    private final BlockingData data;
    private final ModelPage models;

    BlockingStage(BlockingEdits edits, BlockingBench bench, BlockingData data, ModelPage models) {
        this.edits = edits;
        this.bench = bench;
        this.data = data;
        this.models = models;
    }

    @Override
    public String key() {
        return "blocking";
    }

    @Override
    public String name() {
        return "Blocking";
    }

    @Override
    public List<String> works() {
        return List.of(ModelWork.KIND);
    }

    /** How everybody stands now is looked at once more, for Presence. */
    @Override
    public Line line(Seen s) {
        String who = s.shot().performers().stream()
                .map(p -> String.format(Locale.ROOT, "%s %.1f m", p.name(), p.heightMetres()))
                .collect(Collectors.joining(", "));
        return who.isEmpty() ? Line.missing("nobody placed yet") : Line.fresh(who);
    }

    @Override
    public void bench(Model m, Seen s) {
        bench.fill(m, s.shot(), s.plate());
    }

    @Override
    public Change edit(Seen s, String action, Form f) {
        return edits.apply(s.shot(), action, f);
    }

    @Override
    public void bring(Seen s, List<MultipartFile> files, Form f) throws IOException {
        models.bring(s.id(), files, f);
    }

    @Override
    public void data(Map<String, Object> m, Seen s) {
        m.put("performers", data.brief(s.shot(), s.first(), m));
    }
}
