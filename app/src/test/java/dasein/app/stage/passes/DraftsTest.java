package dasein.app.stage.passes;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import dasein.app.Await;
import dasein.app.ServerTest;
import dasein.core.image.Image;
import dasein.core.render.pass.PassList;
import dasein.core.shot.Shot;
import java.awt.image.BufferedImage;
import java.io.ByteArrayInputStream;
import java.net.http.HttpResponse;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicReference;
import javax.imageio.ImageIO;
import org.junit.jupiter.api.Test;
import org.springframework.beans.factory.annotation.Autowired;

/** Drafts while somebody looks, and finished frames as soon as there are some. */
class DraftsTest extends ServerTest {
    @Autowired
    Drafts drafts;

    private Shot crate() {
        Shot s = plated();
        solve(s, "moving");
        s = edit(s, "blocking", "add", "model", model("crate"), "x", "0.2", "z", "-4")
                .shot();
        return edit(s, "passes", "settings", "minSamples", "4", "maxSamples", "4")
                .shot();
    }

    @Test
    void aDraftShowsThePerformerInThePlate() throws Exception {
        Shot s = crate();
        long id = make(s), head = shots.head(id).revision().id();
        HttpResponse<byte[]> r = client.bytes("/shots/" + id + "/draft/2.jpg?level=0&by=a&rev=" + head);
        assertThat(r.statusCode()).isEqualTo(200);
        BufferedImage im = ImageIO.read(new ByteArrayInputStream(r.body()));
        assertThat(im.getWidth()).isEqualTo(WIDTH);
        Image plate;
        try (var lent = desk.plates().need(s)) {
            plate = lent.plate().frame(2);
        }
        Image draft = drafts.frame(shots.head(id), 2, 0, "test");
        int other = 0;
        for (int i = 0; i < plate.planes[0].length; i++)
            if (Math.abs(plate.planes[0][i] - draft.planes[0][i]) > 0.02) other++;
        assertThat(other).isBetween(50, plate.planes[0].length / 2);
    }

    /** What is looked at closely is drawn for itself, and larger: it shows what the whole shows there. */
    @Test
    void aPartIsDrawnAsItIsInTheWhole() throws Exception {
        Shot s = crate();
        long id = make(s);
        Image whole = drafts.frame(shots.head(id), 2, 3, "whole"),
                part = drafts.frame(shots.head(id), 2, 3, "part", Drafts.Look.of("", false, "0.25,0.25,0.75,0.75"));
        assertThat(part.width).isCloseTo(whole.width / 2, within(1));
        double off = 0;
        for (int y = 0; y < part.height; y++)
            for (int x = 0; x < part.width; x++)
                off += Math.abs(part.get(x, y, 1) - whole.get(x + whole.width / 4, y + whole.height / 4, 1))
                        / (part.width * part.height);
        assertThat(off).isLessThan(0.01);
        assertThat(client.bytes("/shots/" + id + "/draft/2.jpg?level=0&part=0.1,0.1,0.6,0.5")
                        .statusCode())
                .isEqualTo(200);
        assertThat(client.get("/shots/" + id + "/draft/2.jpg?level=0&part=0.1,left")
                        .body())
                .contains("four numbers");
        assertThatThrownBy(() -> Drafts.Look.of("", false, "0.5,0.5,0.501,0.9")).hasMessageContaining("a fiftieth");
    }

    /** One light alone is darker than all, and balls to look at are seen only where they are asked for. */
    @Test
    void lightsAloneAndBallsAreOfDraftsOnly() {
        Shot s = edit(crate(), "light", "stand", "mirror", "no", "x", "-0.4", "z", "-3", "radius", "0.3", "y", "0.3")
                .shot();
        long id = make(s);
        Image plain = drafts.frame(shots.head(id), 2, 3, "a"),
                stood = drafts.frame(shots.head(id), 2, 3, "b", Drafts.Look.of("", true, "")),
                dark = drafts.frame(shots.head(id), 2, 3, "c", Drafts.Look.of("7", false, ""));
        int ball = 0;
        for (int i = 0; i < plain.planes[1].length; i++)
            if (Math.abs(plain.planes[1][i] - stood.planes[1][i]) > 0.01) ball++;
        assertThat(ball).isGreaterThan(30);
        // No lamp has that number: the crate is black, the plate as it was.
        int crate = 0;
        for (int i = 0; i < plain.planes[1].length; i++)
            if (plain.planes[1][i] > 0.02 && dark.planes[1][i] < 0.3 * plain.planes[1][i]) crate++;
        assertThat(crate).isGreaterThan(30);
    }

