package dasein.app.stage.comp;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import dasein.app.ServerTest;
import dasein.app.stage.Change;
import dasein.core.BadInput;
import dasein.core.comp.Param;
import dasein.core.comp.step.Gain;
import dasein.core.comp.step.Grain;
import dasein.core.comp.step.Group;
import dasein.core.comp.step.Steps;
import dasein.core.render.pass.Passes;
import dasein.core.shot.Prints;
import dasein.core.shot.Shot;
import dasein.core.shot.ShotJson;
import java.util.Map;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;

/** Numbers of the comp that change over the shot: keyed on the page, kept, and in the finished frame. */
class CompKeysTest extends ServerTest {
    private Change comp(Shot s, String action, String... fields) {
        return edit(s, "comp", action, fields);
    }

    private Shot gainFromOneToTwo() {
        Shot s = comp(plated(), "key", "channel", "gain", "frame", "1").shot();
        return comp(s, "settings", "gain", "2", "frame", "5").shot();
    }

    @Test
    void whatIsKeyedIsSetByKeysAndStandsBetweenThem() {
        Shot s = gainFromOneToTwo();
        assertThat(s.comp().get(Gain.GAIN)).as("at rest as it was").isEqualTo(1);
        assertThat(s.comp().curve("gain").keys()).hasSize(2);
        assertThat(s.comp().at(1, 24).get(Gain.GAIN)).isEqualTo(1);
        // At rest at both ends: half way half.
        assertThat(s.comp().at(3, 24).get(Gain.GAIN)).isCloseTo(1.5, within(1e-12));
        assertThat(s.comp().at(9, 24).get(Gain.GAIN)).isEqualTo(2);
        assertThat(s.comp().at(3, 24).keys()).isEmpty();
        // A second press takes the key away.
        Shot one = comp(s, "key", "channel", "gain", "frame", "5").shot();
        assertThat(one.comp().curve("gain").keys()).hasSize(1);
        assertThat(comp(s, "key-clear", "channel", "gain", "frame", "1").shot().comp())
                .isEqualTo(Shot.BLANK.comp());
    }

    @Test
    void everyNumberOfEveryStepCanBeKeyedWithinItsBounds() {
        Shot s = plated();
        for (Param p : Steps.params()) {
            Shot k = comp(s, "key", "channel", p.name(), "frame", "2").shot();
            assertThat(k.comp().curve(p.name()).key(2).value()).as(p.name()).isEqualTo(p.rest());
            double most = p.accepted().most() / p.shown();
            assertThatThrownBy(() ->
                            comp(k, "key-set", "channel", p.name(), "frame", "2", "value", String.valueOf(most + 1)))
                    .isInstanceOf(BadInput.class)
                    .hasMessageContaining(p.label());
        }
        assertThatThrownBy(() -> comp(s, "key", "channel", "colour", "frame", "2"))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("nothing called");
    }

    /** Shown in percent, kept as a share; a wave on top never leaves what is accepted. */
    @Test
    void aWaveStaysWithinWhatIsAccepted() {
        Shot s = comp(plated(), "wave-add", "channel", "grain", "amplitude", "0.5", "seconds", "0.25")
                .shot();
        double least = 1, most = 0;
        for (int f = 1; f <= 24; f++) {
            double v = s.comp().at(f, 24).get(Grain.GRAIN);
            least = Math.min(least, v);
            most = Math.max(most, v);
        }
        assertThat(least).isZero();
        assertThat(most).isBetween(0.15, 0.2);
    }

    @Test
    void keysAreInTheDocumentAndInWhatDependsOnThem() {
        Shot s = gainFromOneToTwo();
        Shot back = ShotJson.read(ShotJson.write(s));
        assertThat(back).isEqualTo(s);
        assertThat(ShotJson.unknown(ShotJson.write(s))).isEmpty();
        Shot plain = s.with(Shot.BLANK.comp());
        assertThat(Prints.comp(s, 1)).isNotEqualTo(Prints.comp(plain, 1));
        assertThat(Prints.frame(s, 1)).isEqualTo(Prints.frame(plain, 1));
        // A document that says nothing of keys has none, and a key of nothing is left out.
        assertThat(ShotJson.read("{\"comp\": {\"gain\": 2}}").comp().keys()).isEmpty();
        assertThat(ShotJson.read("{\"comp\": {\"keys\": {\"gloss\": {\"keys\": [{\"frame\": 1, \"value\": 1, "
                                + "\"ease\": \"EASED\", \"in\": 0, \"out\": 0}], \"waves\": []}}}}")
                        .comp()
                        .keys())
                .isEmpty();
    }

    @Test
    void theFinishedFrameIsThatOfItsFrame() throws Exception {
        Shot s = comp(gainFromOneToTwo(), "settings", "grain", "0", "softnessPx", "0")
                .shot();
        solve(s, "moving");
        for (int f : new int[] {1, 3, 5}) {
            Passes p = new Passes(WIDTH, HEIGHT);
            for (int i = 0; i < 400; i++) {
                p.alpha[i] = 1;
                for (float[] c : p.beauty) c[i] = 0.2f;
            }
            String print = Prints.frame(s, f), file = print + ".exr";
            p.write(media.result("passes", file));
            results.save("passes", print, Map.of("noise", 0), file);
        }
        assertThat(desk.comps().frame(s, 1).planes[0][7]).isCloseTo(0.2f, within(1e-4f));
        assertThat(desk.comps().frame(s, 3).planes[0][7]).isCloseTo(0.3f, within(1e-4f));
        assertThat(desk.comps().frame(s, 5).planes[0][7]).isCloseTo(0.4f, within(1e-4f));
        long id = make(s);
        JsonNode data = client.json("/shots/" + id + "/data.json").path("comp");
        assertThat(data.path("gain").path("keyed").toString()).isEqualTo("[1,5]");
        assertThat(data.path("gain").path("shown").get(2).asDouble()).isCloseTo(1.5, within(1e-12));
        assertThat(data.has("shadow")).isFalse();
        assertThat(client.get("/shots/" + id + "/comp").body()).contains("data-key=\"gain\"");
    }

    /** Switched off by an empty tick, and keyed like any number; what is not in the form stays. */
    @Test
    void stepsAreSwitchedOff() {
        Shot s = comp(plated(), "settings", "grainOn_", "1").shot();
        assertThat(s.comp().on(Group.GRAIN)).isFalse();
        assertThat(s.comp().on(Group.SHADOW)).isTrue();
        assertThat(comp(s, "settings", "grainOn_", "1", "grainOn", "on").shot().comp())
                .isEqualTo(Shot.BLANK.comp());
    }

    /** Without passes grain alone can be matched, where frames can be laid on each other; else it is said why not. */
    @Test
    void whatCannotBeMatchedIsSaid() {
        assertThatThrownBy(() -> comp(plated(), "match", "which", "softness", "frame", "3"))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("no passes");
        assertThatThrownBy(() -> comp(plated(), "match", "which", "shadow", "frame", "3"))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("mark ground");
        assertThatThrownBy(() -> comp(plated(), "match", "which", "taste", "frame", "3"))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("nothing called");
    }
}
