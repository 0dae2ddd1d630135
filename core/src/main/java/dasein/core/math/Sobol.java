package dasein.core.math;

/**
 * Owen-scrambled (0,2)-sequence samples, padded over dimensions by shuffling the index (Burley 2020, "Practical
 * Hash-based Owen Scrambling"; hash constants of Laine and Karras as improved there). Each call of {@link #next} starts
 * a new pair of dimensions; {@link #u} and {@link #v} then hold the pair in [0, 1). Not thread-safe; one per worker.
 */
public final class Sobol {
    private int index;
    private int seed;
    private int dimension;
    public float u;
    public float v;

    /** Starts sample {@code index} of the pixel (or texel) whose scrambling is {@code seed}. */
    public void start(int index, int seed) {
        this.index = Integer.reverse(index);
        this.seed = seed;
        dimension = 0;
    }

    public void next() {
        int s = hash(seed + 0x9e3779b9 * ++dimension);
        int i = Integer.reverse(laineKarras(index, s));
        u = toUnit(scramble(Integer.reverse(i), hash(s ^ 0x1b873593)));
        v = toUnit(scramble(second(i), hash(s ^ 0xcc9e2d51)));
    }

    /**
     * Second Sobol dimension: the generator matrix of the primitive polynomial x + 1 is Pascal's triangle modulo 2, so
     * output bit r is the sum of the input bits whose number contains r: five masked shifts instead of a loop over all
     * bits.
     */
    static int second(int i) {
        i ^= i >>> 1 & 0x55555555;
        i ^= i >>> 2 & 0x33333333;
        i ^= i >>> 4 & 0x0f0f0f0f;
        i ^= i >>> 8 & 0x00ff00ff;
        i ^= i >>> 16 & 0x0000ffff;
        return Integer.reverse(i);
    }

    private static int scramble(int x, int s) {
        return Integer.reverse(laineKarras(Integer.reverse(x), s));
    }

    private static int laineKarras(int x, int s) {
        x += s;
        x ^= x * 0x6c50b47c;
        x ^= x * 0xb82f1e52;
        x ^= x * 0xc7afe638;
        x ^= x * 0x8d22f6e6;
        return x;
    }

    private static float toUnit(int x) {
        return (x >>> 8) * 0x1p-24f;
    }

    /** A well-mixed 32-bit hash (finaliser of MurmurHash3). */
    public static int hash(int x) {
        x ^= x >>> 16;
        x *= 0x85ebca6b;
        x ^= x >>> 13;
        x *= 0xc2b2ae35;
        return x ^ x >>> 16;
    }
}
