package dasein.app.stage.blocking;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import dasein.app.ServerTest;
import dasein.app.stage.Change;
import dasein.core.BadInput;
import dasein.core.cast.Blocking;
import dasein.core.cast.Flock;
import dasein.core.cast.Performer;
import dasein.core.cast.Tie;
import dasein.core.math.Pose;
import dasein.core.math.Quat;
import dasein.core.math.Vec3;
import dasein.core.shot.CameraRecipe;
import dasein.core.shot.Prints;
import dasein.core.shot.Shot;
import dasein.core.shot.TrackRecipe;
import dasein.core.solve.ObjectSolver;
import dasein.core.solve.SolvedCamera;
import dasein.core.solve.file.ObjectFile;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** What the edits of the Blocking stage make of a document whose camera is known. */
class BlockingEditsTest extends ServerTest {
    private String strider, mule, crate;
    private Shot empty;

    @BeforeEach
    void solve() {
        strider = model("strider");
        mule = model("mule");
        crate = model("crate");
        empty = plated();
        solve(empty, "moving");
    }

    private Change blocking(Shot s, String action, String... fields) {
        return edit(s, "blocking", action, fields);
    }

    private void refused(Shot s, String with, String action, String... fields) {
        assertThatThrownBy(() -> blocking(s, action, fields))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining(with);
    }

    private Shot with(String... models) {
        Shot s = empty;
        for (String m : models) s = blocking(s, "add", "model", m).shot();
        return s;
    }

    private Vec3 foot(Shot s, int id, int frame) {
        Blocking b = desk.scenes().blocking(s);
        return b.foot(id, frame);
    }

    private static Performer last(Shot s) {
        return s.performers().get(s.performers().size() - 1);
    }

    @Test
    void performersArePlacedNamedCopiedAndTakenAway() {
        Shot s = with(strider, strider);
        assertThat(s.performers()).extracting(Performer::name).containsExactly("strider", "strider 2");
        assertThat(last(s).heightMetres()).isPositive();
        assertThat(foot(s, 1, 1).distance(foot(s, 2, 1))).as("on free ground").isGreaterThan(2);
        assertThat(last(s).clips()).isNotEmpty();
        Shot c = blocking(s, "copy", "id", "1").shot();
        assertThat(last(c).name()).isEqualTo("strider 3");
        assertThat(last(c).id()).isEqualTo(3);
        assertThat(foot(c, 3, 1).distance(foot(c, 1, 1))).as("beside it").isGreaterThan(0.2);
        Shot set = blocking(c, "set", "id", "3", "height", "3.5", "heading", "90", "name", "scout")
                .shot();
        assertThat(last(set).heightMetres()).isEqualTo(3.5);
        assertThat(last(set).name()).isEqualTo("scout");
        assertThat(blocking(set, "remove", "id", "3").shot().performers()).isEqualTo(s.performers());
        refused(s, "no longer in the shot", "set", "id", "9", "x", "1");
        refused(s, "not on the shelf", "add", "model", "e".repeat(64));
        refused(s, "the height", "set", "id", "1", "height", "0");
    }

    @Test
    void oneWhoIsMovedStandsThere() {
        Shot s = blocking(with(crate), "move", "id", "1", "frame", "3", "x", "1.25", "z", "-4")
                .shot();
        assertThat(foot(s, 1, 3).distance(new Vec3(1.25, 0, -4))).isLessThan(1e-6);
        assertThat(Prints.frame(s, 1)).isNotEqualTo(Prints.frame(with(crate), 1));
        Shot two = blocking(s, "add", "model", mule).shot();
        Shot there =
                blocking(two, "match", "id", "2", "frame", "3", "other", "1").shot();
        assertThat(foot(there, 2, 3).distance(foot(there, 1, 3))).isLessThan(1e-6);
        refused(two, "another performer", "match", "id", "2", "other", "2");
        Shot snapped = blocking(s, "snap", "id", "1", "frame", "2", "ids", "5").shot();
        Vec3 point = results.cameraInSet(s).points().stream()
                .filter(p -> p.id() == 5)
                .findFirst()
                .orElseThrow()
                .position();
        assertThat(Math.hypot(
                        foot(snapped, 1, 2).x() - point.x(), foot(snapped, 1, 2).z() - point.z()))
                .isLessThan(1e-6);
        refused(s, "exactly one point", "snap", "id", "1", "ids", "5,6");
        refused(s, "not solved", "snap", "id", "1", "ids", "999");
    }

