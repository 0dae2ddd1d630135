package dasein.app.task;

import java.time.OffsetDateTime;

/**
 * A piece of long work. State: waiting, running, paused, done, failed, cancelled. {@code done} in [0, 1]; {@code note}
 * is for people. {@code low}: done when nothing else is to be done. {@code framesLeft}: seconds that the frames which
 * are left will take, by those that are done; null where there are none.
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
        OffsetDateTime ended,
        boolean low,
        Double framesLeft) {

    /** What is done, with what it is done to where that is said in words. */
    public String said() {
        return settings.startsWith("{") ? label : label + " " + settings;
    }

    public boolean open() {
        return state.equals("waiting") || state.equals("running") || paused();
    }

    public boolean paused() {
        return state.equals("paused");
    }

    /** Seconds still to go, from the pace so far; negative when nothing can be said yet. */
    public long secondsLeft() {
        if (started == null || paused() || !open()) return -1;
        if (framesLeft != null) return Math.round(framesLeft);
        if (done < 0.02) return -1;
        double gone = java.time.Duration.between(started, OffsetDateTime.now()).toMillis() / 1000.0;
        return Math.round(gone * (1 - done) / done);
    }

    public String left() {
        long s = secondsLeft();
        return s < 0 ? "" : s < 90 ? s + " s" : (s + 30) / 60 + " min";
    }

    /** How long it took, or has taken so far. */
    public String took() {
        if (started == null) return "";
        OffsetDateTime until = ended == null ? OffsetDateTime.now() : ended;
        long s = java.time.Duration.between(started, until).toSeconds();
        return s < 90 ? s + " s" : (s + 30) / 60 + " min";
    }

    public int percent() {
        return (int) Math.round(100 * done);
    }
}
