package dasein.app;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dasein.app.page.Warming;
import dasein.app.store.ShotMapper;
import dasein.app.store.Shots;
import dasein.app.task.TaskMapper;
import dasein.core.comp.step.Gain;
import dasein.core.format.Exr;
import dasein.core.format.Glb;
import dasein.core.format.Stills;
import dasein.core.image.Encoding;
import dasein.core.image.Image;
import dasein.core.shot.Shot;
import java.io.ByteArrayOutputStream;
import java.net.Socket;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.zip.ZipEntry;
import java.util.zip.ZipOutputStream;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.springframework.beans.factory.annotation.Autowired;
import org.springframework.boot.test.context.SpringBootTest;
import org.springframework.boot.test.web.server.LocalServerPort;
import org.springframework.test.context.DynamicPropertyRegistry;
import org.springframework.test.context.DynamicPropertySource;

/** Revisions, uploads, bad input and access, on the running server with a real database. */
@SpringBootTest(classes = Server.class, webEnvironment = SpringBootTest.WebEnvironment.RANDOM_PORT)
class ShotsTest {
    @TempDir
    static Path folder;

    @LocalServerPort
    int port;

    @Autowired
    Shots shots;

    @Autowired
    ShotMapper mapper;

    @Autowired
    TaskMapper tasks;

    @Autowired
    Warming warming;

    private Client client;

    @DynamicPropertySource
    static void place(DynamicPropertyRegistry r) {
        String url = TestDatabase.make("shots_test");
        r.add("spring.datasource.url", () -> url);
        r.add("dasein.inbox", () -> folder.resolve("inbox").toString());
        r.add("dasein.media", () -> folder.resolve("media").toString());
    }

    /** Work that a test left behind writes into the folder, which is deleted in the end. */
    @AfterEach
    void untilNothingRuns() throws Exception {
        Await.until("nothing runs", () -> tasks.busy() == 0);
    }

    @BeforeEach
    void open() {
        client = new Client(port);
    }

    private static Shot gain(Shot s, double g) {
        return s.with(s.comp().with(Gain.GAIN, g));
    }

    @Test
    void undoAndRedoWalkTheRevisionsAndNothingIsLost() {
        long id = shots.create("Low Water", "LW_" + System.nanoTime(), Shot.BLANK);
        Shots.Head a = shots.edit(id, shots.head(id).revision().id(), "gain 2", s -> gain(s, 2)),
                b = shots.edit(id, a.revision().id(), "gain 3", s -> gain(s, 3));
        assertThat(b.shot().comp().get(Gain.GAIN)).isEqualTo(3);
        shots.undo(id, shots.head(id).revision().id());
        assertThat(shots.head(id).shot().comp().get(Gain.GAIN)).isEqualTo(2);
        shots.redo(id, shots.head(id).revision().id());
        assertThat(shots.head(id).shot().comp().get(Gain.GAIN)).isEqualTo(3);
        shots.undo(id, shots.head(id).revision().id());
        shots.edit(id, shots.head(id).revision().id(), "gain 4", s -> gain(s, 4));
        assertThat(shots.head(id).canRedo()).isFalse();
        // What was undone is still there.
        assertThat(shots.document(b.revision().id()).comp().get(Gain.GAIN)).isEqualTo(3);
    }

    @Test
    void aShotThatWasTakenAwayCanBePutBackUnlessItsNameIsTaken() throws Exception {
        String name = "LW_" + System.nanoTime();
        long id = shots.create("Low Water", name, gain(Shot.BLANK, 2));
        assertThatThrownBy(() -> shots.refuseName("Low Water", name)).hasMessageContaining("already has a shot");
        assertThat(client.post("/shots/" + id + "/take-away", Map.of()).statusCode())
                .isIn(200, 302);
        assertThat(client.get("/shots/" + id + "/plate").statusCode()).isEqualTo(404);
        assertThat(mapper.shots()).noneMatch(r -> r.id() == id);
        assertThat(client.get("/").body()).contains("/shots/" + id + "/put-back");
        long other = shots.create("Low Water", name, Shot.BLANK);
        assertThatThrownBy(() -> shots.putBack(id)).hasMessageContaining("already has a shot " + name);
        shots.takeAway(other);
        shots.putBack(id);
        assertThat(shots.head(id).shot().comp().get(Gain.GAIN)).isEqualTo(2);
        assertThatThrownBy(() -> shots.putBack(id)).isInstanceOf(Shots.NotThere.class);
    }

