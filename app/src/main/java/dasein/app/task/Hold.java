package dasein.app.task;

/**
 * A job in a worker's hands: everything it says of the job counts only as long as nobody took it over.
 *
 * @param frame {@link #WHOLE} for a task that is one job; @param attempt one more each time it is taken
 * @param deaths attempts before that ended with their workers
 */
public record Hold(long taskId, int frame, int attempt, int deaths) {
    static final int WHOLE = -1;
}
