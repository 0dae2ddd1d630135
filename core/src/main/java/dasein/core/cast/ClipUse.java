package dasein.core.cast;

import dasein.core.BadInput;

/**
 * A clip as a performer plays it.
 *
 * @param clip its name in the model
 * @param at frame in which it begins; the first of a performer plays from the start whatever its frame is when that is
 *     0
 * @param from seconds into the clip where it is entered; {@code to} where it ends, 0 for the clip's own end
 * @param offset seconds by which it is further on at its first frame
 * @param speed 1 for its own, negative backwards
 * @param repeat what happens at its end
 * @param blend frames over which it takes over from the one before it
 */
public record ClipUse(
        String clip, int at, double from, double to, double offset, double speed, Repeat repeat, double blend) {
    public enum Repeat {
        HOLD,
        LOOP,
        THERE_AND_BACK
    }

    public ClipUse {
        if (repeat == null) repeat = Repeat.LOOP;
        if (!(from >= 0 && to >= 0 && blend >= 0 && blend < 1e5 && Math.abs(speed) <= 100))
            throw new BadInput("the clip " + clip + " has a part, speed or blend that cannot be played");
        if (to > 0 && to <= from) throw new BadInput("the clip " + clip + " ends before it begins");
    }

    /** @param length of the clip in seconds; @param seconds since it began; @return seconds into the clip */
    public double time(double seconds, double length) {
        double end = to > 0 ? Math.min(to, length) : length, span = end - from;
        if (span <= 0) return Math.min(from, length);
        double t = offset + seconds * speed;
        return from
                + switch (repeat) {
                    case HOLD -> Math.max(0, Math.min(span, t));
                    case LOOP -> t - Math.floor(t / span) * span;
                    case THERE_AND_BACK -> {
                        double u = t - Math.floor(t / (2 * span)) * 2 * span;
                        yield u > span ? 2 * span - u : u;
                    }
                };
    }
}