    /** All that is looked at after a start is there to be looked at, and is of the shot that was changed last. */
    @Test
    void whatIsWarmedIsThere() throws Exception {
        long id = shots.create("Low Water", "LW_" + System.nanoTime(), Shot.BLANK);
        List<String> pages = warming.pages();
        assertThat(pages).contains("/", "/shots/" + id + "/blocking", "/shots/" + id + "/comp");
        for (String page : pages)
            assertThat(client.get(page).statusCode()).as(page).isEqualTo(200);
    }

    @Test
    void theSecondSaveOfTheSameHeadIsTold() {
        long id = shots.create("Low Water", "LW_" + System.nanoTime(), Shot.BLANK),
                seen = shots.head(id).revision().id();
        shots.edit(id, seen, "gain 2", s -> gain(s, 2));
        assertThatThrownBy(() -> shots.edit(id, seen, "gain 5", s -> gain(s, 5)))
                .isInstanceOf(Shots.Conflict.class);
        assertThat(shots.head(id).shot().comp().get(Gain.GAIN)).isEqualTo(2);
    }

    @Test
    void badUploadsAreAnsweredInASentenceAndLeaveNothingBehind() throws Exception {
        int before = mapper.shots().size();
        HttpResponse<String> text = client.upload(
                "/shots",
                "plate",
                "notes.mp4",
                "only text, renamed".getBytes(StandardCharsets.UTF_8),
                Map.of("show", "Low Water", "name", "bad1"));
        assertThat(text.statusCode()).isEqualTo(422);
        assertThat(text.body())
                .contains("notes.mp4 is not a movie")
                .doesNotContain("Exception")
                .doesNotContain(".part-");
        byte[] movie = Files.readAllBytes(Path.of("demo/LW_010.mp4"));
        HttpResponse<String> cut = client.upload(
                "/shots",
                "plate",
                "cut.mp4",
                Arrays.copyOf(movie, movie.length / 3),
                Map.of("show", "Low Water", "name", "bad2"));
        assertThat(cut.statusCode()).isEqualTo(422);
        assertThat(cut.body()).contains("cut.mp4 is cut short");
        ByteArrayOutputStream zip = new ByteArrayOutputStream();
        try (ZipOutputStream z = new ZipOutputStream(zip)) {
            for (String n : List.of("f1.png", "f2.png", "f4.png")) {
                z.putNextEntry(new ZipEntry("../../" + n));
                z.write(png());
                z.closeEntry();
            }
        }
        HttpResponse<String> gap = client.upload(
                "/shots", "plate", "frames.zip", zip.toByteArray(), Map.of("show", "Low Water", "name", "bad3"));
        // Frames that are missing can be bridged, so the shot is made and says what is wrong.
        assertThat(gap.statusCode()).isEqualTo(302);
        assertThat(mapper.shots().size()).isEqualTo(before + 1);
        long id = mapper.shots().stream()
                .filter(r -> r.name().equals("bad3"))
                .findFirst()
                .orElseThrow()
                .id();
        assertThat(client.get("/shots/" + id + "/plate").body())
                .contains("rame 3 is missing in")
                .contains("taken by their times");
        assertThat(client.post("/shots/" + id + "/plate/edit", Map.of("notes", "frame 3 was lost on set"))
                        .statusCode())
                .isEqualTo(200);
        assertThat(client.post("/shots/" + id + "/plate/edit", Map.of("order", "BY_TIME"))
                        .body())
                .contains("How many frames a second?");
        assertThat(client.post("/shots/" + id + "/plate/edit", Map.of("rate", "25"))
                        .body())
                .contains("4 frames at 25")
                .doesNotContain("How many frames a second?");
        assertThat(Files.exists(folder.resolve("f1.png"))).isFalse();
        try (var left = Files.list(folder.resolve("media/in"))) {
            assertThat(left.map(p -> p.getFileName().toString()).filter(n -> n.startsWith(".part-")))
                    .isEmpty();
        }
    }

