package dasein.app.stage.tracks;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dasein.app.ServerTest;
import dasein.app.stage.Change;
import dasein.core.BadInput;
import dasein.core.Progress;
import dasein.core.shot.Prints;
import dasein.core.shot.Shot;
import dasein.core.shot.TrackRecipe;
import dasein.core.track.DrawnMask;
import dasein.core.track.HandMark;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.springframework.beans.factory.annotation.Autowired;

/** What the edits of the Tracks stage make of a document. */
class TrackEditsTest extends ServerTest {
    @Autowired
    MarkWork following;

    private static final String TRIANGLE = "10,10,60,10,60,50";

    private Change tracks(Shot s, String action, String... fields) {
        return edit(s, "tracks", action, fields);
    }

    private static void refused(String with, Runnable edit) {
        assertThatThrownBy(edit::run).isInstanceOf(BadInput.class).hasMessageContaining(with);
    }

    @Test
    void whatIsTakenOutCutAndJoinedIsWrittenDownAndComesBackAtOnce() {
        Shot s = plated();
        Shot d = tracks(s, "delete", "ids", "7,3,7").shot();
        assertThat(d.tracks().deleted()).containsExactly(3, 7);
        Shot c = tracks(d, "cut", "ids", "5", "from", "2", "to", "4").shot();
        assertThat(c.tracks().cuts()).containsExactly(new TrackRecipe.Cut(5, 2, 4));
        Change j = tracks(c, "join", "ids", "9,8");
        assertThat(j.shot().tracks().joins()).containsExactly(new TrackRecipe.Join(8, 9));
        assertThat(j.summary()).isEqualTo("tracks 9 and 8 joined");
        assertThat(tracks(j.shot(), "restore").shot()).isEqualTo(s);
        refused("choose a track first", () -> tracks(s, "delete", "ids", ""));
        refused("two tracks", () -> tracks(s, "join", "ids", "4"));
        refused("ends before it begins", () -> tracks(s, "cut", "ids", "5", "from", "4", "to", "2"));
    }

    /** Each frame of this footage shows another noise; in other takes of it a reason may be another. */
    @Test
    void aLostMarkSaysWhereAndWhy() throws Exception {
        HandMark m = new HandMark(
                HandMark.FIRST_ID,
                "post",
                12,
                16,
                HandMark.Motion.SHIFT,
                List.of(new HandMark.Fix(3, 80.5, 48.5)),
                1,
                6);
        Shot s = plated(7);
        Shot marked = s.with(s.tracks().withMarks(List.of(m)));
        assertThat(following.follow(marked, Progress.NONE)).isEqualTo("1 mark followed, 1 lost on the way");
        assertThat(client.get("/shots/" + make(marked) + "/tracks").body())
                .contains("lost before 3 (nothing looks like it there) and after 3 (nothing looks like it there)");
    }

    /** Other tracks have the same numbers: what was done to the old ones must not be done to them. */
    @Test
    void otherSettingsForgetWhatWasDoneToOldNumbers() {
        Shot s = tracks(plated(), "delete", "ids", "3").shot();
        assertThat(tracks(s, "settings", "count", "500").shot().tracks().deleted())
                .isEmpty();
        assertThat(tracks(s, "settings", "count", String.valueOf(s.tracks().count()))
                        .shot())
                .isEqualTo(s);
        assertThat(tracks(s, "mask-add", "frame", "1", "xy", TRIANGLE)
                        .shot()
                        .tracks()
                        .deleted())
                .isEmpty();
        // A surface keeps nothing away, so nothing is found anew.
        Shot surface = tracks(s, "mask-add", "frame", "1", "xy", TRIANGLE, "use", "SURFACE")
                .shot();
        assertThat(surface.tracks().deleted()).containsExactly(3);
        assertThat(Prints.tracks(surface)).isEqualTo(Prints.tracks(s));
        refused("number of marks", () -> tracks(s, "settings", "count", "5"));
    }

