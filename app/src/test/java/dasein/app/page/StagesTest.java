package dasein.app.page;

import static org.assertj.core.api.Assertions.assertThat;

import dasein.app.Await;
import dasein.app.Client;
import dasein.app.Frames;
import dasein.app.Server;
import dasein.app.TestDatabase;
import dasein.app.stage.Seeing;
import dasein.app.stage.Seen;
import dasein.app.stage.Stage;
import dasein.app.stage.Stages;
import dasein.app.store.MediaStore;
import dasein.app.store.Results;
import dasein.app.store.Shots;
import dasein.app.task.TaskMapper;
import dasein.core.cast.Performer;
import dasein.core.lens.Lens;
import dasein.core.math.Pose;
import dasein.core.math.Vec3;
import dasein.core.plate.Rate;
import dasein.core.shot.CameraRecipe;
import dasein.core.shot.PlateRecipe;
import dasein.core.shot.Prints;
import dasein.core.shot.Shot;
import dasein.core.shot.ShotJson;
import dasein.core.shot.TrackRecipe;
import dasein.core.solve.SolvedCamera;
import dasein.core.solve.file.CameraFile;
import dasein.core.track.DrawnMask;
import java.io.ByteArrayInputStream;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Random;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.springframework.beans.factory.annotation.Autowired;
import org.springframework.boot.test.context.SpringBootTest;
import org.springframework.boot.test.web.server.LocalServerPort;
import org.springframework.mock.web.MockHttpServletRequest;
import org.springframework.mock.web.MockHttpServletResponse;
import org.springframework.test.context.DynamicPropertyRegistry;
import org.springframework.test.context.DynamicPropertySource;
import org.springframework.ui.ConcurrentModel;

/** Every stage opens for every kind of camera and in every state of the shot. */
@SpringBootTest(classes = Server.class, webEnvironment = SpringBootTest.WebEnvironment.RANDOM_PORT)
class StagesTest {
    private static final int FRAMES = 6;

    @TempDir
    static Path folder;

    @LocalServerPort
    int port;

    @Autowired
    Shots shots;

    @Autowired
    Stages stages;

    @Autowired
    Results results;

    @Autowired
    MediaStore media;

    @Autowired
    TaskMapper tasks;

    @Autowired
    Seeing seeing;

    @Autowired
    Panel panel;

    private Client client;
    private String plate;

    @DynamicPropertySource
    static void place(DynamicPropertyRegistry r) {
        String url = TestDatabase.make("stages_test");
        r.add("spring.datasource.url", () -> url);
        r.add("dasein.media", () -> folder.resolve("media").toString());
    }

    @BeforeEach
    void open() throws Exception {
        client = new Client(port);
        plate = media.plate(new ByteArrayInputStream(Frames.zip(FRAMES, 160, 96)), "take.zip")
                .hash();
    }

    /** A kind of camera: what the document says, and how it was solved. */
    private record Kind(String name, String solved, boolean depth) {
        Shot document(String plate) {
            Shot s = Shot.BLANK.with(PlateRecipe.BLANK.withFile(plate).read("", "24", 0, 0));
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
            new Kind("moved", "moving", true),
            new Kind("turned", "nodal", false),
            new Kind("stood still", "locked", false),
            new Kind("carried by a surface", "surface", false),
            new Kind("object", "moving", true),
            new Kind("none", null, false));

    private static SolvedCamera camera(Kind k) {
        List<SolvedCamera.Frame> frames = new ArrayList<>();
        for (int f = 1; f <= FRAMES; f++)
            frames.add(new SolvedCamera.Frame(
                    f,
                    Pose.lookAt(new Vec3(k.depth ? 0.1 * f : 0, 1.6, 0), new Vec3(0.2, 0, -6), Vec3.Y),
                    150,
                    0.3,
                    40));
        List<SolvedCamera.Point> points = new ArrayList<>();
        Random r = new Random(4);
        if (k.depth || k.solved.equals("nodal"))
            for (int i = 1; i <= 60; i++)
                points.add(new SolvedCamera.Point(
                        i, new Vec3(6 * r.nextDouble() - 3, 0, -4 - 4 * r.nextDouble()), 0.3, 0.01));
        return new SolvedCamera(
                160,
                96,
                new Rate(24, 1),
                k.solved,
                0.3,
                9,
                new Lens(150, 80, 48, 0, 0),
                frames,
                points,
                2,
                0,
                false,
                List.of("It moved."));
    }

    private void solve(Shot s, Kind k) {
        String print = Prints.camera(s), file = print + ".json";
        SolvedCamera c = camera(k);
        CameraFile.write(media.result("camera", file), c);
        results.save(
                "camera",
                print,
                Map.of(
                        "rms",
                        0.3,
                        "focalPx",
                        150.0,
                        "frames",
                        FRAMES,
                        "points",
                        c.points().size(),
                        "kind",
                        k.solved,
                        "k1",
                        0.0,
                        "k2",
                        0.0,
                        "parallax",
                        9.0,
                        "width",
                        160),
                file);
    }

    private static final String[] STATES = {"empty", "fresh", "stale", "failed", "running"};

    /** A shot with a camera of a kind, in a state. */
    private long shot(Kind k, String state) {
        long id = shots.create("Low Water", k.name + " " + state + " " + System.nanoTime(), k.document(plate));
        Shot s = shots.head(id).shot();
        if (!state.equals("empty") && k.solved != null) solve(s, k);
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
                k.document(plate)
                        .with(List.of(new Performer(1, "strider", "a".repeat(64), 0, 0, -5, 0, 2.4, "", 0, 1, true))));
        solve(shots.head(id).shot(), k);
        for (Stage t : stages.all()) {
            var page = client.get("/shots/" + id + "/" + t.key());
            assertThat(page.statusCode()).as(t.key()).isEqualTo(200);
            assertThat(page.body()).as(t.key()).contains("id=\"sheet\"", "id=\"undo\"");
        }
        assertThat(client.get("/shots/" + id + "/blocking").body()).contains("missing from the media folder");
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
