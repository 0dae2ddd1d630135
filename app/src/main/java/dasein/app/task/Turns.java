package dasein.app.task;

import java.util.concurrent.ForkJoinPool;
import org.springframework.stereotype.Component;

/**
 * Who works first in this program: what somebody waits for before what is rendered frame by frame. The latter asks now
 * and then, and stands still meanwhile, with all it has done so far.
 */
@Component
public class Turns {
    private static final long LOOK_MILLIS = 500;

    private int first;

    /** Somebody's turn, until it is closed. */
    public interface Turn extends AutoCloseable {
        @Override
        void close();
    }

    /** Begins work that somebody waits for. */
    public synchronized Turn first() {
        first++;
        return this::over;
    }

    private synchronized void over() {
        first--;
        notifyAll();
    }

    public synchronized boolean free() {
        return first == 0;
    }

    /**
     * Waits a little while others come first; may come back before they are done. A thread of the common pool is
     * replaced meanwhile, so that the others have all of the processor.
     *
     * @return whether it is this one's turn
     */
    boolean giveWay() throws InterruptedException {
        if (free()) return true;
        ForkJoinPool.managedBlock(new ForkJoinPool.ManagedBlocker() {
            private boolean waited;

            @Override
            public boolean block() throws InterruptedException {
                synchronized (Turns.this) {
                    if (first > 0) Turns.this.wait(LOOK_MILLIS);
                }
                waited = true;
                return true;
            }

            @Override
            public boolean isReleasable() {
                return waited || free();
            }
        });
        return free();
    }
}
