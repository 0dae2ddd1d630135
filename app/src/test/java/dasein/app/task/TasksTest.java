package dasein.app.task;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dasein.app.Await;
import dasein.app.Server;
import dasein.app.TestDatabase;
import dasein.app.store.Shots;
import dasein.core.BadInput;
import dasein.core.Progress;
import dasein.core.shot.Shot;
import java.io.IOException;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.stream.IntStream;
import javax.sql.DataSource;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.springframework.beans.factory.annotation.Autowired;
import org.springframework.boot.test.context.SpringBootTest;
import org.springframework.boot.test.context.TestConfiguration;
import org.springframework.context.ApplicationEventPublisher;
import org.springframework.context.annotation.Bean;
import org.springframework.test.context.DynamicPropertyRegistry;
import org.springframework.test.context.DynamicPropertySource;

/** Work that lasts: one of a kind and shot, every frame once whoever takes it, cancelled when asked. */
@SpringBootTest(
        classes = {Server.class, TasksTest.More.class},
        webEnvironment = SpringBootTest.WebEnvironment.NONE)
class TasksTest {
    @TempDir
    static Path folder;

    @DynamicPropertySource
    static void place(DynamicPropertyRegistry r) {
        String url = TestDatabase.make("tasks_test");
        r.add("spring.datasource.url", () -> url);
        r.add("dasein.media", () -> folder.resolve("media").toString());
    }

    /** Work that does what a test wants. */
    static final class Idle implements Work.ByFrame {
        final List<Integer> frames = Collections.synchronizedList(new ArrayList<>());
        final List<Long> shots = Collections.synchronizedList(new ArrayList<>());
        volatile int bad = -1;
        final AtomicInteger runs = new AtomicInteger();
        final AtomicInteger held = new AtomicInteger();
        volatile CountDownLatch hold = new CountDownLatch(0);
        volatile boolean stopped;

        @Override
        public String kind() {
            return "idle";
        }

        @Override
        public String run(Task t, Progress p) throws Exception {
            runs.incrementAndGet();
            if (t.settings().equals("fail")) throw new BadInput("there are only 3 frames");
            try {
                for (int k = 0; !hold.await(20, TimeUnit.MILLISECONDS); k++) p.at(k / 1000.0, "step " + k);
            } catch (java.util.concurrent.CancellationException e) {
                stopped = true;
                throw e;
            }
            return "well";
        }

        @Override
        public void frame(Task t, int frame, Progress p) throws Exception {
            held.incrementAndGet();
            if (frame == bad) throw new BadInput("frame " + frame + " has no plate");
            while (!hold.await(10, TimeUnit.MILLISECONDS)) p.at(0.5, "half");
            synchronized (frames) {
                frames.add(frame);
                shots.add(t.shotId());
            }
        }
    }

    @TestConfiguration
    static class More {
        @Bean
        Idle idle() {
            return new Idle();
        }
    }

    @Autowired
    Tasks tasks;

    @Autowired
    TaskMapper rows;

    @Autowired
    Shots shots;

    @Autowired
    Idle work;

    @Autowired
    DataSource database;

    @Autowired
    ApplicationEventPublisher events;

    private long shot() {
        return shots.create("Low Water", "LW_" + System.nanoTime(), Shot.BLANK);
    }

    private long head(long shot) {
        return shots.head(shot).revision().id();
    }

    private boolean in(long task, String state) {
        return rows.find(task).state().equals(state);
    }

    /** Three presses of one button at the same moment. */
    @Test
    void ofManyStartsAtOnceOneStarts() throws Exception {
        long shot = shot();
        work.hold = new CountDownLatch(1);
        ExecutorService all = Executors.newFixedThreadPool(6);
        CountDownLatch go = new CountDownLatch(1);
        List<Future<Task>> presses = IntStream.range(0, 6)
                .mapToObj(k -> all.submit(() -> {
                    go.await();
                    return tasks.start(shot, head(shot), "idle", "Solve", "");
                }))
                .toList();
        go.countDown();
        int begun = 0;
        for (Future<Task> f : presses) {
            try {
                f.get();
                begun++;
            } catch (java.util.concurrent.ExecutionException e) {
                assertThat(e.getCause()).isInstanceOf(BadInput.class).hasMessageContaining("under way already");
            }
        }
        assertThat(begun).isEqualTo(1);
        assertThat(rows.openOf(shot, "idle")).hasSize(1);
        work.hold.countDown();
        Await.until("it ends", () -> rows.openOf(shot, "idle").isEmpty());
        // Another shot, and the same one afterwards, may.
        assertThat(tasks.start(shot, head(shot), "idle", "Solve", "")).isNotNull();
        all.shutdown();
        Await.until("it ends", () -> rows.openOf(shot, "idle").isEmpty());
    }

