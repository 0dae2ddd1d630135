package dasein.app.page.show;

import static org.assertj.core.api.Assertions.assertThat;

import dasein.app.Await;
import dasein.app.ServerTest;
import dasein.core.comp.step.Grade;
import dasein.core.shot.Shot;
import java.util.Map;
import org.junit.jupiter.api.Test;

class ShowSheetTest extends ServerTest {
    private long shot(String show, String name, Shot s) {
        return shots.create(show, name, s);
    }

    @Test
    void aShowAtAGlance() throws Exception {
        String show = "Glance " + System.nanoTime();
        Shot plate = plated();
        long one = shot(show, "A_010", plate), two = shot(show, "A_020", plate), bare = shot(show, "A_030", Shot.BLANK);
        long id = shots.head(one).row().showId();
        String page = client.get("/shows/" + id).body();
        assertThat(page).contains(show, "A_010", "A_020", "A_030", "no plate yet", "of 10 done", "just now");
        assertThat(client.get("/").body()).contains("/shows/" + id + "\"");
        // The same footage agrees with itself.
        var a = client.json("/shows/" + id + "/look/" + one + ".json");
        var b = client.json("/shows/" + id + "/look/" + two + ".json");
        assertThat(b.path("look").path("blacks").asDouble())
                .isEqualTo(a.path("look").path("blacks").asDouble());
        assertThat(b.path("unlike").asString()).isEmpty();
        assertThat(client.json("/shows/" + id + "/look/" + bare + ".json")
                        .path("trouble")
                        .asString())
                .contains("plate");
        assertThat(client.get("/shows/" + id + "/look/999999.json").statusCode())
                .isEqualTo(404);
        assertThat(client.get("/shows/999999").statusCode()).isEqualTo(404);
    }

    @Test
    void severalAreWrittenInOneGo() throws Exception {
        String show = "Deliver " + System.nanoTime();
        Shot bright = plated();
        bright = bright.with(bright.comp().with(Grade.EXPOSURE, 0.5));
        long one = shot(show, "B_010", bright),
                two = shot(show, "B_020", bright),
                bare = shot(show, "B_030", Shot.BLANK);
        long id = shots.head(one).row().showId();
        var a = client.post(
                "/shows/" + id + "/deliver", Map.of("format", "png", "shots", one + "," + bare + ",999999,x"));
        assertThat(a.statusCode()).isEqualTo(200);
        assertThat(a.body()).contains("is being written", "bring in a plate first");
        Await.until("written", () -> tasks.open(one).isEmpty());
        assertThat(client.get("/shots/" + one + "/output").body()).contains("B_010_v001_png.zip");
        assertThat(tasks.last(two)).noneMatch(t -> t.kind().equals("output"));
        assertThat(client.post("/shows/" + id + "/deliver", Map.of("format", "png"))
                        .statusCode())
                .isEqualTo(422);
        assertThat(client.post("/shows/" + id + "/deliver", Map.of("format", "none", "shots", "" + one))
                        .statusCode())
                .isEqualTo(422);
    }
}
