package dasein.app.page;

import static org.assertj.core.api.Assertions.assertThat;

import dasein.app.ServerTest;
import dasein.app.task.Task;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;

/** The page of all tasks says what each does and waits for, and what may be done about it. */
class TasksPageTest extends ServerTest {
    private long shotOf() {
        return make(plated());
    }

    private String page() throws Exception {
        return client.get("/tasks").body();
    }

    @Test
    void framesAreSeenOneByOneAndTheFailedOneMayBeTriedAgain() throws Exception {
        long shot = shotOf(), head = shots.head(shot).revision().id();
        long id = tasks.insertFrames(shot, head, "passes", "Passes", false);
        tasks.addFrames(id, List.of(1, 2, 3));
        tasks.start(id);
        tasks.frameDone(tasks.take(id, 1, "program 7"), 5);
        tasks.frameFailed(tasks.take(id, 2, "program 7"), "the <disk> is full");
        tasks.take(id, 3, "program 8");
        String page = page();
        assertThat(page)
                .contains("frame 1: done", "frame 2: failed", "frame 3: in hand", "program 8", "5 s left")
                .contains("Frame 2, attempt 1: the &lt;disk&gt; is full", "/tasks/" + id + "/retry", "/pause")
                .doesNotContain("<disk>");
        client.post("/tasks/" + id + "/pause", Map.of());
        assertThat(tasks.find(id).paused()).isTrue();
        assertThat(page()).contains("/tasks/" + id + "/go-on").doesNotContain("/tasks/" + id + "/pause");
        client.post("/tasks/" + id + "/cancel", Map.of());
        assertThat(tasks.find(id).state()).isEqualTo("cancelled");
        assertThat(page()).doesNotContain("/tasks/" + id + "/go-on");
    }

    @Test
    void whatWaitsSaysForWhatAndWhatFailedMayBeStartedAgain() throws Exception {
        long a = shotOf(), b = shotOf();
        long runs = tasks.insert(a, shots.head(a).revision().id(), "camera", "Camera", ""),
                waits = tasks.insert(b, shots.head(b).revision().id(), "camera", "Camera", ""),
                failed = tasks.insert(b, shots.head(b).revision().id(), "tracks", "Tracks", "");
        tasks.start(runs);
        tasks.take(runs, -1, "program 7");
        tasks.end(failed, "failed", "there are only 3 frames");
        String page = page();
        assertThat(page).contains("waits for Camera of").contains("/tasks/" + failed + "/again");
        client.post("/tasks/" + failed + "/again", Map.of());
        Task again = tasks.lastOfAll().stream()
                .filter(t -> t.shotId() == b && t.kind().equals("tracks"))
                .findFirst()
                .orElseThrow();
        assertThat(again.id()).isNotEqualTo(failed);
        // One that was tried again is over.
        assertThat(page()).doesNotContain("/tasks/" + failed + "/again");
        for (long id : new long[] {runs, waits, again.id()}) tasks.end(id, "cancelled", "");
    }
}
