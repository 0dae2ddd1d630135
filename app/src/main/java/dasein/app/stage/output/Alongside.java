package dasein.app.stage.output;

import java.io.IOException;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;

/**
 * Writing that goes on, one piece after the other, on a thread of its own while its caller makes the next: at most one
 * is under way, so that no frames pile up in memory.
 */
final class Alongside implements AutoCloseable {
    interface Piece {
        void write() throws IOException;
    }

    private final ExecutorService one = Executors.newSingleThreadExecutor(r -> {
        Thread t = new Thread(r, "writing");
        t.setDaemon(true);
        return t;
    });
    private Future<?> under;

    /** Begins a piece as soon as the one before is done; throws what that one threw. */
    void begin(Piece p) throws IOException {
        finish();
        under = one.submit(() -> {
            p.write();
            return null;
        });
    }

    /** Waits until all of it is written; throws what the last piece threw. */
    void finish() throws IOException {
        Future<?> last = under;
        if (last == null) return;
        under = null;
        try {
            last.get();
        } catch (ExecutionException e) {
            if (e.getCause() instanceof IOException io) throw io;
            if (e.getCause() instanceof RuntimeException r) throw r;
            throw new IllegalStateException(e.getCause());
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw new IllegalStateException("stopped while writing", e);
        }
    }

    /** Waits for what is under way, whatever becomes of it: what it writes to may be closed afterwards. */
    @Override
    public void close() {
        one.shutdown();
        try {
            if (under != null) under.get();
        } catch (ExecutionException e) {
            // The caller failed by something else already.
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
    }
}
