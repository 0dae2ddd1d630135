package dasein.app.scene;

import dasein.app.store.Held;
import dasein.app.store.MediaStore;
import dasein.core.comp.CompRecipe;
import dasein.core.image.Cube;
import org.springframework.stereotype.Component;

/** Tables of colours that grades end with; those last used stay in memory. */
@Component
public class Tables {
    /** The largest that is read: 129 entries a side, three floats each. */
    private static final long LARGEST = 12L * 129 * 129 * 129;

    private final MediaStore media;
    private final Held<Cube> held = new Held<>(0.02, c -> LARGEST);

    Tables(MediaStore media) {
        this.media = media;
    }

    /** That of a recipe, or null. */
    public Cube of(CompRecipe r) {
        return r.table().isEmpty() ? null : held.get(r.table(), () -> Cube.read(media.path(r.table())));
    }
}
