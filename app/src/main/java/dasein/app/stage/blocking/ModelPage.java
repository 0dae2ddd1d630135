package dasein.app.stage.blocking;

import dasein.app.stage.FileNames;
import dasein.app.stage.Form;
import dasein.app.store.ModelShelf;
import dasein.app.store.Shots;
import dasein.app.task.Tasks;
import dasein.core.BadInput;
import dasein.core.Progress;
import dasein.core.cast.Performer;
import dasein.core.ground.Piece;
import dasein.core.shot.Shot;
import jakarta.servlet.http.HttpServletRequest;
import java.io.IOException;
import java.net.URI;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import org.springframework.http.HttpStatus;
import org.springframework.http.ResponseEntity;
import org.springframework.stereotype.Controller;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.multipart.MultipartFile;

/** Models and motions come onto the shelf, are read otherwise, and are given what they lacked. */
@Controller
public class ModelPage {
    private final ModelShelf shelf;
    private final Shots shots;
    private final Tasks tasks;

    ModelPage(ModelShelf shelf, Shots shots, Tasks tasks) {
        this.shelf = shelf;
        this.shots = shots;
        this.tasks = tasks;
    }

    private static List<ModelShelf.Sent> sent(List<MultipartFile> files) throws IOException {
        List<ModelShelf.Sent> out = new ArrayList<>();
        for (MultipartFile f : files)
            if (!f.isEmpty()) out.add(new ModelShelf.Sent(FileNames.of(f), f.getInputStream()));
        return out;
    }

    /** A motion file, or a model with what belongs to it. */
    void bring(long shot, List<MultipartFile> files, Form f) throws IOException {
        List<ModelShelf.Sent> all = sent(files);
        if (all.stream().allMatch(s -> s.name().toLowerCase(Locale.ROOT).endsWith(".bvh"))) {
            for (ModelShelf.Sent s : all) shelf.motion(s.in(), s.name());
            return;
        }
        if (f.text("as", "").equals("footage")) {
            for (ModelShelf.Sent s : all) shelf.footage(s.in(), s.name());
            return;
        }
        // The model gives the name.
        all.sort(java.util.Comparator.comparing(
                s -> !s.name().toLowerCase(Locale.ROOT).matches(".*\\.(glb|gltf|dae|obj|ply|stl|zip)")));
        shelve(shot, ModelWork.settings(shelf.gather(all), f));
    }

    /** What is large is read as a task, with the others' progress and cancel. */
    private void shelve(long shot, ModelWork.Settings w) {
        if (!w.files().takesLong()) {
            ModelWork.shelve(shelf, shots, shot, w, Progress.NONE);
            return;
        }
        try {
            tasks.start(shot, shots.head(shot).revision().id(), ModelWork.KIND, "Model", w.text());
        } catch (RuntimeException e) {
            shelf.drop(w.files());
            throw e;
        }
    }

    /** Another model in the place of one, for everything of a shot that has it. */
    static Shot exchanged(Shot s, String from, String to) {
        List<Performer> all = s.performers().stream()
                .map(p -> p.model().equals(from) ? p.withModel(to) : p)
                .toList();
        List<Piece> pieces = s.set().pieces().stream()
                .map(p -> p.model().equals(from) ? p.withModel(to) : p)
                .toList();
        return s.with(all).with(s.set().withPieces(pieces));
    }

    @PostMapping("/shots/{id}/blocking/reread")
    ResponseEntity<Void> reread(
            @PathVariable long id,
            @RequestParam String model,
            @RequestParam(value = "file", required = false) List<MultipartFile> files,
            @RequestParam Map<String, String> fields,
            HttpServletRequest request)
            throws IOException {
        Form f = new Form(fields);
        List<ModelShelf.Sent> more = files == null ? List.of() : sent(files);
        shelve(id, ModelWork.settings(shelf.gather(model, more, f.text("note", "")), f));
        return done(id, request);
    }

    /** A motion put onto a performer's skeleton. */
    @PostMapping("/shots/{id}/blocking/motion")
    ResponseEntity<Void> motion(
            @PathVariable long id,
            @RequestParam int performer,
            @RequestParam String motion,
            @RequestParam Map<String, String> fields,
            HttpServletRequest request) {
        Shots.Head h = shots.head(id);
        Performer p = h.shot().performers().stream()
                .filter(q -> q.id() == performer)
                .findFirst()
                .orElseThrow(() -> new BadInput("that performer is no longer in the shot"));
        Map<String, String> map = new java.util.LinkedHashMap<>();
        fields.forEach((k, v) -> {
            if (k.startsWith("joint ") && !v.isEmpty()) map.put(k.substring(6), v);
        });
        Form f = new Form(fields);
        String to = shelf.with(p.model(), motion, map, f.has("inPlace"));
        String clip = shelf.motion(motion).name();
        shots.edit(id, h.revision().id(), clip + " for " + p.name(), s -> {
            Shot all = exchanged(s, p.model(), to);
            return all.with(all.performers().stream()
                    .map(q -> q.id() == performer
                            ? q.withClips(List.of(new dasein.core.cast.ClipUse(
                                    clip, 0, 0, 0, 0, 1, dasein.core.cast.ClipUse.Repeat.LOOP, 0)))
                            : q)
                    .toList());
        });
        return done(id, request);
    }

    /** The page's script fetches the parts that changed by itself, a browser without it the whole page. */
    private static ResponseEntity<Void> done(long id, HttpServletRequest request) {
        return request.getHeader("HX-Request") != null
                ? ResponseEntity.noContent().build()
                : ResponseEntity.status(HttpStatus.SEE_OTHER)
                        .location(URI.create("/shots/" + id + "/blocking"))
                        .build();
    }
}
