package dasein.core.solve;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dasein.core.NoSolution;
import dasein.core.lens.Lens;
import dasein.core.math.Pose;
import dasein.core.math.Vec3;
import dasein.core.plate.Rate;
import java.util.List;
import java.util.Random;
import java.util.TreeMap;
import org.junit.jupiter.api.Test;

/**
 * A camera that travels past one flat surface: maps of known truth (their corners off by a tenth of a pixel), a
 * rectangle on it of known size.
 */
class SurfaceSolverTest {
    private static final Lens LENS = new Lens(1150, 640, 360, 0, 0);
    private static final double NOISE = 0.1;

    private static Pose camera(int f) {
        return Pose.lookAt(new Vec3(-0.8 + 0.04 * f, 1.6 + 0.005 * f, 5 - 0.03 * f), new Vec3(0.1, 0.7, 0), Vec3.Y);
    }

    private static double[] px(Pose p, Vec3 v) {
        return LENS.project(p.toLocal(v));
    }

    @Test
    void theCameraFollowsFromTheSurface() {
        for (boolean standing : new boolean[] {false, true}) {
            Vec3[] corners = standing
                    ? new Vec3[] {new Vec3(-1, 0, 0), new Vec3(1, 0, 0), new Vec3(1, 1.4, 0), new Vec3(-1, 1.4, 0)}
                    : new Vec3[] {new Vec3(-1, 0, 1), new Vec3(1, 0, 1), new Vec3(1, 0, -1), new Vec3(-1, 0, -1)};
            int drawn = 10;
            double[] at = new double[8];
            Double[] boxed = new Double[8];
            for (int i = 0; i < 4; i++) {
                double[] q = px(camera(drawn), corners[i]);
                at[2 * i] = q[0];
                at[2 * i + 1] = q[1];
            }
            for (int i = 0; i < 8; i++) boxed[i] = at[i];
            CameraMatch match = CameraMatch.NONE.with(
                    new CameraMatch.Rectangle(List.of(boxed), 2, standing ? 1.4 : 2, standing, true));
            SolvedCamera still =
                    StillSolver.solve(List.of(), match, LensTerms.Ask.NEVER, 1280, 720, new Rate(24, 1), 1, 40, 1150);
            TreeMap<Integer, double[]> ways = new TreeMap<>();
            Random r = new Random(3);
            for (int f = 1; f <= 40; f++) {
                double[] to = new double[8];
                for (int i = 0; i < 4; i++) {
                    double[] q = px(camera(f), corners[i]);
                    for (int k = 0; k < 2; k++) to[2 * i + k] = q[k] + (f == drawn ? 0 : NOISE * r.nextGaussian());
                }
                ways.put(f, throughCorners(at, to));
            }
            SolvedCamera c = SurfaceSolver.carried(still, drawn, at, ways, standing);
            double place = 0, turn = 0;
            for (SolvedCamera.Frame f : c.frames()) {
                // The match has the rectangle's middle foot as its origin, as the truth has.
                place += f.pose()
                        .position()
                        .minus(camera(f.frame()).position())
                        .dot(f.pose().position().minus(camera(f.frame()).position()));
                turn = Math.max(
                        turn,
                        2
                                * Math.acos(Math.min(
                                        1,
                                        Math.abs(f.pose()
                                                .rotation()
                                                .conjugate()
                                                .times(camera(f.frame()).rotation())
                                                .w()))));
            }
            place = Math.sqrt(place / c.frames().size());
            System.out.printf(
                    "carried by a surface, %s: place %.4f m RMS of 5 m, turn %.3f deg at most, %.3f px%n",
                    standing ? "standing" : "lying", place, Math.toDegrees(turn), c.rmsPx());
            assertThat(c.frames()).hasSize(40);
            assertThat(place).isLessThan(0.015);
            assertThat(Math.toDegrees(turn)).isLessThan(0.35);
        }
    }

    @Test
    void aSurfaceAboveTheHorizonIsNotTheGround() {
        SolvedCamera still = new SolvedCamera(
                1280,
                720,
                new Rate(24, 1),
                "locked",
                0,
                0,
                LENS,
                List.of(new SolvedCamera.Frame(1, camera(1), 1150, 0, 4)),
                List.of());
        assertThatThrownBy(() -> SurfaceSolver.carried(
                        still, 1, new double[] {100, 10, 200, 10, 150, 60}, new TreeMap<>(), false))
                .isInstanceOf(NoSolution.class)
                .hasMessageContaining("horizon");
    }

    /** The 3x3 map through four pairs (direct linear transform, Hartley and Zisserman 4.1, h22 = 1). */
    private static double[] throughCorners(double[] from, double[] to) {
        org.ejml.simple.SimpleMatrix a = new org.ejml.simple.SimpleMatrix(8, 8),
                b = new org.ejml.simple.SimpleMatrix(8, 1);
        for (int i = 0; i < 4; i++) {
            double x = from[2 * i], y = from[2 * i + 1], u = to[2 * i], v = to[2 * i + 1];
            a.setRow(2 * i, 0, x, y, 1, 0, 0, 0, -u * x, -u * y);
            a.setRow(2 * i + 1, 0, 0, 0, 0, x, y, 1, -v * x, -v * y);
            b.set(2 * i, u);
            b.set(2 * i + 1, v);
        }
        org.ejml.simple.SimpleMatrix h = a.solve(b);
        double[] out = new double[9];
        for (int i = 0; i < 8; i++) out[i] = h.get(i);
        out[8] = 1;
        return out;
    }
}
