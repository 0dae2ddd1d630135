package dasein.app.stage.light;

import dasein.app.stage.Desk;
import dasein.app.store.Media;
import dasein.core.format.Exr;
import dasein.core.image.Image;
import dasein.core.light.LightRecipe;
import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Map;
import java.util.function.UnaryOperator;
import org.springframework.stereotype.Component;

/** Puts a map that was made here on the shelf, and into the shot it was made for. */
@Component
class MapShelf {
    private final Desk desk;

    MapShelf(Desk desk) {
        this.desk = desk;
    }

    /** @param facts what is known of it besides what its numbers tell; @param more what else changes with it */
    Media put(
            long shot,
            Image map,
            String name,
            Map<String, Object> facts,
            String summary,
            UnaryOperator<LightRecipe> more)
            throws IOException {
        Path tmp = Files.createTempFile("map", ".exr");
        try {
            Exr.writeColour(tmp, map);
            Media made;
            try (InputStream in = Files.newInputStream(tmp)) {
                made = desk.media().environment(in, name + ".exr", facts);
            }
            desk.shots().change(shot, summary, k -> k.with(more.apply(k.light().withEnvironment(made.hash()))));
            return made;
        } finally {
            Files.deleteIfExists(tmp);
        }
    }
}
