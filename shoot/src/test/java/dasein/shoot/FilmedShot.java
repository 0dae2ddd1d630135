package dasein.shoot;

import dasein.core.cast.Blocking;
import dasein.core.format.Stills;
import dasein.core.ground.Piece;
import dasein.core.ground.SetRecipe;
import dasein.core.image.Encoding;
import dasein.core.light.LightRecipe;
import dasein.core.model.Model;
import dasein.core.model.file.ModelReader;
import dasein.core.shot.Shot;
import dasein.core.shot.ShotScene;
import dasein.core.solve.SolvedCamera;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;

/** A shot as an artist lays it who knows where something really stood: one ground, and the map of that hour's kit. */
final class FilmedShot {
    private FilmedShot() {}

    static Shot of(Film film) {
        return Shot.BLANK
                .with(List.of(film.cast()))
                .with(new LightRecipe("map", 0, 1, LightRecipe.BLANK.sun()))
                .with(new SetRecipe(List.of(), 0, 0, 0, List.of(), new SetRecipe.Catcher(0, -6, 14, 16), 0, 0.3)
                        .withPieces(film.hour() == Sky.EVENING ? shading() : List.of()));
    }

    /** What lays its shadow over the performer's under a low sun, which must not lie there once more. */
    private static List<Piece> shading() {
        return List.of(
                box(5, "quay wall", 4.87, 0, -18, 0, 0.95, 2.42, 44),
                crate(1, 2.0, 0, -8.55, 12, 0.72, 0.72),
                crate(2, 2.75, 0, -8.25, -20, 0.6, 0.6),
                crate(3, 2.2, 0.72, -8.5, 31, 0.5, 0.5),
                crate(4, 1.825, 0, -8.425, 0, 0.55, 0.4));
    }

    private static Piece crate(int id, double x, double y, double z, double turn, double size, double height) {
        return box(id, "crate " + id, x, y, z, turn, size, height, size);
    }

    private static Piece box(
            int id, String name, double x, double y, double z, double turn, double width, double height, double depth) {
        return new Piece(
                id,
                name,
                Piece.Kind.BOX,
                x,
                y,
                z,
                turn,
                width,
                height,
                depth,
                0,
                List.of(),
                List.of(Piece.Role.SHADOW, Piece.Role.BOUNCE, Piece.Role.HIDE),
                0,
                0);
    }

    static ShotScene scene(Film film, SolvedCamera solved) throws Exception {
        return scene(film, of(film), solved);
    }

    /** @param shot as of the film, or made otherwise */
    static ShotScene scene(Film film, Shot shot, SolvedCamera solved) throws Exception {
        return new ShotScene(
                shot,
                solved,
                models(film),
                Stills.read(Path.of("demo/kit", film.hour().name() + "_latlong.exr"), Encoding.LINEAR));
    }

    /** Where everybody is, without what lights them. */
    static Blocking blocking(Film film, Shot shot, SolvedCamera solved) {
        return ShotScene.blocking(shot, solved, models(film), Map.of(), List.of(), Map.of());
    }

    private static Map<String, Model> models(Film film) {
        return Map.of(
                film.cast().model(),
                MODELS.computeIfAbsent(film.model(), m -> ModelReader.read(Shoot.cast(Path.of("shoot/truth"), m))));
    }

    private static final Map<String, Model> MODELS = new ConcurrentHashMap<>();
}
