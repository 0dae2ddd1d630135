package dasein.core.ground;

import dasein.core.BadInput;
import dasein.core.lens.Lens;
import dasein.core.math.Pose;
import dasein.core.math.Vec3;
import dasein.core.solve.SolvedCamera;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.ejml.simple.SimpleMatrix;

/**
 * The points a set is laid by, in the solve's frame: solved ones and those picked in several frames are fixed; those
 * picked in one frame lie where their ray meets the ground, or the upright over another point, wherever those are just
 * now. Of a camera that only turned or stood still every point is a ray.
 */
final class SetPoints {
    /** Rays that differ by less do not meet anywhere in particular. */
    private static final double LEAST_ANGLE = Math.toRadians(0.3);

    /** A line through the picture into the set. */
    record Ray(Vec3 eye, Vec3 towards, int frame) {}

    private final Map<Integer, Vec3> fixed = new HashMap<>();
    private final Map<Integer, Ray> rays = new HashMap<>();
    private final Map<Integer, Integer> above = new HashMap<>();
    /** Those that lie on set pieces, which stand in the frame that is only being laid. */
    private final java.util.Set<Integer> onPieces = new java.util.HashSet<>();

    final SolvedCamera solve;
    final boolean depth;

    SetPoints(SolvedCamera solve, List<PickedPoint> picked) {
        this.solve = solve;
        depth = solve.depth();
        Vec3 eye = solve.frames().get(0).pose().position();
        for (SolvedCamera.Point p : solve.points()) {
            if (depth) fixed.put(p.id(), p.position());
            else rays.put(p.id(), new Ray(eye, p.position().minus(eye).unit(), solve.first()));
        }
        for (PickedPoint p : picked) {
            if (p.picks().isEmpty()) continue;
            List<Ray> all = p.picks().stream()
                    .map(k -> ray(solve, k.frame(), k.x(), k.y()))
                    .toList();
            Vec3 meet = depth && all.size() > 1 ? meeting(all) : null;
            if (meet != null) fixed.put(p.id(), meet);
            else if (p.on() != 0) onPieces.add(p.id());
            else rays.put(p.id(), all.get(0));
            if (meet == null && p.above() != 0 && p.on() == 0) above.put(p.id(), p.above());
        }
    }

    static Ray ray(SolvedCamera solve, int frame, double x, double y) {
        if (!solve.has(frame))
            throw new BadInput("frame " + frame + ", in which something was picked, is " + "not solved");
        Lens l = solve.lens(frame);
        Pose p = solve.frame(frame).pose();
        return new Ray(p.position(), p.rotation().rotate(l.ray(x, y)).unit(), frame);
    }

    /** The point nearest to all rays; null when they hardly differ. */
    private static Vec3 meeting(List<Ray> rays) {
        double widest = 0;
        for (Ray a : rays)
            for (Ray b : rays) widest = Math.max(widest, Math.acos(Math.min(1, a.towards.dot(b.towards))));
        double base = 0;
        for (Ray a : rays) for (Ray b : rays) base = Math.max(base, a.eye.distance(b.eye));
        if (base < 1e-9) return null;
        SimpleMatrix m = new SimpleMatrix(3, 3), v = new SimpleMatrix(3, 1);
        for (Ray r : rays) {
            double[] d = r.towards.array(), e = r.eye.array();
            for (int i = 0; i < 3; i++) {
                for (int j = 0; j < 3; j++) {
                    double k = (i == j ? 1 : 0) - d[i] * d[j];
                    m.set(i, j, m.get(i, j) + k);
                    v.set(i, v.get(i) + k * e[j]);
                }
            }
        }
        SimpleMatrix x = m.solve(v);
        Vec3 p = new Vec3(x.get(0), x.get(1), x.get(2));
        double angle = 0;
        for (Ray a : rays)
            for (Ray b : rays)
                angle = Math.max(
                        angle,
                        Math.acos(Math.min(
                                1, p.minus(a.eye).unit().dot(p.minus(b.eye).unit()))));
        return angle < LEAST_ANGLE ? null : p;
    }

    boolean knows(int id) {
        return fixed.containsKey(id) || rays.containsKey(id);
    }

    /** Whether a point stays where it is whatever the ground does. */
    boolean isFixed(int id) {
        return fixed.containsKey(id);
    }

    Ray ray(int id) {
        return rays.get(id);
    }

    /**
     * @param up unit, the ground's normal; @param h height of the frame's origin over the ground, along it
     * @param what is asked for, to name it when the point is missing
     * @return null when the ray does not meet the ground
     */
    Vec3 at(int id, Vec3 up, double h, String what) {
        return at(id, up, h, what, 4);
    }

    private Vec3 at(int id, Vec3 up, double h, String what, int deep) {
        Vec3 p = fixed.get(id);
        if (p != null) return p;
        Ray r = rays.get(id);
        if (onPieces.contains(id))
            throw new BadInput(what + " names point " + id
                    + ", which lies on a set piece, and pieces stand in the set that is being laid; "
                    + "choose another point");
        if (r == null)
            throw new BadInput(what + " names point " + id + ", which is not solved; choose " + "another point");
        Integer foot = above.get(id);
        if (foot != null && deep > 0) {
            Vec3 base = at(foot, up, h, what, deep - 1);
            if (base == null) return null;
            // Where the upright passes the ray.
            Vec3 w = r.eye.minus(base);
            double b = r.towards.dot(up), k = 1 - b * b;
            if (k < 1e-9) return null;
            double along = (w.dot(up) - b * w.dot(r.towards)) / k;
            return base.plus(up.times(along));
        }
        double down = r.towards.dot(up);
        if (down > -1e-6) return null;
        return r.eye.plus(r.towards.times(-(r.eye.dot(up) + h) / down));
    }

    List<Integer> all() {
        List<Integer> ids = new ArrayList<>(fixed.keySet());
        ids.addAll(rays.keySet());
        return ids;
    }
}
