package dasein.core.ground;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import dasein.core.BadInput;
import dasein.core.ground.Piece.Kind;
import dasein.core.math.Vec3;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.Test;

/**
 * Set pieces against the areas and volumes of their solids (school geometry), and a ground through points against the
 * ground they were taken from.
 */
class PieceTest {
    private static Piece piece(Kind k, double w, double h, double d, int steps, List<Double> corners) {
        return new Piece(1, "piece", k, 3, 0.5, -2, 35, w, h, d, steps, corners, List.of(Piece.Role.SHADOW), 0.3, 1);
    }

    private static double[] of(Kind k, double w, double h, double d, int steps) {
        return Shape.of(piece(k, w, h, d, steps, List.of()), null).areaAndVolume();
    }

    @Test
    void solidsHoldTheVolumeTheyShould() {
        assertThat(of(Kind.FLOOR, 4, 0, 3, 0)[0]).isCloseTo(12, within(1e-4));
        assertThat(of(Kind.WALL, 4, 2.5, 0, 0)[0]).isCloseTo(10, within(1e-4));
        assertThat(of(Kind.BOX, 2, 3, 4, 0)[1]).isCloseTo(24, within(1e-3));
        assertThat(of(Kind.WEDGE, 2, 3, 4, 0)[1]).isCloseTo(12, within(1e-3));
        assertThat(of(Kind.CYLINDER, 2, 3, 2, 0)[1]).isCloseTo(3 * Math.PI, within(0.03 * Math.PI));
        assertThat(of(Kind.SPHERE, 2, 2, 2, 0)[1]).isCloseTo(4 * Math.PI / 3, within(0.05));
        // Three steps of a third each, every one shorter than that below: 1/3 + 2/9 + 1/9 of the box.
        assertThat(of(Kind.STAIRS, 2, 3, 4, 3)[1]).isCloseTo(24 * 2 / 3.0, within(1e-3));
        // An L of 3 unit squares, either way round; and one that crosses itself is refused or left out, never endless.
        List<Double> l = List.of(0., 0., 2., 0., 2., 1., 1., 1., 1., 2., 0., 2.), back = new ArrayList<>();
        for (int i = 5; i >= 0; i--) back.addAll(List.of(l.get(2 * i), l.get(2 * i + 1)));
        for (List<Double> c : List.of(l, back)) {
            Shape s = Shape.of(piece(Kind.POLYGON, 0, 0, 0, 0, c), null);
            assertThat(s.areaAndVolume()[0]).isCloseTo(3, within(1e-4));
            // It faces up: its volume against a place below is above nothing.
            float[] p = s.xyz();
            Vec3 a = new Vec3(p[3 * s.index()[0]], p[3 * s.index()[0] + 1], p[3 * s.index()[0] + 2]),
                    b = new Vec3(p[3 * s.index()[1]], p[3 * s.index()[1] + 1], p[3 * s.index()[1] + 2]),
                    e = new Vec3(p[3 * s.index()[2]], p[3 * s.index()[2] + 1], p[3 * s.index()[2] + 2]);
            assertThat(b.minus(a).cross(e.minus(a)).y()).isPositive();
        }
        assertThatThrownBy(() -> piece(Kind.BOX, -1, 1, 1, 0, List.of())).isInstanceOf(BadInput.class);
        assertThatThrownBy(() -> piece(Kind.BOX, Double.NaN, 1, 1, 0, List.of()))
                .isInstanceOf(BadInput.class);
    }

    @Test
    void aPieceSettlesOnPointsOfItsEdgesAndIsLaidAroundCorners() {
        for (Kind kind : List.of(Kind.BOX, Kind.STAIRS, Kind.WALL)) {
            Piece truth = piece(kind, 1.8, 0.72, kind == Kind.WALL ? 0 : 1.2, 4, List.of());
            List<Vec3> on = new ArrayList<>();
            for (float[] e : Shape.of(truth, null).edges())
                on.add(new Vec3(0.7 * e[0] + 0.3 * e[3], 0.7 * e[1] + 0.3 * e[4], 0.7 * e[2] + 0.3 * e[5]));
            Piece
                    off =
                            new Piece(
                                    1,
                                    "piece",
                                    kind,
                                    3.08,
                                    0.46,
                                    -2.06,
                                    39,
                                    1.8,
                                    0.72,
                                    truth.depth(),
                                    4,
                                    List.of(),
                                    List.of(),
                                    0.3,
                                    1),
                    back = PieceFit.settle(off, on);
            assertThat(Math.hypot(back.x() - 3, back.z() + 2)).as(kind.name()).isLessThan(0.01);
            assertThat(back.headingDeg()).as(kind.name()).isCloseTo(35, within(0.5));
            assertThat(back.y()).as(kind.name()).isCloseTo(0.5, within(0.01));
        }
        Piece box = piece(Kind.BOX, 2, 1, 1.2, 0, List.of());
        List<Vec3> corners = new ArrayList<>();
        float[] p = Shape.of(box, null).xyz();
        for (int i = 0; i < p.length; i += 3) corners.add(new Vec3(p[i], p[i + 1], p[i + 2]));
        Piece fit = PieceFit.around(piece(Kind.BOX, 1, 1, 1, 0, List.of()), corners);
        assertThat(fit.width() * fit.depth()).isCloseTo(2.4, within(1e-3));
        assertThat(fit.height()).isCloseTo(1, within(1e-4));
        assertThat(Math.hypot(fit.x() - 3, fit.z() + 2)).isLessThan(1e-3);
    }

