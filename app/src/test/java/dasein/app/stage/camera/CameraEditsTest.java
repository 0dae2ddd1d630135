package dasein.app.stage.camera;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import dasein.app.Await;
import dasein.app.ServerTest;
import dasein.app.stage.Change;
import dasein.core.BadInput;
import dasein.core.math.Vec3;
import dasein.core.shot.CameraRecipe;
import dasein.core.shot.Prints;
import dasein.core.shot.Shot;
import dasein.core.shot.TrackRecipe;
import dasein.core.solve.Hints;
import dasein.core.solve.LensTerms;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;

/** What the edits of the Camera stage make of a document. */
class CameraEditsTest extends ServerTest {
    private static final String CORNERS = "20,80,120,80,100,50,40,50";

    private Change camera(Shot s, String action, String... fields) {
        return edit(s, "camera", action, fields);
    }

    private void refused(Shot s, String with, String action, String... fields) {
        assertThatThrownBy(() -> camera(s, action, fields))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining(with);
    }

    @Test
    void settingsMakeAnotherSolve() {
        Shot s = plated(),
                k =
                        camera(s, "settings", "kind", "nodal", "k2", "ALWAYS", "smoothPx", "0.5")
                                .shot();
        assertThat(k.camera().kind()).isEqualTo("nodal");
        assertThat(k.camera().terms().k2()).isEqualTo(LensTerms.Ask.ALWAYS);
        assertThat(k.camera().terms().k1()).isEqualTo(s.camera().terms().k1());
        assertThat(Prints.camera(k)).isNotEqualTo(Prints.camera(s));
        assertThat(Prints.tracks(k)).isEqualTo(Prints.tracks(s));
        refused(s, "no choice", "settings", "kind", "sliding");
        refused(s, "the smoothing", "settings", "smoothPx", "500");
        refused(s, "not followed", "settings", "surface", "3");
        refused(s, "not on the shelf", "settings", "lens", "c".repeat(64));
    }

    /** Who put marks and had none found is not given a tracking of the whole plate; with found ones all count. */
    @Test
    void marksByHandStandOnTheirOwn() throws Exception {
        Shot s = plated();
        for (int k = 0; k < 3; k++)
            s = edit(s, "tracks", "mark-add", "frame", "1", "x", "" + (30 + 20 * k), "y", "40")
                    .shot();
        long id = make(s);
        assertThat(client.post("/shots/" + id + "/camera/start", Map.of()).statusCode())
                .isEqualTo(200);
        Shot now = shots.head(id).shot();
        assertThat(now.camera().byHand()).isTrue();
        Await.until("it ends", () -> tasks.open(id).isEmpty());
        assertThat(tasks.last(id)).filteredOn(t -> t.kind().equals("camera")).allMatch(t -> t.note()
                .contains("3 marks by hand"));
        assertThat(results.tracks(now)).as("nothing was tracked").isNull();
        // From all marks it is another solve; and what is found later changes nothing of the one by hand.
        Shot all = camera(now, "settings", "marks", "").shot();
        assertThat(all.camera().byHand()).isFalse();
        assertThat(Prints.camera(all)).isNotEqualTo(Prints.camera(now));
        Shot more = edit(now, "tracks", "settings", "count", "700").shot();
        assertThat(Prints.camera(more)).isEqualTo(Prints.camera(now));
        refused(now, "no choice", "settings", "marks", "feet");
    }

    /** Typed in milliseconds, kept as a part of a frame's time. */
    @Test
    void theReadoutIsAPartOfTheFrame() {
        Shot s = plated();
        assertThat(camera(s, "settings", "readoutMs", "20")
                        .shot()
                        .camera()
                        .hints()
                        .readout())
                .isCloseTo(20 * 24 / 1000.0, within(1e-12));
        assertThat(camera(s, "settings", "findReadout", "on", "findReadout_", "1")
                        .shot()
                        .camera()
                        .hints()
                        .readout())
                .isEqualTo(Hints.SOLVE_READOUT);
        refused(s, "-1 and 1", "settings", "readoutMs", "90");
    }

    @Test
    void aPartIsSolvedAloneAndWeightsAndPlacesAreSaidOfTracks() {
        Shot s = plated();
        Hints h = camera(s, "settings", "partFirst", "2", "partLast", "5")
                .shot()
                .camera()
                .hints();
        assertThat(List.of(h.first(), h.last())).containsExactly(2, 5);
        refused(s, "before its first frame", "settings", "partFirst", "5", "partLast", "2");

        Shot w = camera(s, "weight", "ids", "3,4", "weight", "5").shot();
        assertThat(w.camera().hints().weights()).containsExactly(new Hints.Weight(3, 5), new Hints.Weight(4, 5));
        assertThat(camera(w, "weight", "ids", "3", "weight", "1")
                        .shot()
                        .camera()
                        .hints()
                        .weights())
                .containsExactly(new Hints.Weight(4, 5));
        refused(s, "choose tracks", "weight", "ids", "", "weight", "2");

        Shot m = camera(s, "measured", "ids", "7", "mx", "1", "my", "0", "mz", "-4.5", "within", "2")
                .shot();
        assertThat(m.camera().hints().measured()).containsExactly(new Hints.Measured(7, new Vec3(1, 0, -4.5), 0.02));
        assertThat(camera(m, "measured", "ids", "7").shot().camera().hints().measured())
                .isEmpty();
        refused(s, "x, y and z", "measured", "ids", "7", "mx", "1");
        refused(s, "exactly one", "measured", "ids", "7,8", "mx", "1");
    }

