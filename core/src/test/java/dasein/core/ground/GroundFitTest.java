package dasein.core.ground;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import dasein.core.BadInput;
import dasein.core.lens.Lens;
import dasein.core.math.Pose;
import dasein.core.math.Quat;
import dasein.core.math.Similarity;
import dasein.core.math.Vec3;
import dasein.core.plate.Rate;
import dasein.core.solve.SolvedCamera;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.Test;

class GroundFitTest {
    /** What the solver's arbitrary frame does to a real set. */
    private final Similarity hidden = new Similarity(0.37, Quat.fromRotationVector(0.4, -0.9, 0.2), new Vec3(3, -2, 7));

    private final List<Vec3> real = new ArrayList<>();

    private SolvedCamera solve(double noise) {
        Random r = new Random(5);
        for (int i = 0; i < 120; i++)
            real.add(new Vec3(8 * r.nextDouble() - 4, noise * r.nextGaussian(), -2 - 8 * r.nextDouble()));
        for (int i = 0; i < 60; i++) real.add(new Vec3(4, 3 * r.nextDouble(), -2 - 8 * r.nextDouble()));
        List<SolvedCamera.Point> points = new ArrayList<>();
        for (int i = 0; i < real.size(); i++) points.add(new SolvedCamera.Point(i + 1, hidden.apply(real.get(i)), 0.2));
        List<SolvedCamera.Frame> frames = new ArrayList<>();
        for (int f = 1; f <= 10; f++)
            frames.add(new SolvedCamera.Frame(
                    f,
                    hidden.apply(Pose.lookAt(new Vec3(0.1 * f, 1.6, 1), new Vec3(0, 1, -6), Vec3.Y)),
                    1200,
                    0.2,
                    100));
        return new SolvedCamera(
                1280,
                720,
                new Rate(24, 1),
                "moving",
                0.2,
                10,
                new Lens(frames.get(0).focalPx(), 640, 360, 0, 0),
                frames,
                points);
    }

    @Test
    void findsGroundScaleOriginAndHeadingByItself() {
        SolvedCamera s = solve(0.003);
        SetRecipe r = new SetRecipe(
                List.of(),
                5,
                1,
                2,
                List.of(
                        new SetRecipe.Yardstick("a", 10, 20, real.get(9).distance(real.get(19))),
                        new SetRecipe.Yardstick("b", 30, 40, real.get(29).distance(real.get(39)))),
                new SetRecipe.Catcher(0, 0, 10, 10),
                0,
                0.3);
        GroundFit.Result g = GroundFit.fit(s, r);
        assertThat(g.toSet().scale() * hidden.scale()).isCloseTo(1, within(0.002));
        assertThat(g.flatness()).isCloseTo(0.003, within(0.001));
        assertThat(g.residuals()).allSatisfy(d -> assertThat(d).isCloseTo(0, within(0.02)));
        Vec3 up = g.toSet().rotation().rotate(hidden.rotation().rotate(Vec3.Y));
        assertThat(Math.toDegrees(Math.acos(Math.min(1, up.y())))).isLessThan(0.1);
        Vec3 origin = g.toSet().apply(hidden.apply(real.get(4)));
        assertThat(Math.hypot(origin.x(), origin.z())).isLessThan(0.002);
        Vec3 along = g.toSet().apply(hidden.apply(real.get(1))).minus(g.toSet().apply(hidden.apply(real.get(0))));
        assertThat(Math.abs(along.x())).isLessThan(0.01 * along.length());
        assertThat(along.z()).isNegative();
    }

    @Test
    void planesAreProposedTheGroundFirst() {
        List<PlaneSearch.Plane> p = PlaneSearch.planes(solve(0.003), 4);
        assertThat(p.get(0).points())
                .hasSizeGreaterThan(100)
                .allMatch(i -> i <= 120 || real.get(i - 1).y() < 0.1);
        assertThat(p.get(0).said()).isEqualTo("level, below the camera");
        assertThat(p.get(1).points())
                .hasSizeGreaterThan(50)
                .allMatch(i -> real.get(i - 1).x() > 3.9);
        assertThat(p.get(1).said()).isEqualTo("upright");
    }

    @Test
    void pickedPointsMayHoldOneThatLies() {
        SolvedCamera s = solve(0.002);
        List<Integer> picked = new ArrayList<>(List.of(1, 2, 3, 4, 5, 6, 7, 8, 9, 170));
        GroundFit.Result g = GroundFit.fit(
                s, new SetRecipe(picked, 0, 0, 0, List.of(), new SetRecipe.Catcher(0, 0, 10, 10), 0, 0.3));
        Vec3 up = g.toSet().rotation().rotate(hidden.rotation().rotate(Vec3.Y));
        assertThat(Math.toDegrees(Math.acos(Math.min(1, up.y())))).isLessThan(0.3);
        assertThat(g.scaled()).isFalse();
    }

    @Test
    void pointsOnALineOrUnsolvedOnesAreSaid() {
        SolvedCamera s = solve(0);
        assertThatThrownBy(() -> GroundFit.fit(
                        s, new SetRecipe(List.of(1, 2, 9999), 0, 0, 0, List.of(), SetRecipe.BLANK.catcher(), 0, 0.3)))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("three");
        assertThatThrownBy(() -> GroundFit.fit(
                        s,
                        new SetRecipe(
                                List.of(),
                                0,
                                0,
                                0,
                                List.of(new SetRecipe.Yardstick("door", 1, 4711, 2)),
                                SetRecipe.BLANK.catcher(),
                                0,
                                0.3)))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("door");
    }
}
