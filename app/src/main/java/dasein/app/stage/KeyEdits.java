package dasein.app.stage;

import dasein.core.BadInput;
import dasein.core.key.Curve;
import dasein.core.key.Curve.Ease;
import dasein.core.key.Curve.Key;
import dasein.core.key.Keyed;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.function.DoubleSupplier;

/** Keys and waves of anything that can be keyed: which it is comes as {@code channel}, where as {@code frame}. */
public final class KeyEdits {
    private static final String[] EASES =
            Arrays.stream(Ease.values()).map(Enum::name).toArray(String[]::new);

    private KeyEdits() {}

    public static boolean knows(String action) {
        return action.equals("key") || action.startsWith("key-") || action.startsWith("wave-");
    }

    public static String channel(Keyed<?> k, Form f) {
        String c = f.text("channel", "");
        if (!k.has(c)) throw new BadInput("there is nothing called \"" + c + "\" to be keyed");
        return c;
    }

    /**
     * Sets, moves or takes away a key or a wave.
     *
     * @param now what the channel is in that frame without waves, for a key of which no value comes
     */
    public static <K extends Keyed<K>> Edited<K> apply(K k, String action, Form f, int frame, DoubleSupplier now) {
        String channel = channel(k, f);
        return switch (action) {
            case "wave-add", "wave-set", "wave-delete" -> wave(k, channel, action, f);
            case "key-set" -> move(k, channel, f, frame);
            case "key-delete" -> {
                need(k, channel, frame);
                yield gone(k, channel, frame);
            }
            case "key-clear" ->
                new Edited<>(
                        k.with(channel, new Curve(List.of(), k.curve(channel).waves())),
                        "keys of " + k.called(channel) + " of " + k.name() + " taken away");
            case "key" ->
                k.curve(channel).key(frame) != null ? gone(k, channel, frame) : put(k, channel, f, frame, now);
            default -> throw new BadInput("there is no change called " + action);
        };
    }

    private static Key need(Keyed<?> k, String channel, int frame) {
        Key here = k.curve(channel).key(frame);
        if (here == null) throw new BadInput("there is no key of " + k.called(channel) + " in frame " + frame);
        return here;
    }

    private static <K extends Keyed<K>> Edited<K> gone(K k, String channel, int frame) {
        return new Edited<>(
                k.with(channel, k.curve(channel).without(frame)),
                k.called(channel) + " of " + k.name() + " no longer keyed in frame " + frame);
    }

    private static <K extends Keyed<K>> Edited<K> put(K k, String channel, Form f, int frame, DoubleSupplier now) {
        double v = f.has("value") ? f.number("value", "the value", 0, -1e6, 1e6) : now.getAsDouble();
        Key key = new Key(frame, v, Ease.valueOf(f.choice("ease", "EASED", EASES)));
        return new Edited<>(
                k.with(channel, k.curve(channel).with(key)),
                k.called(channel) + " of " + k.name() + " keyed in frame " + frame);
    }

    private static <K extends Keyed<K>> Edited<K> move(K k, String channel, Form f, int frame) {
        Curve c = k.curve(channel);
        Key here = need(k, channel, frame);
        int to = f.whole("to", "the frame", frame, 0, 10_000_000);
        if (to != frame && c.key(to) != null)
            throw new BadInput(k.called(channel) + " of " + k.name() + " is keyed in frame " + to + " already");
        Ease ease = Ease.valueOf(f.choice("ease", here.ease().name(), EASES));
        double in = f.number("in", "the slope", here.in(), -1e6, 1e6),
                out = f.number("out", "the slope", here.out(), -1e6, 1e6);
        // A key that becomes free begins along its neighbours.
        if (ease == Ease.FREE && here.ease() != Ease.FREE && !f.has("in") && !f.has("out")) in = out = c.smooth(frame);
        Key moved = new Key(to, f.number("value", "the value", here.value(), -1e6, 1e6), ease, in, out);
        return new Edited<>(
                k.with(channel, c.without(frame).with(moved)),
                k.called(channel) + " of " + k.name() + " keyed in frame " + to);
    }

    private static <K extends Keyed<K>> Edited<K> wave(K k, String channel, String action, Form f) {
        Curve c = k.curve(channel);
        List<Curve.Wave> all = new ArrayList<>(c.waves());
        if (action.equals("wave-delete")) {
            all.remove(f.index(all.size()));
            return new Edited<>(k.with(channel, c.withWaves(all)), "wave taken away");
        }
        Curve.Wave w = new Curve.Wave(
                Curve.Shape.valueOf(f.choice("shape", "SINE", "SINE", "NOISE")),
                f.number("amplitude", "the amplitude", 0.1, -1e5, 1e5),
                f.number("seconds", "the period", 1, 0.01, 1e4),
                f.number("phase", "the phase", 0, -1e4, 1e4),
                f.whole("seed", "the seed", 1, 0, 1_000_000));
        if (action.equals("wave-set")) all.set(f.index(all.size()), w);
        else all.add(w);
        return new Edited<>(k.with(channel, c.withWaves(all)), k.called(channel) + " of " + k.name() + " waves");
    }
}
