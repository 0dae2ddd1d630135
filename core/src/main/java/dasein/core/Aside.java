package dasein.core;

import java.util.concurrent.Executor;

/**
 * Where something is done beside one's own work, and waited for: a thread of its own each time. The common pool has but
 * one thread on two cores, and who waits for a place in it waits for whatever that thread is at, a frame's rendering
 * for one.
 */
public final class Aside {
    public static final Executor THREAD = work -> {
        Thread t = new Thread(work, "aside");
        t.setDaemon(true);
        t.start();
    };

    private Aside() {}
}
