package dasein.app.task;

import dasein.core.Progress;

/** A kind of long work. Must be idempotent: after a crash it is called again. */
public interface Work {
    String kind();

    /** Whether nobody waits for it: it gives way to what somebody does wait for. */
    default boolean batch() {
        return false;
    }

    /** @return a sentence on what came out */
    String run(Task task, Progress progress) throws Exception;

    /** Work made of frames, each a job of its own. */
    interface ByFrame extends Work {
        void frame(Task task, int frame, Progress progress) throws Exception;
    }
}
