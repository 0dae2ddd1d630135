package dasein.core.key;

import dasein.core.BadInput;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;

/**
 * A number over frames: keys with what lies between them, and waves on top. Before the first key and after the last it
 * stays.
 *
 * @param keys rising by frame; may be empty, then only the waves count
 */
public record Curve(List<Key> keys, List<Wave> waves) {
    private static final int MOST_KEYS = 2000, MOST_WAVES = 8;

    /** How a curve passes a key. */
    public enum Ease {
        /** Stays until the next key. */
        HOLD,
        /** Straight towards the neighbours. */
        LINEAR,
        /** Comes to rest. */
        EASED,
        /** By its own slopes. */
        FREE
    }

    /** @param in slope before it, units a frame, {@code out} after it; only those of FREE keys count */
    public record Key(int frame, double value, Ease ease, double in, double out) {
        public Key {
            if (ease == null) ease = Ease.EASED;
            if (!(Math.abs(value) < 1e9 && Math.abs(in) < 1e9 && Math.abs(out) < 1e9))
                throw new BadInput("a key has no usable value");
        }

        public Key(int frame, double value, Ease ease) {
            this(frame, value, ease, 0, 0);
        }
    }

    public enum Shape {
        SINE,
        NOISE
    }

    /**
     * @param amplitude from the middle to either side; @param seconds of one period; @param phase in periods; @param
     *     seed of the noise
     */
    public record Wave(Shape shape, double amplitude, double seconds, double phase, int seed) {
        public Wave {
            if (!(seconds > 0.001 && seconds < 1e5 && Math.abs(amplitude) < 1e6 && Math.abs(phase) < 1e6))
                throw new BadInput("a wave needs a period above 0.001 s");
        }
    }

    public static final Curve NONE = new Curve(List.of(), List.of());

    public Curve {
        if (keys == null) keys = List.of();
        if (waves == null) waves = List.of();
        if (keys.size() > MOST_KEYS || waves.size() > MOST_WAVES)
            throw new BadInput("a curve holds at most " + MOST_KEYS + " keys and " + MOST_WAVES + " waves");
        for (int i = 1; i < keys.size(); i++)
            if (keys.get(i).frame <= keys.get(i - 1).frame) throw new BadInput("the keys of a curve must rise");
    }

    /** The key in this frame, or null. */
    public Key key(int frame) {
        return keys.stream().filter(k -> k.frame == frame).findFirst().orElse(null);
    }

    public boolean empty() {
        return keys.isEmpty() && waves.isEmpty();
    }

    /** @param rest what it is without keys; @param rate frames a second, by which waves run */
    public double at(double frame, double rest, double rate) {
        double v = keys.isEmpty() ? rest : keyed(frame);
        for (Wave w : waves) {
            double t = frame / rate / w.seconds + w.phase;
            v += w.amplitude * (w.shape == Shape.SINE ? Math.sin(2 * Math.PI * t) : noise(t, w.seed));
        }
        return v;
    }

    private double keyed(double frame) {
        int k = 0, n = keys.size();
        while (k < n && keys.get(k).frame <= frame) k++;
        if (k == 0) return keys.get(0).value;
        if (k == n) return keys.get(n - 1).value;
        Key a = keys.get(k - 1), b = keys.get(k);
        if (a.ease == Ease.HOLD) return a.value;
        double span = b.frame - a.frame, u = (frame - a.frame) / span, chord = (b.value - a.value) / span;
        double out = slope(a.ease, a.out, chord), in = slope(b.ease, b.in, chord), u2 = u * u, u3 = u2 * u;
        // Cubic Hermite, as glTF 2.0 appendix C writes it.
        return (2 * u3 - 3 * u2 + 1) * a.value
                + (u3 - 2 * u2 + u) * span * out
                + (3 * u2 - 2 * u3) * b.value
                + (u3 - u2) * span * in;
    }

    private static double slope(Ease e, double own, double chord) {
        return e == Ease.EASED ? 0 : e == Ease.FREE ? own : chord;
    }

    /**
     * Smooth noise in [-1, 1] that passes zero at whole numbers (gradient noise, Perlin 2002, in one dimension, scaled
     * to that range).
     */
    private static double noise(double t, int seed) {
        long i = (long) Math.floor(t);
        double u = t - i, a = gradient(i, seed) * u, b = gradient(i + 1, seed) * (u - 1);
        return 2 * (a + u * u * u * (u * (6 * u - 15) + 10) * (b - a));
    }

    private static double gradient(long i, int seed) {
        long h = i * 0x9E3779B97F4A7C15L + seed * 0xC2B2AE3D27D4EB4FL;
        h = (h ^ h >>> 30) * 0xBF58476D1CE4E5B9L;
        h = (h ^ h >>> 27) * 0x94D049BB133111EBL;
        return ((h ^ h >>> 31) >>> 11) * 0x1p-52 - 1;
    }

    /** With a key set; one of the same frame is replaced. */
    public Curve with(Key k) {
        List<Key> all =
                new ArrayList<>(keys.stream().filter(o -> o.frame != k.frame).toList());
        all.add(k);
        all.sort(Comparator.comparingInt(Key::frame));
        return new Curve(List.copyOf(all), waves);
    }

    public Curve without(int frame) {
        return new Curve(keys.stream().filter(k -> k.frame != frame).toList(), waves);
    }

    public Curve withWaves(List<Wave> w) {
        return new Curve(keys, List.copyOf(w));
    }

    /** The slope a free key gets at first: along its neighbours (Catmull and Rom 1974). */
    public double smooth(int frame) {
        int i = 0;
        while (i < keys.size() && keys.get(i).frame != frame) i++;
        if (i == 0 || i >= keys.size() - 1) return 0;
        Key a = keys.get(i - 1), b = keys.get(i + 1);
        return (b.value - a.value) / (b.frame - a.frame);
    }
}
