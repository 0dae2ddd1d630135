package dasein.app.stage.set;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import dasein.app.ServerTest;
import dasein.app.stage.Change;
import dasein.core.BadInput;
import dasein.core.ground.PickedPoint;
import dasein.core.ground.Piece;
import dasein.core.ground.SetRecipe;
import dasein.core.key.Curve;
import dasein.core.math.Vec3;
import dasein.core.shot.Prints;
import dasein.core.shot.Shot;
import dasein.core.solve.SolvedCamera;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** What the edits of the Set stage make of a document whose camera moved over an even ground. */
class SetEditsTest extends ServerTest {
    private Shot solved;

    @BeforeEach
    void solve() {
        solved = plated();
        solve(solved, "moving");
    }

    private Change set(Shot s, String action, String... fields) {
        return edit(s, "set", action, fields);
    }

    private void refused(Shot s, String with, String action, String... fields) {
        assertThatThrownBy(() -> set(s, action, fields))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining(with);
    }

    private double height(Shot s) {
        return results.cameraInSet(s).frame(1).pose().position().y();
    }

    /** The pixel of a place of the ground that the solve looked at. */
    private static double[] pixel(int frame, Vec3 p) {
        SolvedCamera c = camera("moving");
        return c.lens(frame).project(c.frame(frame).pose().toLocal(p));
    }

    private Shot picked(Shot s, double x, double z, int... frames) {
        Shot out = s;
        int id = 0;
        for (int f : frames) {
            double[] q = pixel(f, new Vec3(x, 0, z));
            out = set(
                            out,
                            "pick",
                            "id",
                            String.valueOf(id),
                            "frame",
                            String.valueOf(f),
                            "x",
                            String.valueOf(q[0]),
                            "y",
                            String.valueOf(q[1]))
                    .shot();
            id = out.set().points().get(out.set().points().size() - 1).id();
        }
        return out;
    }

    @Test
    void groundOriginAndHeadingAreSaidByPointsAndProposedAgain() {
        Shot g = set(solved, "ground", "ids", "1,2,3,4").shot();
        assertThat(g.set().groundPoints()).containsExactly(1, 2, 3, 4);
        Shot o = set(g, "origin", "ids", "7").shot();
        SolvedCamera c = results.cameraInSet(o);
        Vec3 at = c.points().stream()
                .filter(p -> p.id() == 7)
                .findFirst()
                .orElseThrow()
                .position();
        assertThat(Math.hypot(at.x(), at.z())).isLessThan(1e-6);
        Shot h = set(o, "heading", "ids", "1,2").shot();
        assertThat(h.set().axes().headingFrom()).isEqualTo(1);
        assertThat(h.set().axes().headingTo()).isEqualTo(2);
        Shot again = set(
                        set(set(h, "heading", "ids", "").shot(), "origin", "ids", "")
                                .shot(),
                        "ground",
                        "ids",
                        "")
                .shot();
        assertThat(again.set()).isEqualTo(solved.set());
        refused(solved, "three points", "ground", "ids", "1,2");
        refused(solved, "exactly two", "heading", "ids", "1,2,3");
    }

    /** What is newly said must work: a point that the solve does not have is refused, and nothing is kept. */
    @Test
    void aPointThatIsNotSolvedIsRefusedButCanBeTakenAway() {
        refused(solved, "999", "origin", "ids", "999");
        Shot lost = solved.with(new SetRecipe(
                java.util.List.of(),
                0,
                0,
                0,
                java.util.List.of(new SetRecipe.Yardstick("old", 998, 999, 2)),
                solved.set().catcher(),
                0,
                0.25));
        assertThat(set(lost, "remove", "index", "0").shot().set().yardsticks()).isEmpty();
    }

