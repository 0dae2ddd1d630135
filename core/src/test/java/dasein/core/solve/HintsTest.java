package dasein.core.solve;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import dasein.core.BadInput;
import dasein.core.Progress;
import dasein.core.lens.Lens;
import dasein.core.math.Pose;
import dasein.core.math.Quat;
import dasein.core.math.Vec3;
import dasein.core.plate.Rate;
import dasein.core.solve.StillSolver.Axis;
import dasein.core.solve.StillSolver.Line;
import dasein.core.track.Track;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.Test;

/**
 * What a person says to a solve beside its marks: readout, measured places, weights, a part of the shot; and what
 * stands still matched by known places. All of known truth.
 */
class HintsTest {
    private static final Rate RATE = new Rate(24, 1);
    private static final Lens LENS = new Lens(1100, 640, 360, -0.08, 0);
    private static final KnownShot.Move SHAKEN = t -> new Pose(
            Quat.fromRotationVector(0.03 * Math.sin(9 * t), -0.1 + 0.05 * Math.sin(6 * t), 0.02 * Math.sin(7 * t)),
            new Vec3(0.9 * t + 0.03 * Math.sin(8 * t), 1.6 + 0.03 * Math.sin(9 * t), -0.4 * t));

    private static SolvedCamera solve(KnownShot s, List<Track> tracks, Hints h) {
        return CameraSolver.solve(tracks, s.width, s.height, RATE, SolveSettings.UNKNOWN.with(h), Progress.NONE);
    }

    @Test
    void rowsThatAreReadLaterAreFoundOutAndTakenOff() {
        KnownShot shot = new KnownShot(72, 260, 0, 0.1, 4, LENS, SHAKEN, t -> 1, 3, 15);
        List<Track> rolling = shot.rolling(0.6, 0.3, SHAKEN);
        SolvedCamera plain = solve(shot, rolling, Hints.NONE),
                given = solve(shot, rolling, Hints.NONE.withReadout(0.6)),
                found = solve(shot, rolling, Hints.NONE.withReadout(Hints.SOLVE_READOUT));
        System.out.printf(
                "readout: plain %.2f px, %.3f deg; given %.2f px, %.3f deg; found %.3f, %.2f px; %s%n",
                plain.rmsPx(),
                shot.compare(plain).rotationDeg(),
                given.rmsPx(),
                shot.compare(given).rotationDeg(),
                found.readout(),
                found.rmsPx(),
                found.remarks());
        // Noise of 0.3 px in each coordinate is 0.42 px of distance.
        assertThat(given.rmsPx()).isLessThan(0.45).isLessThan(0.75 * plain.rmsPx());
        assertThat(shot.compare(given).rotationDeg())
                .isLessThan(0.08)
                .isLessThan(0.5 * shot.compare(plain).rotationDeg());
        assertThat(found.readout()).isCloseTo(0.6, within(0.015));
        SolvedCamera later = CameraSolver.again(
                found,
                rolling.subList(5, rolling.size()),
                SolveSettings.UNKNOWN.with(Hints.NONE.withReadout(Hints.SOLVE_READOUT)),
                Progress.NONE);
        assertThat(later.readout()).isEqualTo(found.readout());
        assertThat(later.rmsPx()).isLessThan(0.45);
    }

    /** A take on which the lowest of a few errors lies beside the true readout; what is said of it must hold. */
    @Test
    void theReadoutLiesWhereItIsSaidTo() {
        KnownShot shot = new KnownShot(60, 220, 0, 0.1, 3, LENS, SHAKEN, t -> 1, 3, 15);
        SolvedCamera s = solve(shot, shot.rolling(0.6, 0.3, SHAKEN), Hints.NONE.withReadout(Hints.SOLVE_READOUT));
        System.out.printf("readout found %.3f of 0.6; %s%n", s.readout(), s.remarks());
        assertThat(s.readout()).isCloseTo(0.6, within(0.02));
        assertThat(s.rmsPx()).isLessThan(0.45);
    }

