package dasein.app.stage.light;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dasein.app.ServerTest;
import dasein.app.store.MediaMapper;
import dasein.app.task.Task;
import dasein.core.BadInput;
import dasein.core.Progress;
import dasein.core.format.Stills;
import dasein.core.image.Encoding;
import dasein.core.image.Image;
import dasein.core.shot.Shot;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.TreeMap;
import org.junit.jupiter.api.Test;
import org.springframework.beans.factory.annotation.Autowired;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/**
 * Maps made on the page: of photographs that are sent there, and of the plate; on the shelf and in the shot at once.
 */
class MapWorksTest extends ServerTest {
    @Autowired
    BallMapWork balls;

    @Autowired
    PlateMapWork plates;

    @Autowired
    CloudsWork clouds;

    @Autowired
    ChartMapWork charts;

    private Task task(long shot, String kind) {
        long revision = shots.head(shot).revision().id(), id = tasks.insert(shot, revision, kind, kind, "");
        return tasks.find(id);
    }

    @Test
    void photographsOfABallBecomeTheShotsMap() throws Exception {
        long id = make(plated());
        Map<String, byte[]> photos = new TreeMap<>();
        try (var list = Files.list(Path.of("demo/kit"))) {
            for (Path p : list.filter(k -> k.getFileName().toString().endsWith("_stops.jpg"))
                    .toList()) photos.put(p.getFileName().toString(), Files.readAllBytes(p));
        }
        assertThat(photos).hasSizeGreaterThanOrEqualTo(5);
        assertThat(client.upload("/shots/" + id + "/light/upload", "file", photos, Map.of("as", "ball"))
                        .statusCode())
                .isIn(200, 302);
        String stops = String.join(
                ",",
                photos.keySet().stream()
                        .map(n -> n.replaceAll("ball_([+-]\\d)_stops.jpg", "$1").replace("+", ""))
                        .toList());
        shots.change(id, "as it was shot", k -> {
            var b = k.light().clues().balls().get(0);
            return k.with(k.light()
                    .with(k.light()
                            .clues()
                            .with(new dasein.core.light.Clues.Ball(b.id(), b.photos(), stops, "", 6.17, 0.78))));
        });
        String said = balls.run(task(id, BallMapWork.KIND), Progress.NONE);
        assertThat(said).contains("differs by 0.0").contains("cut off in every photograph");
        Shot s = shots.head(id).shot();
        MediaMapper.ShelfItem item = desk.shelf().item(s.light().environment());
        JsonNode facts = new JsonMapper().readTree(item.facts());
        assertThat(facts.path("made").asString()).isEqualTo("of a ball");
        assertThat(facts.path("proofStops").asDouble()).isLessThan(0.05);
        // What the page shows of it.
        assertThat(client.bytes("/shelf/" + item.hash() + "-proof.png").statusCode())
                .isEqualTo(200);
        assertThat(client.bytes("/shelf/" + item.hash() + ".png").statusCode()).isIn(200, 204);
        assertThat(client.get("/shots/" + id + "/light").body())
                .contains("the ball again", "cut off in every photograph");
        Image map = Stills.read(media.path(item.hash()), Encoding.LINEAR);
        assertThat(map.width).isEqualTo(2 * map.height);
    }

    @Test
    void aGuessFromThePlateBecomesTheShotsMap() throws Exception {
        Shot plated = plated();
        long id = make(plated);
        solve(plated, "moving");
        String said = plates.run(task(id, PlateMapWork.KIND), Progress.NONE);
        assertThat(said).contains("of the sphere was seen").contains("no sun");
        Shot s = shots.head(id).shot();
        MediaMapper.ShelfItem item = desk.shelf().item(s.light().environment());
        assertThat(new JsonMapper().readTree(item.facts()).path("made").asString())
                .isEqualTo("guessed from the plate");
        assertThat(client.get("/shots/" + id + "/light").body()).contains("guessed from the plate");
        assertThat(client.get("/shelf/" + item.hash() + "-proof.png").statusCode())
                .isEqualTo(404);
        long bare = make(plated());
        assertThatThrownBy(() -> plates.run(task(bare, PlateMapWork.KIND), Progress.NONE))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("not solved");
        assertThatThrownBy(() -> balls.run(task(bare, BallMapWork.KIND), Progress.NONE))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("no photographs");
    }

