package dasein.app.stage.blocking;

import dasein.app.stage.Form;
import dasein.app.store.ModelShelf;
import dasein.app.store.Shots;
import dasein.app.task.Task;
import dasein.app.task.Work;
import dasein.core.Progress;
import dasein.core.model.file.ModelFile;
import dasein.core.model.file.WorkingSize;
import org.springframework.stereotype.Component;
import tools.jackson.databind.json.JsonMapper;

/** Reads a large model that has come, and puts it on the shelf; whoever plays the one it replaces plays it. */
@Component
class ModelWork implements Work {
    static final String KIND = "model";
    private static final JsonMapper JSON = new JsonMapper();

    private final ModelShelf shelf;
    private final Shots shots;

    ModelWork(ModelShelf shelf, Shots shots) {
        this.shelf = shelf;
        this.shots = shots;
    }

    /** What came, and how it is to be read. */
    record Settings(ModelShelf.Gathered files, ModelFile.Reading how) {
        String text() {
            return JSON.writeValueAsString(this);
        }
    }

    static Settings settings(ModelShelf.Gathered files, Form f) {
        ModelFile.Reading how = new ModelFile.Reading(
                f.choice("up", "", "", "y", "z"),
                Double.parseDouble(f.choice("unit", "0", "0", "1", "0.01", "0.001", "0.0254", "0.3048")),
                f.number("rate", "the rate", 24, 0.1, 1000),
                new WorkingSize(size(f, "triangles"), size(f, "texels")));
        return new Settings(files, how);
    }

    /** 0 for what serves, -1 for all there is. */
    private static int size(Form f, String field) {
        int most = (int) f.number(field, field, 0, -1, Integer.MAX_VALUE);
        return most < 0 ? Integer.MAX_VALUE : most;
    }

    @Override
    public String kind() {
        return KIND;
    }

    @Override
    public String run(Task task, Progress progress) {
        Settings w = JSON.readValue(task.settings(), Settings.class);
        shelve(shelf, shots, task.shotId(), w, progress);
        return w.files().name() + " stands on the shelf";
    }

    static void shelve(ModelShelf shelf, Shots shots, long shot, Settings w, Progress progress) {
        String from = w.files().instead(),
                to = shelf.shelve(w.files(), w.how(), progress).hash();
        if (from.isEmpty() || to.equals(from)) return;
        Shots.Head h = shots.head(shot);
        if (ModelPage.exchanged(h.shot(), from, to).equals(h.shot())) return;
        shots.edit(shot, h.revision().id(), "a model read otherwise", s -> ModelPage.exchanged(s, from, to));
    }
}
