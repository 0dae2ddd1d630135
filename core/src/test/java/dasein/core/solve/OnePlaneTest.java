package dasein.core.solve;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dasein.core.NoSolution;
import dasein.core.Progress;
import dasein.core.lens.Lens;
import dasein.core.math.Pose;
import dasein.core.math.Quat;
import dasein.core.math.Vec3;
import dasein.core.plate.Rate;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

/**
 * A camera that moves over one plane, a pavement or a wall and nothing else: it is told from one that turned, and
 * solved.
 */
class OnePlaneTest {
    private static final Lens LENS = new Lens(1100, 640, 360, -0.05, 0);

    /** @param ground marks lie on the ground; else on a wall 6 m ahead */
    record Shot(String name, boolean ground, KnownShot.Move move) {
        KnownShot known(long seed) {
            return known(seed, LENS);
        }

        KnownShot known(long seed, Lens lens) {
            return new KnownShot(
                    72,
                    260,
                    0.3,
                    0.1,
                    seed,
                    lens,
                    move,
                    t -> 1,
                    0.2,
                    ground ? KnownShot.plane(Vec3.ZERO, Vec3.Y, 25) : KnownShot.plane(new Vec3(0, 0, -6), Vec3.Z, 25));
        }

        @Override
        public String toString() {
            return name;
        }
    }

    private static Pose look(double x, double y, double z, double down, double yaw) {
        return new Pose(Quat.axisAngle(Vec3.Y, yaw).times(Quat.axisAngle(Vec3.X, -down)), new Vec3(x, y, z));
    }

    static List<Shot> shots() {
        return List.of(
                new Shot(
                        "pavement, walked over",
                        true,
                        t -> look(
                                0.5 * t + 0.02 * Math.sin(6 * t),
                                1.6 + 0.03 * Math.sin(11 * t),
                                -0.4 * t,
                                0.5,
                                0.1 * t)),
                new Shot(
                        "table top, round about it",
                        true,
                        t -> look(1.2 * Math.sin(0.3 * t), 0.9, 1.2 * Math.cos(0.3 * t), 0.62, 0.3 * t)),
                new Shot(
                        "pavement, straight ahead",
                        true,
                        t -> look(
                                0.05 * Math.sin(5 * t),
                                1.5 + 0.02 * Math.sin(9 * t),
                                -0.9 * t,
                                0.45,
                                0.04 * Math.sin(3 * t))),
                new Shot(
                        "pavement, stood on, then walked over",
                        true,
                        t -> look(
                                0.6 * Math.max(0, t - 1),
                                1.6,
                                -0.3 * Math.max(0, t - 1),
                                0.5,
                                0.08 * Math.max(0, t - 1))),
                new Shot(
                        "wall, along it at a slant",
                        false,
                        t -> look(0.8 * t, 1.5 + 0.1 * t, 0.2 * t, 0.02 * Math.sin(4 * t), 0.35 + 0.06 * t)));
    }

    private static SolvedCamera solved(KnownShot k, SolveSettings s) {
        return CameraSolver.solve(k.tracks, k.width, k.height, new Rate(24, 1), s, Progress.NONE);
    }

