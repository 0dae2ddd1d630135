package dasein.core.lens;

import dasein.core.math.Pose;
import dasein.core.math.Vec3;

/**
 * The camera of one frame: pose at the beginning and end of the time in which the picture is taken, lens in pixels of
 * this picture size.
 *
 * @param rows part of that time by which the last row is taken later than the first, in [-1, 1]; 0 when all are taken
 *     at once
 */
public record View(Pose open, Pose close, Lens lens, int width, int height, double rows) {
    public View(Pose open, Pose close, Lens lens, int width, int height) {
        this(open, close, lens, width, height, 0);
    }

    /** Time in [0, 1] at which row y is taken, for the moment s in [0, 1] of its exposure. */
    public double time(double y, double s) {
        return rows == 0 ? s : (1 - Math.abs(rows)) * s + (rows > 0 ? rows * y / height : -rows * (1 - y / height));
    }

    public Pose at(double s) {
        return open.interpolate(close, s);
    }

    /** Pixel of a world point in the middle of its row's exposure; null when it is not in front. */
    public double[] project(Vec3 world) {
        double[] p = lens.project(at(0.5).toLocal(world));
        // The row decides the moment, and the moment the row.
        for (int k = 0; k < 3 && rows != 0 && p != null; k++)
            p = lens.project(at(time(Math.max(0, Math.min(height, p[1])), 0.5)).toLocal(world));
        return p;
    }

    /**
     * What of it a part of the picture shows. @throws IllegalStateException where rows are taken one after the other
     */
    public View part(int left, int top, int w, int h) {
        if (rows != 0) throw new IllegalStateException("rows of a part would not know their moment");
        return new View(open, close, lens.shifted(-left, -top), w, h, 0);
    }
}
