package dasein.app.stage.comp;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import dasein.app.ServerTest;
import dasein.app.stage.Change;
import dasein.core.BadInput;
import dasein.core.comp.front.Front;
import dasein.core.comp.repair.Repair;
import dasein.core.comp.step.Gain;
import dasein.core.comp.step.Grade;
import dasein.core.image.Image;
import dasein.core.render.pass.Passes;
import dasein.core.shot.Prints;
import dasein.core.shot.Shot;
import dasein.core.shot.ShotJson;
import dasein.core.track.DrawnMask;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;

/** What the comp has as lists: in front, covered, numbers of their own, picks, versions; to the finished frame. */
class CompListsTest extends ServerTest {
    private static final String LEFT = "0,0 60,0 60,96 0,96";

    private Change comp(Shot s, String action, String... fields) {
        return edit(s, "comp", action, fields);
    }

    /** With a mask over the left part, and performers that would cover all of the picture. */
    private Shot masked() {
        return comp(plated(), "mask-add", "use", "COMP", "frame", "2", "xy", LEFT)
                .shot();
    }

    private void render(Shot s, int frame) {
        Passes p = new Passes(WIDTH, HEIGHT);
        java.util.Arrays.fill(p.alpha, 1);
        for (float[] c : p.beauty) java.util.Arrays.fill(c, 0.2f);
        String print = Prints.frame(s, frame), file = print + ".exr";
        p.write(media.result("passes", file));
        results.save("passes", print, Map.of("noise", 0), file);
    }

    @Test
    void whatStandsInFrontIsThePlateInTheFinishedFrame() {
        Shot s = comp(masked(), "front-add", "key", "SHAPE", "within", "1").shot();
        s = comp(s, "settings", "grain", "0", "softnessPx", "0").shot();
        solve(s, "moving");
        render(s, 2);
        Image made = desk.comps().frame(s, 2);
        Image plate;
        try (var lent = desk.plates().need(s)) {
            plate = lent.plate().frame(2);
        }
        for (int c = 0; c < 3; c++) {
            assertThat(made.planes[c][40 * WIDTH + 20]).isEqualTo(plate.planes[c][40 * WIDTH + 20]);
            assertThat(made.planes[c][40 * WIDTH + 120]).isCloseTo(0.2f, within(1e-4f));
        }
        assertThat(desk.comps().lost(s, 2)).isEmpty();
        assertThat(desk.comps().pops(s)).as("it stands still").isEmpty();
        Shot other = comp(s, "front-set", "id", "1", "key", "DIFFERENCE").shot();
        assertThat(desk.comps().lost(other, 2)).singleElement().asString().contains("clean plate");
        assertThatThrownBy(() -> comp(other, "mask-delete", "id", "1"))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("used in the comp");
        Front f = comp(other, "front-set", "id", "1", "key", "COLOUR", "colour", "#ff8000")
                .shot()
                .comp()
                .fronts()
                .get(0);
        assertThat(f.colour().get(1)).isCloseTo(128 / 255.0, within(1e-9));
        assertThat(f.low()).as("starts anew with another key").isEqualTo(0.04);
        assertThat(comp(other, "front-delete", "id", "1").shot().comp().fronts())
                .isEmpty();
        assertThatThrownBy(() -> comp(plated(), "front-add", "key", "SHAPE"))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("choose the mask");
    }

