package dasein.core.shot;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dasein.core.BadInput;
import dasein.core.cast.ClipUse;
import dasein.core.comp.CompRecipe;
import dasein.core.comp.step.Gain;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** Documents of every version that was ever written are read, and nothing of them is lost. */
class ShotJsonTest {
    private static final JsonMapper JSON = new JsonMapper();

    /** The folder grows with every version; nothing is ever taken out of it. */
    @Test
    void everyDocumentThatWasEverWrittenIsStillRead() throws IOException {
        int n = 0;
        try (var list = Files.list(Path.of("core/src/test/resources/documents"))) {
            for (Path p : list.toList()) {
                Shot s = ShotJson.read(Files.readString(p));
                assertThat(ShotJson.read(ShotJson.write(s))).as(p.toString()).isEqualTo(s);
                n++;
            }
        }
        assertThat(n).isGreaterThanOrEqualTo(3);
        assertThat(ShotJson.read(Files.readString(Path.of("demo/LW_010.json"))).performers())
                .isNotEmpty();
    }

    @Test
    void theShortFormBecomesAClip() throws IOException {
        Shot s = ShotJson.read(PrintsTest.document("short-1.json"));
        ClipUse c = s.performers().get(0).clips().get(0);
        assertThat(c.clip()).isEqualTo("rolling");
        assertThat(c.repeat()).isEqualTo(ClipUse.Repeat.HOLD);
        assertThat(c.offset()).isEqualTo(0.5);
        assertThat(s.set().pieces().get(0).name()).isEqualTo("piece 1");
    }

    @Test
    void whatIsNotKnownIsKeptThroughAnEditAndSaid() throws IOException {
        String text = PrintsTest.document("unknown-1.json");
        assertThat(ShotJson.unknown(text)).containsExactlyInAnyOrder("later", "light.gobos", "performers.0.mood");
        Shot s = ShotJson.read(text);
        Shot moved = s.with(List.of(s.performers().get(0).at(1, 2, 3)));
        JsonNode out = JSON.readTree(ShotJson.write(moved, text));
        assertThat(out.path("later").path("a").asInt()).isEqualTo(1);
        assertThat(out.path("light").path("gobos").path(0).path("watts").asInt())
                .isEqualTo(40);
        assertThat(out.path("performers").path(0).path("mood").asString()).isEqualTo("grim");
        assertThat(out.path("performers").path(0).path("x").asDouble()).isEqualTo(1);
        // Somebody who is taken away takes everything with him.
        assertThat(JSON.readTree(ShotJson.write(s.with(List.of()), text))
                        .path("performers")
                        .size())
                .isZero();
    }

    /** A curve that is cleared is no unknown entry: it must not come back. */
    @Test
    void whatIsTakenAwayDoesNotComeBackAsUnknown() throws IOException {
        String text = PrintsTest.document("rich-1.json");
        Shot s = ShotJson.read(text);
        assertThat(ShotJson.unknown(text)).isEmpty();
        var p = s.performers().get(0).with("x", dasein.core.key.Curve.NONE);
        JsonNode out = JSON.readTree(ShotJson.write(s.with(List.of(p)), text));
        assertThat(out.path("performers").path(0).path("curves").has("x")).isFalse();
    }

    @Test
    void aNewerVersionIsRefusedWithItsName() {
        String text = "{\"schema\": \"dasein-shot/" + (Upgrades.newest() + 1) + "\"}";
        assertThatThrownBy(() -> ShotJson.read(text))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("newer version of Dasein")
                .hasMessageContaining("dasein-shot/" + (Upgrades.newest() + 1));
        for (String bad : List.of("{\"schema\": \"other/1\"}", "[]", "{\"schema\": \"dasein-shot/0\"}", "{"))
            assertThatThrownBy(() -> ShotJson.read(bad)).isInstanceOf(BadInput.class);
    }

    /** A new entry at its default leaves every old result fresh: saying it and not saying it is the same. */
    @Test
    void whatStandsAtItsDefaultIsNoPartOfAPrint() throws IOException {
        Shot
                said =
                        ShotJson.read("{\"performers\": [{\"id\": 1, \"name\": \"a\", \"model\": \"m\", "
                                + "\"rollDeg\": 0, \"heightMetres\": 1.8}]}"),
                unsaid = ShotJson.read("{\"performers\": [{\"id\": 1, \"name\": \"b\", \"model\": \"m\"}]}");
        assertThat(Prints.frame(said, 4)).isEqualTo(Prints.frame(unsaid, 4));
        // Nought where nought is not the default is something else.
        Shot dark = unsaid.with(CompRecipe.BLANK.with(Gain.GAIN, 0));
        assertThat(Prints.comp(dark, 4)).isNotEqualTo(Prints.comp(unsaid, 4));
    }

    /** A solve goes on from the one that is there after a change of the tracks alone, and its recipe says so. */
    @Test
    void theEarlierSolveIsPartOfTheRecipe() throws IOException {
        Shot s = ShotJson.read("{\"plate\": {\"file\": \"p\"}}"),
                less = s.with(s.tracks().withDeleted(List.of(4))),
                on = Prints.goingOn(s, less, true);
        assertThat(on.camera().from()).isEqualTo(Prints.settings(s));
        assertThat(Prints.settings(on)).isNotEqualTo(Prints.settings(less));
        // Without a solve there is nothing to go on from.
        assertThat(Prints.goingOn(s, less, false)).isEqualTo(less);
        // Another setting begins from the start again.
        Shot other = on.with(ShotJson.read("{\"camera\": {\"smoothPx\": 2}}")
                .camera()
                .goingOn(on.camera().from()));
        assertThat(Prints.goingOn(on, other, true).camera().from()).isEmpty();
        // What the tracks have nothing to do with changes nothing.
        Shot lit = on.with(on.light().withEnvironment("map"));
        assertThat(Prints.goingOn(on, lit, true)).isEqualTo(lit);
    }

    /** Another plate under a kept solve makes all that shows it stale. */
    @Test
    void aKeptSolveDoesNotHideThePlate() {
        Shot s = ShotJson.read("{\"plate\": {\"file\": \"p\"}, \"camera\": {\"use\": \"kept\"}}"),
                other = s.with(s.plate().named("q"));
        assertThat(Prints.camera(s)).isEqualTo("kept").isEqualTo(Prints.camera(other));
        assertThat(Prints.frame(s, 1)).isNotEqualTo(Prints.frame(other, 1));
        assertThat(Prints.output(s, "movie", 1, 9)).isNotEqualTo(Prints.output(other, "movie", 1, 9));
        assertThat(Prints.presence(s, List.of(1), List.of()))
                .isNotEqualTo(Prints.presence(other, List.of(1), List.of()));
        assertThat(Prints.scene(s)).isNotEqualTo(Prints.scene(other));
    }

    /** The shutter that was noted, and the height of the camera, are part of what scenes are kept under. */
    @Test
    void scenesAreKeptUnderAllThatAFrameNeeds() {
        Shot s = ShotJson.read("{\"plate\": {\"file\": \"p\", \"shutterDeg\": 180}}"),
                shutter = ShotJson.read("{\"plate\": {\"file\": \"p\", \"shutterDeg\": 90}}"),
                height =
                        ShotJson.read("{\"plate\": {\"file\": \"p\", \"shutterDeg\": 180, \"cameraHeightMetres\": 2}}");
        assertThat(Prints.scene(s)).isNotEqualTo(Prints.scene(shutter)).isNotEqualTo(Prints.scene(height));
    }
}
