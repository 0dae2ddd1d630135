package dasein.core.solve;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import dasein.core.math.Quat;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.Test;

/** Small solvers of view geometry on exact points, and on points some of which lie. */
class ViewGeometryTest {
    private final Random r = new Random(12);

    private Rigid camera(double far) {
        return new Rigid(
                Quat.fromRotationVector(0.2 * r.nextGaussian(), 0.2 * r.nextGaussian(), 0.2 * r.nextGaussian())
                        .matrix(),
                new double[] {far * r.nextGaussian(), far * r.nextGaussian(), 0.3 * far * r.nextGaussian()});
    }

    private double[][] points(int n) {
        double[][] p = new double[n][];
        for (int i = 0; i < n; i++)
            p[i] = new double[] {4 * r.nextDouble() - 2, 3 * r.nextDouble() - 1.5, 4 + 6 * r.nextDouble(), 1};
        return p;
    }

    private static double[] seen(Rigid c, double[] p) {
        double[] v = c.toCamera(p);
        return new double[] {v[0] / v[2], v[1] / v[2]};
    }

    private static double[][] seen(Rigid c, double[][] p) {
        return Arrays.stream(p).map(q -> seen(c, q)).toArray(double[][]::new);
    }

    @Test
    void rootsAreTheRoots() {
        for (int k = 0; k < 200; k++) {
            double[] want = {3 * r.nextGaussian(), 3 * r.nextGaussian(), 3 * r.nextGaussian(), 3 * r.nextGaussian()};
            double[] c = {1};
            for (double x : want) {
                double[] next = new double[c.length + 1];
                for (int i = 0; i < c.length; i++) {
                    next[i + 1] += c[i];
                    next[i] -= x * c[i];
                }
                c = next;
            }
            double[] got = Polynomials.realRoots(c);
            Arrays.sort(got);
            Arrays.sort(want);
            assertThat(got.length).isEqualTo(4);
            for (int i = 0; i < 4; i++) assertThat(got[i]).isCloseTo(want[i], within(1e-5 * (1 + Math.abs(want[i]))));
        }
        assertThat(Polynomials.realRoots(1, 0, 1)).isEmpty();
        assertThat(Polynomials.realRoots(-4, 2)).containsExactly(2.0);
        assertThat(Polynomials.realRoots(-4, 2, 0, 0)).containsExactly(2.0);
        assertThat(Polynomials.realRoots(5)).isEmpty();
    }

    /** Three points leave up to four poses (Grunert); the true one is among them. */
    @Test
    void threePointsHaveTheTruePoseAmongTheirs() {
        int found = 0;
        for (int k = 0; k < 200; k++) {
            Rigid c = camera(1);
            double[][] p = points(3), q = seen(c, p);
            List<Rigid> all = Resection.threePoints(p, q);
            assertThat(all.size()).isLessThanOrEqualTo(4);
            for (Rigid a : all)
                if (Math.abs(a.c[0] - c.c[0]) + Math.abs(a.c[1] - c.c[1]) + Math.abs(a.c[2] - c.c[2]) < 1e-5) {
                    found++;
                    break;
                }
        }
        // Some triples lie nearly on the dangerous cylinder, where roots fall together.
        assertThat(found).isGreaterThan(195);
    }

    @Test
    void aPoseIsFoundAlthoughTwoInFiveLie() {
        for (int k = 0; k < 20; k++) {
            Rigid c = camera(1);
            double[][] p = points(60), q = seen(c, p);
            for (int i = 0; i < 24; i++) q[i] = new double[] {r.nextGaussian(), r.nextGaussian()};
            Rigid got = Resection.ransac(List.of(p), List.of(q), 0.003, 200, 20, new Random(k));
            assertThat(got).isNotNull();
            for (int i = 0; i < 3; i++) assertThat(got.c[i]).isCloseTo(c.c[i], within(0.002));
        }
        double[][] p = points(30);
        List<double[]> nonsense = new ArrayList<>();
        for (int i = 0; i < 30; i++) nonsense.add(new double[] {r.nextGaussian(), r.nextGaussian()});
        assertThat(Resection.ransac(List.of(p), nonsense, 0.003, 200, 20, new Random(1)))
                .isNull();
    }

