package dasein.core.track;

import java.util.Arrays;

/** A mark while it is being followed. */
final class Mark {
    final int id;
    int[] frames = new int[16];
    double[] x = new double[16];
    double[] y = new double[16];
    float[] match = new float[16];
    int n;
    /** What it is held against, and the affine warp from there to here. */
    Look anchor;

    double[] warp = {1, 0, 0, 1};
    /** Last motion, pixels a frame. */
    double vx, vy;
    /** How far the last prediction was off, in pixels: how wide to search. */
    double surprise = 9;
    /** Frames since it was last held against its anchor. */
    int unheld;

    boolean lost;
    /** Where it should be while it is hidden. */
    double hiddenX, hiddenY;

    Mark(int id) {
        this.id = id;
    }

    void add(int frame, double px, double py, double correlation) {
        if (n == frames.length) {
            frames = Arrays.copyOf(frames, 2 * n);
            x = Arrays.copyOf(x, 2 * n);
            y = Arrays.copyOf(y, 2 * n);
            match = Arrays.copyOf(match, 2 * n);
        }
        frames[n] = frame;
        x[n] = px;
        y[n] = py;
        match[n++] = (float) correlation;
    }

    /**
     * Spreads a correction of sighting {@code last} over the {@code frames} sightings up to it, in which it crept in.
     */
    void correct(int last, double dx, double dy, int frames) {
        for (int k = 0; k < frames && last - k > 0; k++) {
            double f = 1 - (double) k / frames;
            x[last - k] += f * dx;
            y[last - k] += f * dy;
        }
    }

    double lastX() {
        return x[n - 1];
    }

    double lastY() {
        return y[n - 1];
    }

    Track track() {
        return new Track(
                id, Arrays.copyOf(frames, n), Arrays.copyOf(x, n), Arrays.copyOf(y, n), Arrays.copyOf(match, n));
    }
}