    @Test
    void workThatIsCancelledStopsAndIsSaidToBe() throws Exception {
        long shot = shot();
        work.hold = new CountDownLatch(1);
        work.stopped = false;
        Task t = tasks.start(shot, head(shot), "idle", "Solve", "");
        Await.until(
                "the task is there",
                () -> in(t.id(), "running") && rows.find(t.id()).done() > 0);
        assertThat(tasks.cancel(t.id())).isTrue();
        Await.until("the work stopped", () -> work.stopped);
        assertThat(rows.find(t.id()).state()).isEqualTo("cancelled");
        assertThat(tasks.cancel(t.id())).as("a second time").isFalse();
        work.hold.countDown();
    }

    @Test
    void aFailureIsSaidAndMayBeTriedAgain() throws Exception {
        long shot = shot();
        work.hold = new CountDownLatch(0);
        Task t = tasks.start(shot, head(shot), "idle", "Solve", "fail");
        Await.until("it failed", () -> in(t.id(), "failed"));
        assertThat(rows.find(t.id()).note()).isEqualTo("there are only 3 frames");
        int before = work.runs.get();
        tasks.again(rows.find(t.id()), head(shot));
        Await.until("it runs again", () -> work.runs.get() > before);
        Await.until("it ends", () -> rows.openOf(shot, "idle").isEmpty());
    }

    /** Two workers on one database: every frame is done once, in whoever's hands. */
    @Test
    void twoWorkersShareTheFrames() throws Exception {
        long shot = shot();
        Idle elsewhere = new Idle();
        work.frames.clear();
        work.held.set(0);
        work.hold = elsewhere.hold = new CountDownLatch(1);
        Tasks other = new Tasks(rows, List.of(elsewhere), database, events, new Turns());
        other.begin();
        try {
            List<Integer> frames = IntStream.rangeClosed(1, 40).boxed().toList();
            Task t = tasks.startFrames(shot, head(shot), "idle", "Passes", frames);
            // Both have something in hand before either goes on.
            Await.until("both work", () -> work.held.get() > 0 && elsewhere.held.get() > 0);
            work.hold.countDown();
            Await.until("it is done", () -> in(t.id(), "done"));
            List<Integer> all = new ArrayList<>(work.frames);
            all.addAll(elsewhere.frames);
            Collections.sort(all);
            assertThat(all).isEqualTo(frames);
            assertThat(work.frames).isNotEmpty();
            assertThat(elsewhere.frames).isNotEmpty();
        } finally {
            other.end();
        }
    }

    /** A worker that was stopped, and whose job another took over, wakes again: what it says is no longer heard. */
    @Test
    void whoWasTakenOverIsNotHeard() throws Exception {
        long shot = shot();
        work.hold = new CountDownLatch(1);
        work.stopped = false;
        Task t = tasks.start(shot, head(shot), "idle", "Solve", "");
        Await.until("it runs", () -> rows.find(t.id()).done() > 0);
        Hold other = rows.take(t.id(), Hold.WHOLE, "other");
        assertThat(other.attempt()).isEqualTo(2);
        assertThat(other.deaths())
                .as("the first neither ended nor gave it back")
                .isEqualTo(1);
        Await.until("the first learns of it", () -> work.stopped);
        assertThat(in(t.id(), "running")).isTrue();
        Hold first = new Hold(t.id(), Hold.WHOLE, 1, 0);
        assertThat(rows.progress(first, 0.9, "late")).isZero();
        assertThat(rows.endHeld(first, "failed", "late")).isZero();
        assertThat(rows.progress(other, 0.5, "well")).isEqualTo(1);
        assertThat(rows.endHeld(other, "done", "well")).isEqualTo(1);
        assertThat(in(t.id(), "done")).isTrue();
        work.hold.countDown();
    }

    /** The same of one frame: it is not done by who no longer has it, and the others go on. */
    @Test
    void aFrameIsDoneByWhoHasIt() throws Exception {
        long shot = shot();
        work.hold = new CountDownLatch(1);
        work.held.set(0);
        Task t = tasks.startFrames(shot, head(shot), "idle", "Passes", List.of(1, 2));
        Await.until("both are in hand", () -> work.held.get() == 2);
        Hold other = rows.take(t.id(), 1, "other");
        work.hold.countDown();
        Await.until("the second is done", () -> rows.framesLeft(t.id()).equals(List.of(1)));
        assertThat(in(t.id(), "running")).isTrue();
        assertThat(rows.frameDone(other, 1)).isEqualTo(1);
        assertThat(rows.framesLeft(t.id())).isEmpty();
        rows.endHeld(other, "done", "2 frames");
    }