    @Test
    void aYardstickSizesTheSet() {
        double before = height(solved);
        Shot cam = set(solved, "camera-height", "metres", "3.2").shot();
        assertThat(height(cam)).isCloseTo(3.2, within(1e-6));
        assertThat(before).isNotCloseTo(3.2, within(0.1));
        Shot both = set(cam, "yardstick", "ids", "1,2", "metres", "4", "name", "kerb")
                .shot();
        assertThat(both.set().yardsticks())
                .extracting(SetRecipe.Yardstick::name)
                .containsExactly("camera height", "kerb");
        Shot weighed = set(both, "weigh", "index", "0", "weight", "1000").shot();
        // The heavier one has its way.
        assertThat(Math.abs(height(weighed) - 3.2)).isLessThan(Math.abs(height(both) - 3.2) + 1e-9);
        refused(both, "the weight", "weigh", "index", "0", "weight", "0");
        refused(solved, "the distance in metres", "yardstick", "ids", "1,2");
        refused(solved, "choose two points", "yardstick", "ids", "1,2,3", "metres", "2");
        refused(solved, "no longer there", "remove", "index", "3");
    }

    @Test
    void aPointPickedByHandLiesWhereItsRaysMeet() {
        Shot s = picked(set(solved, "camera-height", "metres", "1.6").shot(), 0.4, -5, 1, 6);
        PickedPoint p = s.set().points().get(0);
        assertThat(p.id()).isGreaterThan(PickedPoint.FIRST_ID);
        assertThat(p.picks()).hasSize(2);
        Vec3 at = results.places(s, h -> null).get(p.id());
        assertThat(at.y()).isCloseTo(0, within(0.02));
        // From one frame alone it lies on the ground below its pixel.
        Shot one = picked(set(solved, "camera-height", "metres", "1.6").shot(), 0.4, -5, 3);
        Vec3 ground =
                results.places(one, h -> null).get(one.set().points().get(0).id());
        assertThat(ground.distance(at)).isLessThan(0.05);
        assertThat(set(s, "pick-delete", "id", String.valueOf(p.id()))
                        .shot()
                        .set()
                        .points())
                .isEmpty();
        refused(s, "no longer there", "pick-delete", "id", "5");
        refused(s, "over itself", "pick-above", "id", String.valueOf(p.id()), "above", String.valueOf(p.id()));
    }

    @Test
    void edgesLevelsUprightsAndColoursComeAndGo() {
        Shot e = set(
                        solved,
                        "edge-add",
                        "axis",
                        "Y",
                        "frame",
                        "2",
                        "fromX",
                        "80",
                        "fromY",
                        "20",
                        "toX",
                        "80.2",
                        "toY",
                        "80")
                .shot();
        assertThat(e.set().edges()).hasSize(1);
        refused(
                solved,
                "shorter than two pixels",
                "edge-add",
                "frame",
                "2",
                "fromX",
                "80",
                "fromY",
                "20",
                "toX",
                "80",
                "toY",
                "21");
        assertThat(set(e, "edge-delete", "index", "0").shot().set().edges()).isEmpty();

        Shot l = set(solved, "level", "frame", "2", "roll", "1.5").shot();
        assertThat(l.set().levels()).containsExactly(new SetRecipe.Level(2, 1.5, null));
        // Of one frame there is one reading.
        Shot l2 = set(l, "level", "frame", "2", "roll", "2", "tilt", "-10").shot();
        assertThat(l2.set().levels()).containsExactly(new SetRecipe.Level(2, 2, -10.0));
        refused(solved, "the roll", "level", "frame", "2");
        assertThat(set(l2, "level-delete", "index", "0").shot().set().levels()).isEmpty();

        refused(solved, "exactly two", "upright", "ids", "4");
        Shot c = set(set(solved, "colour-add", "frame", "4").shot(), "colour-add", "frame", "4")
                .shot();
        assertThat(c.set().colours()).hasSize(1);
        assertThat(set(c, "colour-delete", "index", "0").shot().set().colours()).isEmpty();
    }

    @Test
    void aStickLaidByEyeGivesWayToATapedOne() {
        double[] foot = pixel(3, new Vec3(0.2, 0, -5)), top = pixel(3, new Vec3(0.2, 1.8, -5));
        Shot s = set(
                        solved,
                        "fit",
                        "frame",
                        "3",
                        "metres",
                        "1.8",
                        "fromX",
                        String.valueOf(foot[0]),
                        "fromY",
                        String.valueOf(foot[1]),
                        "toX",
                        String.valueOf(top[0]),
                        "toY",
                        String.valueOf(top[1]))
                .shot();
        // The solve is in metres by itself here: a true stick leaves the camera where it is.
        assertThat(height(s)).isCloseTo(1.6, within(0.05));
        Shot taped = set(s, "camera-height", "metres", "3.2").shot();
        assertThat(height(taped)).isCloseTo(3.2, within(0.1));
    }

