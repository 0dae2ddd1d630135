package dasein.core.render;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dasein.core.Aside;
import dasein.core.BadInput;
import dasein.core.Progress;
import dasein.core.render.pass.PassSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.CancellationException;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.Test;

/** Memory is asked for before a frame is rendered. */
class RenderRoomTest {
    private static final long MOST = (long) (0.55 * Runtime.getRuntime().maxMemory());

    /** Pixels of a plain frame that takes so many bytes. */
    private static long rows(long bytes) {
        return bytes / RenderRoom.bytes(1000, 1, Keep.PLAIN, 3, 0);
    }

    @Test
    void whatCanNeverFitIsRefusedWithWhatToDo() {
        assertThatThrownBy(() -> RenderRoom.take(1000, 2 * rows(MOST), Keep.PLAIN, 3, 0, Progress.NONE))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("GB of memory")
                .hasMessageContaining("smaller size");
        Keep apart = new Keep(LightGroups.Apart.INDIRECT);
        assertThatThrownBy(() -> RenderRoom.take(1000, rows(MOST), apart, 6, 0, Progress.NONE))
                .hasMessageContaining("keep lights together");
        assertThatThrownBy(() -> RenderRoom.take(640, 360, Keep.PLAIN, 3, 1L << 40, Progress.NONE))
                .hasMessageContaining("simpler models");
    }

    /** What is kept costs; five million triangles with 4K frames find room in four gigabytes. */
    @Test
    void whatIsKeptCosts() {
        long plain = RenderRoom.bytes(1280, 720, Keep.PLAIN, 3, 0),
                apart = RenderRoom.bytes(1280, 720, new Keep(LightGroups.Apart.LIGHTS), 3, 0),
                more =
                        RenderRoom.bytes(
                                1280,
                                720,
                                new Keep(
                                        LightGroups.Apart.INDIRECT, List.of(), Set.of(PassSet.values()), 0.3, Map.of()),
                                3,
                                0);
        assertThat(apart).isGreaterThan(plain * 3 / 2);
        assertThat(more).isGreaterThan(apart * 5 / 4);
        assertThat(RenderRoom.bytes(1920, 1080, Keep.PLAIN, 3, 5_000_000)).isLessThan((long) (0.55 * 4e9));
    }

    /** Two that do not fit beside each other come one after the other; who waits still learns of a cancel. */
    @Test
    void whatDoesNotFitBesideAnotherWaits() throws Exception {
        long high = rows(MOST) * 2 / 3;
        RenderRoom first = RenderRoom.take(1000, high, Keep.PLAIN, 3, 0, Progress.NONE);
        CountDownLatch asked = new CountDownLatch(1);
        CompletableFuture<RenderRoom> second = CompletableFuture.supplyAsync(
                () -> RenderRoom.take(1000, high, Keep.PLAIN, 3, 0, (done, what) -> asked.countDown()), Aside.THREAD);
        assertThat(asked.await(20, TimeUnit.SECONDS)).as("it waits").isTrue();
        assertThat(second).isNotDone();
        assertThatThrownBy(() -> RenderRoom.take(1000, high, Keep.PLAIN, 3, 0, (done, what) -> {
                    assertThat(what).isEqualTo("waits for memory");
                    throw new CancellationException();
                }))
                .isInstanceOf(CancellationException.class);
        // Who has room is told, and whoever tells of waiting holds nobody up meanwhile.
        long end = System.nanoTime() + 20_000_000_000L;
        while (!RenderRoom.wanted()) assertThat(System.nanoTime()).isLessThan(end);
        assertThatThrownBy(() -> RenderRoom.take(1000, high, Keep.PLAIN, 3, 0, (done, what) -> {
                    assertThat(CompletableFuture.supplyAsync(RenderRoom::wanted, Aside.THREAD))
                            .succeedsWithin(20, TimeUnit.SECONDS);
                    throw new CancellationException();
                }))
                .isInstanceOf(CancellationException.class);
        first.close();
        // Twice is once.
        first.close();
        second.get(20, TimeUnit.SECONDS).close();
        RenderRoom.take(1000, high, Keep.PLAIN, 3, 0, Progress.NONE).close();
    }
}
