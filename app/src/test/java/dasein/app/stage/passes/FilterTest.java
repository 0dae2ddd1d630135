package dasein.app.stage.passes;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dasein.app.Await;
import dasein.app.ServerTest;
import dasein.app.scene.Filtered;
import dasein.core.BadInput;
import dasein.core.Progress;
import dasein.core.image.Image;
import dasein.core.render.pass.PassList;
import dasein.core.render.pass.Passes;
import dasein.core.shot.Prints;
import dasein.core.shot.Shot;
import java.nio.file.Files;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.springframework.beans.factory.annotation.Autowired;

/** Frames filtered over their neighbours: by their own task, in the finished frame, and in what is taken away. */
class FilterTest extends ServerTest {
    @Autowired
    PassesWork work;

    @Autowired
    FilterWork filter;

    private Shot crate(String over) {
        Shot s = plated();
        solve(s, "moving");
        s = edit(s, "blocking", "add", "model", model("crate"), "x", "0.2", "z", "-4")
                .shot();
        return edit(s, "passes", "settings", "minSamples", "4", "maxSamples", "4", "overFrames", over)
                .shot();
    }

    @Test
    void onceFramesAreRenderedTheyAreFilteredOverTheirNeighbours() throws Exception {
        Shot s = crate("1");
        long id = make(s);
        client.post("/shots/" + id + "/passes/start", Map.of("from", "1", "to", "4"));
        Await.until(
                "three have all their neighbours and are filtered",
                () -> client.json("/shots/" + id + "/data.json")
                                .path("filtered")
                                .asInt()
                        == 3);
        assertThat(desk.filtered().window(s, 1)).containsExactly(1, 2);
        assertThat(desk.filtered().window(s, 3)).containsExactly(2, 3, 4);
        assertThat(desk.filtered().done(s, 4)).as("frame 5 is not rendered").isFalse();
        String page = client.get("/shots/" + id + "/passes").body();
        assertThat(page).contains("of them filtered over their neighbours").doesNotContain("Filter them");
        // What is shown and taken away is the filtered frame; what was sampled can be seen beside it.
        Passes over = desk.comps().passes(s, 2), raw = desk.comps().raw(s, 2);
        assertThat(over.of(PassList.SPREAD)).isNull();
        assertThat(noise(over)).isLessThan(0.8 * noise(raw));
        assertThat(client.bytes("/shots/" + id + "/passes/2.exr").body())
                .isEqualTo(Files.readAllBytes(desk.filtered().file(s, 2)));
        for (String picture : List.of("comp/2.jpg?", "pass/2.jpg?pass=shadow&")) {
            byte[] before =
                    client.bytes("/shots/" + id + "/" + picture + "raw=true").body();
            assertThat(client.bytes("/shots/" + id + "/" + picture).body()).isNotEqualTo(before);
        }
        // Everything is there: nothing is left to press for.
        assertThat(client.post("/shots/" + id + "/passes/start", Map.of("filter", "true"))
                        .body())
                .contains("is filtered already");
    }

    /** Differences between neighbours in a row, of shadow: what moves there from pixel to pixel is mostly noise. */
    private static double noise(Passes p) {
        double sum = 0;
        for (int i = 1; i < p.alpha.length; i++)
            if (p.alpha[i] == 0 && p.alpha[i - 1] == 0) sum += Math.abs(p.shadow[1][i] - p.shadow[1][i - 1]);
        return sum;
    }

    @Test
    void aFrameAloneIsAsItWas() throws Exception {
        Shot alone = crate("0"),
                s = edit(alone, "passes", "settings", "overFrames", "1").shot();
        assertThat(Prints.frame(alone, 2)).isNotEqualTo(Prints.frame(s, 2));
        work.render(alone, 2, Progress.NONE);
        assertThat(desk.comps().raw(alone, 2)).isNull();
        assertThat(client.get("/shots/" + make(alone) + "/pass/2.jpg?pass=shadow&raw=true")
                        .body())
                .contains("was not kept as it was sampled");
        // Until its neighbours are there, so is the other; asking too early says what is missing.
        work.render(s, 2, Progress.NONE);
        Image a = desk.comps().frame(alone, 2), b = desk.comps().frame(s, 2);
        for (int c = 0; c < 3; c++) assertThat(b.planes[c]).isEqualTo(a.planes[c]);
        assertThatThrownBy(() -> filter.filter(s, 2, Progress.NONE))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("must be rendered again");
    }

    /** What was sampled is lost: the frame is rendered again, since its neighbours need it. */
    @Test
    void lostSamplesAreRenderedAgain() throws Exception {
        Shot s = crate("1");
        for (int f = 1; f <= 3; f++) work.render(s, f, Progress.NONE);
        String print = Prints.frame(s, 2);
        Files.delete(desk.results().file(Filtered.RAW, print));
        work.render(s, 2, Progress.NONE);
        assertThat(desk.results().file(Filtered.RAW, print)).exists();
        filter.filter(s, 2, Progress.NONE);
        assertThat(desk.filtered().done(s, 2)).isTrue();
        // Other settings of a neighbour make it stale; the frames of a smaller window are others.
        assertThat(desk.filtered().print(s, 2))
                .isNotEqualTo(desk.filtered()
                        .print(edit(s, "passes", "settings", "overFrames", "2").shot(), 2));
    }

    /** What is delivered is filtered over what is delivered: its ends do not wait for handles that nobody renders. */
    @Test
    void handlesAreLeftOutOfWhatIsDelivered() {
        Shot s = edit(crate("1"), "plate", "settings", "first", "2", "last", "4", "handles", "1")
                .shot();
        solve(s, "moving");
        assertThat(desk.filtered().window(s, 2)).containsExactly(2, 3);
        assertThat(desk.filtered().window(s, 3)).containsExactly(2, 3, 4);
        assertThat(desk.filtered().window(s, 5)).as("a handle itself").containsExactly(4, 5);
    }
}