    @Test
    void marksPutByHandAreFixedFollowedAndSet() {
        Shot one = tracks(plated(), "mark-add", "frame", "2", "x", "40.5", "y", "30")
                .shot();
        HandMark m = one.tracks().marks().get(0);
        assertThat(m.id()).isEqualTo(HandMark.FIRST_ID);
        assertThat(m.fixes()).containsExactly(new HandMark.Fix(2, 40.5, 30));
        assertThat(List.of(m.first(), m.last())).containsExactly(2, 2);
        String id = String.valueOf(m.id());
        Shot two = tracks(one, "mark-fix", "id", id, "frame", "5", "x", "44", "y", "31")
                .shot();
        assertThat(two.tracks().marks().get(0).fixes()).hasSize(2);
        HandMark followed = tracks(two, "mark-follow", "id", id, "to", "all")
                .shot()
                .tracks()
                .marks()
                .get(0);
        assertThat(List.of(followed.first(), followed.last())).containsExactly(1, FRAMES);
        HandMark ahead = tracks(one, "mark-follow", "id", id, "to", "after")
                .shot()
                .tracks()
                .marks()
                .get(0);
        assertThat(ahead.last()).isEqualTo(3);
        HandMark aside = tracks(one, "mark-aside", "id", id, "frame", "3", "x", "40", "y", "30", "rx", "52", "ry", "28")
                .shot()
                .tracks()
                .marks()
                .get(0);
        assertThat(aside.fixes().get(1)).isEqualTo(new HandMark.Fix(3, 40, 30, 12, -2));
        HandMark set = tracks(
                        one,
                        "mark-set",
                        "id",
                        id,
                        "name",
                        "corner",
                        "region",
                        "14",
                        "motion",
                        "AFFINE",
                        "weights",
                        "1 0 0")
                .shot()
                .tracks()
                .marks()
                .get(0);
        assertThat(set.name()).isEqualTo("corner");
        assertThat(set.motion()).isEqualTo(HandMark.Motion.AFFINE);
        assertThat(set.weights()).containsExactly(1.0, 0.0, 0.0);
        refused("three numbers", () -> tracks(one, "mark-set", "id", id, "weights", "1 0"));
        refused("the frame", () -> tracks(one, "mark-fix", "id", id, "frame", "99", "x", "1", "y", "1"));
        Shot gone = tracks(one, "mark-delete", "id", id).shot();
        assertThat(gone.tracks().marks()).isEmpty();
        refused("that mark is gone", () -> tracks(gone, "mark-fix", "id", id, "frame", "2", "x", "1", "y", "1"));
    }

    @Test
    void aTrackBelongsToOneGroupAndALockedOneIsLeftAlone() {
        Shot a = tracks(plated(), "group-add", "ids", "1,2,3").shot(),
                b = tracks(a, "group-add", "ids", "3,4").shot();
        assertThat(b.tracks().groups())
                .extracting(TrackRecipe.TrackGroup::tracks)
                .containsExactly(List.of(1, 2), List.of(3, 4));
        int second = b.tracks().groups().get(1).id();
        Shot locked = tracks(
                        b, "group-set", "id", String.valueOf(second), "locked", "on", "locked_", "1", "name", "ferry")
                .shot();
        assertThat(locked.tracks().groups().get(1).name()).isEqualTo("ferry");
        refused("in a locked group", () -> tracks(locked, "delete", "ids", "3"));
        // Of several only those that are free go.
        assertThat(tracks(locked, "delete", "ids", "1,3").shot().tracks().deleted())
                .containsExactly(1);
        Shot more = tracks(b, "group-more", "id", String.valueOf(second), "ids", "1")
                .shot();
        assertThat(more.tracks().groups())
                .extracting(TrackRecipe.TrackGroup::tracks)
                .containsExactlyInAnyOrder(List.of(2), List.of(1, 3, 4));
        assertThat(tracks(b, "group-delete", "id", String.valueOf(second))
                        .shot()
                        .tracks()
                        .groups())
                .hasSize(1);
        refused("that group is gone", () -> tracks(b, "group-set", "id", "99"));
    }