    /** Forty points of a wall, and six seen past its end that lie on another far behind. */
    @Test
    void aWallIsLaidThroughThoseThatLieOnIt() {
        Random r = new Random(2);
        List<Vec3> points = new ArrayList<>();
        for (int i = 0; i < 40; i++)
            points.add(new Vec3(4 * r.nextDouble() - 2, 2 * r.nextDouble(), -6 + 0.01 * r.nextGaussian()));
        for (int i = 0; i < 6; i++) points.add(new Vec3(5 + 0.2 * i, 1 + 0.1 * i, -9 - 0.8 * i));
        Piece p = PieceFit.around(piece(Kind.WALL, 1, 1, 0, 0, List.of()), points);
        assertThat(p.width()).isBetween(3.5, 4.0);
        assertThat(p.z()).isCloseTo(-6, within(0.02));
        assertThat(Math.abs(Math.sin(Math.toRadians(p.headingDeg())))).isLessThan(0.02);
    }

    /** Cut out of a square of 100: a triangle, a square across its border, one after the other; areas as in school. */
    @Test
    void whatIsCutOutIsGoneAndNothingElse() {
        List<double[][]> square = List.<double[][]>of(new double[][] {{-5, -5}, {5, -5}, {5, 5}, {-5, 5}});
        double[][] triangle = {{0, 0}, {3, 0}, {0, 4}}, across = {{4, 3}, {4, 9}, {8, 9}, {8, 3}};
        List<double[][]> one = Cut.minus(square, triangle), two = Cut.minus(one, across);
        assertThat(one.stream().mapToDouble(p -> Math.abs(Cut.area(p))).sum()).isCloseTo(94, within(1e-9));
        assertThat(two.stream().mapToDouble(p -> Math.abs(Cut.area(p))).sum()).isCloseTo(92, within(1e-9));
        assertThat(Cut.minus(square, new double[][] {{10, 10}, {11, 10}, {10, 11}}).stream()
                        .mapToDouble(p -> Math.abs(Cut.area(p)))
                        .sum())
                .isCloseTo(100, within(1e-9));
        assertThat(Cut.minus(square, new double[][] {{-9, -9}, {9, -9}, {9, 9}, {-9, 9}}))
                .isEmpty();
    }

    @Test
    void aGroundThroughPointsFollowsTheHillAndNotTheWall() {
        Random r = new Random(4);
        List<Vec3> points = new ArrayList<>();
        for (int i = 0; i < 4000; i++) {
            double x = 12 * r.nextDouble() - 6, z = 10 * r.nextDouble() - 5;
            // Nothing is seen where something stands.
            if (Math.hypot(x - 2, z) < 1.2) continue;
            points.add(new Vec3(x, hill(x, z) + 0.01 * r.nextGaussian(), z));
        }
        for (int i = 0; i < 1000; i++)
            points.add(new Vec3(-3 + 0.02 * r.nextGaussian(), 3 * r.nextDouble(), 10 * r.nextDouble() - 5));
        Piece p = new Piece(1, "ground", Kind.TERRAIN, 0, 0, 0, 0, 12, 0, 10, 0, List.of(), List.of(), 0, 0);
        Shape s = Terrain.through(points, p);
        double sum = 0, worst = 0;
        for (int i = 0; i < s.xyz().length; i += 3) {
            double off = s.xyz()[i + 1] - hill(s.xyz()[i], s.xyz()[i + 2]);
            sum += off * off;
            worst = Math.max(worst, Math.abs(off));
        }
        System.out.printf(
                "ground through %d points: %.3f m RMS, worst %.3f m, %d places%n",
                points.size(), Math.sqrt(sum / (s.xyz().length / 3)), worst, s.xyz().length / 3);
        assertThat(Math.sqrt(sum / (s.xyz().length / 3))).isLessThan(0.02);
        assertThat(worst).isLessThan(0.12);
        assertThat(Terrain.through(List.of(), p).xyz()).hasSizeGreaterThan(11).containsAnyOf(0f);
    }

    private static double hill(double x, double z) {
        return 0.25 * Math.sin(0.5 * x) * Math.cos(0.4 * z) + 0.04 * z;
    }
}
