package dasein.core.track;

import java.util.List;

/** How many marks each frame has, and how much of the picture they stand in. */
public final class Coverage {
    private static final int GRID_X = 8;
    private static final int GRID_Y = 6;

    private Coverage() {}

    /** Marks alive in each frame first..last. */
    public static int[] alive(List<Track> tracks, int first, int last) {
        int[] n = new int[last - first + 1];
        for (Track t : tracks) for (int f : t.frames()) if (f >= first && f <= last) n[f - first]++;
        return n;
    }

    /** Part of an 8 x 6 grid's cells that hold a mark, mean over frames, [0, 1]. */
    public static double covered(List<Track> tracks, int first, int last, int width, int height) {
        long[] cells = new long[last - first + 1];
        for (Track t : tracks) {
            for (int i = 0; i < t.length(); i++) {
                int f = t.frames()[i] - first;
                if (f < 0 || f >= cells.length) continue;
                int cx = Math.max(0, Math.min(GRID_X - 1, (int) (t.x()[i] * GRID_X / width))),
                        cy = Math.max(0, Math.min(GRID_Y - 1, (int) (t.y()[i] * GRID_Y / height)));
                cells[f] |= 1L << cy * GRID_X + cx;
            }
        }
        double sum = 0;
        for (long c : cells) sum += Long.bitCount(c);
        return sum / (cells.length * GRID_X * GRID_Y);
    }
}