    @Test
    void lightFollowsThePlateFrameByFrame() throws Exception {
        Shot plated = plated();
        long id = make(plated);
        solve(plated, "moving");
        shots.change(
                id,
                "ground marked",
                k -> k.with(
                        k.light().with(k.light().clues().with(new dasein.core.light.Clues.Patch(1, 1, 60, 70, true)))));
        String said = clouds.run(task(id, CloudsWork.KIND), Progress.NONE);
        assertThat(said).contains("keyed in 6 frames").containsPattern("by 2\\d places");
        var keys = shots.head(id).shot().light().curve("level").keys();
        assertThat(keys).hasSize(6);
        assertThat(keys.get(0).value())
                .as("where it was marked the light stays")
                .isEqualTo(1);
        assertThat(keys).allSatisfy(k -> assertThat(k.value()).isBetween(0.4, 2.5));
        // The map's sun goes with the map's level, and needs no keys of its own.
        assertThat(shots.head(id).shot().light().curve("sunLevel").keys()).isEmpty();
        long bare = make(plated());
        assertThatThrownBy(() -> clouds.run(task(bare, CloudsWork.KIND), Progress.NONE))
                .hasMessageContaining("not solved");
    }

    /** Six faces of one colour each, by their names, whatever their order; then the map is brought upright. */
    @Test
    void aPanoramaIsLaidOutAndBroughtUpright() throws Exception {
        long id = make(plated());
        Map<String, byte[]> faces = new TreeMap<>();
        String[] names = {"front", "right", "back", "left", "up", "down"};
        for (int k = 0; k < 6; k++) {
            Image m = new Image(32, 32, 3);
            for (float[] p : m.planes) java.util.Arrays.fill(p, 0.1f * (k + 1));
            Path p = Files.createTempDirectory("faces").resolve("face_" + names[k] + ".exr");
            dasein.core.format.Exr.writeColour(p, m);
            faces.put(p.getFileName().toString(), Files.readAllBytes(p));
        }
        assertThat(client.upload("/shots/" + id + "/light/upload", "file", faces, Map.of("as", "panorama"))
                        .statusCode())
                .isIn(200, 302);
        dasein.app.Await.until("laid out", () -> tasks.open(id).isEmpty());
        String hash = shots.head(id).shot().light().environment();
        Image map = Stills.read(media.path(hash), Encoding.LINEAR);
        assertThat(map.width).isEqualTo(128);
        // In the middle what is straight ahead, a quarter to the right of it the right face.
        assertThat(map.get(64, 32, 0)).isCloseTo(0.1f, org.assertj.core.api.Assertions.within(0.01f));
        assertThat(map.get(96, 32, 0)).isCloseTo(0.2f, org.assertj.core.api.Assertions.within(0.01f));
        // A look into it.
        assertThat(client.bytes("/shelf/" + hash + "-look.jpg?azimuth=90&elevation=0&field=60")
                        .statusCode())
                .isEqualTo(200);
        assertThat(client.get("/shelf/" + hash + "-look.jpg?azimuth=90&elevation=0&field=900")
                        .body())
                .contains("between 2 and 150");
        // And what the page lights by: floats of 256 by 128 texels, here those of the faces.
        byte[] soft = client.bytes("/shelf/" + hash + "-soft.bin?sun=true").body();
        assertThat(soft).hasSize(256 * 128 * 12);
        java.nio.ByteBuffer light = java.nio.ByteBuffer.wrap(soft).order(java.nio.ByteOrder.LITTLE_ENDIAN);
        assertThat(light.getFloat(12 * (64 * 256 + 192)))
                .as("right of the middle lies the right face")
                .isCloseTo(0.2f, org.assertj.core.api.Assertions.within(0.01f));
        // A horizon that dips by ten degrees ahead and rises behind: the map leans so.
        var answer = client.post(
                "/shots/" + id + "/light/start",
                Map.of("what", "upright", "horizon", "0,-10;90,0;180,10;-90,0", "verticals", ""));
        assertThat(answer.statusCode()).isEqualTo(200);
        dasein.app.Await.until("upright", () -> tasks.open(id).isEmpty());
        MediaMapper.ShelfItem item =
                desk.shelf().item(shots.head(id).shot().light().environment());
        assertThat(new JsonMapper().readTree(item.facts()).path("said").get(0).asString())
                .contains("leaned by 10.00 degrees", "misses by 0.00");
        assertThat(client.post("/shots/" + id + "/light/start", Map.of("what", "upright"))
                        .body())
                .contains("two upright lines");
        faces.remove("face_up.exr");
        assertThat(client.upload("/shots/" + id + "/light/upload", "file", faces, Map.of("as", "panorama"))
                        .body())
                .contains("six faces");
    }

