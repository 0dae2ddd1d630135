package dasein.app.page;

import static org.assertj.core.api.Assertions.assertThat;

import dasein.app.Client;
import dasein.app.Frames;
import dasein.app.Server;
import dasein.app.TestDatabase;
import dasein.app.stage.Seeing;
import dasein.app.stage.Sheets;
import dasein.app.store.MediaStore;
import dasein.app.store.Plates;
import dasein.app.store.Shots;
import dasein.core.shot.PlateRecipe;
import dasein.core.shot.Shot;
import java.io.ByteArrayInputStream;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.concurrent.atomic.AtomicInteger;
import org.apache.ibatis.executor.Executor;
import org.apache.ibatis.mapping.MappedStatement;
import org.apache.ibatis.plugin.Interceptor;
import org.apache.ibatis.plugin.Intercepts;
import org.apache.ibatis.plugin.Invocation;
import org.apache.ibatis.plugin.Signature;
import org.apache.ibatis.session.ResultHandler;
import org.apache.ibatis.session.RowBounds;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.springframework.beans.factory.annotation.Autowired;
import org.springframework.boot.test.context.SpringBootTest;
import org.springframework.boot.test.context.TestConfiguration;
import org.springframework.boot.test.web.server.LocalServerPort;
import org.springframework.context.annotation.Bean;
import org.springframework.test.context.DynamicPropertyRegistry;
import org.springframework.test.context.DynamicPropertySource;

/** What a page costs: statements, plates opened, and milliseconds printed. */
@SpringBootTest(
        classes = {Server.class, SpeedTest.Counting.class},
        webEnvironment = SpringBootTest.WebEnvironment.RANDOM_PORT)
class SpeedTest {
    private static final int SHOTS = 300, TRIES = 9;
    private static final String[] STAGES = {
        "plate", "tracks", "camera", "set", "blocking", "light", "passes", "comp", "presence", "output"
    };

    @TempDir
    static Path folder;

    /** Counts what goes to the database through mappers. */
    @Intercepts({
        @Signature(
                type = Executor.class,
                method = "query",
                args = {MappedStatement.class, Object.class, RowBounds.class, ResultHandler.class}),
        @Signature(
                type = Executor.class,
                method = "update",
                args = {MappedStatement.class, Object.class})
    })
    static final class Counter implements Interceptor {
        final AtomicInteger statements = new AtomicInteger();

        @Override
        public Object intercept(Invocation i) throws Throwable {
            statements.incrementAndGet();
            return i.proceed();
        }
    }

    @TestConfiguration
    static class Counting {
        @Bean
        Counter counter() {
            return new Counter();
        }
    }

    @DynamicPropertySource
    static void place(DynamicPropertyRegistry r) {
        String url = TestDatabase.make("speed_test");
        r.add("spring.datasource.url", () -> url);
        r.add("dasein.media", () -> folder.resolve("media").toString());
    }

    @LocalServerPort
    int port;

    @Autowired
    Counter counter;

    @Autowired
    Shots shots;

    @Autowired
    MediaStore media;

    @Autowired
    Plates plates;

    @Autowired
    Sheets sheets;

    @Autowired
    Seeing seeing;

    /** Statements of one request, and milliseconds of the median one. */
    private int[] cost(Client client, String path) throws Exception {
        int statements = 0;
        long[] nanos = new long[TRIES];
        for (int k = 0; k < TRIES; k++) {
            int before = counter.statements.get();
            long t = System.nanoTime();
            assertThat(client.get(path).statusCode()).as(path).isEqualTo(200);
            nanos[k] = System.nanoTime() - t;
            statements = counter.statements.get() - before;
        }
        Arrays.sort(nanos);
        return new int[] {statements, (int) (nanos[TRIES / 2] / 1_000_000)};
    }

    @Test
    void theFrontPageOpensNoPlateAndStagePagesAreCheap() throws Exception {
        Client client = new Client(port);
        String plate = media.plate(new ByteArrayInputStream(Frames.zip(4, 160, 96)), "take.zip")
                .hash();
        Shot s = Shot.BLANK.with(PlateRecipe.BLANK.withFile(plate).read("", "24", 0, 0));
        long id = 0;
        for (int k = 0; k < SHOTS; k++) id = shots.create("Low Water", String.format("LW_%04d", k), s);

        // Plates that nobody looked at yet are not opened for it either.
        assertThat(client.get("/").statusCode()).isEqualTo(200);
        assertThat(plates.opened()).as("plates opened by a first look").isZero();
        // Whoever opens a shot leaves its line on the front page.
        for (long k = id - SHOTS + 1; k <= id; k++) sheets.of(seeing.of(k));
        int[] front = cost(client, "/");
        System.out.printf("front page, %d shots: %d statements, %d ms%n", SHOTS, front[0], front[1]);
        assertThat(front[0]).as("statements of the front page").isLessThanOrEqualTo(6);

        for (String stage : STAGES) {
            int[] c = cost(client, "/shots/" + id + "/" + stage);
            System.out.printf("%s: %d statements, %d ms%n", stage, c[0], c[1]);
            assertThat(c[0]).as("statements of " + stage).isLessThanOrEqualTo(30);
        }
    }
}