    private static byte[] png() throws Exception {
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        javax.imageio.ImageIO.write(
                new java.awt.image.BufferedImage(32, 32, java.awt.image.BufferedImage.TYPE_INT_RGB), "png", out);
        return out.toByteArray();
    }

    @Test
    void aModelThatLacksItsTextureSaysSoAndAMapOfTheWrongShapeIsRefused() throws Exception {
        long id = shots.create("Low Water", "LW_" + System.nanoTime(), Shot.BLANK);
        Glb g = new Glb();
        g.add("images", g.object().put("uri", "paint.png"));
        g.add("textures", g.object().put("source", 0));
        var prim = g.object();
        prim.putArray("primitives")
                .addObject()
                .put("indices", g.indices(new int[] {0, 1, 2}))
                .putObject("attributes")
                .put("POSITION", g.floats(new float[] {0, 0, 0, 1, 0, 0, 0, 2, 0}, "VEC3", 34962));
        g.add("meshes", prim);
        g.add("nodes", g.object().put("mesh", 0));
        HttpResponse<String> model =
                client.upload("/shots/" + id + "/blocking/upload", "file", "thing.glb", g.bytes(), Map.of());
        assertThat(model.statusCode()).as(model.body()).isEqualTo(302);
        String page = client.get("/shots/" + id + "/blocking").body(),
                hash = page.replaceAll("(?s).*?blocking/reread.*?name=\"model\"\\s+value=\"([0-9a-f]{64})\".*", "$1");
        assertThat(page).contains("lacks paint.png");
        // Given what it lacked, it lacks nothing any more.
        assertThat(client.upload("/shots/" + id + "/blocking/reread", "file", "Paint.png", png(), Map.of("model", hash))
                        .statusCode())
                .isEqualTo(303);
        assertThat(client.get("/shots/" + id + "/blocking").body())
                .doesNotContain("lacks paint.png")
                .contains("thing");
        HttpResponse<String> none = client.upload(
                "/shots/" + id + "/blocking/upload",
                "file",
                "thing.txt",
                "hello".getBytes(java.nio.charset.StandardCharsets.UTF_8),
                Map.of());
        assertThat(none.statusCode()).isEqualTo(422);
        assertThat(none.body()).contains("thing.txt is no model");
        Path exr = folder.resolve("square.exr");
        Exr.writeColour(exr, new Image(64, 64, 3));
        HttpResponse<String> map = client.upload(
                "/shots/" + id + "/light/upload", "file", "square.exr", Files.readAllBytes(exr), Map.of());
        assertThat(map.statusCode()).isEqualTo(422);
        assertThat(map.body()).contains("twice as wide as high");
    }