    @Test
    void moreThanSixteenPhotographsAreRefusedAtOnce() throws Exception {
        Map<String, byte[]> many = new TreeMap<>();
        for (int i = 0; i < 17; i++) many.put("ball" + i + ".png", new byte[] {1});
        var answer = client.upload("/shots/" + make(plated()) + "/light/upload", "file", many, Map.of("as", "ball"));
        assertThat(answer.statusCode()).isEqualTo(422);
        assertThat(answer.body()).contains("ore than 16 photographs");
    }

    /** A map with light that is none is refused when it is brought in. */
    @Test
    void mapsWithImpossibleLightAreRefused() throws Exception {
        Path folder = Files.createTempDirectory("maps");
        for (float bad : new float[] {-2, Float.POSITIVE_INFINITY, Float.NaN}) {
            Image m = new Image(32, 16, 3);
            m.planes[1][40] = bad;
            Path p = folder.resolve("bad.exr");
            dasein.core.format.Exr.writeColour(p, m);
            Map<String, byte[]> files = new LinkedHashMap<>(Map.of("bad.exr", Files.readAllBytes(p)));
            var answer = client.upload("/shots/" + make(plated()) + "/light/upload", "file", files, Map.of());
            assertThat(answer.statusCode()).as("%s", bad).isEqualTo(422);
            assertThat(answer.body()).contains("negative or infinite");
        }
    }

    /** One chart by one camera, read for plate and map alike: the map stays what it was. */
    @Test
    void chartsOfBothCamerasBringTheMapToThePlatesColours() throws Exception {
        long id = make(plated());
        Image m = new Image(64, 32, 3);
        for (int c = 0; c < 3; c++) java.util.Arrays.fill(m.planes[c], 0.3f + 0.1f * c);
        Path map = Files.createTempDirectory("charts").resolve("even.exr");
        dasein.core.format.Exr.writeColour(map, m);
        client.upload("/shots/" + id + "/light/upload", "file", Map.of("even.exr", Files.readAllBytes(map)), Map.of());
        assertThatThrownBy(() -> ChartMapWork.Chosen.of(shots.head(id).shot().light(), ""))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("not read for the plate's camera");
        byte[] photo = Files.readAllBytes(Path.of("demo/kit/chart.jpg"));
        for (String as : new String[] {"chart-plate", "chart-map"})
            assertThat(client.upload(
                                    "/shots/" + id + "/light/upload",
                                    "file",
                                    Map.of("chart.jpg", photo),
                                    Map.of("as", as))
                            .statusCode())
                    .isIn(200, 302);
        assertThat(shots.head(id).shot().light().clues().charts()).hasSize(2).allSatisfy(c -> {
            assertThat(c.mean()).isLessThan(1);
            assertThat(c.corners()).hasSize(8);
        });
        assertThat(client.get("/shots/" + id + "/light").body()).contains("Bring the map to the plate");
        // What the picture draws.
        assertThat(client.json("/shots/" + id + "/data.json")
                        .path("clues")
                        .path("charts")
                        .size())
                .isEqualTo(2);
        charts.run(task(id, ChartMapWork.KIND), Progress.NONE);
        String made = shots.head(id).shot().light().environment();
        Image got = Stills.read(media.path(made), Encoding.LINEAR);
        for (int c = 0; c < 3; c++)
            assertThat(got.planes[c][100]).isCloseTo(0.3f + 0.1f * c, org.assertj.core.api.Assertions.within(0.002f));
        // A second one that stood in the shade is a chart of its own, and can be chosen.
        client.upload(
                "/shots/" + id + "/light/upload",
                "file",
                Map.of("chart_shade.jpg", Files.readAllBytes(Path.of("demo/kit/chart_shade.jpg"))),
                Map.of("as", "chart-plate", "place", "shade"));
        var clues = shots.head(id).shot().light().clues();
        assertThat(clues.charts("plate")).extracting("place").containsExactly("", "shade");
        assertThat(client.get("/shots/" + id + "/light").body()).contains("chart_shade.jpg, in the shade");
        int shade = clues.charts("plate").get(1).id();
        long other = tasks.insert(
                id, shots.head(id).revision().id(), ChartMapWork.KIND, "by the chart in the shade", shade + ",0");
        charts.run(tasks.find(other), Progress.NONE);
        MediaMapper.ShelfItem item =
                desk.shelf().item(shots.head(id).shot().light().environment());
        assertThat(item.facts()).contains("chart_shade.jpg, in the shade");
        // In the plate itself there is none.
        Shot s = shots.head(id).shot();
        assertThatThrownBy(() -> edit(s, "light", "chart", "frame", "1"))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("no chart");
        assertThatThrownBy(() -> edit(s, "light", "chart", "frame", "1", "corners", "1,2,3"))
                .hasMessageContaining("four places");
    }
}