    @Test
    void measuredPlacesGiveTheSolveTheirFrameAndALyingOneIsNamed() {
        KnownShot shot = new KnownShot(72, 300, 0.3, 0.1, 4, LENS, SHAKEN, t -> 1, 3, 15);
        Random r = new Random(2);
        List<Hints.Measured> measured = new ArrayList<>();
        SolvedCamera free = solve(shot, shot.tracks, Hints.NONE);
        for (SolvedCamera.Point p : free.points()) {
            Vec3 at = shot.place.get(p.id());
            if (at == null || p.id() % 9 != 0) continue;
            measured.add(new Hints.Measured(
                    p.id(),
                    at.plus(new Vec3(0.005 * r.nextGaussian(), 0.005 * r.nextGaussian(), 0.005 * r.nextGaussian())),
                    0.005));
        }
        assertThat(measured).hasSizeGreaterThan(8);
        SolvedCamera s = solve(shot, shot.tracks, Hints.NONE.withMeasured(measured));
        assertThat(s.measured()).isTrue();
        // No alignment: it must lie in the survey's frame by itself.
        double worst = 0, turn = 0;
        for (SolvedCamera.Frame f : s.frames()) {
            worst = Math.max(
                    worst,
                    f.pose().position().distance(shot.poses.get(f.frame() - 1).position()));
            turn = Math.max(
                    turn,
                    Math.toDegrees(f.pose()
                            .rotation()
                            .angleTo(shot.poses.get(f.frame() - 1).rotation())));
        }
        System.out.printf(
                "survey of %d places: camera within %.3f m and %.3f deg; %s%n",
                measured.size(), worst, turn, s.remarks());
        assertThat(worst).isLessThan(0.03);
        assertThat(turn).isLessThan(0.2);
        Hints.Measured first = measured.get(0);
        measured.set(0, new Hints.Measured(first.track(), first.position().plus(new Vec3(0, 0.4, 0)), 0.005));
        assertThat(solve(shot, shot.tracks, Hints.NONE.withMeasured(measured)).remarks())
                .anyMatch(m -> m.startsWith("In the frame of") && m.contains("Track " + first.track()));
        assertThatThrownBy(() -> solve(shot, shot.tracks, Hints.NONE.withMeasured(measured.subList(0, 2))))
                .hasMessageContaining("three");
    }

    @Test
    void aWeightDrawsTheSolveToItsTrackAndAPartIsSolvedAlone() {
        KnownShot shot = new KnownShot(72, 200, 0.3, 0, 6, LENS, SHAKEN, t -> 1, 3, 15);
        SolvedCamera even = solve(shot, shot.tracks, Hints.NONE),
                part = solve(shot, shot.tracks, Hints.NONE.part(20, 50));
        int id = even.points().stream()
                .max((a, b) -> Double.compare(a.rmsPx(), b.rmsPx()))
                .orElseThrow()
                .id();
        SolvedCamera drawn = solve(shot, shot.tracks, Hints.NONE.withWeights(List.of(new Hints.Weight(id, 100))));
        assertThat(rms(drawn, id)).isLessThan(0.8 * rms(even, id));
        assertThat(part.first()).isEqualTo(20);
        assertThat(part.last()).isEqualTo(50);
        assertThat(shot.compare(part).rotationDeg()).isLessThan(0.1);
        assertThatThrownBy(() -> new Hints.Weight(1, 0)).isInstanceOf(BadInput.class);
    }

    /**
     * A focal length that is wrong lets things slide, at the edges first; a right one by less than the marks' own
     * noise.
     */
    @Test
    void slidingIsMeasuredWhereItShows() {
        KnownShot shot = new KnownShot(96, 400, 0.3, 0, 9, LENS, SHAKEN, t -> 1, 3, 15);
        SolvedCamera good = solve(shot, shot.tracks, Hints.NONE);
        // As if the lens had no distortion, which is small in the middle and wrong at the edges.
        SolvedCamera bad = CameraSolver.solve(
                shot.tracks,
                shot.width,
                shot.height,
                RATE,
                new SolveSettings(SolveSettings.Kind.MOVING, SolveSettings.Focal.UNKNOWN, 0, LensTerms.NONE, 0, 1),
                Progress.NONE);
        dasein.core.ground.StickSlide.Slide a = dasein.core.ground.StickSlide.of(good, shot.tracks),
                b = dasein.core.ground.StickSlide.of(bad, shot.tracks);
        System.out.printf(
                "slide: %.2f px, edges %.2f px; without distortion %.2f and %.2f px%n",
                a.middlePx(), a.edgePx(), b.middlePx(), b.edgePx());
        assertThat(a.edgePx()).isLessThan(0.6);
        assertThat(b.edgePx()).isGreaterThan(1.5 * a.edgePx());
    }

