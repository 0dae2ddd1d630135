package dasein.app.page;

import static org.assertj.core.api.Assertions.assertThat;

import dasein.app.Await;
import dasein.app.ServerTest;
import dasein.app.stage.Seen;
import dasein.app.stage.Stage;
import dasein.core.cast.Matte;
import dasein.core.cast.Performer;
import dasein.core.shot.CameraRecipe;
import dasein.core.shot.Shot;
import dasein.core.shot.ShotJson;
import dasein.core.shot.TrackRecipe;
import dasein.core.track.DrawnMask;
import java.awt.image.BufferedImage;
import java.io.ByteArrayOutputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import javax.imageio.ImageIO;
import org.junit.jupiter.api.Test;
import org.springframework.beans.factory.annotation.Autowired;
import org.springframework.mock.web.MockHttpServletRequest;
import org.springframework.mock.web.MockHttpServletResponse;
import org.springframework.ui.ConcurrentModel;

/** Every stage opens for every kind of camera and in every state of the shot. */
class StagesTest extends ServerTest {
    @Autowired
    Panel panel;

    /** A kind of camera: what the document says, and how it was solved. */
    private record Kind(String name, String solved) {
        Shot document(Shot s) {
            return switch (name) {
                case "stood still" -> s.with(camera("locked", 0, List.of()));
                case "carried by a surface" ->
                    s.with(camera("locked", 1, List.of()))
                            .with(s.tracks()
                                    .withSurfaces(List.of(new DrawnMask(
                                            1,
                                            "wall",
                                            0,
                                            DrawnMask.Carry.PLANE,
                                            List.of(new DrawnMask.Key(1, List.of(9., 9., 90., 9., 90., 80., 9., 80.))),
                                            DrawnMask.Use.SURFACE,
                                            List.of()))));
                case "object" ->
                    s.with(camera("auto", 0, List.of(new CameraRecipe.Moved(1, "ferry", 1, 0))))
                            .with(s.tracks()
                                    .withGroups(List.of(new TrackRecipe.TrackGroup(
                                            1, "ferry", "#8fa8b8", false, true, List.of(1, 2)))));
                default -> s;
            };
        }

        /** The blank recipe with some of its entries set, as a document would. */
        private static CameraRecipe camera(String kind, int surface, List<CameraRecipe.Moved> objects) {
            return ShotJson.read("{\"camera\": {\"kind\": \"" + kind + "\", \"surface\": " + surface + "}}")
                    .camera()
                    .withObjects(objects);
        }
    }

    private static final List<Kind> KINDS = List.of(
            new Kind("moved", "moving"),
            new Kind("turned", "nodal"),
            new Kind("stood still", "locked"),
            new Kind("carried by a surface", "surface"),
            new Kind("object", "moving"),
            new Kind("none", null));

    private static final String[] STATES = {"empty", "fresh", "stale", "failed", "running"};

    /** A shot with a camera of a kind, in a state. */
    private long shot(Kind k, String state) {
        long id = shots.create("Low Water", k.name + " " + state + " " + System.nanoTime(), k.document(plated()));
        Shot s = shots.head(id).shot();
        if (!state.equals("empty") && k.solved != null) solve(s, k.solved);
        if (state.equals("stale"))
            shots.change(
                    id,
                    "threshold",
                    d -> d.with(ShotJson.read("{\"camera\": {\"smoothPx\": 3}}").camera()));
        long revision = shots.head(id).revision().id();
        for (Stage t : stages.all())
            for (String kind : t.works())
                switch (state) {
                    case "failed" -> ended(id, revision, kind, "failed", "the disk is full; make room");
                    case "stale", "fresh" -> ended(id, revision, kind, "done", "all of it");
                    case "running" -> tasks.start(tasks.insert(id, revision, kind, kind, setting(kind)));
                    default -> {}
                }
        return id;
    }

    private static String setting(String kind) {
        return kind.equals("output") ? "movie 1 6" : "";
    }

    private void ended(long shot, long revision, String kind, String how, String note) {
        long task = tasks.insert(shot, revision, kind, "The work of " + kind, setting(kind));
        tasks.start(task);
        tasks.end(task, how, note);
    }

    @Test
    void everyStageOpensForEveryKindOfCameraInEveryState() throws Exception {
        for (Kind k : KINDS) {
            for (String state : STATES) {
                long id = shot(k, state);
                assertThat(client.get("/shots/" + id + "/data.json").statusCode())
                        .isEqualTo(200);
                for (Stage t : stages.all()) {
                    String where = t.key() + ", camera " + k.name + ", " + state;
                    var page = client.get("/shots/" + id + "/" + t.key());
                    assertThat(page.statusCode()).as(where).isEqualTo(200);
                    assertThat(page.body())
                            .as(where)
                            .contains("id=\"sheet\"", "id=\"undo\"", "</html>")
                            .doesNotContain("Cannot be shown");
                    if (state.equals("failed") && !t.works().isEmpty())
                        assertThat(page.body())
                                .as(where)
                                .contains(
                                        "The work of " + t.works().get(0) + ": the disk is full; make room.",
                                        "data-again");
                }
            }
        }
    }

