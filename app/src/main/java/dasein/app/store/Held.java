package dasein.app.store;

import java.util.LinkedHashMap;
import java.util.Map;
import java.util.function.Consumer;
import java.util.function.Supplier;
import java.util.function.ToLongFunction;

/**
 * Values that can be had again, kept while there is room: bounded by bytes against the heap, not by their number. The
 * one that was not asked for the longest leaves first.
 */
public final class Held<V> {
    private final long most;
    private final ToLongFunction<V> bytes;
    private final Consumer<V> gone;
    private final Map<String, V> values = new LinkedHashMap<>(16, 0.75f, true);
    private long taken;

    /**
     * @param share part of the heap that all of them may take
     * @param bytes about how much a value takes
     */
    public Held(double share, ToLongFunction<V> bytes) {
        this(share, bytes, v -> {});
    }

    /** @param gone told of each value that leaves */
    public Held(double share, ToLongFunction<V> bytes, Consumer<V> gone) {
        most = (long) (share * Runtime.getRuntime().maxMemory());
        this.bytes = bytes;
        this.gone = gone;
    }

    /** The value of a key, made where it is not held. Two who ask at once may both make it; one of the two is kept. */
    public V get(String key, Supplier<V> make) {
        V known = find(key);
        if (known != null) return known;
        V made = make.get();
        if (made != null) put(key, made);
        return made;
    }

    public synchronized V find(String key) {
        return values.get(key);
    }

    public synchronized void put(String key, V value) {
        V old = values.put(key, value);
        taken += bytes.applyAsLong(value) - (old == null ? 0 : bytes.applyAsLong(old));
        var oldest = values.entrySet().iterator();
        // The newest stays whatever its size: somebody is about to use it.
        while (taken > most && values.size() > 1) {
            V v = oldest.next().getValue();
            taken -= bytes.applyAsLong(v);
            oldest.remove();
            gone.accept(v);
        }
    }

    public synchronized void drop(String key) {
        V old = values.remove(key);
        if (old != null) taken -= bytes.applyAsLong(old);
    }
}
