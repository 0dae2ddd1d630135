package dasein.app.task;

/**
 * A task has ended, whichever way.
 *
 * @param state done, failed or cancelled; @param note for people
 */
public record TaskEnded(long shot, long task, String kind, String state, String note) {}
