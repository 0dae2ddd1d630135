package dasein.core.ground;

import dasein.core.BadInput;
import dasein.core.NoSolution;
import dasein.core.math.Quat;
import dasein.core.math.Similarity;
import dasein.core.math.Vec3;
import dasein.core.solve.SolvedCamera;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import org.ejml.simple.SimpleMatrix;
import org.ejml.simple.SimpleSVD;

/**
 * Ground plane, origin, heading and scale from solved points. The plane is fitted robustly (re-weighted total least squares);
 * with no points given it is the plane below the cameras that holds most points and faces them from underneath.
 */
public final class GroundFit {
    private static final int PROPOSALS = 400;
    /** Where performers are first put before a camera without depth, metres. */
    private static final double AHEAD = 6;

    private GroundFit() {}

    /**
     * @param toSet takes the solve's frame to the set's (metres, +Y up, ground at y = 0)
     * @param flatness root mean square distance of the ground points from the plane, in metres when scaled
     * @param points the ground points that were used
     * @param residuals measured minus solved of each yardstick, metres
     * @param scaled whether a yardstick gave the true size
     */
    public record Result(Similarity toSet, double flatness, List<Integer> points, List<Double> residuals, boolean scaled) {}

    public static Result fit(SolvedCamera solve, SetRecipe recipe) { return fit(solve, recipe, 0); }

    /** @param cameraHeight over the ground in the first frame, metres, where it was noted; 0 when it was not */
    public static Result fit(SolvedCamera solve, SetRecipe recipe, double cameraHeight) {
        boolean own = recipe.groundPoints().isEmpty() && recipe.yardsticks().isEmpty() && recipe.originPoint() == 0 && recipe.headingFrom() == 0;
        if (solve.measured() && own) return new Result(Similarity.IDENTITY, 0, List.of(), List.of(), true);
        if (solve.kind().equals("nodal") || solve.kind().equals("locked")) return level(solve, cameraHeight);
        Map<Integer, Vec3> at = new HashMap<>();
        for (SolvedCamera.Point p : solve.points()) at.put(p.id(), p.position());
        List<Integer> ids = recipe.groundPoints().isEmpty() ? propose(solve) : recipe.groundPoints().stream().filter(at::containsKey).toList();
        if (ids.size() < 3) throw new BadInput("the ground needs three solved points; " + ids.size() + " of the chosen ones are solved");
        List<Vec3> chosen = ids.stream().map(at::get).toList();
        Vec3[] plane = plane(chosen);
        Vec3 up = plane[1], eye = solve.frames().get(0).pose().position();
        if (eye.minus(plane[0]).dot(up) < 0) up = up.times(-1);
        double flat = 0;
        double[] off = new double[chosen.size()];
        for (int i = 0; i < off.length; i++) off[i] = Math.abs(chosen.get(i).minus(plane[0]).dot(up));
        Arrays.sort(off);
        // Half of the picked points may lie; the flatness is that of the better part.
        int n = recipe.groundPoints().isEmpty() ? off.length : Math.max(3, off.length * 9 / 10);
        for (int i = 0; i < n; i++) flat += off[i] * off[i] / n;
        double sum = 0, norm = 0;
        for (SetRecipe.Yardstick y : recipe.yardsticks()) {
            if (y.metres() <= 0) throw new BadInput("the yardstick " + y.name() + " must be longer than zero");
            double d = between(at, y);
            sum += d * y.metres();
            norm += d * d;
        }
        double scale = norm > 0 ? sum / norm : 1;
        Vec3 origin = recipe.originPoint() != 0 ? point(at, recipe.originPoint(), "the origin") : underMiddle(solve, plane[0], up);
        origin = origin.minus(up.times(origin.minus(plane[0]).dot(up)));
        Vec3 ahead = recipe.headingFrom() != 0 && recipe.headingTo() != 0
            ? point(at, recipe.headingTo(), "the heading").minus(point(at, recipe.headingFrom(), "the heading"))
            : solve.frames().get(0).pose().rotation().rotate(Vec3.Z).times(-1);
        ahead = ahead.minus(up.times(ahead.dot(up)));
        if (ahead.length() < 1e-9) throw new BadInput("the heading runs straight up; choose two points that lie apart on the ground");
        Vec3 z = ahead.unit().times(-1), x = up.cross(z);
        Quat turn = Quat.fromMatrix(new double[] {x.x(), x.y(), x.z(), up.x(), up.y(), up.z(), z.x(), z.y(), z.z()});
        Similarity to = new Similarity(scale, turn, turn.rotate(origin).times(-scale));
        List<Double> left = recipe.yardsticks().stream().map(y -> y.metres() - between(at, y) * scale).toList();
        return new Result(to, Math.sqrt(flat) * scale, ids, left, norm > 0);
    }

    /** A camera that only turned, or stood still, shows no depth: the ground lies level at its height below it, the origin some steps ahead. */
    private static Result level(SolvedCamera solve, double cameraHeight) {
        Vec3 eye = solve.frames().get(0).pose().position();
        double scale = cameraHeight > 0 && eye.y() > 0 ? cameraHeight / eye.y() : 1;
        Vec3 look = solve.frames().get(0).pose().rotation().rotate(Vec3.Z).times(-1), flat = new Vec3(look.x(), 0, look.z());
        Vec3 ahead = flat.length() < 1e-6 ? Vec3.ZERO : flat.unit().times(AHEAD);
        return new Result(new Similarity(scale, Quat.IDENTITY, new Vec3(-scale * eye.x() - ahead.x(), 0, -scale * eye.z() - ahead.z())), 0, List.of(), List.of(), cameraHeight > 0);
    }