    /** A job that ended three programs is not handed to a fourth; one that was given back counts as nobody's end. */
    @Test
    void aJobThatEndsItsWorkersIsGivenUp() throws Exception {
        long shot = shot();
        long id = rows.insert(shot, head(shot), "idle", "Solve", "");
        rows.start(id);
        rows.giveBack(rows.take(id, Hold.WHOLE, "other"));
        for (int k = 0; k < 3; k++)
            assertThat(rows.take(id, Hold.WHOLE, "other").deaths()).isEqualTo(k);
        int before = work.runs.get();
        tasks.runWhole(id);
        assertThat(rows.find(id).state()).isEqualTo("failed");
        assertThat(rows.find(id).note()).contains("three programs ended").contains("memory");
        assertThat(work.runs.get()).isEqualTo(before);
    }

    /** A frame that fails is named and may be tried again while the others go on; the task ends when all has an end. */
    @Test
    void oneFrameFailsAndTheOthersGoOn() throws Exception {
        long shot = shot();
        work.frames.clear();
        work.hold = new CountDownLatch(1);
        work.bad = 2;
        Task t = tasks.startFrames(shot, head(shot), "idle", "Passes", List.of(2, 1, 3, 4));
        Await.until("it failed", () -> rows.frameStates(t.id()).get(1).failed());
        assertThat(rows.frameStates(t.id()).get(1).note()).isEqualTo("frame 2 has no plate");
        assertThat(in(t.id(), "running")).isTrue();
        assertThat(tasks.retry(t.id(), 1)).as("it did not fail").isFalse();
        work.bad = -1;
        assertThat(tasks.retry(t.id(), 2)).isTrue();
        work.hold.countDown();
        Await.until("it is done", () -> in(t.id(), "done"));
        assertThat(work.frames).containsExactlyInAnyOrder(1, 2, 3, 4);
        // Without another try it ends as failed, and the rest is there.
        work.bad = 3;
        work.frames.clear();
        Task u = tasks.startFrames(shot, head(shot), "idle", "Passes", List.of(1, 2, 3, 4));
        Await.until("it ended", () -> in(u.id(), "failed"));
        assertThat(rows.find(u.id()).note()).isEqualTo("1 of 4 frames failed; frame 3: frame 3 has no plate");
        assertThat(work.frames).containsExactlyInAnyOrder(1, 2, 4);
        work.bad = -1;
    }

    /** Paused, nothing is worked on; gone on with, every frame comes to be done once. */
    @Test
    void whatIsPausedRestsAndIsGoneOnWith() throws Exception {
        long shot = shot();
        work.frames.clear();
        work.held.set(0);
        work.hold = new CountDownLatch(1);
        List<Integer> frames = IntStream.rangeClosed(1, 8).boxed().toList();
        Task t = tasks.startFrames(shot, head(shot), "idle", "Passes", frames);
        Await.until("two are in hand", () -> work.held.get() >= 2);
        assertThat(tasks.pause(t.id())).isTrue();
        assertThat(tasks.pause(t.id())).as("twice").isFalse();
        Await.until("they were put down", () -> rows.frameStates(t.id()).stream()
                .allMatch(f -> f.worker().isEmpty()));
        assertThatThrownBy(() -> tasks.startFrames(shot, head(shot), "idle", "Passes", frames))
                .hasMessageContaining("is paused: go on with it");
        assertThat(rows.find(t.id()).secondsLeft()).isNegative();
        assertThat(tasks.goOn(t.id())).isTrue();
        work.hold.countDown();
        Await.until("it is done", () -> in(t.id(), "done"));
        assertThat(work.frames).containsExactlyInAnyOrderElementsOf(frames);
        // Being put down is nobody's end.
        assertThat(rows.take(t.id(), 1, "x").deaths()).isZero();
        // One that came to its end while it was paused leaves nothing to do.
        Task u = tasks.startFrames(shot, head(shot), "idle", "Passes", List.of(1));
        Await.until("it is done", () -> in(u.id(), "done"));
        assertThat(tasks.pause(u.id())).isFalse();
    }