    @Test
    void aCoveredPlaceIsShownBeforeAnythingIsRendered() throws Exception {
        Shot s = comp(plated(), "mask-stroke", "frame", "1", "radius", "6", "xy", "60,40 70,40")
                .shot();
        assertThat(s.tracks().masks().get(0).use()).isEqualTo(DrawnMask.Use.COMP);
        s = comp(s, "repair-add", "mask", "1", "frame", "1").shot();
        s = comp(s, "repair-set", "id", "1", "dx", "40", "dy", "0", "feather", "0")
                .shot();
        Image mended = desk.comps().plain(s, 1), plate;
        try (var lent = desk.plates().need(s)) {
            plate = lent.plate().frame(1);
        }
        assertThat(mended.planes[0][5]).as("elsewhere it is the plate").isEqualTo(plate.planes[0][5]);
        assertThat(mended.planes[0][40 * WIDTH + 65]).isNotEqualTo(plate.planes[0][40 * WIDTH + 65]);
        long id = make(s);
        assertThat(client.get("/shots/" + id + "/comp/1.jpg").statusCode()).isEqualTo(200);
        assertThat(client.get("/shots/" + make(plated()) + "/comp/1.jpg").statusCode())
                .as("nothing to be seen yet")
                .isEqualTo(404);
        assertThat(client.get("/shots/" + id + "/comp").body()).contains("stroke 1", "repair 1");
        // Mirrored and given back, too, only when asked for.
        Shot feeds =
                comp(s, "repair-set", "id", "1", "feeds_", "1", "feeds", "on").shot();
        assertThat(Prints.frame(s, 1)).isEqualTo(Prints.frame(plated(s), 1));
        assertThat(Prints.frame(feeds, 1)).isNotEqualTo(Prints.frame(s, 1));
        assertThatThrownBy(() -> comp(plated(), "repair-add", "marks", "hand"))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("put marks on it");
        Shot free = comp(s, "repair-set", "id", "1", "source", "FREE", "moves", "-1")
                .shot();
        assertThat(free.comp().repairs().get(0).moves()).isEqualTo(Repair.GROUND);
        assertThat(desk.comps().lost(free, 1)).anyMatch(l -> l.contains("the camera is not solved"));
    }

    private static Shot plated(Shot s) {
        return s.with(Shot.BLANK.comp());
    }

    @Test
    void aPartOfThePictureHasNumbersOfItsOwn() {
        Shot s = comp(masked(), "variant-add", "of", "mask 1").shot();
        s = comp(s, "variant-number", "id", "1", "number", "exposure").shot();
        s = comp(s, "variant-set", "id", "1", "exposure", "1").shot();
        assertThat(s.comp().variants().get(0).numbers()).isEqualTo(Map.of(Grade.EXPOSURE.name(), 1.0));
        Image made = desk.comps().plain(s, 2), plate;
        try (var lent = desk.plates().need(s)) {
            plate = lent.plate().frame(2);
        }
        assertThat(made.planes[1][40 * WIDTH + 20]).isCloseTo(2 * plate.planes[1][40 * WIDTH + 20], within(1e-5f));
        assertThat(made.planes[1][40 * WIDTH + 120]).isEqualTo(plate.planes[1][40 * WIDTH + 120]);
        assertThatThrownBy(() -> comp(plated(), "variant-add", "of", "performer 7"))
                .isInstanceOf(BadInput.class);
    }

    @Test
    void theGroundHasNumbersOfItsOwnWhereItIsSeen() {
        Shot s = comp(plated(), "variant-add", "of", "ground").shot();
        s = comp(s, "variant-number", "id", "1", "number", "exposure").shot();
        s = comp(s, "variant-set", "id", "1", "exposure", "1").shot();
        solve(s, "moving");
        render(s, 2);
        assertThat(desk.comps().frame(s, 2)).isNotNull();
        Shot gone = comp(s, "variant-set", "id", "1", "on", "false").shot();
        assertThat(gone.comp().variants().get(0).piece()).isEqualTo(dasein.core.comp.Variant.GROUND);
    }