    @ParameterizedTest
    @MethodSource("shots")
    void itIsSolvedWithItsFocalLengthHeldOrFound(Shot shot) {
        KnownShot k = shot.known(7);
        for (boolean held : new boolean[] {true, false}) {
            SolvedCamera c = solved(k, held ? SolveSettings.UNKNOWN.withFocal(1100) : SolveSettings.UNKNOWN);
            assertThat(c.kind()).as(shot + " " + c.remarks()).isEqualTo("moving");
            KnownShot.Error e = k.compare(c);
            double unseen = k.heldOutPx(c), off = c.focalOff() / c.lens().focalPx();
            System.out.printf(
                    "%s, focal %s: path %.2f %%, turn %.3f deg, focal %.2f %% (said %.2f), true points %.2f px, unseen "
                            + "marks %.2f px%n",
                    shot,
                    held ? "held" : "found",
                    100 * e.pathPart(),
                    e.rotationDeg(),
                    100 * e.focalPart(),
                    100 * off,
                    e.heldOutPx(),
                    unseen);
            // Marks that the solve never saw stay on their places whatever the focal length is off by.
            assertThat(unseen).as(shot + (held ? " held" : " found")).isLessThan(0.3);
            if (held) assertThat(e.heldOutPx()).as(shot.name).isLessThan(0.5);
            else assertThat(e.focalPart()).as(shot.name).isLessThan(Math.min(0.04, 3 * off + 0.001));
            assertThat(e.pathPart()).as(shot.name).isLessThan(0.01);
            assertThat(c.remarks().get(0)).contains("plane");
        }
    }

    /** A wide lens, which feigns depth over a plane: what the solve never saw stays on its place all the same. */
    @Test
    void aLensThatBendsLinesIsSolvedToo() {
        KnownShot k = shots().get(0).known(7, new Lens(800, 652, 352, -0.22, 0.045));
        SolvedCamera c = solved(k, SolveSettings.UNKNOWN);
        double off = c.focalOff() / c.lens().focalPx();
        System.out.printf(
                "wide over a plane: %s, focal %.1f of 800, says %.1f %%, unseen %.2f px; %s%n",
                c.kind(), c.lens().focalPx(), 100 * off, k.heldOutPx(c), c.remarks());
        assertThat(c.kind()).isEqualTo("moving");
        assertThat(k.heldOutPx(c)).isLessThan(0.4);
        assertThat(Math.abs(c.lens().focalPx() / 800 - 1)).isLessThan(Math.max(0.03, 3 * off));
    }

    /**
     * Things of 2 cm on a table, seen from above: whatever it is taken for, it is solved, and better than the bare top.
     */
    @Test
    void smallThingsOnATableTop() {
        KnownShot k = new KnownShot(
                72, 260, 0.3, 0.1, 7, LENS, shots().get(1).move, t -> 1, 0.2, (eye, way, r) -> KnownShot.plane(
                                // A third of the marks lies on things, at any height up to theirs.
                                new Vec3(0, 0.02 * Math.max(0, 3 * r - 2), 0), Vec3.Y, 25)
                        .at(eye, way, r));
        SolvedCamera c = solved(k, SolveSettings.UNKNOWN);
        KnownShot.Error e = k.compare(c);
        double off = c.focalOff() / c.lens().focalPx();
        System.out.printf(
                "things of 2 cm: %s, focal %.2f %% (said %.2f), unseen %.2f px; %s%n",
                c.kind(), 100 * e.focalPart(), 100 * off, k.heldOutPx(c), c.remarks());
        assertThat(c.kind()).isEqualTo("moving");
        assertThat(k.heldOutPx(c)).isLessThan(0.3);
        assertThat(e.focalPart()).isLessThan(Math.max(0.01, 3 * off));
        assertThat(e.pathPart()).isLessThan(0.01);
    }

    /** Turning leaves nothing by the one map, a plane does. */
    @Test
    void turningIsStillTurning() {
        KnownShot k = new KnownShot(
                72, 220, 0.3, 0.1, 5, LENS, t -> look(0, 1.6, 0, 0.1 * Math.sin(t), 0.15 * t), t -> 1, 3, 12);
        SolvedCamera c = solved(k, SolveSettings.UNKNOWN);
        assertThat(c.kind()).isEqualTo("nodal");
        assertThat(c.remarks().get(0)).startsWith("The camera turned in place");
        assertThatThrownBy(() -> solved(k, SolveSettings.UNKNOWN.with(SolveSettings.Kind.MOVING)))
                .isInstanceOf(NoSolution.class)
                .hasMessageContaining("only turned");
    }
}
