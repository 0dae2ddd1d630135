package dasein.core.lens;

import dasein.core.math.Pose;
import dasein.core.math.Vec3;

/** The camera of one frame: pose at shutter open and close, lens in pixels of this picture size. */
public record View(Pose open, Pose close, Lens lens, int width, int height) {
    public Pose at(double s) { return open.interpolate(close, s); }

    /** Pixel of a world point in the middle of the shutter; null when it is not in front. */
    public double[] project(Vec3 world) { return lens.project(at(0.5).toLocal(world)); }
}
