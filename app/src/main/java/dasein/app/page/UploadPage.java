package dasein.app.page;

import dasein.app.stage.FileNames;
import dasein.app.store.Media;
import dasein.app.store.Shots;
import dasein.app.store.Uploads;
import dasein.app.task.Tasks;
import dasein.core.shot.PlateRecipe;
import dasein.core.shot.Shot;
import jakarta.servlet.http.HttpServletRequest;
import java.io.IOException;
import java.util.Map;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/** Plates that come piece by piece; see {@link Uploads}. Every answer says how much is here. */
@RestController
public class UploadPage {
    private final Uploads uploads;
    private final Shots shots;
    private final Tasks tasks;

    UploadPage(Uploads uploads, Shots shots, Tasks tasks) {
        this.uploads = uploads;
        this.shots = shots;
        this.tasks = tasks;
    }

    private static Uploads.File file(String name, long size, String key) {
        return new Uploads.File(FileNames.plain(name), size, key);
    }

    /** @param show and {@code shotName} of a new shot, so that a name that is taken is refused before all is sent */
    @PostMapping("/uploads/begin")
    Map<String, Object> begin(
            @RequestParam String name,
            @RequestParam long size,
            @RequestParam String key,
            @RequestParam(required = false) String show,
            @RequestParam(required = false) String shotName) {
        if (show != null && shotName != null) shots.refuseName(show, shotName);
        return Map.of("at", uploads.begin(file(name, size, key)));
    }

    @PostMapping("/uploads/piece")
    Map<String, Object> piece(
            @RequestParam String name,
            @RequestParam long size,
            @RequestParam String key,
            @RequestParam long at,
            HttpServletRequest request)
            throws IOException {
        return Map.of("at", uploads.add(file(name, size, key), at, request.getInputStream()));
    }

    /** Into a shot that is there, or a new one. @return where to go on */
    @PostMapping("/uploads/done")
    Map<String, Object> done(
            @RequestParam String name,
            @RequestParam long size,
            @RequestParam String key,
            @RequestParam(required = false) Long shot,
            @RequestParam(defaultValue = "") String show,
            @RequestParam(defaultValue = "") String shotName) {
        Media m = uploads.finishPlate(file(name, size, key));
        long id = shot != null
                ? shot
                : shots.create(show, shotName, Shot.BLANK.with(PlateRecipe.BLANK.withFile(m.hash())));
        if (shot != null)
            shots.change(id, "plate " + m.name(), s -> s.with(s.plate().withFile(m.hash())));
        tasks.startIfIdle(id, shots.head(id).revision().id(), "health", "Plate health", "");
        return Map.of("go", "/shots/" + id + "/plate");
    }
}
