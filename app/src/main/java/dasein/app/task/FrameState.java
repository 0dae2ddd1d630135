package dasein.app.task;

/**
 * A frame of a task.
 *
 * @param worker program that has it in hand, empty for none; @param attempt how often it was taken up
 * @param forSeconds since it was taken; @param seconds it took, null until it is done; @param note why it failed
 */
public record FrameState(
        int frame,
        boolean finished,
        boolean failed,
        String note,
        Double seconds,
        String worker,
        int attempt,
        double forSeconds) {
    public String state() {
        return finished ? "done" : failed ? "failed" : !worker.isEmpty() ? "inhand" : "waiting";
    }
}
