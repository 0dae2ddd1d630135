package dasein.app.store;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dasein.app.Frames;
import dasein.app.Server;
import dasein.app.TestDatabase;
import dasein.core.BadInput;
import dasein.core.plate.Rate;
import dasein.core.shot.PlateRecipe;
import dasein.core.shot.Shot;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.springframework.beans.factory.annotation.Autowired;
import org.springframework.boot.test.context.SpringBootTest;
import org.springframework.jdbc.core.JdbcTemplate;
import org.springframework.test.context.DynamicPropertyRegistry;
import org.springframework.test.context.DynamicPropertySource;

/** Media and results when something goes wrong under them: nothing is lost, nothing lies. */
@SpringBootTest(classes = Server.class, webEnvironment = SpringBootTest.WebEnvironment.NONE)
class StoreTest {
    @TempDir
    static Path folder;

    @DynamicPropertySource
    static void place(DynamicPropertyRegistry r) {
        String url = TestDatabase.make("store_test");
        r.add("spring.datasource.url", () -> url);
        r.add("dasein.media", () -> folder.resolve("media").toString());
    }

    @Autowired
    MediaStore media;

    @Autowired
    MediaMapper rows;

    @Autowired
    JdbcTemplate db;

    @Autowired
    Results results;

    @Autowired
    Plates plates;

    @Autowired
    Uploads uploads;

    private static InputStream in(byte[] b) {
        return new ByteArrayInputStream(b);
    }

    private static byte[] zip(int seed) throws Exception {
        return Frames.zip(3, 40 + seed, 32);
    }

    @Test
    void threePeopleWhoSendOneFileAtOnceAllHaveIt() throws Exception {
        byte[] take = zip(1);
        ExecutorService all = Executors.newFixedThreadPool(3);
        CountDownLatch go = new CountDownLatch(1);
        List<Future<Media>> sent = new ArrayList<>();
        for (int k = 0; k < 3; k++)
            sent.add(all.submit(() -> {
                go.await();
                return media.plate(in(take), "take.zip");
            }));
        go.countDown();
        String hash = sent.get(0).get().hash();
        for (Future<Media> f : sent) assertThat(f.get().hash()).isEqualTo(hash);
        assertThat(media.path(hash)).isDirectory();
        all.shutdown();
    }

    /** The program ended after the file was put in its place and before its row was written. */
    @Test
    void aFileWithoutARowIsTakenUp() throws Exception {
        byte[] take = zip(2);
        String hash = media.plate(in(take), "take.zip").hash();
        db.update("delete from media where hash = ?", hash);
        assertThat(rows.find(hash)).isNull();
        assertThat(media.plate(in(take), "take.zip").hash()).isEqualTo(hash);
        assertThat(rows.find(hash)).isNotNull();
    }

    /** What is good as a photo may be no light map, though its content is known. */
    @Test
    void aKnownFileIsCheckedForEveryKind() throws Exception {
        byte[] square = Frames.png(64, 64, 9);
        assertThat(media.photo(in(square), "ball.png").hash()).hasSize(64);
        assertThatThrownBy(() -> media.environment(in(square), "ball.png"))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("twice as wide as high");
        byte[] wide = Frames.png(64, 32, 9);
        assertThat(media.environment(in(wide), "sky.png").hash())
                .isEqualTo(media.photo(in(wide), "sky.png").hash());
    }

    /** A playlist names other files; a decoder that followed it would show what lies outside. */
    @Test
    void aPlaylistIsNoPlate() throws IOException {
        for (String list : List.of(
                "#EXTM3U\n#EXT-X-TARGETDURATION:10\n#EXTINF:10,\nfile:///etc/passwd\n#EXT-X-ENDLIST\n",
                "ffconcat version 1.0\nfile '/etc/passwd'\n"))
            assertThatThrownBy(() -> media.plate(in(list.getBytes(StandardCharsets.UTF_8)), "take.mov"))
                    .isInstanceOf(BadInput.class)
                    .hasMessageContaining("take.mov");
    }

    @Test
    void whatIsEmptyDamagedOrNothingIsRefusedAndLeavesNothing() throws Exception {
        long before = count();
        byte[] cut = java.util.Arrays.copyOf(zip(3), 300);
        for (byte[] bad : new byte[][] {{}, "hello".getBytes(StandardCharsets.UTF_8), cut})
            assertThatThrownBy(() -> media.plate(in(bad), "take.zip")).isInstanceOf(BadInput.class);
        assertThat(count()).isEqualTo(before);
    }