    private static double rms(SolvedCamera c, int id) {
        return c.points().stream()
                .filter(p -> p.id() == id)
                .findFirst()
                .orElseThrow()
                .rmsPx();
    }

    @Test
    void aGapIsLeftOutUnlessItIsToBeFilled() {
        KnownShot shot = new KnownShot(96, 400, 0.3, 0, 8, LENS, SHAKEN, t -> 1, 3, 15);
        // Marks are lost for five frames and found again.
        List<Track> lost = shot.tracks.stream()
                .map(t -> {
                    int[] k = java.util.stream.IntStream.range(0, t.length())
                            .filter(i -> t.frames()[i] < 50 || t.frames()[i] > 54)
                            .toArray();
                    return new Track(
                            t.id(),
                            java.util.Arrays.stream(k).map(i -> t.frames()[i]).toArray(),
                            java.util.Arrays.stream(k)
                                    .mapToDouble(i -> t.x()[i])
                                    .toArray(),
                            java.util.Arrays.stream(k)
                                    .mapToDouble(i -> t.y()[i])
                                    .toArray());
                })
                .filter(t -> t.length() > 5)
                .toList();
        SolvedCamera open = solve(shot, lost, Hints.NONE), filled = solve(shot, lost, Hints.NONE.withFilled(true));
        assertThat(open.gaps()).isEqualTo("50 to 54");
        assertThat(open.has(52)).isFalse();
        assertThat(open.remarks()).anyMatch(m -> m.contains("50 to 54"));
        assertThat(filled.gaps()).isEmpty();
        assertThat(filled.frame(52).tracks()).isZero();
        assertThat(shot.compare(open).rotationDeg()).isLessThan(0.05);
    }

    /** From a tripod, too: marks that are seen before and after carry the turn over a gap. */
    @Test
    void aTurningCameraIsSolvedOnBothSidesOfAGap() {
        KnownShot.Move pan = t -> new Pose(
                Quat.axisAngle(Vec3.Y, 0.06 * t).times(Quat.axisAngle(Vec3.X, 0.02 * Math.sin(2 * t))),
                new Vec3(0, 1.6, 0));
        KnownShot shot = new KnownShot(72, 400, 0.3, 0, 8, LENS, pan, t -> 1, 3, 15);
        List<Track> lost = shot.tracks.stream()
                .map(t -> new Track(
                        t.id(),
                        java.util.Arrays.stream(t.frames())
                                .filter(f -> f < 40 || f > 44)
                                .toArray(),
                        picked(t, t.x()),
                        picked(t, t.y())))
                .filter(t -> t.length() > 5)
                .toList();
        SolvedCamera open = solve(shot, lost, Hints.NONE), filled = solve(shot, lost, Hints.NONE.withFilled(true));
        assertThat(open.kind()).isEqualTo("nodal");
        assertThat(open.gaps()).isEqualTo("40 to 44");
        assertThat(open.last()).isEqualTo(72);
        assertThat(filled.gaps()).isEmpty();
        assertThat(shot.compareTurns(open).rotationDeg()).isLessThan(0.05);
    }

    private static double[] picked(Track t, double[] v) {
        return java.util.stream.IntStream.range(0, t.length())
                .filter(i -> t.frames()[i] < 40 || t.frames()[i] > 44)
                .mapToDouble(i -> v[i])
                .toArray();
    }

    private static double[] seen(Pose camera, double focal, double cx, double cy, Vec3 p, Random r, double hand) {
        double[] q = new Lens(focal, cx, cy, 0, 0).project(camera.toLocal(p));
        return new double[] {q[0] + hand * r.nextGaussian(), q[1] + hand * r.nextGaussian()};
    }

