package dasein.core.solve;

import dasein.core.lens.Lens;
import dasein.core.track.Track;
import java.util.List;
import java.util.function.IntFunction;

/**
 * Marks as a straight lens with its centre in the middle would have seen them: for solves before which the lens is
 * known.
 */
final class HeldLens {
    private HeldLens() {}

    /** @param lens of a frame; @param focalPx of the straight lens */
    static List<Track> straight(List<Track> tracks, IntFunction<Lens> lens, double focalPx, int width, int height) {
        return tracks.stream()
                .map(t -> {
                    double[] x = new double[t.length()], y = new double[t.length()];
                    for (int i = 0; i < t.length(); i++) {
                        double[] q = lens.apply(t.frames()[i]).undistort(t.x()[i], t.y()[i]);
                        x[i] = width / 2.0 + focalPx * q[0];
                        y[i] = height / 2.0 + focalPx * q[1];
                    }
                    return new Track(t.id(), t.frames(), x, y);
                })
                .toList();
    }
}
