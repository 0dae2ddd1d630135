package dasein.core.light.pano;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import dasein.core.lens.Lens;
import dasein.core.light.Clues;
import dasein.core.light.Sun;
import dasein.core.math.Pose;
import dasein.core.math.Quat;
import dasein.core.math.Vec3;
import dasein.core.plate.Rate;
import dasein.core.solve.SolvedCamera;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.Test;

class MapTurnTest {
    private static final SolvedCamera CAMERA = new SolvedCamera(
            1280,
            720,
            new Rate(24, 1),
            "turning",
            0.2,
            0,
            new Lens(1000, 640, 360, 0, 0),
            List.of(new SolvedCamera.Frame(
                    1, new Pose(Quat.axisAngle(new Vec3(0.2, 1, 0.1).unit(), 0.5), new Vec3(1, 2, 3)), 1000, 0, 10)),
            List.of());

    /** A far thing in the plate, and where a map that was turned back by so much has it. */
    private static Clues.Pair pair(int id, double x, double y, double turnDeg, double leanDeg) {
        Vec3 d =
                CAMERA.frame(1).pose().rotation().rotate(CAMERA.lens().ray(x, y).unit());
        return new Clues.Pair(
                id,
                1,
                x,
                y,
                Math.toDegrees(Math.atan2(d.x(), -d.z())) - turnDeg,
                Math.toDegrees(Math.asin(d.y())) + leanDeg);
    }

    @Test
    void turnIsFoundAndWhatMissesIsSaid() {
        for (double turn : new double[] {0, 37.5, -160, 179.9}) {
            MapTurn r = MapTurn.of(
                    CAMERA,
                    List.of(pair(1, 200, 300, turn, 0), pair(2, 1100, 200, turn, 0), pair(3, 640, 50, turn, 0)));
            assertThat(r.turnDeg()).isCloseTo(turn, within(1e-6));
            assertThat(r.residualDeg()).isLessThan(1e-5);
        }
        // A map that leans by two degrees cannot fit; the turn stays right.
        MapTurn r = MapTurn.of(CAMERA, List.of(pair(1, 200, 300, 20, 2), pair(2, 1100, 200, 20, 2)));
        assertThat(r.turnDeg()).isCloseTo(20, within(1e-6));
        assertThat(r.residualDeg()).isCloseTo(2, within(1e-5));
        List<Clues.Pair> bad = new ArrayList<>(List.of(pair(1, 200, 300, 5, 0), pair(2, 900, 300, 5, 0)));
        bad.add(pair(3, 500, 300, 5 + 8, 0));
        MapTurn one = MapTurn.of(CAMERA, bad);
        assertThat(one.offDeg().get(2)).isGreaterThan(1.8 * one.offDeg().get(0));
    }

    @Test
    void nothingToGoByIsSaid() {
        assertThatThrownBy(() -> MapTurn.of(CAMERA, List.of())).hasMessageContaining("no thing is marked");
        assertThatThrownBy(() -> MapTurn.of(CAMERA, List.of(new Clues.Pair(1, 9, 1, 1, 0, 0))))
                .hasMessageContaining("frame 9");
        assertThatThrownBy(() -> MapTurn.of(CAMERA, List.of(new Clues.Pair(1, 1, 1, 1, 0, 90))))
                .hasMessageContaining("straight above");
        assertThat(Sun.direction(0, Math.PI / 2).x()).isCloseTo(1, within(1e-9));
    }
}