    @Test
    void anUploadInPiecesGoesOnWhereItStopped() throws Exception {
        byte[] movie = Files.readAllBytes(Path.of("demo/LW_010.mp4"));
        int half = movie.length / 2;
        String of = "name=..%2Fwalk.mp4&size=" + movie.length + "&key=7";
        assertThat(client.send("/uploads/begin?" + of, new byte[0]).body()).contains("\"at\":0");
        assertThat(client.send("/uploads/piece?at=0&" + of, Arrays.copyOf(movie, half))
                        .body())
                .contains("\"at\":" + half);
        // The connection broke; somebody begins again, and an old piece comes late.
        assertThat(client.send("/uploads/begin?" + of, new byte[0]).body()).contains("\"at\":" + half);
        assertThat(client.send("/uploads/piece?at=0&" + of, Arrays.copyOf(movie, 1000))
                        .body())
                .contains("\"at\":" + half);
        HttpResponse<String> early = client.send("/uploads/done?show=Low+Water&shotName=early&" + of, new byte[0]);
        assertThat(early.statusCode()).isEqualTo(422);
        assertThat(early.body()).contains("not here as a whole");
        assertThat(client.send("/uploads/piece?at=" + half + "&" + of, new byte[movie.length])
                        .body())
                .contains("longer than it said");
        assertThat(client.send("/uploads/piece?at=" + half + "&" + of, Arrays.copyOfRange(movie, half, movie.length))
                        .body())
                .contains("\"at\":" + movie.length);
        HttpResponse<String> done = client.send("/uploads/done?show=Pieces&shotName=whole&" + of, new byte[0]);
        assertThat(done.body()).contains("/plate");
        String page = done.body().replaceAll(".*\"go\":\"([^\"]+)\".*", "$1");
        assertThat(client.get(page).body()).contains("1280 x 720");

        // The rate of the show is another: said loudly, in the call sheet and on the bench.
        long show = mapper.shots().stream()
                .filter(r -> r.name().equals("whole"))
                .findFirst()
                .orElseThrow()
                .showId();
        assertThat(client.post("/shows/" + show + "/rate", Map.of("rate", "25")).statusCode())
                .isEqualTo(302);
        assertThat(client.get(page).body())
                .contains("class=\"failed\"")
                .contains("he plate has 24 frames a second, the show 25");
        assertThat(client.post("/shows/" + show + "/rate", Map.of("rate", "soon"))
                        .statusCode())
                .isEqualTo(422);
        client.post("/shows/" + show + "/rate", Map.of("rate", "24"));
        assertThat(client.get(page).body()).doesNotContain("class=\"failed\"");
    }

    @Test
    void theWatchedFolderGivesWhatLiesInItAndNothingElse() throws Exception {
        Path inbox = folder.resolve("inbox"), frames = Files.createDirectories(inbox.resolve("take 7"));
        for (int f = 101; f <= 104; f++) Files.write(frames.resolve("a." + f + ".png"), png());
        Files.createSymbolicLink(
                inbox.resolve("out.mp4"), Path.of("demo/LW_010.mp4").toAbsolutePath());
        long id = shots.create("Low Water", "LW_" + System.nanoTime(), Shot.BLANK);
        assertThat(client.get("/shots/" + id + "/plate").body())
                .contains("take 7")
                .doesNotContain("out.mp4");
        for (String name : List.of("out.mp4", "../media", "/etc/passwd", "..", "take 7/a.101.png")) {
            HttpResponse<String> r =
                    client.post("/shots/" + id + "/plate/start", Map.of("action", "bring", "name", name));
            assertThat(r.statusCode()).as(name).isEqualTo(422);
            assertThat(r.body()).contains("in the watched folder");
        }
        assertThat(client.post("/shots/" + id + "/plate/start", Map.of("action", "bring", "name", "take 7"))
                        .statusCode())
                .isEqualTo(200);
        Await.until(
                "brought in",
                () -> client.get("/shots/" + id + "/plate").body().contains("4 frames, nobody said how many a second"));
        assertThat(client.json("/shots/" + id + "/data.json")
                        .path("plate")
                        .path("first")
                        .asInt())
                .isEqualTo(101);
        assertThat(Files.exists(frames.resolve("a.101.png"))).isTrue();
    }

    private interface Frame {
        void write(Path to, int number);
    }

