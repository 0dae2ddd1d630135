package dasein.app.page;

import dasein.app.stage.FileNames;
import dasein.app.store.Media;
import dasein.app.store.MediaStore;
import dasein.app.store.Shots;
import dasein.app.task.Tasks;
import dasein.core.shot.PlateRecipe;
import dasein.core.shot.Shot;
import java.io.IOException;
import org.springframework.stereotype.Component;
import org.springframework.web.multipart.MultipartFile;

/** A shot that begins, with its plate or without; how the plate is comes to be looked at. */
@Component
public class NewShot {
    private final MediaStore media;
    private final Shots shots;
    private final Tasks tasks;

    NewShot(MediaStore media, Shots shots, Tasks tasks) {
        this.media = media;
        this.shots = shots;
        this.tasks = tasks;
    }

    /** @param plate may be null, or empty; @return number of the shot */
    public long create(String show, String name, MultipartFile plate) throws IOException {
        Media m = plate == null || plate.isEmpty() ? null : media.plate(plate.getInputStream(), FileNames.of(plate));
        long id = shots.create(
                show, name, m == null ? Shot.BLANK : Shot.BLANK.with(PlateRecipe.BLANK.withFile(m.hash())));
        if (m != null) tasks.startIfIdle(id, shots.head(id).revision().id(), "health", "Plate health", "");
        return id;
    }
}
