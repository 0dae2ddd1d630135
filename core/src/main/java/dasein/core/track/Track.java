package dasein.core.track;

/** One mark: the frames (rising) in which it is seen and where, in continuous pixels. Arrays of equal length, not to be written. */
public record Track(int id, int[] frames, double[] x, double[] y) {
    public int length() { return frames.length; }

    /** Place of a frame in the arrays, or -1. */
    public int at(int frame) {
        int i = java.util.Arrays.binarySearch(frames, frame);
        return i < 0 ? -1 : i;
    }
}
