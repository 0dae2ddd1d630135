package dasein.app.task;

import java.time.OffsetDateTime;

/**
 * A piece of long work. State: waiting, running, done, failed, cancelled. {@code done} in [0, 1]; {@code note} is for
 * people.
 */
public record Task(
        long id,
        long shotId,
        long revisionId,
        String kind,
        String label,
        String settings,
        String state,
        double done,
        String note,
        OffsetDateTime created,
        OffsetDateTime started,
        OffsetDateTime ended) {

    public boolean open() {
        return state.equals("waiting") || state.equals("running");
    }

    /** Seconds still to go, from the pace so far; negative when nothing can be said yet. */
    public long secondsLeft() {
        if (started == null || done < 0.02 || !open()) return -1;
        double gone = java.time.Duration.between(started, OffsetDateTime.now()).toMillis() / 1000.0;
        return Math.round(gone * (1 - done) / done);
    }

    public String left() {
        long s = secondsLeft();
        return s < 0 ? "" : s < 90 ? s + " s" : (s + 30) / 60 + " min";
    }

    public int percent() {
        return (int) Math.round(100 * done);
    }
}
