package dasein.core.ground;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import dasein.core.BadInput;
import dasein.core.ground.SetRecipe.Axis;
import dasein.core.ground.SetRecipe.Edge;
import dasein.core.ground.SetRecipe.Upright;
import dasein.core.ground.SetRecipe.Yardstick;
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
import java.util.function.UnaryOperator;
import org.junit.jupiter.api.Test;

/**
 * Every constraint on the set's frame against a real set of known truth, seen through a solve with a frame of its own;
 * and that those which agree leave each other alone.
 */
class SetFrameTest {
    private static final Lens LENS = new Lens(1100, 640, 360, -0.06, 0);
    /** What the solver's arbitrary frame does to the real set. */
    private final Similarity hidden = new Similarity(0.37, Quat.fromRotationVector(0.4, -0.9, 0.2), new Vec3(3, -2, 7));

    private final List<Pose> real = new ArrayList<>();

    private SolvedCamera solve(String kind, double noise) {
        Random r = new Random(5);
        List<SolvedCamera.Point> points = new ArrayList<>();
        List<SolvedCamera.Frame> frames = new ArrayList<>();
        boolean level = !kind.equals("moving");
        // A camera without depth has a frame of its own, too: level, its eye at a height it made up.
        Similarity to = level ? new Similarity(1.6 / 2.3, Quat.axisAngle(Vec3.Y, 0.7), new Vec3(4, 0, 2)) : hidden;
        for (int f = 1; f <= 10; f++) {
            Pose p = Pose.lookAt(new Vec3(level ? 0 : 0.15 * f, 2.3, 2), new Vec3(0.3, 0.8, -6), Vec3.Y);
            real.add(p);
            frames.add(new SolvedCamera.Frame(f, to.apply(p), 1100, 0.2, 100));
        }
        if (!level)
            for (int i = 0; i < 80; i++)
                points.add(new SolvedCamera.Point(
                        i + 1,
                        to.apply(new Vec3(8 * r.nextDouble() - 4, noise * r.nextGaussian(), -2 - 8 * r.nextDouble())),
                        0.2));
        return new SolvedCamera(1280, 720, new Rate(24, 1), kind, 0.2, 10, LENS, frames, points);
    }

    private double[] pixel(int frame, Vec3 p) {
        return LENS.project(real.get(frame - 1).toLocal(p));
    }

    private PickedPoint pick(int id, Vec3 p, int... frames) {
        PickedPoint out = new PickedPoint(PickedPoint.FIRST_ID + id, "p" + id, List.of(), 0);
        for (int f : frames) out = out.with(new PickedPoint.Pick(f, pixel(f, p)[0], pixel(f, p)[1]));
        return out;
    }

    private Edge edge(Axis a, int frame, Vec3 from, Vec3 to) {
        return new Edge(
                a, frame, pixel(frame, from)[0], pixel(frame, from)[1], pixel(frame, to)[0], pixel(frame, to)[1]);
    }

    private static int id(int k) {
        return PickedPoint.FIRST_ID + k;
    }

    private static double tiltDeg(GroundFit.Result g, Quat toSolve) {
        return Math.toDegrees(Math.acos(
                Math.min(1, g.toSet().rotation().rotate(toSolve.rotate(Vec3.Y)).y())));
    }

    @Test
    void pickedPointsYardsticksOriginAndHeadingMeetTheTruth() {
        SolvedCamera s = solve("moving", 0.002);
        Vec3 a = new Vec3(-1, 0, -3), b = new Vec3(-1, 0, -7), top = new Vec3(1, 1.5, -4), foot = new Vec3(1, 0, -4);
        SetRecipe r = new SetRecipe(
                        List.of(),
                        id(1),
                        id(1),
                        id(2),
                        List.of(
                                new Yardstick("along", id(1), id(2), 4),
                                new Yardstick("post", id(3), id(4), 1.5),
                                new Yardstick("post over ground", id(3), Yardstick.GROUND, 1.5),
                                new Yardstick("eye", Yardstick.CAMERA, Yardstick.GROUND, 2.3)),
                        SetRecipe.BLANK.catcher(),
                        0,
                        0)
                .withPoints(List.of(pick(1, a, 1, 10), pick(2, b, 3), pick(3, top, 1, 6, 10), pick(4, foot, 2)))
                .withUprights(List.of(new Upright(id(3), id(4))));
        // A picked foot in another frame than its top: the top is known, so the upright may be asked for only when both
        // are.
        assertThatThrownBy(() -> GroundFit.fit(s, r))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("same frame");
        GroundFit.Result g = GroundFit.fit(s, r.withUprights(List.of()));
        System.out.printf(
                "set: tilt %.3f deg, scale %.4f, %s%n",
                tiltDeg(g, hidden.rotation()), g.toSet().scale() * hidden.scale(), g.checks());
        assertThat(tiltDeg(g, hidden.rotation())).isLessThan(0.1);
        assertThat(g.toSet().scale() * hidden.scale()).isCloseTo(1, within(0.005));
        assertThat(g.checks()).noneMatch(GroundFit.Check::contradicts).hasSize(5);
        assertThat(g.places().get(id(1)).length()).isLessThan(0.01);
        // -Z runs from a to b.
        assertThat(g.places().get(id(2)).distance(new Vec3(0, 0, -4))).isLessThan(0.02);
        assertThat(g.places().get(id(3)).distance(new Vec3(2, 1.5, -1))).isLessThan(0.02);
    }

