package dasein.shoot;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import dasein.core.Progress;
import dasein.core.ground.GroundFit;
import dasein.core.ground.PickedPoint;
import dasein.core.ground.Piece;
import dasein.core.ground.PieceFit;
import dasein.core.ground.SetRecipe;
import dasein.core.ground.SetRecipe.Yardstick;
import dasein.core.ground.Shape;
import dasein.core.math.Vec3;
import dasein.core.plate.Plate;
import dasein.core.shot.Shot;
import dasein.core.shot.ShotJson;
import dasein.core.shot.ShotSteps;
import dasein.core.solve.CameraMatch;
import dasein.core.solve.LensTerms;
import dasein.core.solve.SolvedCamera;
import dasein.core.solve.StillSolver;
import dasein.core.solve.StillSolver.Axis;
import dasein.core.solve.StillSolver.Line;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.Test;

/**
 * Takes of stairs before the corner of two walls, filmed past and from a tripod, against what really stood there. Picks
 * are off by 0.3 px, lines by 0.5 px, as a hand is.
 */
class LandingTest {
    private final Random random = new Random(5);

    private static Vec3 named(TrueCamera t, String name) {
        return Vec3.of(TrueCamera.numbers(t.truth().path("named").path(name)));
    }

    /** What was picked and taped: the foot and edges of the stairs, the corner of the wall, upright and level edges. */
    private SetRecipe noted(TrueCamera real) {
        Vec3 left = named(real, "stairs, near left foot"),
                right = named(real, "stairs, near right foot"),
                top = named(real, "wall corner, top");
        int id = PickedPoint.FIRST_ID;
        return new SetRecipe(
                        List.of(),
                        id,
                        0,
                        0,
                        List.of(
                                new Yardstick("stairs", id, id + 1, 1.8),
                                new Yardstick("wall", id + 2, Yardstick.GROUND, 2.2)),
                        SetRecipe.BLANK.catcher(),
                        0,
                        0)
                .withPoints(List.of(
                        real.picked(0, left, 0, random, 1, 18, 36),
                        real.picked(1, right, 0, random, 1, 18, 36),
                        real.picked(2, top, 0, random, 1, 18, 36),
                        real.picked(3, named(real, "stairs, first edge left"), 0, random, 1, 18, 36),
                        real.picked(4, named(real, "stairs, first edge right"), 0, random, 1, 18, 36),
                        real.picked(5, named(real, "stairs, last edge left"), 0, random, 1, 18, 36),
                        real.picked(6, named(real, "stairs, last edge right"), 0, random, 1, 18, 36)))
                .withEdges(List.of(
                        edge(real, SetRecipe.Axis.Y, 2, "wall corner, foot", "wall corner, top"),
                        edge(real, SetRecipe.Axis.Y, 30, "wall corner, foot", "wall corner, top"),
                        edge(real, SetRecipe.Axis.X, 5, "stairs, first edge left", "stairs, first edge right"),
                        edge(real, SetRecipe.Axis.X, 33, "wall corner, top", "long wall, far end top"),
                        edge(real, SetRecipe.Axis.Z, 20, "left wall, near end top", "wall corner, top")));
    }

    @Test
    void stairsOfTypedSizeLieOnTheirEdgesOverTheShot() throws Exception {
        TrueCamera real = TrueCamera.of("LW_040");
        try (Plate plate = Plate.open(Path.of("demo/LW_040.mp4"), null, null)) {
            // As written down on set: in 36 frames of a camera that hardly turns the focal length is known to a percent
            // only.
            Shot noted = ShotJson.read(
                    "{\"plate\": {\"sensorWidthMm\": 24.9, \"focalMm\": 28}, \"camera\": {\"focal\": \"given\"}}");
            SolvedCamera own = ShotSteps.camera(
                    noted, ShotSteps.tracks(noted, plate, null, Progress.NONE), plate, null, null, Progress.NONE);
            int id = PickedPoint.FIRST_ID;
            SetRecipe r = noted(real);
            GroundFit.Result g = GroundFit.fit(own, r);
            SolvedCamera c = own.in(g.toSet());
            Vec3 a = g.places().get(id),
                    b = g.places().get(id + 1),
                    along = b.minus(a).unit(),
                    back = new Vec3(along.z(), 0, -along.x());
            Vec3 middle = a.plus(b).times(0.5).plus(back.times(0.6));
            Piece stairs = new Piece(
                    1,
                    "stairs",
                    Piece.Kind.STAIRS,
                    middle.x(),
                    0,
                    middle.z(),
                    Math.toDegrees(Math.atan2(-along.z(), along.x())),
                    1.8,
                    0.72,
                    1.2,
                    4,
                    List.of(),
                    List.of(),
                    0,
                    0);
            List<Vec3> on = new ArrayList<>(List.of(a, b));
            for (int k = 3; k < 7; k++) on.add(g.places().get(id + k));
            stairs = PieceFit.settle(stairs, on);
            float[] xyz = Shape.of(stairs, null).xyz();
            double sum = 0, worst = 0;
            int n = 0;
            for (int f = 1; f <= 36; f += 5) {
                for (String name : List.of(
                        "stairs, near left foot",
                        "stairs, near right foot",
                        "stairs, first edge left",
                        "stairs, first edge right",
                        "stairs, last edge left",
                        "stairs, last edge right")) {
                    double near = real.cornerOff(c, f, xyz, named(real, name));
                    sum += near * near;
                    n++;
                    worst = Math.max(worst, near);
                }
            }
            Vec3 up = c.frame(18).pose().rotation().conjugate().rotate(Vec3.Y),
                    trueUp = real.pose(18).rotation().conjugate().rotate(Vec3.Y);
            System.out.printf(
                    "LW_040: solve %.2f px, tilt %.3f deg, edges of the stairs %.2f px RMS, worst %.2f px; %s%n",
                    own.rmsPx(),
                    Math.toDegrees(Math.acos(Math.min(1, up.dot(trueUp)))),
                    Math.sqrt(sum / n),
                    worst,
                    g.checks());
            assertThat(Math.toDegrees(Math.acos(Math.min(1, up.dot(trueUp))))).isLessThan(0.25);
            assertThat(Math.sqrt(sum / n)).isLessThan(1);
        }
    }