    @Test
    void masksAreKeyedCarriedAndFallBackWhenTheirMarksGo() {
        Shot s = tracks(plated(), "mask-add", "frame", "1", "xy", TRIANGLE).shot();
        String id = String.valueOf(s.tracks().masks().get(0).id());
        Shot keyed = tracks(s, "mask-key", "id", id, "frame", "5", "xy", "14,10,64,10,64,50")
                .shot();
        // Half way between two keys its points are half way.
        assertThat(keyed.tracks().masks().get(0).at(3)).containsExactly(12, 10, 62, 10, 62, 50);
        Shot corner = tracks(keyed, "mask-corner", "id", id, "index", "1", "frame", "5")
                .shot();
        assertThat(corner.tracks().masks().get(0).corners()).containsExactly(1);
        Shot unkeyed = tracks(corner, "mask-unkey", "id", id, "frame", "5").shot();
        assertThat(unkeyed.tracks().masks().get(0).keys()).hasSize(1);
        assertThat(unkeyed.tracks().masks().get(0).corners()).containsExactly(1);
        refused("delete the mask instead", () -> tracks(unkeyed, "mask-unkey", "id", id, "frame", "1"));
        refused("put a mark by hand first", () -> tracks(s, "mask-set", "id", id, "carry", "MARKS"));
        Shot marked = tracks(s, "mark-add", "frame", "1", "x", "20", "y", "20").shot();
        Shot carried = tracks(marked, "mask-set", "id", id, "carry", "MARKS").shot();
        assertThat(carried.tracks().masks().get(0).marks()).containsExactly(HandMark.FIRST_ID);
        assertThat(tracks(carried, "mark-delete", "id", String.valueOf(HandMark.FIRST_ID))
                        .shot()
                        .tracks()
                        .masks()
                        .get(0)
                        .carry())
                .isEqualTo(DrawnMask.Carry.KEYS);
        refused(
                "where it was drawn",
                () -> tracks(
                        tracks(s, "mask-set", "id", id, "carry", "PLANE").shot(),
                        "mask-key",
                        "id",
                        id,
                        "frame",
                        "4",
                        "xy",
                        TRIANGLE));
        refused("not a list of numbers", () -> tracks(s, "mask-add", "frame", "1", "xy", "10,ten"));
        refused("3 to", () -> tracks(s, "mask-add", "frame", "1", "xy", "10,10,20,20"));
        assertThat(tracks(s, "mask-delete", "id", id).shot().tracks().masks()).isEmpty();
    }

    /** What the look over the tracks doubted is cut where it jumps, else taken out, and what is locked stays. */
    @Test
    void tidyingTakesWhatIsDoubtedButNotWhatIsLocked() {
        Shot s = plated();
        refused("no tracks to tidy", () -> tracks(s, "tidy"));
        results.save(
                "tracks",
                Prints.tracks(s),
                Map.of(
                        "doubts",
                        List.of(
                                Map.of("track", 3, "frame", 4, "badness", 2.0, "kind", "JUMP"),
                                Map.of("track", 5, "frame", 2, "badness", 1.5, "kind", "DRIFT"),
                                Map.of("track", 6, "frame", 2, "badness", 0.4, "kind", "DRIFT"),
                                Map.of("track", 8, "frame", 2, "badness", 3.0, "kind", "DRIFT")),
                        "groups",
                        List.of(Map.of("tracks", List.of(11, 12)))),
                "");
        Shot grouped = tracks(s, "group-add", "ids", "8").shot();
        Shot locked = tracks(grouped, "group-set", "id", "1", "locked", "on", "locked_", "1")
                .shot();
        Change tidied = tracks(locked, "tidy");
        assertThat(tidied.summary()).isEqualTo("tidied: 1 cut at a jump, 1 deleted");
        assertThat(tidied.shot().tracks().deleted()).containsExactly(5);
        assertThat(tidied.shot().tracks().cuts()).containsExactly(new TrackRecipe.Cut(3, 4, FRAMES));
        refused("nothing left", () -> tracks(tidied.shot(), "tidy"));
        // What was found to move by itself.
        assertThat(tracks(s, "mover-out", "group", "0").shot().tracks().deleted())
                .containsExactly(11, 12);
        assertThat(tracks(s, "mover-group", "group", "0")
                        .shot()
                        .tracks()
                        .groups()
                        .get(0)
                        .moving())
                .isTrue();
        refused("no such group", () -> tracks(s, "mover-out", "group", "4"));
    }
}