    @Test
    void aRectangleOfKnownProportionsGivesFocalLengthAndPlace() {
        Pose camera = new Pose(Quat.axisAngle(Vec3.Y, 0.5).times(Quat.axisAngle(Vec3.X, -0.35)), new Vec3(2.5, 2.2, 4));
        Random r = new Random(1);
        List<Double> corners = new ArrayList<>();
        for (double[] c : new double[][] {{-1, 1.5}, {1, 1.5}, {1, -1.5}, {-1, -1.5}})
            for (double v : seen(camera, 1300, 640, 360, new Vec3(c[0], 0, c[1]), r, 0.3)) corners.add(v);
        SolvedCamera s = StillSolver.solve(
                List.of(),
                CameraMatch.NONE.with(new CameraMatch.Rectangle(corners, 2, 3, false, true)),
                LensTerms.Ask.FIND,
                1280,
                720,
                RATE,
                1,
                4,
                0);
        System.out.printf(
                "rectangle: focal %.0f +- %.0f of 1300, off %.3f m%n",
                s.lens().focalPx(),
                s.focalOff(),
                s.frames().get(0).pose().position().distance(camera.position()));
        assertThat(s.measured()).isTrue();
        assertThat(s.lens().focalPx()).isCloseTo(1300, within(3 * s.focalOff())).isCloseTo(1300, within(60.0));
        assertThat(s.frames().get(0).pose().position().distance(camera.position()))
                .isLessThan(0.25);
        SolvedCamera held = StillSolver.solve(
                List.of(),
                CameraMatch.NONE.with(new CameraMatch.Rectangle(corners, 4, 6, false, false)),
                LensTerms.Ask.FIND,
                1280,
                720,
                RATE,
                1,
                1,
                1300);
        assertThat(held.measured()).isFalse();
        assertThat(held.frames().get(0).pose().position().y()).isCloseTo(1.6, within(1e-9));
        assertThat(Math.toDegrees(held.frames().get(0).pose().rotation().angleTo(camera.rotation())))
                .isLessThan(0.3);
        List<Double> crossed = new ArrayList<>(corners);
        java.util.Collections.swap(crossed, 0, 2);
        java.util.Collections.swap(crossed, 1, 3);
        assertThatThrownBy(() -> new CameraMatch.Rectangle(crossed, 2, 3, false, true))
                .isInstanceOf(BadInput.class);
    }

    @Test
    void knownPlacesAndLinesGiveThePrincipalPointToo() {
        Pose camera = new Pose(Quat.axisAngle(Vec3.Y, -0.4).times(Quat.axisAngle(Vec3.X, -0.2)), new Vec3(-2, 1.7, 5));
        Random r = new Random(3);
        List<CameraMatch.Placed> points = new ArrayList<>();
        for (int i = 0; i < 12; i++) {
            Vec3 p = new Vec3(4 * r.nextDouble() - 2, 3 * r.nextDouble(), 4 * r.nextDouble() - 3);
            double[] q = seen(camera, 900, 700, 330, p, r, 0.2);
            points.add(new CameraMatch.Placed(q[0], q[1], p));
        }
        List<Line> lines = new ArrayList<>();
        for (Axis a : Axis.values()) {
            for (int i = 0; i < 3; i++) {
                Vec3 p = new Vec3(2 * r.nextDouble() - 1, r.nextDouble(), -2 * r.nextDouble());
                double[] u = seen(camera, 900, 700, 330, p, r, 0.2),
                        v = seen(camera, 900, 700, 330, p.plus(a.direction), r, 0.2);
                lines.add(new Line(a, u[0], u[1], v[0], v[1]));
            }
        }
        SolvedCamera
                middle =
                        StillSolver.solve(
                                lines,
                                CameraMatch.NONE.withPoints(points),
                                LensTerms.Ask.NEVER,
                                1280,
                                720,
                                RATE,
                                1,
                                1,
                                0),
                solved =
                        StillSolver.solve(
                                lines,
                                CameraMatch.NONE.withPoints(points),
                                LensTerms.Ask.FIND,
                                1280,
                                720,
                                RATE,
                                1,
                                1,
                                0);
        System.out.printf(
                "known places: %.2f px with the centre in the middle, %.2f px solved at %.1f, %.1f, focal %.1f%n",
                middle.rmsPx(),
                solved.rmsPx(),
                solved.centreX(),
                solved.centreY(),
                solved.lens().focalPx());
        assertThat(solved.rmsPx()).isLessThan(0.5).isLessThan(0.5 * middle.rmsPx());
        assertThat(solved.centreX()).isCloseTo(700, within(6.0));
        assertThat(solved.centreY()).isCloseTo(330, within(6.0));
        assertThat(solved.lens().focalPx()).isCloseTo(900, within(9.0));
        assertThat(solved.frames().get(0).pose().position().distance(camera.position()))
                .isLessThan(0.05);
    }
}