    /**
     * A ground that leans by a point which lies, and a camera without depth whose own upright leans: the noted level
     * rights both.
     */
    @Test
    void theLevelOfTheCameraAsNoted() {
        SolvedCamera s = solve("moving", 0);
        Quat r = real.get(3).rotation();
        double
                roll =
                        Math.toDegrees(Math.atan2(
                                -r.rotate(Vec3.X).y(), r.rotate(Vec3.Y).y())),
                tilt = -Math.toDegrees(Math.asin(r.rotate(Vec3.Z).y()));
        assertThat(roll).isCloseTo(0, within(1e-6));
        List<SolvedCamera.Point> bad = List.of(
                new SolvedCamera.Point(1, hidden.apply(new Vec3(-2, 0, -3)), 0.2),
                new SolvedCamera.Point(2, hidden.apply(new Vec3(2, 0.2, -3)), 0.2),
                new SolvedCamera.Point(3, hidden.apply(new Vec3(0, 0, -8)), 0.2));
        SolvedCamera three = new SolvedCamera(1280, 720, s.rate(), "moving", 0.2, 10, LENS, s.frames(), bad);
        SetRecipe lies = new SetRecipe(List.of(1, 2, 3), 0, 0, 0, List.of(), SetRecipe.BLANK.catcher(), 0, 0);
        GroundFit.Result g = GroundFit.fit(three, lies.withLevels(List.of(new SetRecipe.Level(4, roll, null))));
        assertThat(tiltDeg(g, hidden.rotation()))
                .isLessThan(0.8 * tiltDeg(GroundFit.fit(three, lies), hidden.rotation()));
        assertThat(g.checks().get(0).name()).isEqualTo("roll in frame 4");
        SolvedCamera still = solve("locked", 0);
        Quat lean = Quat.axisAngle(new Vec3(0.6, 0, 0.8), Math.toRadians(3));
        SolvedCamera leaning = still.in(new Similarity(1, lean, Vec3.ZERO));
        Quat toSolve = lean.times(Quat.axisAngle(Vec3.Y, 0.7));
        assertThat(tiltDeg(GroundFit.fit(leaning, SetRecipe.BLANK), toSolve)).isGreaterThan(2.9);
        assertThat(tiltDeg(
                        GroundFit.fit(leaning, SetRecipe.BLANK.withLevels(List.of(new SetRecipe.Level(4, roll, tilt)))),
                        toSolve))
                .isLessThan(0.1);
    }

    @Test
    void aPointOnAPieceFromOneFrame() {
        SolvedCamera s = solve("moving", 0);
        Vec3 at = new Vec3(0.4, 1.1, -4);
        PickedPoint p = pick(1, at, 5).over(0, 7);
        GroundFit.Result g = GroundFit.fit(
                s,
                SetRecipe.BLANK
                        .withPoints(List.of(p))
                        .withEdges(List.of(edge(Axis.X, 4, at, at.plus(new Vec3(1, 0, 0)))))
                        .withYardsticks(List.of(new Yardstick("eye", Yardstick.CAMERA, Yardstick.GROUND, 2.3))));
        assertThat(g.places()).isEmpty();
        // The set's origin lies elsewhere than the truth's: the wall stands where the truth has it.
        Vec3 wall = g.toSet().apply(hidden.apply(new Vec3(0, 0, -4)));
        Shape shape = new Shape(
                new float[] {-9, 0, (float) wall.z(), 9, 0, (float) wall.z(), 0, 20, (float) wall.z()},
                new int[] {0, 1, 2});
        assertThat(p.place(s.in(g.toSet()), shape).distance(g.toSet().apply(hidden.apply(at))))
                .isLessThan(0.003);
        assertThat(p.place(s.in(g.toSet()), new Shape(new float[] {50, 0, 0, 51, 0, 0, 50, 1, 0}, new int[] {0, 1, 2})))
                .isNull();
        assertThatThrownBy(() -> GroundFit.fit(
                        s,
                        SetRecipe.BLANK
                                .withPoints(List.of(p))
                                .withYardsticks(List.of(new Yardstick("a", id(1), Yardstick.GROUND, 1.1)))))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("lies on a set piece");
    }