    @Test
    void aRouteIsDrawnMovedAsAWholeAndTakenAway() {
        Shot s = with(strider);
        refused(s, "has no route", "route-set", "id", "1", "speed", "1");
        refused(s, "not a number", "route-draw", "id", "1", "points", "0,0,one,2");
        // Of two windows the other one may have taken it away already.
        refused(s, "has no route", "route-delete", "id", "1");
        Shot r = blocking(s, "route-draw", "id", "1", "points", "0,-3,0,-9").shot();
        assertThat(last(r).route().steps()).as("its steps are matched").isTrue();
        assertThat(foot(r, 1, 1).distance(new Vec3(0, 0, -3))).isLessThan(1e-6);
        double pace = last(r).route().speed();
        assertThat(foot(r, 1, 6).distance(new Vec3(0, 0, -3 - pace * 5 / 24.0))).isLessThan(1e-6);
        assertThat(last(s).clips()).as("it stood").noneMatch(c -> c.clip().equals("walk"));
        assertThat(last(r).clips()).as("and walks now").hasSize(1).allMatch(c -> c.clip()
                .equals("walk"));
        Shot soon = blocking(r, "route-set", "id", "1", "start", "2", "arrive", "50")
                .shot();
        assertThat(last(soon).route().speed()).isCloseTo(6 * 24.0 / 48, within(1e-9));
        refused(r, "arrives later", "route-set", "id", "1", "start", "9", "arrive", "9");
        Shot keyed =
                blocking(r, "key", "id", "1", "channel", "way", "frame", "5").shot();
        assertThat(last(keyed).curve("way").keys()).extracting(k -> k.frame()).containsExactly(1, 5);
        for (int f = 1; f <= 4; f++)
            assertThat(foot(keyed, 1, f).distance(foot(r, 1, f)))
                    .as("nearly as before, easing")
                    .isLessThan(0.02);
        Shot moved = blocking(r, "move", "id", "1", "frame", "1", "x", "2", "z", "-3")
                .shot();
        assertThat(foot(moved, 1, 6).minus(foot(r, 1, 6)).distance(new Vec3(2, 0, 0)))
                .isLessThan(1e-6);
        Shot stays = blocking(moved, "route-delete", "id", "1").shot();
        assertThat(foot(stays, 1, 4).distance(new Vec3(2, 0, -3))).isLessThan(1e-6);
    }

    @Test
    void oneWhoIsTiedStaysWhereItIsAndGoesAlong() {
        Shot s = blocking(with(mule, crate), "move", "id", "2", "frame", "2", "x", "0.5", "z", "-4")
                .shot();
        s = blocking(s, "key", "id", "1", "channel", "x", "frame", "2", "value", "0")
                .shot();
        s = blocking(s, "key", "id", "1", "channel", "x", "frame", "5", "value", "1.5")
                .shot();
        Vec3 before = foot(s, 2, 2);
        Shot t =
                blocking(s, "tie", "id", "2", "frame", "2", "to", "performer 1").shot();
        assertThat(last(t).tie().to()).isEqualTo(Tie.To.PERFORMER);
        assertThat(foot(t, 2, 2).distance(before)).isLessThan(1e-6);
        assertThat(foot(t, 2, 5).minus(foot(t, 2, 2)).distance(new Vec3(1.5, 0, 0)))
                .isLessThan(1e-6);
        refused(t, "untie it first", "remove", "id", "1");
        refused(t, "tied to itself", "tie", "id", "1", "frame", "2", "to", "performer 2");
        refused(t, "nothing called", "tie", "id", "2", "frame", "2", "to", "moon 3");
        Shot free = blocking(t, "tie", "id", "2", "frame", "5", "to", "").shot();
        assertThat(foot(free, 2, 5).distance(foot(t, 2, 5))).isLessThan(1e-6);
        assertThat(last(free).tie()).isNull();
    }

