package dasein.app.task;

/** A task has ended, whichever way. */
public record TaskEnded(long shot) {}
