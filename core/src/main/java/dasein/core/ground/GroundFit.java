package dasein.core.ground;

import dasein.core.BadInput;
import dasein.core.math.Similarity;
import dasein.core.math.Vec3;
import dasein.core.solve.SolvedCamera;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import org.ejml.simple.SimpleMatrix;
import org.ejml.simple.SimpleSVD;

/**
 * Ground plane, heading, scale and origin of a solve. All that is said of them (points on the ground, edges and points
 * that run upright or ahead, known distances) is solved together by least squares over turn, height and size; every
 * part keeps what is left of it, so that those that contradict each other can be named. With no ground points given the
 * ground is the plane below the cameras that holds most points and faces them from underneath, fitted robustly.
 */
public final class GroundFit {

    private GroundFit() {}

    /**
     * What is left of one thing that was said.
     *
     * @param wanted as it was said; @param got as it is solved, in the same unit, which is {@code m} or {@code deg}
     * @param contradicts off by far more than it should be
     */
    public record Check(String name, double wanted, double got, String unit, boolean contradicts) {
        public double off() {
            return Math.abs(got - wanted) < 5e-5 ? 0 : got - wanted;
        }
    }

    /**
     * @param toSet takes the solve's frame to the set's (metres, +Y up, ground at y = 0)
     * @param flatness root mean square distance of the ground points from the plane, in metres when scaled
     * @param points the ground points that were used
     * @param residuals measured minus solved of each yardstick, metres
     * @param scaled whether a known distance gave the true size
     * @param checks of everything that was said
     * @param places of the picked points, in the set
     */
    public record Result(
            Similarity toSet,
            double flatness,
            List<Integer> points,
            List<Double> residuals,
            boolean scaled,
            List<Check> checks,
            Map<Integer, Vec3> places) {}

    public static Result fit(SolvedCamera solve, SetRecipe recipe) {
        return fit(solve, recipe, 0);
    }

    /**
     * @param cameraHeight over the ground in the first frame, metres, where it was noted; 0 when it was not. It counts
     *     where there is no yardstick
     */
    public static Result fit(SolvedCamera solve, SetRecipe recipe, double cameraHeight) {
        SetPoints points = new SetPoints(solve, recipe.points());
        if (solve.measured() && recipe.unsaid())
            return new Result(
                    Similarity.IDENTITY,
                    0,
                    List.of(),
                    List.of(),
                    true,
                    List.of(),
                    places(points, recipe, Vec3.Y, 0, Similarity.IDENTITY));
        return new FrameFit(points, recipe, cameraHeight).solved();
    }

    static Map<Integer, Vec3> places(SetPoints points, SetRecipe recipe, Vec3 up, double h, Similarity to) {
        Map<Integer, Vec3> out = new java.util.TreeMap<>();
        for (PickedPoint p : recipe.points()) {
            Vec3 at = p.picks().isEmpty() || p.on() != 0 && !points.isFixed(p.id())
                    ? null
                    : points.at(p.id(), up, h, p.name());
            if (at != null) out.put(p.id(), to.apply(at));
        }
        return out;
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
            if (svd.getSingleValue(1) < 1e-12 * svd.getSingleValue(0))
                throw new BadInput("the ground points lie on a line; choose points that lie apart");
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
}
