package dasein.app.stage.tracks;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import dasein.app.ServerTest;
import dasein.core.shot.Prints;
import dasein.core.shot.Shot;
import dasein.core.track.Track;
import dasein.core.track.TrackFile;
import java.awt.image.BufferedImage;
import java.io.ByteArrayInputStream;
import java.net.http.HttpResponse;
import java.util.List;
import java.util.Map;
import javax.imageio.ImageIO;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;

/** Numbers and pictures that the page draws, against the tracks and the plate that they are of. */
class TracksDataTest extends ServerTest {
    private Shot s;
    private long id;

    @BeforeEach
    void tracked() {
        s = plated();
        Track
                a =
                        new Track(
                                3,
                                new int[] {1, 2, 3, 4},
                                new double[] {10, 12.36, 15, 18},
                                new double[] {20, 20, 24, 24},
                                new float[] {1, 0.98f, Float.NaN, 0.96f}),
                // Hidden in frame 3.
                b =
                        new Track(
                                8,
                                new int[] {2, 4, 5},
                                new double[] {50, 60, 61},
                                new double[] {30, 30, 31},
                                new float[] {Float.NaN, Float.NaN, Float.NaN});
        String print = Prints.tracks(s), file = print + ".csv";
        TrackFile.write(media.result("tracks", file), List.of(a, b), true);
        results.save(
                "tracks",
                print,
                Map.of("tracks", 2, "doubts", List.of(Map.of("track", 8, "reason", "was held for only 3 frames"))),
                file);
        id = make(s);
    }

    private JsonNode json(String name) throws Exception {
        return client.json("/shots/" + id + "/" + name);
    }

    @Test
    void placesComeFrameByFrameAndNothingWhereItWasHidden() throws Exception {
        JsonNode all = json("tracks.json");
        assertThat(all.size()).isEqualTo(2);
        JsonNode a = all.get(0), b = all.get(1);
        assertThat(a.get(0).asInt()).isEqualTo(3);
        assertThat(a.size()).isEqualTo(2 + 2 * 4);
        assertThat(a.get(4).asDouble()).isEqualTo(12.36);
        // From its first frame to its last, though it has no place in between.
        assertThat(b.get(1).asInt()).isEqualTo(2);
        assertThat(b.size()).isEqualTo(2 + 2 * 4);
        assertThat(b.get(4).isNull()).isTrue();
        assertThat(b.get(6).asDouble()).isEqualTo(60);
    }

    @Test
    void theListSaysHowFastHowWellAndWhatIsDoubted() throws Exception {
        JsonNode a = json("tracks/list.json").get(0),
                b = json("tracks/list.json").get(1);
        assertThat(a.path("frames").asInt()).isEqualTo(4);
        assertThat(a.path("speed").asDouble()).isCloseTo(Math.hypot(15 - 12.36, 4), within(0.01));
        assertThat(a.path("match").asDouble()).isCloseTo((1 + 0.98 + 0.96) / 3, within(0.001));
        // Over a gap nobody knows how fast it was.
        assertThat(b.path("speed").asDouble()).isCloseTo(Math.hypot(1, 1), within(0.01));
        assertThat(b.path("match").isNull()).isTrue();
        assertThat(b.path("reason").asString()).contains("held for only");
    }

    @Test
    void matchesComeFrameByFrame() throws Exception {
        JsonNode m = json("tracks/3.json");
        assertThat(m.size()).isEqualTo(4);
        assertThat(m.get(1).get(0).asInt()).isEqualTo(2);
        assertThat(m.get(1).get(1).asDouble()).isCloseTo(0.98, within(0.001));
        assertThat(m.get(2).get(1).isNull()).isTrue();
        assertThat(client.get("/shots/" + id + "/tracks/99.json").statusCode()).isEqualTo(404);
        assertThat(client.get("/shots/" + id + "/tracks/live.json").statusCode())
                .as("nothing is tracking")
                .isEqualTo(204);
    }

    /** What is taken out is gone from the page and from the files; what was computed stays. */
    @Test
    void whatIsTakenOutIsNotGivenAway() throws Exception {
        shots.change(id, "out", k -> edit(k, "tracks", "delete", "ids", "8").shot());
        assertThat(json("tracks.json").size()).isEqualTo(1);
        String csv = client.get("/shots/" + id + "/take/tracks.csv").body();
        assertThat(csv.lines().filter(l -> l.startsWith("3,")).count()).isEqualTo(4);
        assertThat(csv.lines().filter(l -> l.startsWith("8,")).count()).isZero();
        shots.change(id, "back", k -> edit(k, "tracks", "restore").shot());
        assertThat(json("tracks.json").size()).isEqualTo(2);
    }

    @Test
    void framesComeInTheSizeThatIsAskedFor() throws Exception {
        for (int by : new int[] {1, 2, 4}) {
            HttpResponse<byte[]> r = client.bytes("/shots/" + id + "/plate/2.jpg?by=" + by);
            assertThat(r.statusCode()).isEqualTo(200);
            BufferedImage im = ImageIO.read(new ByteArrayInputStream(r.body()));
            assertThat(im.getWidth()).isEqualTo(WIDTH / by);
        }
        for (String channel : new String[] {"red", "green", "blue", "luma"}) {
            HttpResponse<byte[]> r = client.bytes("/shots/" + id + "/plate/2.jpg?by=1&channel=" + channel);
            assertThat(r.statusCode()).as(channel).isIn(200, 422);
        }
        assertThat(client.bytes("/shots/" + id + "/plate/2.jpg?by=3").statusCode())
                .isEqualTo(422);
        assertThat(client.bytes("/shots/" + id + "/plate/99.jpg").statusCode()).isEqualTo(422);
        // The very same plate may be kept for good; any other copy is asked for again.
        assertThat(client.bytes("/shots/" + id + "/plate/2.jpg?v=" + Prints.plate(s))
                        .headers()
                        .firstValue("Cache-Control")
                        .orElse(""))
                .contains("max-age");
        assertThat(client.bytes("/shots/" + id + "/plate/2.jpg?v=other")
                        .headers()
                        .firstValue("Cache-Control")
                        .orElse(""))
                .contains("no-cache");
    }
}