    private static double between(Map<Integer, Vec3> at, SetRecipe.Yardstick y) {
        double d = point(at, y.from(), "yardstick " + y.name()).distance(point(at, y.to(), "yardstick " + y.name()));
        if (d < 1e-12) throw new BadInput("the yardstick " + y.name() + " runs from a point to itself");
        return d;
    }

    private static Vec3 point(Map<Integer, Vec3> at, int id, String what) {
        Vec3 p = at.get(id);
        if (p == null) throw new BadInput(what + " names point " + id + ", which is not solved; choose another point");
        return p;
    }

    /** Where the first camera's middle ray meets the plane, or the foot of the camera when it looks above the horizon. */
    private static Vec3 underMiddle(SolvedCamera solve, Vec3 on, Vec3 up) {
        SolvedCamera.Frame f = solve.frames().get(0);
        Vec3 eye = f.pose().position(), d = f.pose().rotation().rotate(solve.lens(f.frame()).ray(solve.width() / 2.0, solve.height() * 0.75));
        double down = d.dot(up);
        return down < -1e-6 ? eye.plus(d.times(on.minus(eye).dot(up) / down)) : eye;
    }

    /** Point on and unit normal of the plane through points, robust against some that do not belong. */
    static Vec3[] plane(List<Vec3> p) {
        int n = p.size();
        double[] w = new double[n];
        Arrays.fill(w, 1);
        Vec3 c = Vec3.ZERO, normal = Vec3.Y;
        for (int round = 0; round < 12; round++) {
            double sum = 0;
            c = Vec3.ZERO;
            for (int i = 0; i < n; i++) {
                c = c.plus(p.get(i).times(w[i]));
                sum += w[i];
            }
            c = c.times(1 / sum);
            SimpleMatrix m = new SimpleMatrix(3, 3);
            for (int i = 0; i < n; i++) {
                double[] d = p.get(i).minus(c).array();
                for (int a = 0; a < 3; a++) for (int b = 0; b < 3; b++) m.set(a, b, m.get(a, b) + w[i] * d[a] * d[b]);
            }
            SimpleSVD<SimpleMatrix> svd = m.svd();
            if (svd.getSingleValue(1) < 1e-12 * svd.getSingleValue(0)) throw new BadInput("the ground points lie on a line; choose points that lie apart");
            SimpleMatrix v = svd.getV().extractVector(false, 2);
            normal = new Vec3(v.get(0), v.get(1), v.get(2));
            if (n == 3) break;
            double[] d = new double[n];
            for (int i = 0; i < n; i++) d[i] = Math.abs(p.get(i).minus(c).dot(normal));
            double[] s = d.clone();
            Arrays.sort(s);
            double scale = Math.max(1.4826 * s[n / 2], 1e-12);
            for (int i = 0; i < n; i++) w[i] = 1 / (1 + (d[i] / (2 * scale)) * (d[i] / (2 * scale)));
        }
        return new Vec3[] {c, normal};
    }

    /** Points of the plane that is most likely the ground: many points, roughly level, below the cameras, little beneath it. */
    private static List<Integer> propose(SolvedCamera solve) {
        List<SolvedCamera.Point> all = solve.points();
        Vec3 eye = Vec3.ZERO, up = Vec3.ZERO;
        for (SolvedCamera.Frame f : solve.frames()) {
            eye = eye.plus(f.pose().position().times(1.0 / solve.frames().size()));
            up = up.plus(f.pose().rotation().rotate(Vec3.Y));
        }
        up = up.unit();
        double[] depths = new double[all.size()];
        for (int i = 0; i < depths.length; i++) depths[i] = all.get(i).position().distance(eye);
        double[] sorted = depths.clone();
        Arrays.sort(sorted);
        if (sorted.length < 12) throw new NoSolution("there are too few solved points to propose a ground; choose three or more by hand");
        double reach = sorted[sorted.length * 8 / 10], thick = 0.006 * sorted[sorted.length / 2];
        Random r = new Random(7);
        double best = 0;
        List<Integer> ids = List.of();
        for (int k = 0; k < PROPOSALS; k++) {
            Vec3 a = all.get(r.nextInt(all.size())).position(), b = all.get(r.nextInt(all.size())).position(), c = all.get(r.nextInt(all.size())).position();
            Vec3 n = b.minus(a).cross(c.minus(a));
            if (n.length() < 1e-9) continue;
            n = n.unit();
            if (n.dot(up) < 0) n = n.times(-1);
            if (n.dot(up) < 0.85 || eye.minus(a).dot(n) <= 0) continue;
            double score = 0;
            List<Integer> in = new ArrayList<>();
            for (int i = 0; i < all.size(); i++) {
                double d = all.get(i).position().minus(a).dot(n);
                double t = thick * Math.max(1, depths[i] / reach);
                if (Math.abs(d) < t && depths[i] < 1.5 * reach) {
                    in.add(all.get(i).id());
                    score += 1 - Math.abs(d) / t * 0.5;
                } else if (d < -4 * t) {
                    score -= 0.3;
                }
            }
            if (score > best) {
                best = score;
                ids = in;
            }
        }
        if (ids.size() < 6) throw new NoSolution("no plane among the solved points looks like the ground; choose three or more points by hand");
        return ids;
    }
}