    @Test
    void piecesAreBuiltSetKeyedAndTakenAway() {
        Shot s = set(solved, "piece-add", "kind", "BOX", "ids", "1,2,3,4,5").shot();
        Piece b = s.set().pieces().get(0);
        assertThat(b.kind()).isEqualTo(Piece.Kind.BOX);
        assertThat(b.width()).isPositive();
        Shot w = set(s, "piece-set", "id", "1", "width", "0.66", "name", "crate", "HIDE_", "1")
                .shot();
        assertThat(w.set().pieces().get(0).width()).isEqualTo(0.66);
        assertThat(w.set().pieces().get(0).does(Piece.Role.HIDE)).isFalse();
        assertThat(w.set().pieces().get(0).does(Piece.Role.SHADOW)).isTrue();
        assertThat(Prints.frame(w, 1)).isNotEqualTo(Prints.frame(s, 1));
        assertThat(Prints.camera(w)).isEqualTo(Prints.camera(s));
        Shot k = set(set(w, "piece-key", "id", "1", "frame", "5").shot(), "piece-key", "id", "1", "frame", "2")
                .shot();
        assertThat(k.set().pieces().get(0).curves().keySet()).containsExactlyInAnyOrder("x", "y", "z", "heading");
        assertThat(k.set().pieces().get(0).curve("x").keys())
                .extracting(Curve.Key::frame)
                .containsExactly(2, 5);
        Shot moved = set(k, "key-set", "id", "1", "channel", "x", "frame", "5", "value", "3.5")
                .shot();
        assertThat(moved.set().pieces().get(0).stand(5, 24).x()).isEqualTo(3.5);
        Shot rocks = set(moved, "wave-add", "id", "1", "channel", "y", "amplitude", "0.2", "seconds", "2")
                .shot();
        assertThat(rocks.set().pieces().get(0).stand(12, 24).y()
                        - moved.set().pieces().get(0).stand(12, 24).y())
                .isCloseTo(0.2, within(1e-9));
        refused(k, "size", "key", "id", "1", "channel", "size", "frame", "5");
        assertThat(set(k, "piece-unkey", "id", "1").shot().set().pieces().get(0).moves())
                .isFalse();
        assertThat(set(k, "piece-delete", "id", "1").shot().set().pieces()).isEmpty();
        refused(s, "no longer there", "piece-set", "id", "7", "width", "1");
        refused(s, "the width", "piece-set", "id", "1", "width", "-1");
        refused(s, "two points or more", "piece-settle", "id", "1", "ids", "3");
        refused(s, "choose points", "piece-around", "id", "1", "ids", "");
        refused(solved, "three chosen points", "piece-add", "kind", "POLYGON", "ids", "1,2");
        refused(s, "not on the shelf", "piece-set", "id", "1", "model", "b".repeat(64));
        refused(s, "not solved", "piece-set", "id", "1", "follows", "3");
    }

    @Test
    void theCatcherAndWetnessKeepTheirBounds() {
        Shot s = set(solved, "settings", "catcherX", "2", "catcherWidth", "8", "wet", "0.4", "turnDeg", "30")
                .shot();
        assertThat(s.set().catcher()).isEqualTo(new SetRecipe.Catcher(2, 0, 8, 14, true));
        assertThat(set(s, "settings", "goesOn_", "1").shot().set().catcher().goesOn())
                .isFalse();
        assertThat(s.set().wet()).isEqualTo(0.4);
        assertThat(s.set().axes().turnDeg()).isEqualTo(30);
        refused(solved, "wetness", "settings", "wet", "1.2");
        refused(solved, "catcher's width", "settings", "catcherWidth", "0");
    }
}
