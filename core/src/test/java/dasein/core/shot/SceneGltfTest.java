package dasein.core.shot;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import dasein.core.cast.Performer;
import dasein.core.key.Curve;
import dasein.core.lens.Lens;
import dasein.core.light.lamp.Lamp;
import dasein.core.light.lamp.LampRecipe;
import dasein.core.math.Pose;
import dasein.core.math.Vec3;
import dasein.core.model.Mesh;
import dasein.core.model.Model;
import dasein.core.model.Posing;
import dasein.core.model.file.ModelReader;
import dasein.core.plate.Rate;
import dasein.core.solve.SolvedCamera;
import dasein.core.solve.file.CameraExchange;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.stream.IntStream;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** A shot that was written as glTF is the shot: read again, each vertex lies where the renderer has it. */
class SceneGltfTest {
    private static final int FIRST = 11, LAST = 30;
    private static final Rate RATE = new Rate(25, 1);
    private static ShotScene scene;
    private static Path file;
    private static JsonNode json;

    @TempDir
    static Path folder;

    private static SolvedCamera camera() {
        return new SolvedCamera(
                640,
                360,
                RATE,
                "moving",
                0.2,
                10,
                new Lens(700, 320, 180, -0.05, 0),
                IntStream.rangeClosed(FIRST, LAST)
                        .mapToObj(f -> new SolvedCamera.Frame(
                                f, Pose.lookAt(new Vec3(0.1 * f, 1.6, 6), new Vec3(0, 0.6, 0), Vec3.Y), 700, 0.2, 8))
                        .toList(),
                List.of(new SolvedCamera.Point(7, new Vec3(1, 0, -2), 0.2)));
    }

    @BeforeAll
    static void write() throws Exception {
        Performer walks = new Performer(1, "walks", "strider", 0.5, 0, -1, 30, 2, "walk", 0.2, 1.3, true)
                .with(
                        "x",
                        new Curve(
                                List.of(
                                        new Curve.Key(FIRST, 0.5, Curve.Ease.LINEAR),
                                        new Curve.Key(LAST, 1.5, Curve.Ease.LINEAR)),
                                List.of()));
        Performer rolls = new Performer(2, "rolls", "mule", -2, 0.1, -3, -60, 1.1, "rolling", 0, 1, true);
        LampRecipe point = LampRecipe.fresh(1, Lamp.Kind.POINT, 1, 2),
                spot = LampRecipe.fresh(2, Lamp.Kind.SPOT, -1, 2);
        Shot s = Shot.BLANK.with(List.of(walks, rolls));
        s = s.with(s.light().withLamps(List.of(point, spot)));
        Map<String, Model> models = Map.of(
                "strider", ModelReader.read(Path.of("demo/models/strider.glb")),
                "mule", ModelReader.read(Path.of("demo/models/mule.glb")));
        scene = new ShotScene(s, camera(), models, null);
        byte[] glb = SceneGltf.of(scene);
        file = Files.write(folder.resolve("scene.glb"), glb);
        int length = ByteBuffer.wrap(glb).order(ByteOrder.LITTLE_ENDIAN).getInt(12);
        json = new JsonMapper().readTree(new String(glb, 20, length, StandardCharsets.UTF_8));
    }

    @Test
    void everyVertexLiesWhereItIsRendered() {
        Model back = ModelReader.read(file);
        assertThat(back.clips()).hasSize(1);
        Posing posing = new Posing(back);
        for (int f : new int[] {FIRST, FIRST + 7, LAST}) {
            posing.at(back.clips().get(0), (f - FIRST) / 25.0);
            int part = 0;
            double worst = 0;
            for (Mesh m : scene.blocking().meshes(f, f))
                for (int v = 0; v < m.position0().length / 3; part++) {
                    Model.Part p = back.parts().get(part);
                    float[] at = new float[p.position().length];
                    posing.place(p, at, null);
                    for (int i = 0; i < at.length; i++)
                        worst = Math.max(worst, Math.abs(at[i] - m.position0()[3 * v + i]));
                    v += p.vertices();
                }
            assertThat(worst).as("metres, frame " + f).isLessThan(1e-4);
        }
    }

