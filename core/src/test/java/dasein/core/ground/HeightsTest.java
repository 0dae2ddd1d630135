package dasein.core.ground;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import dasein.core.BadInput;
import dasein.core.lens.Lens;
import dasein.core.math.Pose;
import dasein.core.math.Vec3;
import dasein.core.plate.Rate;
import dasein.core.solve.SolvedCamera;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.Test;

/** What lies below a place, against all triangles one after the other; and points that a set is laid by. */
class HeightsTest {
    private static Shape soup(int triangles, long seed) {
        Random r = new Random(seed);
        float[] xyz = new float[9 * triangles];
        int[] index = new int[3 * triangles];
        for (int t = 0; t < triangles; t++) {
            double x = 10 * r.nextDouble(), y = 4 * r.nextDouble(), z = 6 * r.nextDouble();
            for (int k = 0; k < 3; k++) {
                xyz[9 * t + 3 * k] = (float) (x + r.nextGaussian());
                xyz[9 * t + 3 * k + 1] = (float) (y + 0.3 * r.nextGaussian());
                xyz[9 * t + 3 * k + 2] = (float) (z + r.nextGaussian());
                index[3 * t + k] = 3 * t + k;
            }
        }
        return new Shape(xyz, index);
    }

    /** Every triangle by itself: where the upright through (x, z) meets it. */
    private static double brute(Shape s, double x, double z, double under) {
        double best = Double.NEGATIVE_INFINITY;
        for (int t = 0; t < s.index().length; t += 3) {
            Vec3[] p = new Vec3[3];
            for (int k = 0; k < 3; k++) {
                int i = 3 * s.index()[t + k];
                p[k] = new Vec3(s.xyz()[i], s.xyz()[i + 1], s.xyz()[i + 2]);
            }
            double[] w = new double[3];
            double area = 0;
            for (int k = 0; k < 3; k++) {
                Vec3 a = p[(k + 1) % 3], b = p[(k + 2) % 3];
                w[k] = (a.x() - x) * (b.z() - z) - (a.z() - z) * (b.x() - x);
                area += w[k];
            }
            if (Math.abs(area) < 1e-12 || w[0] / area < 0 || w[1] / area < 0 || w[2] / area < 0) continue;
            double y = (w[0] * p[0].y() + w[1] * p[1].y() + w[2] * p[2].y()) / area;
            if (y <= under) best = Math.max(best, y);
        }
        return best;
    }

    @Test
    void theHighestBelowIsThatOfAllTriangles() {
        Shape a = soup(300, 1), b = soup(40, 2);
        Heights h = new Heights(List.of(a, b));
        Random r = new Random(5);
        int met = 0;
        for (int k = 0; k < 3000; k++) {
            double x = 14 * r.nextDouble() - 2, z = 10 * r.nextDouble() - 2, under = 5 * r.nextDouble();
            double want = Math.max(brute(a, x, z, under), brute(b, x, z, under)), got = h.under(x, z, under);
            if (want == Double.NEGATIVE_INFINITY) assertThat(got).isEqualTo(want);
            else {
                assertThat(got).isCloseTo(want, within(1e-5));
                met++;
            }
        }
        assertThat(met).isGreaterThan(1000);
    }

    @Test
    void nothingLiesBelowNothing() {
        assertThat(new Heights(List.of()).under(0, 0, 9)).isEqualTo(Double.NEGATIVE_INFINITY);
        // Seen from above an upright wall has no ground.
        Shape wall = new Shape(new float[] {0, 0, 0, 1, 0, 0, 1, 2, 0}, new int[] {0, 1, 2});
        assertThat(new Heights(List.of(wall)).under(0.5, 0, 9)).isEqualTo(Double.NEGATIVE_INFINITY);
    }

    // --- points -----------------------------------------------------------------------------------------------------

    private static final Lens LENS = new Lens(900, 480, 270, -0.05, 0);

    private static SolvedCamera camera(boolean moves) {
        List<SolvedCamera.Frame> f = new ArrayList<>();
        for (int n = 1; n <= 5; n++)
            f.add(new SolvedCamera.Frame(
                    n, Pose.lookAt(new Vec3(moves ? 0.4 * n : 0, 1.7, 4), new Vec3(0, 0.4, -3), Vec3.Y), 900, 0.2, 50));
        return new SolvedCamera(960, 540, new Rate(24, 1), moves ? "moving" : "locked", 0.2, 9, LENS, f, List.of());
    }

    private static PickedPoint picked(SolvedCamera c, int id, Vec3 p, int above, int... frames) {
        List<PickedPoint.Pick> k = new ArrayList<>();
        for (int f : frames) {
            double[] q = c.lens(f).project(c.frame(f).pose().toLocal(p));
            k.add(new PickedPoint.Pick(f, q[0], q[1]));
        }
        return new PickedPoint(id, "p" + id, k, above);
    }

    @Test
    void pickedInTwoFramesAPointIsFixedInOneItLiesOnTheGround() {
        SolvedCamera c = camera(true);
        Vec3 corner = new Vec3(0.8, 1.2, -2), foot = new Vec3(-0.5, 0, -4);
        SetPoints s = new SetPoints(c, List.of(picked(c, 11, corner, 0, 1, 5), picked(c, 12, foot, 0, 3)));
        assertThat(s.isFixed(11)).isTrue();
        assertThat(s.isFixed(12)).isFalse();
        assertThat(s.at(11, Vec3.Y, 0, "x").distance(corner)).isLessThan(1e-6);
        assertThat(s.at(12, Vec3.Y, 0, "x").distance(foot)).isLessThan(1e-6);
        // If the ground lies deeper, the ray meets it further away.
        Vec3 deeper = s.at(12, Vec3.Y, 0.5, "x");
        assertThat(deeper.y()).isCloseTo(-0.5, within(1e-9));
        assertThat(deeper.z()).isLessThan(foot.z());
        assertThatThrownBy(() -> s.at(77, Vec3.Y, 0, "the yardstick"))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("the yardstick names point 77");
    }

    @Test
    void aTopStandsOverItsFoot() {
        for (boolean moves : new boolean[] {true, false}) {
            SolvedCamera c = camera(moves);
            Vec3 foot = new Vec3(0.4, 0, -3), top = new Vec3(0.4, 2.2, -3);
            SetPoints s = new SetPoints(c, List.of(picked(c, 1, foot, 0, 2), picked(c, 2, top, 1, 2)));
            assertThat(s.depth).isEqualTo(moves);
            assertThat(s.at(2, Vec3.Y, 0, "x").distance(top)).isLessThan(1e-6);
        }
    }

    /** A camera that stood still knows no place but on the ground, however often a point is picked. */
    @Test
    void withoutDepthEveryPointIsARay() {
        SolvedCamera c = camera(false);
        SetPoints s = new SetPoints(c, List.of(picked(c, 1, new Vec3(0.4, 0, -3), 0, 1, 3, 5)));
        assertThat(s.isFixed(1)).isFalse();
        assertThat(s.at(1, Vec3.Y, 0, "x").distance(new Vec3(0.4, 0, -3))).isLessThan(1e-6);
        // Above the horizon there is no ground.
        SetPoints sky =
                new SetPoints(c, List.of(new PickedPoint(1, "sky", List.of(new PickedPoint.Pick(1, 480, 5)), 0)));
        assertThat(sky.at(1, Vec3.Y, 0, "x")).isNull();
        assertThatThrownBy(() -> new SetPoints(
                        c, List.of(new PickedPoint(1, "late", List.of(new PickedPoint.Pick(9, 480, 300)), 0))))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("frame 9");
    }
}