    /** Of two shots started one after the other both get on. */
    @Test
    void shotsTakeTurns() throws Exception {
        long a = shot(), b = shot();
        work.frames.clear();
        work.shots.clear();
        work.hold = new CountDownLatch(1);
        List<Integer> frames = IntStream.rangeClosed(1, 20).boxed().toList();
        Task first = tasks.startFrames(a, head(a), "idle", "Passes", frames),
                second = tasks.startFrames(b, head(b), "idle", "Passes", frames);
        work.hold.countDown();
        Await.until("both are done", () -> in(first.id(), "done") && in(second.id(), "done"));
        List<Long> half = work.shots.subList(0, 20);
        assertThat(half.stream().filter(s -> s == b).count()).isBetween(6L, 14L);
    }

    /** While somebody waits for something, frames stand still; what is of low priority comes last. */
    @Test
    void whatSomebodyWaitsForComesFirst() throws Exception {
        Turns turns = new Turns();
        assertThat(turns.giveWay()).isTrue();
        Turns.Turn turn = turns.first(), other = turns.first();
        assertThat(turns.giveWay()).isFalse();
        turn.close();
        assertThat(turns.free()).as("another's is not over").isFalse();
        other.close();
        assertThat(turns.giveWay()).isTrue();

        long a = shot(), b = shot();
        work.frames.clear();
        work.shots.clear();
        work.hold = new CountDownLatch(1);
        List<Integer> frames = IntStream.rangeClosed(1, 12).boxed().toList();
        Task low = tasks.startFrames(a, head(a), "idle", "Passes", frames, true),
                usual = tasks.startFrames(b, head(b), "idle", "Passes", frames);
        work.hold.countDown();
        Await.until("both are done", () -> in(low.id(), "done") && in(usual.id(), "done"));
        // Some of the low ones were in hand before the others came.
        assertThat(work.shots.subList(0, 14).stream().filter(s -> s == b).count())
                .isGreaterThanOrEqualTo(9);
    }

    @Test
    void theEndsAndTheMiddleComeFirst() {
        List<Integer> frames = IntStream.rangeClosed(10, 20).boxed().toList();
        assertThat(FrameOrder.ENDS_FIRST.of(frames))
                .startsWith(10, 15, 20, 11, 12)
                .containsExactlyInAnyOrderElementsOf(frames);
        assertThat(FrameOrder.ONE_AFTER_THE_OTHER.of(frames)).isEqualTo(frames);
        assertThat(FrameOrder.ENDS_FIRST.of(List.of(7))).containsExactly(7);
        assertThat(FrameOrder.ENDS_FIRST.of(List.of())).isEmpty();
    }

    /** Frames that are left take as long as those that are done did, by as many as have some in hand. */
    @Test
    void whatIsLeftIsToldByTheFramesThatAreDone() throws Exception {
        long shot = shot();
        long id = rows.insertFrames(shot, head(shot), "idle", "Passes", false);
        rows.addFrames(id, List.of(1, 2, 3, 4, 5, 6));
        rows.start(id);
        assertThat(rows.find(id).framesLeft()).isNull();
        for (int f = 1; f <= 2; f++) {
            Hold h = rows.take(id, f, "one");
            rows.frameDone(h, f == 1 ? 4 : 8);
            rows.giveBack(h);
        }
        assertThat(rows.find(id).secondsLeft()).isEqualTo(24);
        rows.take(id, 3, "one");
        rows.take(id, 4, "two");
        assertThat(rows.find(id).secondsLeft()).isEqualTo(12);
        assertThat(rows.atWork())
                .filteredOn(a -> a.taskId() == id)
                .extracting(TaskMapper.AtWork::worker)
                .containsExactly("one", "two");
        rows.end(id, "cancelled", "");
    }

    @Test
    void whatWentWrongIsASentence() {
        assertThat(Failure.why(new IllegalStateException(new IOException("No space left on device"))))
                .contains("disk is full");
        assertThat(Failure.why(new RuntimeException(new NoSuchFileException("/a/b/plate.mov"))))
                .contains("plate.mov is missing")
                .doesNotContain("/a/b");
        assertThat(Failure.why(new RuntimeException(new BadInput("the lens is unknown"))))
                .isEqualTo("the lens is unknown");
        assertThat(Failure.why(new OutOfMemoryError())).contains("memory");
        assertThat(Failure.why(new NullPointerException("x"))).contains("something went wrong");
    }

    @Test
    void startingWithoutFramesIsDoneAtOnce() {
        long shot = shot();
        assertThat(tasks.startFrames(shot, head(shot), "idle", "Passes", List.of())
                        .state())
                .isEqualTo("done");
        assertThatThrownBy(() -> shots.head(-1)).isInstanceOf(Shots.NotThere.class);
    }
}
