package dasein.app.stage.passes;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import dasein.app.ServerTest;
import dasein.core.BadInput;
import dasein.core.Progress;
import dasein.core.comp.CompRecipe;
import dasein.core.image.Image;
import dasein.core.render.pass.PassSet;
import dasein.core.render.pass.Passes;
import dasein.core.shot.Prints;
import dasein.core.shot.Shot;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.util.Arrays;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.springframework.beans.factory.annotation.Autowired;

/** What the recipe wants kept is in the written passes, is shown, and moves the finished frame. */
class KeptTest extends ServerTest {
    @Autowired
    PassesWork work;

    private Shot crate(String... passes) {
        Shot s = plated();
        solve(s, "moving");
        s = edit(s, "blocking", "add", "model", model("crate"), "x", "0.2", "z", "-4")
                .shot();
        s = edit(s, "passes", "settings", "minSamples", "4", "maxSamples", "4").shot();
        return passes.length == 0 ? s : edit(s, "passes", "settings", passes).shot();
    }

    @Test
    void lightsThatWereKeptApartAreBalancedInTheFinishedFrame() throws Exception {
        Shot plain = crate(), apart = crate("lights", "LIGHTS");
        // The scene is made and kept by what it shows: how it is rendered must not be taken from an older one.
        work.render(plain, 2, Progress.NONE);
        work.render(apart, 2, Progress.NONE);
        assertThat(Prints.frame(plain, 2)).isNotEqualTo(Prints.frame(apart, 2));
        assertThat(desk.comps().passes(plain, 2).lights()).isEmpty();
        Passes p = desk.comps().passes(apart, 2);
        assertThat(p.lights()).containsExactlyInAnyOrder("map", "sun", "glow");
        assertThat(desk.results()
                        .facts("passes", Prints.frame(apart, 2))
                        .path("parts")
                        .asDouble())
                .isBetween(0.0, 0.002);
        assertThat(desk.results()
                        .facts("passes", Prints.frame(plain, 2))
                        .path("parts")
                        .asDouble())
                .isEqualTo(-1);
        Shot dark = edit(apart, "comp", "settings", "light_map", "0", "light_sun", "0", "light_glow", "0")
                .shot();
        Image lit = desk.comps().frame(apart, 2), black = desk.comps().frame(dark, 2);
        int darker = 0;
        for (int i = 0; i < p.alpha.length; i++)
            if (p.alpha[i] == 1 && black.planes[1][i] < 0.5 * lit.planes[1][i]) darker++;
        assertThat(darker).isGreaterThan(20);
        // At rest nothing is said in the document, and nothing changes.
        Shot rest = edit(dark, "comp", "settings", "light_map", "1", "light_sun", "1", "light_glow", "1")
                .shot();
        assertThat(rest.comp()).isEqualTo(CompRecipe.BLANK);
        for (int c = 0; c < 3; c++)
            assertThat(desk.comps().frame(rest, 2).planes[c]).isEqualTo(lit.planes[c]);
        // What is together has no such numbers.
        assertThatThrownBy(() -> edit(plain, "comp", "settings", "light_map", "0"))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("none of the comp's numbers");
    }

    @Test
    void everySetThatIsTickedIsWrittenAndShown() throws Exception {
        Shot s = crate("lights", "INDIRECT");
        List<PassSet> offered =
                Arrays.stream(PassSet.values()).filter(PassSet::offered).toList();
        for (PassSet k : offered)
            s = edit(s, "passes", "settings", "set" + k + "_", "1", "set" + k, "on")
                    .shot();
        assertThat(s.passes().sets()).containsExactlyInAnyOrderElementsOf(offered);
        long id = make(s);
        work.render(s, 3, Progress.NONE);
        Passes p = desk.comps().passes(s, 3);
        String page = client.get("/shots/" + id + "/passes").body();
        String shown = page.replaceAll("(?s).*data-passes=\"([^\"]*)\".*", "$1");
        assertThat(shown).contains("matte_part", "diffuse", "contact", "beauty.map_indirect", "light.sun");
        for (String pass : shown.split(" "))
            assertThat(client.bytes("/shots/" + id + "/pass/3.jpg?pass=" + pass).statusCode())
                    .as(pass)
                    .isEqualTo(200);
        // As deep pixels: the version field has the bit for them (OpenEXR File Layout).
        assertThat(page).contains("deep frame");
        byte[] deep = client.bytes("/shots/" + id + "/deep/3.exr").body();
        assertThat(ByteBuffer.wrap(deep).order(ByteOrder.LITTLE_ENDIAN).getInt(4))
                .isEqualTo(2 | 0x800);
        assertThat(page).contains("The parts add up to the beauty");
        // The values behind a place, as they are in the pass; what is no number is none, and no place outside.
        int at = (p.height / 2) * p.width + p.width / 2;
        String where = "&x=" + (p.width / 2 + 0.5) / p.width + "&y=" + (p.height / 2 + 0.5) / p.height,
                values = "/shots/" + id + "/pass/3/values?pass=";
        assertThat(client.json(values + "shadow" + where).path(1).floatValue()).isEqualTo(p.shadow[1][at]);
        assertThat(client.json(values + "comp" + where).size()).isEqualTo(3);
        assertThat(client.json(values + "depth&x=0&y=0").path(0).isNull()).isEqualTo(Float.isInfinite(p.depth[0]));
        assertThat(client.bytes(values + "shadow&x=1&y=0").statusCode()).isEqualTo(422);
        assertThat(client.bytes(values + "nothing" + where).statusCode()).isEqualTo(422);
        // The crate's own name and no other is seen, and covers what its alpha says.
        float[][] matte = p.of("matte_performer");
        for (int i = 0; i < p.alpha.length; i++) assertThat(matte[1][i]).isCloseTo(p.alpha[i], within(1e-3f));
        // Taken away again.
        assertThat(client.bytes("/shots/" + make(crate()) + "/deep/3.exr").statusCode())
                .isEqualTo(404);
        s = edit(s, "passes", "settings", "setMATTES_", "1").shot();
        assertThat(s.passes().sets()).doesNotContain(PassSet.MATTES);
    }
}