    /** Each kind of constraint, and what it alone must do: tilt for uprights, turn for headings, size for lengths. */
    @Test
    void eachConstraintByItselfDoesWhatItSays() {
        SolvedCamera s = solve("moving", 0);
        Vec3 p = new Vec3(0.5, 0, -4), q = new Vec3(0.5, 0, -7), up = new Vec3(0.5, 1.2, -4);
        List<UnaryOperator<SetRecipe>> turns = List.of(
                r -> new SetRecipe(r.groundPoints(), 0, id(1), id(2), r.yardsticks(), r.catcher(), 0, 0)
                        .withPoints(List.of(pick(1, p, 1), pick(2, q, 1))),
                r -> r.withEdges(List.of(edge(Axis.Z, 4, p, q), edge(Axis.Z, 9, up, up.plus(new Vec3(0, 0, -2))))),
                r -> r.withEdges(List.of(edge(Axis.X, 4, p, p.plus(new Vec3(1.5, 0, 0))))));
        for (UnaryOperator<SetRecipe> t : turns) {
            GroundFit.Result g = GroundFit.fit(s, t.apply(SetRecipe.BLANK));
            Vec3 along = g.toSet().rotation().rotate(hidden.rotation().rotate(Vec3.Z));
            assertThat(Math.toDegrees(Math.atan2(along.x(), along.z()))).isCloseTo(0, within(0.05));
        }
        // Three ground points of which one lies 30 cm high: an upright says so, and is named.
        List<SolvedCamera.Point> bad = List.of(
                new SolvedCamera.Point(1, hidden.apply(new Vec3(-2, 0, -3)), 0.2),
                new SolvedCamera.Point(2, hidden.apply(new Vec3(2, 0, -3)), 0.2),
                new SolvedCamera.Point(3, hidden.apply(new Vec3(0, 0.3, -8)), 0.2));
        SolvedCamera three = new SolvedCamera(1280, 720, s.rate(), "moving", 0.2, 10, LENS, s.frames(), bad);
        SetRecipe tilted = new SetRecipe(List.of(1, 2, 3), 0, 0, 0, List.of(), SetRecipe.BLANK.catcher(), 0, 0);
        assertThat(tiltDeg(GroundFit.fit(three, tilted), hidden.rotation())).isGreaterThan(3);
        GroundFit.Result righted = GroundFit.fit(
                three,
                tilted.withEdges(List.of(edge(Axis.Y, 2, p, up), edge(Axis.Y, 9, q, q.plus(new Vec3(0, 1, 0)))))
                        .withPoints(List.of(pick(5, up, 1, 9), pick(6, p, 1, 9)))
                        .withUprights(List.of(new Upright(id(5), id(6)))));
        assertThat(tiltDeg(righted, hidden.rotation()))
                .isLessThan(0.8 * tiltDeg(GroundFit.fit(three, tilted), hidden.rotation()));
        assertThat(righted.checks()).anyMatch(GroundFit.Check::contradicts);
        for (Yardstick y : List.of(
                new Yardstick("a", id(1), id(2), 3),
                new Yardstick("b", id(3), Yardstick.GROUND, 1.2),
                new Yardstick("c", Yardstick.CAMERA, Yardstick.GROUND, 2.3))) {
            GroundFit.Result g = GroundFit.fit(
                    s,
                    SetRecipe.BLANK
                            .withPoints(List.of(pick(1, p, 1), pick(2, q, 7), pick(3, up, 1, 9)))
                            .withYardsticks(List.of(y)));
            assertThat(g.toSet().scale() * hidden.scale()).as(y.name()).isCloseTo(1, within(0.002));
            assertThat(g.checks().get(0).got()).isCloseTo(y.metres(), within(1e-3));
        }
        GroundFit.Result noted = GroundFit.fit(s, SetRecipe.BLANK, 2.3);
        assertThat(noted.scaled()).isTrue();
        assertThat(noted.toSet().scale() * hidden.scale()).isCloseTo(1, within(0.002));
    }

    @Test
    void aYardstickThatLiesIsNamedAndWeightsDecide() {
        SolvedCamera s = solve("moving", 0.001);
        Vec3 p = new Vec3(0.5, 0, -4), q = new Vec3(0.5, 0, -7), w = new Vec3(-2, 0, -5);
        SetRecipe r = SetRecipe.BLANK.withPoints(List.of(pick(1, p, 1), pick(2, q, 7), pick(3, w, 2)));
        List<Yardstick> both = List.of(
                new Yardstick("good", id(1), id(2), 3, 20.0),
                new Yardstick("fine", id(1), id(3), p.distance(w), 20.0),
                new Yardstick("wrong", id(2), id(3), 1.3 * q.distance(w)));
        GroundFit.Result g = GroundFit.fit(s, r.withYardsticks(both));
        assertThat(g.checks().stream().filter(GroundFit.Check::contradicts).map(GroundFit.Check::name))
                .containsExactly("wrong");
        assertThat(g.toSet().scale() * hidden.scale()).isCloseTo(1, within(0.01));
    }

