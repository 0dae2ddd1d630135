package dasein.app;

import dasein.app.stage.Change;
import dasein.app.stage.Desk;
import dasein.app.stage.Form;
import dasein.app.stage.Seeing;
import dasein.app.stage.Seen;
import dasein.app.stage.Stages;
import dasein.app.store.MediaStore;
import dasein.app.store.ModelShelf;
import dasein.app.store.Results;
import dasein.app.store.Shots;
import dasein.app.task.TaskMapper;
import dasein.core.lens.Lens;
import dasein.core.math.Pose;
import dasein.core.math.Vec3;
import dasein.core.model.file.ModelFile;
import dasein.core.plate.Rate;
import dasein.core.shot.PlateRecipe;
import dasein.core.shot.Prints;
import dasein.core.shot.Shot;
import dasein.core.solve.SolvedCamera;
import dasein.core.solve.file.CameraFile;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.concurrent.atomic.AtomicInteger;
import org.junit.jupiter.api.BeforeEach;
import org.springframework.beans.factory.annotation.Autowired;
import org.springframework.boot.test.context.SpringBootTest;
import org.springframework.boot.test.web.server.LocalServerPort;
import org.springframework.test.context.DynamicPropertyRegistry;
import org.springframework.test.context.DynamicPropertySource;

/** The application without a browser. All such tests share one, and each makes the shots that it needs. */
@SpringBootTest(classes = Server.class, webEnvironment = SpringBootTest.WebEnvironment.RANDOM_PORT)
public abstract class ServerTest {
    /** Of the footage. */
    protected static final int FRAMES = 6, WIDTH = 160, HEIGHT = 96;

    private static final AtomicInteger TAKES = new AtomicInteger();

    @LocalServerPort
    protected int port;

    @Autowired
    protected Shots shots;

    @Autowired
    protected Stages stages;

    @Autowired
    protected Results results;

    @Autowired
    protected MediaStore media;

    @Autowired
    protected ModelShelf shelf;

    @Autowired
    protected TaskMapper tasks;

    @Autowired
    protected Seeing seeing;

    @Autowired
    protected Desk desk;

    protected Client client;

    @DynamicPropertySource
    static void place(DynamicPropertyRegistry r) throws IOException {
        String url = TestDatabase.make("server_test");
        Path folder = Files.createTempDirectory("dasein-server");
        r.add("spring.datasource.url", () -> url);
        r.add("dasein.media", () -> folder.resolve("media").toString());
    }

    @BeforeEach
    void connect() {
        client = new Client(port);
    }

    /** A document with small footage of its own, whose rate is said, and nothing else. */
    protected Shot plated() {
        return plated(TAKES.incrementAndGet());
    }

    /** @param take the same number gives the same noise */
    protected Shot plated(int take) {
        try {
            String plate = media.plate(new ByteArrayInputStream(Frames.zip(FRAMES, WIDTH, HEIGHT, take)), "take.zip")
                    .hash();
            return Shot.BLANK.with(PlateRecipe.BLANK.withFile(plate).read("", "24", 0, 0));
        } catch (Exception e) {
            throw new IllegalStateException(e);
        }
    }

    protected long make(Shot s) {
        return shots.create("Low Water", "LW_" + System.nanoTime(), s);
    }

    /** @return hash of a model of the demo, brought in */
    protected String model(String name) {
        try (InputStream in = Files.newInputStream(Path.of("demo/models/" + name + ".glb"))) {
            return shelf.bring(List.of(new ModelShelf.Sent(name + ".glb", in)), ModelFile.Reading.GUESS)
                    .hash();
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    /** A camera of a kind that looks down at sixty points of a ground. */
    protected static SolvedCamera camera(String kind) {
        boolean moved = kind.equals("moving");
        List<SolvedCamera.Frame> frames = new ArrayList<>();
        for (int f = 1; f <= FRAMES; f++)
            frames.add(new SolvedCamera.Frame(
                    f, Pose.lookAt(new Vec3(moved ? 0.1 * f : 0, 1.6, 0), new Vec3(0.2, 0, -6), Vec3.Y), 150, 0.3, 40));
        List<SolvedCamera.Point> points = new ArrayList<>();
        Random r = new Random(4);
        if (moved || kind.equals("nodal"))
            for (int i = 1; i <= 60; i++)
                points.add(new SolvedCamera.Point(
                        i, new Vec3(6 * r.nextDouble() - 3, 0, -4 - 4 * r.nextDouble()), 0.3, 0.01));
        return new SolvedCamera(
                WIDTH,
                HEIGHT,
                new Rate(24, 1),
                kind,
                0.3,
                9,
                new Lens(150, WIDTH / 2.0, HEIGHT / 2.0, 0, 0),
                frames,
                points,
                2,
                List.of("It moved."));
    }

    /** Keeps a camera as what the shot's own settings came to. */
    protected void solve(Shot s, String kind) {
        String print = Prints.camera(s), file = print + ".json";
        SolvedCamera c = camera(kind);
        CameraFile.write(media.result("camera", file), c);
        Map<String, Object> facts = new HashMap<>(Map.of("rms", 0.3, "focalPx", 150.0, "frames", FRAMES));
        facts.putAll(Map.of("points", c.points().size(), "kind", kind, "k1", 0.0, "k2", 0.0));
        facts.putAll(Map.of("parallax", 9.0, "width", WIDTH));
        results.save("camera", print, facts, file);
    }

    /** What an edit makes of a document; nothing is kept. */
    protected Change edit(Shot s, String stage, String action, String... fields) {
        Map<String, String> f = new HashMap<>();
        for (int i = 0; i < fields.length; i += 2) f.put(fields[i], fields[i + 1]);
        return stages.of(stage).edit(seen(s), action, new Form(f));
    }

    /** A document as a request sees it. */
    protected Seen seen(Shot s) {
        Shots.Head h = shots.head(make(Shot.BLANK));
        return new Seen(new Shots.Head(h.row(), h.revision(), s, 1, false, false), desk, tasks);
    }
}
