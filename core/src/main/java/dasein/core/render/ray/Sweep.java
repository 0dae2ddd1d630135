package dasein.core.render.ray;

/**
 * What a build does with many boxes. A box is a record of eight floats: its least corner, one unused, the greatest
 * corner below zero, one unused; so every bound is a least.
 */
abstract class Sweep {
    static final int RECORD = 8, BINS = 16;

    /**
     * Of the records from, up to before to.
     *
     * @param c gets their least and greatest corner, then those of twice their middles: twelve numbers
     */
    abstract void bounds(float[] r, int from, int to, float[] c);

    /**
     * Into bins along all three axes.
     *
     * @param low twice the least middle is {@code c[6 + axis]}; @param s0, s1, s2 bins for each unit of twice the
     *     middle
     * @param bin a record for each bin, axis by axis; @param count of what is in them
     */
    abstract void bin(float[] r, int from, int to, float[] c, float s0, float s1, float s2, float[] bin, int[] count);

    /** Two records change places. */
    abstract void swap(float[] r, int i, int j);
}