    @Test
    void clipsFollowOneAnother() {
        Shot s = with(strider);
        List<String> has =
                desk.scenes().model(strider).clips().stream().map(c -> c.name()).toList();
        String other = has.stream()
                .filter(n -> !n.equals(last(s).clips().get(0).clip()))
                .findFirst()
                .orElseThrow();
        Shot two =
                blocking(s, "clip-add", "id", "1", "clip", other, "frame", "4").shot();
        assertThat(last(two).clips()).hasSize(2);
        assertThat(last(two).clips().get(1).at()).isEqualTo(4);
        assertThat(last(blocking(s, "clip-add", "id", "1", "frame", "4").shot())
                        .clips()
                        .get(1)
                        .clip())
                .as("another clip is offered")
                .isEqualTo(other);
        Shot fast = blocking(two, "clip-set", "id", "1", "index", "1", "speed", "2", "repeat", "HOLD")
                .shot();
        assertThat(last(fast).clips().get(1).speed()).isEqualTo(2);
        // Without the first the second plays from the start.
        Shot one = blocking(two, "clip-delete", "id", "1", "index", "0").shot();
        assertThat(last(one).clips().get(0).at()).isZero();
        refused(s, "no clip", "clip-add", "id", "1", "clip", "fly");
        refused(with(crate), "no clips", "clip-add", "id", "1");
        refused(s, "no longer there", "clip-delete", "id", "1", "index", "4");
    }

    @Test
    void partsTurnAboutAxesOfTheirOwn() {
        Shot s = with(mule);
        Shot w = blocking(s, "part-add", "id", "1", "node", "*wheel").shot();
        assertThat(last(w).parts()).hasSizeGreaterThanOrEqualTo(4).allMatch(p -> p.rolls());
        assertThat(last(w).parts().stream().filter(p -> p.steers())).hasSize(4);
        assertThat(last(blocking(s, "route-draw", "id", "1", "points", "0,-3,0,-9")
                                .shot())
                        .parts())
                .as("sent along a route, it rolls")
                .isEqualTo(last(w).parts());
        assertThat(last(blocking(w, "set", "id", "1", "steer", "12").shot())
                        .wheels()
                        .steerDeg())
                .isEqualTo(12);
        String node = last(w).parts().get(0).node();
        Shot steered = blocking(w, "part-add", "id", "1", "node", node).shot();
        int index = last(steered).parts().size() - 1;
        assertThat(last(steered).parts().get(index).axis()).isEqualTo("y");
        Shot turned = blocking(steered, "part-set", "id", "1", "index", String.valueOf(index), "deg", "20")
                .shot();
        assertThat(last(turned).parts().get(index).deg()).isEqualTo(20);
        refused(steered, "turns about x already", "part-set", "id", "1", "index", String.valueOf(index), "axis", "x");
        refused(s, "no part", "part-add", "id", "1", "node", "rudder");
        assertThat(last(blocking(turned, "part-delete", "id", "1", "index", String.valueOf(index))
                                .shot())
                        .parts())
                .isEqualTo(last(w).parts());
    }

    @Test
    void looksAreChangedAndEmptiedFieldsGiveTheModelsOwnBack() {
        Shot s = with(crate),
                red =
                        blocking(s, "look", "id", "1", "colour", "#ff0000", "roughness", "0.3")
                                .shot();
        assertThat(last(red).looks()).hasSize(1);
        assertThat(last(red).looks().get(0).colour()).containsExactly(1.0, 0.0, 0.0);
        Shot rough = blocking(red, "look", "id", "1", "colour", "").shot();
        assertThat(last(rough).looks().get(0).colour()).isNull();
        assertThat(last(rough).looks().get(0).roughness()).isEqualTo(0.3);
        // With nothing left of it there is no look.
        assertThat(last(blocking(rough, "look", "id", "1", "roughness", "").shot())
                        .looks())
                .isEmpty();
        assertThat(blocking(red, "look-delete", "id", "1").shot()).isEqualTo(s);
        refused(s, "not a colour", "look", "id", "1", "colour", "red");
        refused(s, "no material", "look", "id", "1", "material", "velvet", "roughness", "0.2");
        refused(s, "no such picture", "look", "id", "1", "mask", "f".repeat(64));
    }