    @Test
    void theCameraIsItsOwnAndMovesInTheSameClip() throws Exception {
        SolvedCamera c = CameraExchange.read(file, CameraExchange.Reading.PLAIN);
        assertThat(c.frames()).hasSize(LAST - FIRST + 1);
        for (SolvedCamera.Frame f : camera().frames()) {
            assertThat(c.frame(f.frame()).pose().position().distance(f.pose().position()))
                    .isLessThan(1e-5);
            assertThat(c.frame(f.frame()).pose().rotation().angleTo(f.pose().rotation()))
                    .isLessThan(1e-4);
        }
        assertThat(c.lens().k1()).isEqualTo(-0.05);
        assertThat(json.path("animations")).hasSize(1);
    }

    /** KHR_lights_punctual: kinds, places and cones; they shine along -Z of their node. */
    @Test
    void lampsShineFromWhereTheyStand() {
        JsonNode lights = json.path("extensions").path("KHR_lights_punctual").path("lights");
        assertThat(json.path("extensionsUsed").toString()).contains("KHR_lights_punctual");
        int seen = 0;
        for (JsonNode n : json.path("nodes")) {
            JsonNode k = n.path("extensions").path("KHR_lights_punctual").path("light");
            if (k.isMissingNode()) continue;
            JsonNode l = lights.get(k.asInt());
            if (l.path("type").asString().equals("directional")) continue;
            seen++;
            boolean spot = l.path("type").asString().equals("spot");
            assertThat(n.path("translation").get(0).asDouble()).isEqualTo(spot ? -1 : 1);
            assertThat(n.path("translation").get(1).asDouble()).isEqualTo(2);
            assertThat(l.path("intensity").asDouble()).isGreaterThan(0);
            if (!spot) continue;
            assertThat(2 * Math.toDegrees(l.path("spot").path("outerConeAngle").asDouble()))
                    .isCloseTo(60, within(1e-6));
            JsonNode q = n.path("rotation");
            double x = q.get(0).asDouble(),
                    y = q.get(1).asDouble(),
                    z = q.get(2).asDouble(),
                    w = q.get(3).asDouble();
            // Of -Z by that turn, the part upwards: straight down.
            assertThat(-2 * (y * z - x * w)).isCloseTo(-1, within(1e-6));
        }
        assertThat(seen).isEqualTo(2);
    }

    /** glTF 2.0, section 3: what numbers name is there, clips' times rise, and joints are nodes. */
    @Test
    void whatIsNamedIsThere() {
        for (JsonNode a : json.path("accessors"))
            assertThat(a.path("bufferView").asInt())
                    .isLessThan(json.path("bufferViews").size());
        for (JsonNode c : json.path("animations").get(0).path("channels")) {
            assertThat(c.path("target").path("node").asInt())
                    .isLessThan(json.path("nodes").size());
            JsonNode s = json.path("animations")
                    .get(0)
                    .path("samplers")
                    .get(c.path("sampler").asInt());
            int keys = json.path("accessors")
                    .get(s.path("input").asInt())
                    .path("count")
                    .asInt();
            assertThat(keys).isEqualTo(LAST - FIRST + 1);
            assertThat(json.path("accessors")
                                    .get(s.path("output").asInt())
                                    .path("count")
                                    .asInt()
                            % keys)
                    .isZero();
        }
        for (JsonNode s : json.path("skins"))
            for (JsonNode j : s.path("joints"))
                assertThat(j.asInt()).isLessThan(json.path("nodes").size());
        for (JsonNode n : json.path("nodes")) {
            JsonNode mesh = json.path("meshes").get(n.path("mesh").asInt(-1));
            if (mesh == null) continue;
            JsonNode first = mesh.path("primitives").get(0);
            assertThat(first.path("attributes").has("JOINTS_0")).isEqualTo(n.has("skin"));
            assertThat(first.path("mode").asInt(4))
                    .isEqualTo(n.path("name").asString().equals("points") ? 0 : 4);
        }
        List<String> names = json.path("nodes")
                .valueStream()
                .map(n -> n.path("name").asString())
                .toList();
        assertThat(names).contains("walks", "rolls", "camera", "points", "ground", "lamp 1", "lamp 2");
    }
}