    private SetRecipe.Edge edge(TrueCamera t, SetRecipe.Axis axis, int frame, String from, String to) {
        double[] a = t.pixel(frame, named(t, from)), b = t.pixel(frame, named(t, to));
        return new SetRecipe.Edge(
                axis,
                frame,
                a[0] + 0.5 * random.nextGaussian(),
                a[1] + 0.5 * random.nextGaussian(),
                b[0] + 0.5 * random.nextGaussian(),
                b[1] + 0.5 * random.nextGaussian());
    }

    private Line line(TrueCamera t, Axis axis, String from, String to) {
        double[] a = t.pixel(1, named(t, from)), b = t.pixel(1, named(t, to));
        return new Line(
                axis,
                a[0] + 0.5 * random.nextGaussian(),
                a[1] + 0.5 * random.nextGaussian(),
                b[0] + 0.5 * random.nextGaussian(),
                b[1] + 0.5 * random.nextGaussian());
    }

    @Test
    void aTripodShotIsMatchedByItsLinesAndMeasuredOnItsGround() throws Exception {
        TrueCamera real = TrueCamera.of("LW_050");
        List<Line> lines = new ArrayList<>(List.of(
                line(real, Axis.X, "stairs, near left foot", "stairs, near right foot"),
                line(real, Axis.X, "stairs, last edge left", "stairs, last edge right"),
                line(real, Axis.X, "wall corner, top", "long wall, far end top"),
                line(real, Axis.Y, "wall corner, foot", "wall corner, top"),
                line(real, Axis.Y, "left wall, near end foot", "left wall, near end top"),
                line(real, Axis.Z, "left wall, near end top", "wall corner, top"),
                line(real, Axis.Z, "left wall, near end foot", "wall corner, foot")));
        try (Plate plate = Plate.open(Path.of("demo/LW_050.mp4"), null, null)) {
            SolvedCamera own = StillSolver.solve(
                    lines,
                    CameraMatch.NONE,
                    LensTerms.Ask.NEVER,
                    plate.width(),
                    plate.height(),
                    plate.rate(),
                    plate.first(),
                    plate.last(),
                    0);
            int id = PickedPoint.FIRST_ID;
            Vec3 left = named(real, "stairs, near left foot"), right = named(real, "stairs, near right foot");
            SetRecipe r = SetRecipe.BLANK
                    .withPoints(List.of(
                            real.picked(0, left, 0, random, 1),
                            real.picked(1, right, 0, random, 1),
                            real.picked(2, named(real, "wall corner, foot"), 0, random, 1),
                            real.picked(3, named(real, "wall corner, top"), id + 2, random, 1)))
                    .withYardsticks(List.of(new Yardstick("stairs", id, id + 1, 1.8)));
            GroundFit.Result g = GroundFit.fit(own, r);
            double eye = own.in(g.toSet()).frames().get(0).pose().position().y(),
                    high = g.places().get(id + 3).y();
            System.out.printf(
                    "LW_050: focal %.1f +- %.1f (true %.1f), lines %.2f px, camera %.3f m high (true 1.7), "
                            + "wall %.3f m (true 2.2)%n",
                    own.lens().focalPx(), own.focalOff(), real.lens().focalPx(), own.rmsPx(), eye, high);
            assertThat(own.lens().focalPx())
                    .isCloseTo(real.lens().focalPx(), within(0.05 * real.lens().focalPx()));
            assertThat(eye).isCloseTo(1.7, within(0.08));
            assertThat(high).isCloseTo(2.2, within(0.1));
        }
    }
}
