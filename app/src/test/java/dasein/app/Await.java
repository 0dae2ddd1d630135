package dasein.app;

import static org.assertj.core.api.Assertions.assertThat;

/** Waiting for a state, where no browser waits. */
public final class Await {
    private static final long PATIENCE = 180_000_000_000L;

    private Await() {}

    public interface State {
        boolean there() throws Exception;
    }

    public static void until(String what, State state) throws Exception {
        long end = System.nanoTime() + PATIENCE;
        while (!state.there()) {
            assertThat(System.nanoTime())
                    .as(() -> what + "\n" + Threads.ofOurs())
                    .isLessThan(end);
            Thread.sleep(50);
        }
    }
}