    /** Adding a constraint that agrees never makes another worse than its own tolerance, in any order. */
    @Test
    void thoseThatAgreeLeaveEachOtherAlone() {
        SolvedCamera s = solve("moving", 0.002);
        Vec3 p = new Vec3(0.5, 0, -4), q = new Vec3(0.5, 0, -7), up = new Vec3(0.5, 1.2, -4), w = new Vec3(-2, 0, -5);
        List<UnaryOperator<SetRecipe>> all = List.of(
                r -> with(r, new Yardstick("a", id(1), id(2), 3)),
                r -> with(r, new Yardstick("b", id(1), id(4), p.distance(w))),
                r -> with(r, new Yardstick("c", id(3), Yardstick.GROUND, 1.2)),
                r -> with(r, edge(Axis.Y, 3, p, up)),
                r -> with(r, edge(Axis.Z, 5, p, q)),
                r -> with(r, edge(Axis.X, 8, w, w.plus(new Vec3(1, 0, 0)))),
                r -> r.withUprights(List.of(new Upright(id(3), id(5)))));
        SetRecipe base = SetRecipe.BLANK.withPoints(
                List.of(pick(1, p, 1), pick(2, q, 7), pick(3, up, 1, 9), pick(4, w, 2), pick(5, p, 1, 9)));
        Random order = new Random(3);
        for (int run = 0; run < 4; run++) {
            List<UnaryOperator<SetRecipe>> shuffled = new ArrayList<>(all);
            java.util.Collections.shuffle(shuffled, order);
            SetRecipe r = base;
            for (UnaryOperator<SetRecipe> add : shuffled) {
                r = add.apply(r);
                assertThat(GroundFit.fit(s, r).checks()).allSatisfy(c -> assertThat(Math.abs(c.off()))
                        .as(c.name())
                        .isLessThan(c.unit().equals("m") ? 0.005 * c.wanted() : 0.25));
            }
        }
    }

    private static SetRecipe with(SetRecipe r, Yardstick y) {
        List<Yardstick> all = new ArrayList<>(r.yardsticks());
        all.add(y);
        return r.withYardsticks(all);
    }

    private static SetRecipe with(SetRecipe r, Edge e) {
        List<Edge> all = new ArrayList<>(r.edges());
        all.add(e);
        return r.withEdges(all);
    }

    /** A camera that was matched by lines has the axes that were drawn; one that turned looks ahead. */
    @Test
    void linesThatWereDrawnAreTheAxes() {
        SolvedCamera lines = solve("locked", 0);
        assertThat(GroundFit.fit(lines, SetRecipe.BLANK).toSet().rotation().angleTo(Quat.IDENTITY))
                .isLessThan(1e-6);
        SolvedCamera turned = solve("nodal", 0);
        Vec3 look = turned.in(GroundFit.fit(turned, SetRecipe.BLANK).toSet())
                .frames()
                .get(0)
                .pose()
                .rotation()
                .rotate(Vec3.Z);
        assertThat(look.x()).isCloseTo(0, within(1e-6));
    }

    @Test
    void aCameraThatStoodStillGetsItsSizeFromTheGround() {
        for (String kind : List.of("locked", "nodal")) {
            real.clear();
            SolvedCamera s = solve(kind, 0);
            Vec3 p = new Vec3(0.5, 0, -4), q = new Vec3(-1, 0, -7), top = new Vec3(0.5, 2.0, -4);
            SetRecipe r = SetRecipe.BLANK
                    .withPoints(List.of(
                            pick(1, p, 1),
                            pick(2, q, 1),
                            new PickedPoint(id(3), "top", pick(3, top, 1).picks(), id(1))))
                    .withYardsticks(List.of(new Yardstick("ground", id(1), id(2), p.distance(q))));
            GroundFit.Result g = GroundFit.fit(s, r);
            SolvedCamera c = s.in(g.toSet());
            assertThat(c.frames().get(0).pose().position().y()).as(kind).isCloseTo(2.3, within(0.01));
            // The top of a pole over its foot, from one frame.
            assertThat(g.places().get(id(3)).y()).as(kind).isCloseTo(2.0, within(0.01));
            assertThatThrownBy(() ->
                            GroundFit.fit(s, r.withPoints(List.of(pick(1, p, 1), pick(2, new Vec3(0, 5, -5), 1)))))
                    .isInstanceOf(BadInput.class)
                    .hasMessageContaining("horizon");
        }
    }
}
