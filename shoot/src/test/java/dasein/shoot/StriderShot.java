package dasein.shoot;

import dasein.core.cast.Performer;
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
import tools.jackson.databind.JsonNode;

/** LW_010 with the strider where it really stood, under the map of the kit. */
final class StriderShot {
    private StriderShot() {}

    static Shot of(TrueCamera real) {
        JsonNode s = real.truth().path("strider");
        return Shot.BLANK
                .with(List.of(new Performer(
                        1,
                        "strider",
                        "strider",
                        s.path("x").asDouble(),
                        0,
                        s.path("z").asDouble(),
                        s.path("headingDeg").asDouble(),
                        s.path("heightMetres").asDouble(),
                        s.path("clip").asString(),
                        0,
                        1,
                        true)))
                .with(new LightRecipe("map", 0, 1, LightRecipe.BLANK.sun()))
                .with(new SetRecipe(List.of(), 0, 0, 0, List.of(), new SetRecipe.Catcher(0, -6, 14, 16), 0, 0.3));
    }

    static ShotScene scene(Shot shot, SolvedCamera solved) throws Exception {
        return new ShotScene(
                shot,
                solved,
                Map.of("strider", ModelReader.read(Path.of("demo/models/strider.glb"))),
                Stills.read(Path.of("demo/kit/slipway_latlong.exr"), Encoding.LINEAR));
    }
}
