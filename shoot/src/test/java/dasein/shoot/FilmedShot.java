package dasein.shoot;

import dasein.core.format.Stills;
import dasein.core.ground.SetRecipe;
import dasein.core.image.Encoding;
import dasein.core.light.LightRecipe;
import dasein.core.model.file.ModelReader;
import dasein.core.shot.Shot;
import dasein.core.shot.ShotScene;
import dasein.core.solve.SolvedCamera;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;

/** A shot as an artist lays it who knows where something really stood: one ground, and the map of that hour's kit. */
final class FilmedShot {
    private FilmedShot() {}

    static Shot of(Film film) {
        return Shot.BLANK
                .with(List.of(film.cast()))
                .with(new LightRecipe("map", 0, 1, LightRecipe.BLANK.sun()))
                .with(new SetRecipe(List.of(), 0, 0, 0, List.of(), new SetRecipe.Catcher(0, -6, 14, 16), 0, 0.3));
    }

    static ShotScene scene(Film film, SolvedCamera solved) throws Exception {
        return new ShotScene(
                of(film),
                solved,
                Map.of(film.cast().model(), ModelReader.read(Path.of("demo/models", film.model()))),
                Stills.read(Path.of("demo/kit", film.hour().name() + "_latlong.exr"), Encoding.LINEAR));
    }
}