    private static long count() throws IOException {
        try (var s = Files.list(folder.resolve("media/in"))) {
            return s.count();
        }
    }

    @Test
    void aResultWhoseFileIsLostEmptyCutOrDamagedIsNotThere() throws IOException {
        byte[] good = "0123456789".getBytes(StandardCharsets.UTF_8);
        record Harm(String name, byte[] instead) {}
        for (Harm h : List.of(
                new Harm("lost", null),
                new Harm("empty", new byte[0]),
                new Harm("cut", "01234".getBytes(StandardCharsets.UTF_8)))) {
            Path p = media.result("tracks", h.name + ".csv");
            Files.write(p, good);
            results.save("tracks", h.name, Map.of("count", 1), h.name + ".csv");
            assertThat(results.find("tracks", h.name)).as(h.name).isNotNull();
            if (h.instead == null) Files.delete(p);
            else Files.write(p, h.instead);
            assertThat(results.known("tracks", List.of(h.name))).as(h.name).isEmpty();
            assertThat(results.find("tracks", h.name)).as(h.name).isNull();
            // Computed anew it is there again.
            Files.write(p, good);
            results.save("tracks", h.name, Map.of("count", 1), h.name + ".csv");
            assertThat(results.find("tracks", h.name)).as(h.name).isNotNull();
        }
        Path p = media.result("tracks", "bits.csv");
        Files.write(p, good);
        results.save("tracks", "bits", Map.of(), "bits.csv");
        Files.write(p, "0123456780".getBytes(StandardCharsets.UTF_8));
        assertThat(results.file("tracks", "bits")).as("same size, other bytes").isNull();
        assertThat(results.find("tracks", "bits")).isNull();
    }

    @Test
    void namesOfResultsStayInTheirFolder() {
        for (String bad : List.of("../../x", "../../../etc/passwd", "/etc/passwd"))
            assertThatThrownBy(() -> media.result("tracks", bad)).as(bad).isInstanceOf(BadInput.class);
    }

    /** More plates than are kept open: each stays open for him who has it. */
    @Test
    void plateInHandIsNeverClosed() throws Exception {
        List<Shot> shots = new ArrayList<>();
        for (int k = 0; k < 9; k++)
            shots.add(Shot.BLANK.with(PlateRecipe.BLANK
                    .withFile(media.plate(in(zip(20 + k)), "take.zip").hash())
                    .read("", "24", 0, 0)));
        try (Plates.Lent mine = plates.need(shots.get(0))) {
            for (Shot s : shots) {
                try (Plates.Lent other = plates.need(s)) {
                    assertThat(other.plate().frame(1).width).isGreaterThan(0);
                }
            }
            assertThat(mine.plate().frame(2).width).isEqualTo(60);
            assertThat(plates.opened()).isLessThanOrEqualTo(5);
        }
        assertThat(plates.facts(shots.get(3)).rate()).isEqualTo(new Rate(24, 1));
    }

    /** One who sends slowly holds nobody up: while his bytes are awaited, others finish. */
    @Test
    void aSlowSenderHoldsNobodyUp() throws Exception {
        CountDownLatch asked = new CountDownLatch(1), go = new CountDownLatch(1);
        Uploads.File slow = new Uploads.File("slow.zip", 10, "aaaaaaaaaaaaaaaa"), quick;
        byte[] take = zip(40);
        quick = new Uploads.File("quick.zip", take.length, "bbbbbbbbbbbbbbbb");
        uploads.begin(slow);
        ExecutorService one = Executors.newSingleThreadExecutor();
        Future<Long> sent = one.submit(() -> uploads.add(slow, 0, new InputStream() {
            @Override
            public int read() throws IOException {
                asked.countDown();
                try {
                    go.await();
                } catch (InterruptedException e) {
                    throw new IOException(e);
                }
                return -1;
            }
        }));
        asked.await();
        uploads.begin(quick);
        assertThat(uploads.add(quick, 0, in(take))).isEqualTo(take.length);
        assertThat(uploads.finishPlate(quick).kind()).isEqualTo("plate");
        assertThat(sent.isDone()).isFalse();
        go.countDown();
        sent.get();
        one.shutdown();
    }
}
