package dasein.core.ground;

import dasein.core.NoSolution;
import dasein.core.math.Vec3;
import dasein.core.solve.SolvedCamera;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashSet;
import java.util.List;
import java.util.Random;
import java.util.Set;

/** Planes among the solved points, found by random samples (Fischler and Bolles 1981) one after the other. */
public final class PlaneSearch {
    private static final int PROPOSALS = 400, LEAST = 6;
    /** A plane counts as level by the part of its normal along the camera's mean upright: 32 degrees. */
    private static final double LEVEL = 0.85;

    private final List<SolvedCamera.Point> all;
    private final Set<Integer> taken = new HashSet<>();
    private final Random random = new Random(7);
    private final double[] depths;
    private final double reach, thick;
    private Vec3 eye = Vec3.ZERO, up = Vec3.ZERO;

    /**
     * @param points numbers of those that lie on it
     * @param leanDeg angle between its normal and the camera's mean upright, 0 for a floor, 90 for a wall
     * @param below whether it lies below the cameras and faces them, as a ground does
     */
    public record Plane(List<Integer> points, double leanDeg, boolean below) {
        /** As what it is likely. */
        public String said() {
            if (leanDeg < 32) return below ? "level, below the camera" : "level, above the camera";
            return leanDeg > 69 ? "upright" : "slanting";
        }
    }

    private PlaneSearch(SolvedCamera solve) {
        all = solve.points();
        if (all.size() < 12)
            throw new NoSolution("there are too few solved points to propose a ground; choose three or more by hand");
        for (SolvedCamera.Frame f : solve.frames()) {
            eye = eye.plus(f.pose().position().times(1.0 / solve.frames().size()));
            up = up.plus(f.pose().rotation().rotate(Vec3.Y));
        }
        up = up.unit();
        depths = all.stream().mapToDouble(p -> p.position().distance(eye)).toArray();
        double[] sorted = depths.clone();
        Arrays.sort(sorted);
        reach = sorted[sorted.length * 8 / 10];
        thick = 0.006 * sorted[sorted.length / 2];
    }

    /**
     * Points of the plane that is most likely the ground: many points, roughly level, below the cameras, little beneath
     * it.
     */
    static List<Integer> ground(SolvedCamera solve) {
        Plane p = new PlaneSearch(solve).best(true);
        if (p == null)
            throw new NoSolution(
                    "no plane among the solved points looks like the ground; choose three or more points by hand");
        return p.points;
    }

    /**
     * The likely ground first, then the planes that hold most of the points that are left. @param most how many at most
     */
    public static List<Plane> planes(SolvedCamera solve, int most) {
        if (solve.points().size() < 12) return List.of();
        PlaneSearch search = new PlaneSearch(solve);
        List<Plane> out = new ArrayList<>();
        boolean ground = true;
        while (out.size() < most) {
            Plane p = search.best(ground);
            if (p == null && !ground) break;
            ground = false;
            if (p == null) continue;
            out.add(p);
            search.taken.addAll(p.points);
        }
        return out;
    }

    private Plane best(boolean ground) {
        List<SolvedCamera.Point> left =
                all.stream().filter(p -> !taken.contains(p.id())).toList();
        if (left.size() < LEAST) return null;
        double best = 0;
        Plane plane = null;
        for (int k = 0; k < PROPOSALS; k++) {
            Vec3 a = any(left), b = any(left), c = any(left);
            Vec3 n = b.minus(a).cross(c.minus(a));
            if (n.length() < 1e-9) continue;
            n = n.unit();
            if (n.dot(up) < 0) n = n.times(-1);
            boolean below = eye.minus(a).dot(n) > 0;
            if (ground && (n.dot(up) < LEVEL || !below)) continue;
            double score = 0;
            List<Integer> in = new ArrayList<>();
            for (int i = 0; i < all.size(); i++) {
                double d = all.get(i).position().minus(a).dot(n), t = thick * Math.max(1, depths[i] / reach);
                if (Math.abs(d) < t && depths[i] < 1.5 * reach) {
                    if (taken.contains(all.get(i).id())) continue;
                    in.add(all.get(i).id());
                    score += 1 - Math.abs(d) / t * 0.5;
                } else if (ground && d < -4 * t) {
                    score -= 0.3;
                }
            }
            if (score > best && in.size() >= LEAST) {
                best = score;
                plane = new Plane(in, Math.toDegrees(Math.acos(Math.min(1, n.dot(up)))), below);
            }
        }
        return plane;
    }

    private Vec3 any(List<SolvedCamera.Point> of) {
        return of.get(random.nextInt(of.size())).position();
    }
}
