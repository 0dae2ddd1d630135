package dasein.core.solve;

import dasein.core.BadInput;
import dasein.core.Progress;
import dasein.core.math.Pose;
import dasein.core.math.Vec3;
import dasein.core.track.Track;
import java.util.ArrayList;
import java.util.List;
import java.util.function.ToDoubleFunction;

/**
 * A thing that moves by itself, from marks on it, before a camera that is solved or stands still. To the marks the
 * thing is what stands and the camera what moves: that is solved with the camera's own lens, and turned round. How
 * large the thing is against the set cannot be seen; it is put at a distance that is given.
 */
public final class ObjectSolver {
    private ObjectSolver() {}

    /** @param objectToWorld where the thing is */
    public record Frame(int frame, Pose objectToWorld, double rmsPx, int tracks) {}

    /**
     * @param points in the thing's own frame; @param distance of its middle from the camera in the first frame it was
     *     solved in, world units
     */
    public record Result(List<Frame> frames, List<SolvedCamera.Point> points, double rmsPx, double distance) {}

    /**
     * @param distance from the camera to the thing's middle in its first frame, world units; 0 for that of the set's
     *     median point
     */
    public static Result solve(List<Track> tracks, SolvedCamera camera, double distance, Progress progress) {
        double focal = camera.lens().focalPx();
        List<Track> inside = tracks.stream()
                .filter(t -> t.frames()[0] >= camera.first() && t.frames()[t.length() - 1] <= camera.last())
                .toList();
        List<Track> straight = HeldLens.straight(inside, camera::lens, focal, camera.width(), camera.height());
        if (straight.isEmpty()) throw new BadInput("the marks of the thing lie outside the frames of the camera");
        SolveSettings s =
                new SolveSettings(SolveSettings.Kind.MOVING, SolveSettings.Focal.HELD, focal, LensTerms.NONE, 0, 1);
        SolvedCamera c = MovingSolver.solve(straight, camera.width(), camera.height(), camera.rate(), s, progress);
        // A mark that slid off lies anywhere: the median does not follow it.
        Vec3 middle = new Vec3(median(c, Vec3::x), median(c, Vec3::y), median(c, Vec3::z));
        double want = distance > 0 ? distance : setDistance(camera),
                scale = want / c.frames().get(0).pose().position().distance(middle);
        List<Frame> frames = new ArrayList<>();
        for (SolvedCamera.Frame f : c.frames()) {
            // The camera in the thing's frame, its size set; the thing in the camera's is the inverse of that.
            Pose seen = new Pose(
                    f.pose().rotation(), f.pose().position().minus(middle).times(scale));
            frames.add(
                    new Frame(f.frame(), camera.frame(f.frame()).pose().times(seen.inverse()), f.rmsPx(), f.tracks()));
        }
        Vec3 at = middle;
        List<SolvedCamera.Point> points = c.points().stream()
                .map(p ->
                        new SolvedCamera.Point(p.id(), p.position().minus(at).times(scale), p.rmsPx(), p.off() * scale))
                .toList();
        return new Result(frames, points, c.rmsPx(), want);
    }

    private static double median(SolvedCamera c, ToDoubleFunction<Vec3> of) {
        return Homography.median(c.points().stream()
                .mapToDouble(p -> of.applyAsDouble(p.position()))
                .toArray());
    }

    private static double setDistance(SolvedCamera camera) {
        Vec3 eye = camera.frames().get(0).pose().position();
        double[] d = camera.points().stream()
                .mapToDouble(p -> p.position().distance(eye))
                .toArray();
        return d.length == 0 ? 5 : Homography.median(d);
    }
}