    @Test
    void whatAnotherShotHasOtherwiseIsToldBeforeItIsTaken() throws Exception {
        long
                other =
                        make(comp(plated(), "settings", "shadow", "0.7", "gain", "1.2")
                                .shot()),
                here = make(plated());
        var page = client.get("/shots/" + here + "/comp/1/as.json?as=" + other + "&group=shadow");
        assertThat(page.body())
                .isEqualTo("[{\"heading\":\"Shadow\",\"label\":\"density\",\"here\":1.0,\"there\":0.7}]");
        assertThat(client.get("/shots/" + here + "/comp/1/as.json?as=" + other).body())
                .contains("gain")
                .contains("1.2");
        assertThat(client.get("/shots/" + here + "/comp/1/as.json?as=99999").statusCode())
                .isEqualTo(422);
    }

    @Test
    void shakeIsThatOfAnotherShotWithTracks() {
        Shot s = plated();
        assertThatThrownBy(() -> comp(s, "shake-of", "from", "99999"))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("another shot");
        assertThatThrownBy(() -> comp(s, "focus-on", "performer", "3"))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("performer");
        long other = make(plated());
        assertThatThrownBy(() -> comp(s, "shake-of", "from", Long.toString(other)))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("no tracks");
    }

    @Test
    void allOfItIsInTheDocument() {
        Shot s = comp(masked(), "front-add", "key", "BRIGHT", "within", "1").shot();
        s = comp(s, "repair-add", "mask", "1").shot();
        s = comp(s, "variant-add", "of", "mask 1").shot();
        s = comp(s, "variant-number", "id", "1", "number", Gain.GAIN.name()).shot();
        s = comp(s, "pair-add", "frame", "1", "x", "10", "y", "12", "ownX", "40", "ownY", "44")
                .shot();
        s = comp(s, "haze-add", "frame", "1", "x", "10", "y", "12", "metres", "80")
                .shot();
        s = comp(s, "mask-feather", "id", "1", "index", "2", "feather", "7").shot();
        assertThat(s.tracks().masks().get(0).feathers()).isEqualTo(List.of(0.0, 0.0, 7.0, 0.0));
        Shot back = ShotJson.read(ShotJson.write(s));
        assertThat(back).isEqualTo(s);
        assertThat(ShotJson.unknown(ShotJson.write(s))).isEmpty();
        assertThat(Prints.comp(s, 1)).isNotEqualTo(Prints.comp(s.with(Shot.BLANK.comp()), 1));
    }

    /** A version is kept by its name, shown beside the newest, and gone back to; it is nobody else's. */
    @Test
    void versionsAreKeptAndComparedAndGoneBackTo() throws Exception {
        long id = make(comp(plated(), "settings", "exposure", "1").shot());
        long first = client.json("/shots/" + id + "/data.json").path("revision").asLong();
        client.post(
                "/shots/" + id + "/comp/edit",
                Map.of("action", "version-keep", "name", "bright", "note", "a stop more"));
        client.post("/shots/" + id + "/comp/edit", Map.of("action", "settings", "exposure", "-1", "frame", "1"));
        String page = client.get("/shots/" + id + "/comp").body();
        assertThat(page).contains("bright", "a stop more", "data-compare=\"" + first + "\"");
        byte[] now = client.bytes("/shots/" + id + "/comp/2.jpg").body(),
                then = client.bytes("/shots/" + id + "/comp/2.jpg?of=" + first).body();
        assertThat(then).isNotEqualTo(now);
        long stranger = make(plated());
        assertThat(client.get("/shots/" + stranger + "/comp/2.jpg?of=" + first).statusCode())
                .isEqualTo(404);
        String version = page.replaceAll(
                "(?s).*name=\"id\"\\s+value=\"(\\d+)\"[^>]*/><button class=\"btn-second\"[^>]*>Go back.*", "$1");
        client.post("/shots/" + id + "/comp/edit", Map.of("action", "version-back", "id", version));
        assertThat(shots.head(id).shot().comp().get(Grade.EXPOSURE)).isEqualTo(1);
        client.post("/shots/" + id + "/comp/edit", Map.of("action", "version-drop", "id", version));
        assertThat(client.get("/shots/" + id + "/comp").body()).doesNotContain("a stop more");
    }
}