    @Test
    void aPointLiesWhereItsRaysMeetAndAFarOneIsADirection() {
        for (int k = 0; k < 50; k++) {
            List<Rigid> cams = List.of(camera(1), camera(1), camera(1));
            double[] p = points(1)[0];
            List<double[]> obs = cams.stream().map(c -> seen(c, p)).toList();
            double[] got = Triangulation.linear(cams, obs);
            for (int i = 0; i < 3; i++) assertThat(got[i] / got[3]).isCloseTo(p[i], within(1e-6));
            double[] far = {0.3, -0.2, 1, 0};
            double[] inf = Triangulation.linear(
                    cams, cams.stream().map(c -> seen(c, far)).toList());
            assertThat(Math.abs(inf[3] / inf[2])).isLessThan(1e-6);
            assertThat(inf[0] / inf[2]).isCloseTo(0.3, within(1e-6));
        }
        // A right angle between two rays.
        List<Rigid> across = List.of(
                Rigid.identity(),
                new Rigid(Quat.axisAngle(dasein.core.math.Vec3.Y, 0).matrix(), new double[] {5, 0, 5}));
        assertThat(Triangulation.angle(across, new double[] {0, 0, 5, 1})).isCloseTo(Math.PI / 2, within(1e-6));
    }

    /** Pixels of two unknown lenses: the matrix found sends true pairs to zero, and most of the lying ones not. */
    @Test
    void theFundamentalMatrixIsThatOfTheMany() {
        for (int k = 0; k < 10; k++) {
            Rigid b = camera(0.8);
            double[][] p = points(120), x = seen(Rigid.identity(), p), y = seen(b, p);
            for (double[][] v : new double[][][] {x, y})
                for (double[] q : v) {
                    q[0] = 1100 * q[0] + 640;
                    q[1] = 1100 * q[1] + 360;
                }
            int lies = 30;
            for (int i = 0; i < lies; i++) y[i] = new double[] {1280 * r.nextDouble(), 720 * r.nextDouble()};
            double[] f = Fundamental.ransac(x, y, 1.5, new Random(k));
            assertThat(f).isNotNull();
            int wrong = 0;
            for (int i = 0; i < p.length; i++) {
                double off = Math.sqrt(TwoView.sampson(f, x[i], y[i]));
                if (i >= lies) assertThat(off).isLessThan(0.2);
                else if (off > 3) wrong++;
            }
            assertThat(wrong).isGreaterThan(lies / 2);
        }
        double[][] noise = new double[60][], other = new double[60][];
        for (int i = 0; i < 60; i++) {
            noise[i] = new double[] {1280 * r.nextDouble(), 720 * r.nextDouble()};
            other[i] = new double[] {1280 * r.nextDouble(), 720 * r.nextDouble()};
        }
        assertThat(Fundamental.ransac(noise, other, 1, new Random(2))).isNull();
    }

    /** A camera that turns leaves nothing over a plane-to-plane map; one that moves leaves its parallax. */
    @Test
    void aHomographyLeavesOnlyParallax() {
        double[][] p = points(80);
        Rigid turned = new Rigid(Quat.fromRotationVector(0.02, 0.1, 0.01).matrix(), new double[3]),
                moved = new Rigid(turned.r, new double[] {0.4, 0, 0});
        double[][] x = seen(Rigid.identity(), p);
        assertThat(Homography.parallax(x, seen(turned, p))).isLessThan(1e-9);
        assertThat(Homography.parallax(x, seen(moved, p))).isGreaterThan(0.003);
        // One that moves over a plane leaves nothing either: that is what planes are.
        double[][] flat = points(80);
        for (double[] q : flat) q[2] = 6 + 0.3 * q[0];
        assertThat(Homography.parallax(seen(Rigid.identity(), flat), seen(moved, flat)))
                .isLessThan(1e-9);
        // A few that lie do not pull the map of the many.
        double[][] y = seen(turned, p);
        for (int i = 0; i < 12; i++) y[i][0] += 0.1;
        double[] left = Homography.left(x, y);
        assertThat(left[0]).isGreaterThan(0.05);
        assertThat(left[40]).isLessThan(0.003);
        assertThat(Homography.median(new double[] {3, 1, 2})).isEqualTo(2);
        assertThat(Homography.median(new double[0])).isZero();
    }

    @Test
    void manySmallTurnsStayATurn() {
        Rigid c = Rigid.identity();
        for (int k = 0; k < 5000; k++) c = c.moved(1e-3, 2e-3, -1e-3, 0, 0, 1e-3);
        double[] m = c.r;
        for (int i = 0; i < 3; i++)
            for (int j = 0; j < 3; j++)
                assertThat(m[3 * i] * m[3 * j] + m[3 * i + 1] * m[3 * j + 1] + m[3 * i + 2] * m[3 * j + 2])
                        .isCloseTo(i == j ? 1 : 0, within(1e-12));
        assertThat(c.c[2]).isCloseTo(5, within(1e-9));
    }
}
