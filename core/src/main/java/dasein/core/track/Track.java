package dasein.core.track;

import java.util.Arrays;

/**
 * One mark: the frames (rising, gaps where it was hidden) in which it is seen and where, in continuous pixels. Arrays
 * of equal length, not to be written.
 *
 * @param match how well the mark's look was found again, correlation in [-1, 1]; NaN where it was not measured
 */
public record Track(int id, int[] frames, double[] x, double[] y, float[] match) {
    public Track(int id, int[] frames, double[] x, double[] y) {
        this(id, frames, x, y, new float[frames.length]);
        Arrays.fill(match, Float.NaN);
    }

    public int length() {
        return frames.length;
    }

    /** What is seen of it from one frame to another, both included. */
    public Track within(int first, int last) {
        if (length() == 0 || frames[0] >= first && frames[length() - 1] <= last) return this;
        int a = 0, b = length();
        while (a < b && frames[a] < first) a++;
        while (b > a && frames[b - 1] > last) b--;
        return new Track(
                id,
                Arrays.copyOfRange(frames, a, b),
                Arrays.copyOfRange(x, a, b),
                Arrays.copyOfRange(y, a, b),
                Arrays.copyOfRange(match, a, b));
    }

    /** Place of a frame in the arrays, or -1. */
    public int at(int frame) {
        int i = Arrays.binarySearch(frames, frame);
        return i < 0 ? -1 : i;
    }
}