    /** The same with somebody placed, whose model is gone: said, and no stage breaks. */
    @Test
    void aMissingModelIsSaidAndBreaksNothing() throws Exception {
        Kind k = KINDS.get(0);
        long id = shots.create(
                "Low Water",
                "gone " + System.nanoTime(),
                k.document(plated())
                        .with(List.of(new Performer(1, "strider", "a".repeat(64), 0, 0, -5, 0, 2.4, "", 0, 1, true))));
        solve(shots.head(id).shot(), k.solved);
        for (Stage t : stages.all()) {
            var page = client.get("/shots/" + id + "/" + t.key());
            assertThat(page.statusCode()).as(t.key()).isEqualTo(200);
            assertThat(page.body()).as(t.key()).contains("id=\"sheet\"", "id=\"undo\"");
        }
        assertThat(client.get("/shots/" + id + "/blocking").body()).contains("missing from the media folder");
    }

    /** A model with a route, parts and a look, the same as a flock, and footage on a card: every panel opens. */
    @Test
    void everyKindOfPerformerHasItsPanel() throws Exception {
        long id = shot(KINDS.get(0), "fresh");
        String blocking = "/shots/" + id + "/blocking";
        byte[] model = Files.readAllBytes(Path.of("demo/models/mule.glb"));
        assertThat(client.upload(blocking + "/upload", "file", "mule.glb", model, Map.of())
                        .statusCode())
                .isIn(200, 302);
        ByteArrayOutputStream png = new ByteArrayOutputStream();
        ImageIO.write(new BufferedImage(40, 60, BufferedImage.TYPE_INT_ARGB), "png", png);
        assertThat(client.upload(blocking + "/upload", "file", "figure.png", png.toByteArray(), Map.of("as", "footage"))
                        .statusCode())
                .isIn(200, 302);
        String page = client.get(blocking).body();
        edited(blocking, "add", "model", page.replaceAll("(?s).*?name=\"model\"\\s+value=\"(\\w{64})\".*", "$1"));
        edited(
                blocking,
                "card-add",
                "footage",
                page.replaceAll("(?s).*name=\"footage\"\\s+value=\"(\\w{64})\".*", "$1"));
        edited(blocking, "route-draw", "id", "1", "points", "0,-4,0,-8");
        edited(blocking, "flock-set", "id", "1", "count", "5");
        edited(blocking, "card-set", "id", "2", "erode", "2", "spill", "GREEN", "shadowToSun_", "1");
        page = client.get(blocking).body();
        assertThat(page)
                .contains("name=\"shadowToSun\"", "name=\"erode\"", "name=\"count\"", "1 frame,")
                .doesNotContain("Cannot be shown");
        assertThat(client.get("/shots/" + id + "/blocking.json").statusCode()).isEqualTo(200);
        assertThat(shots.head(id).shot().performers().get(1).card().matte().spill())
                .isEqualTo(Matte.Spill.GREEN);
    }

    private void edited(String blocking, String action, String... fields) throws Exception {
        Map<String, String> all = new HashMap<>(Map.of("action", action));
        for (int i = 0; i < fields.length; i += 2) all.put(fields[i], fields[i + 1]);
        var answer = client.post(blocking + "/edit", all);
        assertThat(answer.statusCode()).as(action + ": " + answer.body()).isEqualTo(200);
        assertThat(answer.body()).as(action).doesNotContain("Cannot be shown");
    }

    @Test
    void aStageThatBreaksIsSaidInItsPlace() {
        long id = shots.create("Low Water", "breaks " + System.nanoTime(), Shot.BLANK);
        Stage breaking = new Stage() {
            @Override
            public String key() {
                return "comp";
            }

            @Override
            public String name() {
                return "Comp";
            }

            @Override
            public dasein.app.stage.Line line(Seen s) {
                throw new IllegalStateException("broken");
            }

            @Override
            public void bench(org.springframework.ui.Model m, Seen s) {
                throw new IllegalStateException("broken");
            }
        };
        String said = panel.of(
                breaking,
                seeing.of(id),
                new ConcurrentModel(),
                new MockHttpServletRequest(),
                new MockHttpServletResponse());
        assertThat(said).contains("Cannot be shown", "undo the last change").doesNotContain("IllegalState");
    }

    /** What failed is said until it is done again, and can be tried again from where it is said. */
    @Test
    void aFailedTaskIsTriedAgain() throws Exception {
        long id = shot(KINDS.get(5), "empty");
        ended(id, shots.head(id).revision().id(), "health", "failed", "the disk is full");
        String page = client.get("/shots/" + id + "/plate").body();
        String task = page.replaceAll("(?s).*again\\?task=(\\d+).*", "$1");
        assertThat(client.post("/shots/" + id + "/plate/again?task=" + task, Map.of())
                        .statusCode())
                .isEqualTo(200);
        Await.until(
                "looked over",
                () -> !client.get("/shots/" + id + "/plate").body().contains("the disk is full"));
        // Of another shot it is refused.
        long other = shot(KINDS.get(5), "empty");
        assertThat(client.post("/shots/" + other + "/plate/again?task=" + task, Map.of())
                        .statusCode())
                .isEqualTo(404);
    }
}
