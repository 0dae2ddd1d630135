package dasein.app.stage;

import dasein.app.scene.Comps;
import dasein.app.scene.Filtered;
import dasein.app.scene.Scenes;
import dasein.app.store.MediaMapper;
import dasein.app.store.MediaStore;
import dasein.app.store.Plates;
import dasein.app.store.Results;
import dasein.app.store.Shots;
import org.springframework.stereotype.Component;

/** The stores that stages and their works need. */
@Component
public record Desk(
        Shots shots,
        Plates plates,
        Results results,
        MediaStore media,
        MediaMapper shelf,
        Scenes scenes,
        Comps comps,
        Filtered filtered) {}