    /** Uploads a zip of frames 1 to n and asks for a camera; what the task says in the end. */
    private String solved(int n, String suffix, Frame frame) throws Exception {
        Path dir = Files.createTempDirectory(folder, "frames");
        ByteArrayOutputStream zip = new ByteArrayOutputStream();
        try (ZipOutputStream z = new ZipOutputStream(zip)) {
            for (int k = 1; k <= n; k++) {
                Path p = dir.resolve(k + suffix);
                frame.write(p, k);
                z.putNextEntry(new ZipEntry(p.getFileName().toString()));
                z.write(Files.readAllBytes(p));
                z.closeEntry();
            }
        }
        HttpResponse<String> up = client.upload(
                "/shots",
                "plate",
                "frames.zip",
                zip.toByteArray(),
                Map.of("show", "Low Water", "name", "odd" + System.nanoTime()));
        if (up.statusCode() != 302) return up.body();
        String shot = up.headers().firstValue("Location").orElseThrow().replaceAll(".*/shots/(\\d+)/.*", "$1");
        HttpResponse<String> early = client.post("/shots/" + shot + "/camera/start", Map.of());
        if (early.statusCode() != 200) {
            assertThat(early.body()).contains("how many frames a second");
            client.post("/shots/" + shot + "/plate/edit", Map.of("rate", "24"));
            client.post("/shots/" + shot + "/camera/start", Map.of());
        }
        Await.until(
                "the task fails in the end",
                () -> client.get("/shots/" + shot + "/camera").body().contains("class=\"failed\""));
        return client.get("/shots/" + shot + "/camera").body();
    }

    @Test
    void platesThatCannotBeSolvedAreSaidOnThePage() throws Exception {
        Image flat = new Image(96, 64, 3), noise = new Image(96, 64, 3), other = new Image(80, 64, 3);
        java.util.Random r = new java.util.Random(8);
        for (float[] p : flat.planes) Arrays.fill(p, 0.3f);
        for (float[] p : noise.planes) for (int i = 0; i < p.length; i++) p[i] = 0.1f + 0.6f * r.nextFloat();
        assertThat(solved(9, ".png", (to, k) -> Stills.writePng(to, flat, Encoding.SRGB)))
                .contains("no contrast");
        assertThat(solved(3, ".png", (to, k) -> Stills.writePng(to, noise, Encoding.SRGB)))
                .contains("3 frames");
        assertThat(solved(9, ".exr", (to, k) -> Exr.writeColour(to, k == 5 ? other : noise)))
                .contains("rame 5 is 80 x 64");
    }

    @Test
    void wrongNumbersAreSaidAndChangeNothing() throws Exception {
        long id = shots.create("Low Water", "LW_" + System.nanoTime(), Shot.BLANK),
                seen = shots.head(id).revision().id();
        HttpResponse<String> r = client.post("/shots/" + id + "/comp/edit", Map.of("gain", "much", "seen", "" + seen));
        assertThat(r.statusCode()).isEqualTo(422);
        assertThat(r.body()).contains("Gain must be a number");
        assertThat(shots.head(id).revision().id()).isEqualTo(seen);
        assertThat(client.post("/shots/" + id + "/passes/start", Map.of()).body())
                .contains("Bring in a plate first");
        assertThat(client.get("/shots/987654/plate").statusCode()).isEqualTo(404);
    }

    /** A page from elsewhere must neither read nor write here, even under a borrowed host name. */
    @Test
    void othersAreKeptOut() throws Exception {
        for (String head : List.of(
                "GET / HTTP/1.1\r\nHost: evil.example\r\n",
                "POST /shots HTTP/1.1\r\nHost: localhost\r\nContent-Length: 0\r\n")) {
            try (Socket s = new Socket("127.0.0.1", port)) {
                s.getOutputStream().write((head + "Connection: close\r\n\r\n").getBytes(StandardCharsets.US_ASCII));
                String answer = new String(s.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
                assertThat(answer).startsWith("HTTP/1.1 403");
            }
        }
        assertThat(client.get("/shelf/..%2f..%2fetc%2fpasswd.glb").statusCode()).isIn(400, 403, 404);
    }
}