    @Test
    void aFlockIsManyAndOneAgain() {
        Shot s = with(crate),
                f =
                        blocking(s, "flock-set", "id", "1", "count", "40", "layout", "AREA", "sizeVar", "20")
                                .shot();
        assertThat(last(f).flock().count()).isEqualTo(40);
        assertThat(last(f).flock().differences().size()).isCloseTo(0.2, within(1e-12));
        assertThat(blocking(f, "flock-delete", "id", "1").shot()).isEqualTo(s);
        refused(s, "the count", "flock-set", "id", "1", "count", String.valueOf(Flock.MOST + 1));
    }

    /** What another model lacks is left out; what both have stays. */
    @Test
    void anotherModelStandsInItsPlace() {
        Shot s = with(strider);
        s = blocking(s, "key", "id", "1", "channel", "x", "frame", "2", "value", "0.4")
                .shot();
        Shot c = blocking(s, "swap", "id", "1", "model", crate).shot();
        assertThat(last(c).model()).isEqualTo(crate);
        assertThat(last(c).clips()).isEmpty();
        assertThat(last(c).curve("x").key(2).value()).isEqualTo(0.4);
        assertThat(last(c).name()).isEqualTo("strider");
    }

    @Test
    void onlyACardIsSetAsOne() {
        refused(with(crate), "is not a card", "card-set", "id", "1", "bend", "20");
        refused(empty, "not on the shelf", "card-add", "footage", "a".repeat(64));
    }

    /** A thing that drives off: who is put on a mark of it goes along; its size follows from what is known of it. */
    @Test
    void aMarkOfAThingThatMovesIsStuckTo() {
        Shot s = empty.with(empty.camera().withObjects(List.of(new CameraRecipe.Moved(1, "cart", 1, 0))))
                .with(empty.tracks()
                        .withGroups(List.of(
                                new TrackRecipe.TrackGroup(1, "cart", "#8fa8b8", false, true, List.of(71, 72)))));
        solve(s, "moving");
        double scale = results.set(s).toSet().scale();
        List<ObjectSolver.Frame> way = new ArrayList<>();
        for (int f = 1; f <= 6; f++)
            way.add(new ObjectSolver.Frame(
                    f,
                    results.set(s)
                            .toSet()
                            .inverse()
                            .apply(new Pose(Quat.axisAngle(Vec3.Y, 0.1 * f), new Vec3(0.3 * f, 0.2, -6))),
                    0.2,
                    9));
        List<SolvedCamera.Point> marks = List.of(
                new SolvedCamera.Point(71, new Vec3(0.5, 1, 0).times(1 / scale), 0.2),
                new SolvedCamera.Point(72, new Vec3(0.5, -0.1, 0).times(1 / scale), 0.2));
        String print = Prints.object(s, s.camera().objects().get(0)), file = print + ".json";
        ObjectFile.write(
                media.result("object", file), results.camera(s), new ObjectSolver.Result(way, marks, 0.2, 6 / scale));
        results.save("object", print, Map.of("rms", 0.2, "frames", 6, "from", 1, "to", 6, "distance", 6.0), file);

        s = blocking(s, "add", "model", crate).shot();
        Shot on = blocking(s, "snap", "id", "1", "ids", "71", "frame", "2").shot();
        assertThat(last(on).tie().to()).isEqualTo(Tie.To.OBJECT);
        for (int f : new int[] {1, 2, 5}) {
            Vec3 mark = results.moved(on).get(1).get(f).toWorld(new Vec3(0.5, 1, 0));
            assertThat(foot(on, 1, f).distance(mark)).as("frame " + f).isLessThan(1e-6);
        }
        // 1.1 m between the marks; twice that, and it is twice as far. The lower one 0.1 m over the ground: lower
        // still.
        assertThat(edit(on, "camera", "object-length", "id", "1", "ids", "71,72", "metres", "2.2")
                        .shot()
                        .camera()
                        .objects()
                        .get(0)
                        .distance())
                .isCloseTo(12, within(1e-6));
        double eye = results.cameraInSet(on).pose(2).position().y();
        assertThat(edit(on, "camera", "object-ground", "id", "1", "ids", "72", "frame", "2")
                        .shot()
                        .camera()
                        .objects()
                        .get(0)
                        .distance())
                .isCloseTo(6 * eye / (eye - 0.1), within(1e-6));
    }
}