    /** Whoever asks for what is no longer so gets nothing, and no work is done for it. */
    @Test
    void anOlderRevisionGetsNoDraft() throws Exception {
        long id = make(crate()), before = shots.head(id).revision().id();
        shots.change(id, "turned", s -> edit(s, "blocking", "set", "id", "1", "heading", "40")
                .shot());
        HttpResponse<byte[]> r = client.bytes("/shots/" + id + "/draft/2.jpg?level=3&by=a&rev=" + before);
        assertThat(r.statusCode()).isEqualTo(204);
    }

    /** Of one page only the newest question is answered; another page's is its own. */
    @Test
    void aNewerQuestionOfThePageEndsItsOlderOne() throws Exception {
        long id = make(crate());
        AtomicReference<Image> newest = new AtomicReference<>();
        List<CompletableFuture<Image>> old = new ArrayList<>();
        for (int k = 0; k < 3; k++)
            old.add(CompletableFuture.supplyAsync(() -> drafts.frame(shots.head(id), 2, 3, "page")));
        CompletableFuture<Image> elsewhere =
                CompletableFuture.supplyAsync(() -> drafts.frame(shots.head(id), 3, 0, "other page"));
        // Asked until it was the last of its page: the others may come after it.
        Await.until("the newest is drawn", () -> {
            newest.set(drafts.frame(shots.head(id), 2, 0, "page"));
            return newest.get() != null && old.stream().allMatch(CompletableFuture::isDone);
        });
        assertThat(elsewhere.get(60, TimeUnit.SECONDS)).isNotNull();
        long drawn =
                old.stream().map(CompletableFuture::join).filter(i -> i != null).count();
        assertThat(drawn)
                .as("of three old questions at most the last was answered")
                .isLessThanOrEqualTo(1);
    }

    /** While frames are rendered the finished ones are there to be shown, and what is not finished says so. */
    @Test
    void finishedFramesAreShownAsSoonAsTheyAre() throws Exception {
        long id = make(crate());
        assertThat(client.bytes("/shots/" + id + "/comp/2.jpg").statusCode()).isEqualTo(404);
        assertThat(client.get("/shots/" + id + "/pass/2.jpg?pass=beauty").body())
                .contains("not rendered yet");
        assertThat(client.post("/shots/" + id + "/passes/start", Map.of("from", "2", "to", "4"))
                        .statusCode())
                .isEqualTo(200);
        // A second press changes nothing: it runs already.
        HttpResponse<String> twice = client.post("/shots/" + id + "/passes/start", Map.of("from", "2", "to", "4"));
        assertThat(twice.statusCode()).isIn(422, 200);
        Await.until(
                "rendered",
                () -> client.json("/shots/" + id + "/data.json")
                                .path("rendered")
                                .size()
                        == 3);
        Await.until("nothing runs", () -> tasks.open(id).isEmpty());
        assertThat(client.json("/shots/" + id + "/data.json").path("rendering").asBoolean())
                .isFalse();
        for (String pass : PassList.shown())
            assertThat(client.bytes("/shots/" + id + "/pass/3.jpg?pass=" + pass).statusCode())
                    .as(pass)
                    .isEqualTo(200);
        assertThat(client.bytes("/shots/" + id + "/comp/3.jpg").statusCode()).isEqualTo(200);
        assertThat(client.bytes("/shots/" + id + "/comp/5.jpg").statusCode()).isEqualTo(404);
        // Each frame is rendered once.
        assertThat(tasks.last(id)).filteredOn(t -> t.kind().equals("passes")).hasSize(1);
    }

    /** A task that is cancelled says so, leaves what was finished, and can be gone on with. */
    @Test
    void aCancelledRenderKeepsItsFinishedFrames() throws Exception {
        Shot s = edit(crate(), "passes", "settings", "minSamples", "200", "maxSamples", "200", "noise", "0")
                .shot();
        long id = make(s);
        client.post("/shots/" + id + "/passes/start", Map.of("from", "1", "to", "6"));
        Await.until(
                "one is finished",
                () -> client.json("/shots/" + id + "/data.json")
                                .path("rendered")
                                .size()
                        >= 1);
        assertThat(client.post(
                                "/shots/" + id + "/passes/cancel?task="
                                        + tasks.last(id).get(0).id(),
                                Map.of())
                        .statusCode())
                .isEqualTo(200);
        Await.until("it ended", () -> tasks.open(id).isEmpty());
        int kept = client.json("/shots/" + id + "/data.json").path("rendered").size();
        assertThat(kept).isBetween(1, 5);
        assertThat(tasks.last(id)).allMatch(t -> t.state().equals("cancelled"));
        assertThat(client.get("/shots/" + id + "/passes").statusCode()).isEqualTo(200);
    }
}
