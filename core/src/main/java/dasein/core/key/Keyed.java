package dasein.core.key;

/**
 * Something with numbers that can be keyed. Each number is a channel: what it is at rest, and a curve over that. Values
 * are immutable, so every change gives a new one.
 *
 * @param <K> what a change gives back
 */
public interface Keyed<K extends Keyed<K>> {
    /** As sentences call it. */
    String name();

    boolean has(String channel);

    /** A channel as sentences and the panel call it. */
    default String called(String channel) {
        return channel;
    }

    /** What the channel is without keys; 0 where that follows from something else. */
    double rest(String channel);

    K resting(String channel, double value);

    /** Empty where nothing is keyed. */
    Curve curve(String channel);

    K with(String channel, Curve curve);

    /** Sets a number: a key in this frame where it is keyed, else what it is throughout. */
    default K set(String channel, double value, int frame) {
        Curve c = curve(channel);
        if (c.keys().isEmpty()) return resting(channel, value);
        Curve.Key old = c.key(frame);
        return with(
                channel,
                c.with(
                        old == null
                                ? new Curve.Key(frame, value, Curve.Ease.EASED)
                                : new Curve.Key(frame, value, old.ease(), old.in(), old.out())));
    }
}