    @Test
    void solvesAreKeptChosenAndDropped() {
        Shot s = plated();
        refused(s, "no solve to keep", "keep");
        solve(s, "moving");
        Shot k = camera(s, "keep", "name", "first").shot();
        String print = Prints.camera(s);
        assertThat(k.camera().kept()).containsExactly(new CameraRecipe.Kept(print, "first"));
        refused(k, "kept already", "keep");
        // Other settings, but the kept one counts: its camera is that of before.
        Shot other = camera(k, "settings", "k2", "ALWAYS").shot();
        assertThat(results.camera(other)).isNull();
        Shot use = camera(other, "use", "print", print).shot();
        assertThat(results.camera(use)).isNotNull();
        refused(k, "not kept", "use", "print", "d".repeat(64));
        // Whoever changes a setting wants to see what it gives.
        assertThat(camera(use, "settings", "smoothPx", "1").shot().camera().use())
                .isEmpty();
        Shot dropped = camera(use, "unkeep", "print", print).shot();
        assertThat(dropped.camera().kept()).isEmpty();
        assertThat(dropped.camera().use()).isEmpty();
    }

    @Test
    void linesRectanglesAndKnownPlacesMatchAStillCamera() {
        Shot s = plated(),
                l =
                        camera(s, "line-add", "axis", "Z", "fromX", "10", "fromY", "90", "toX", "70", "toY", "40")
                                .shot();
        assertThat(l.camera().lines()).hasSize(1);
        Shot moved = camera(
                        l, "line-set", "index", "0", "axis", "X", "fromX", "1", "fromY", "90", "toX", "70", "toY", "40")
                .shot();
        assertThat(moved.camera().lines().get(0).axis().name()).isEqualTo("X");
        assertThat(camera(moved, "line-delete", "index", "0").shot().camera().lines())
                .isEmpty();
        refused(s, "no longer there", "line-delete", "index", "0");
        refused(s, "shorter than two pixels", "line-add", "fromX", "10", "fromY", "9", "toX", "10", "toY", "10");

        Shot r = camera(s, "rect-set", "corners", CORNERS, "rectWidth", "3", "rectLength", "4")
                .shot();
        assertThat(r.camera().match().rectangle().width()).isEqualTo(3);
        assertThat(camera(r, "rect-set", "rectWidth", "2", "rectMetres", "on", "rectMetres_", "1")
                        .shot()
                        .camera()
                        .match()
                        .rectangle()
                        .corners())
                .isEqualTo(r.camera().match().rectangle().corners());
        refused(s, "four corners", "rect-set", "rectWidth", "2");
        refused(s, "one after the other", "rect-set", "corners", "20,80,100,50,120,80,40,50");
        assertThat(camera(r, "rect-delete").shot().camera().match().rectangle()).isNull();

        Shot p = camera(s, "place-add", "px", "40", "py", "30", "wx", "1", "wz", "-5")
                .shot();
        assertThat(p.camera().match().points().get(0).position()).isEqualTo(new Vec3(1, 0, -5));
        Shot q = camera(p, "place-set", "index", "0", "wy", "2").shot();
        assertThat(q.camera().match().points().get(0).position()).isEqualTo(new Vec3(1, 2, -5));
        assertThat(camera(q, "place-delete", "index", "0")
                        .shot()
                        .camera()
                        .match()
                        .points())
                .isEmpty();
    }

    @Test
    void onlyWhatMovesByItselfIsSolvedAsAThing() {
        Shot s = plated();
        Shot g = s.with(s.tracks()
                .withGroups(List.of(
                        new TrackRecipe.TrackGroup(1, "ferry", "#8fa8b8", false, true, List.of(1, 2)),
                        new TrackRecipe.TrackGroup(2, "wall", "#8fa8b8", false, false, List.of(3, 4)))));
        Shot o = camera(g, "object-add", "group", "1").shot();
        assertThat(o.camera().objects()).containsExactly(new CameraRecipe.Moved(1, "ferry", 1, 0));
        refused(g, "does not move by itself", "object-add", "group", "2");
        Shot d = camera(o, "object-set", "id", "1", "distance", "12").shot();
        assertThat(d.camera().objects().get(0).distance()).isEqualTo(12);
        assertThat(camera(d, "object-set", "id", "1", "distance", "")
                        .shot()
                        .camera()
                        .objects()
                        .get(0)
                        .distance())
                .isZero();
        assertThat(camera(d, "object-remove", "id", "1").shot().camera().objects())
                .isEmpty();
        refused(o, "not solved yet", "object-length", "id", "1", "ids", "1,2", "metres", "2");
        refused(g, "no longer there", "object-set", "id", "9", "distance", "1");
    }

    @Test
    void aCameraThatCameInIsReadOtherwiseOrLeft() {
        Shot s = plated();
        Shot z = camera(s, "read-so", "up", "z", "unit", "0.01", "offset", "1000")
                .shot();
        assertThat(z.camera().reading().zUp()).isTrue();
        assertThat(z.camera().reading().scale()).isEqualTo(0.01);
        assertThat(z.camera().reading().frameOffset()).isEqualTo(1000);
        assertThat(camera(z, "no-file").shot().camera().reading())
                .isEqualTo(s.camera().reading());
        refused(s, "the unit", "read-so", "unit", "0");
    }
}
