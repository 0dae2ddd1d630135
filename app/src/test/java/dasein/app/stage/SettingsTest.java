package dasein.app.stage;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import dasein.app.ServerTest;
import dasein.core.BadInput;
import dasein.core.comp.Param;
import dasein.core.comp.step.Group;
import dasein.core.comp.step.Steps;
import dasein.core.shot.Prints;
import dasein.core.shot.Shot;
import java.util.Arrays;
import org.junit.jupiter.api.Test;

/** Numbers of Light, Passes and Comp: kept, refused outside their range, and known to what depends on them. */
class SettingsTest extends ServerTest {
    private void refused(Shot s, String stage, String with, String... fields) {
        assertThatThrownBy(() -> edit(s, stage, "settings", fields))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining(with);
    }

    @Test
    void lightIsTurnedAndTheSunSetByHand() {
        Shot s = plated(),
                l =
                        edit(
                                        s,
                                        "light",
                                        "settings",
                                        "turnDeg",
                                        "40",
                                        "level",
                                        "1.5",
                                        "source",
                                        "own",
                                        "azimuthDeg",
                                        "120",
                                        "elevationDeg",
                                        "35",
                                        "red",
                                        "1.2")
                                .shot();
        assertThat(l.light().turnDeg()).isEqualTo(40);
        assertThat(l.light().sun().source()).isEqualTo("own");
        assertThat(l.light().sun().elevationDeg()).isEqualTo(35);
        assertThat(l.light().sun().colour().get(0)).isEqualTo(1.2);
        assertThat(Prints.frame(l, 1)).isNotEqualTo(Prints.frame(s, 1));
        assertThat(Prints.camera(l)).isEqualTo(Prints.camera(s));
        refused(s, "light", "elevation", "elevationDeg", "-5");
        refused(s, "light", "no choice", "source", "moon");
        refused(s, "light", "not on the shelf", "environment", "a".repeat(64));
    }

    /** A cloud passes: keyed on the page, another print, another light in a frame between. */
    @Test
    void lightIsKeyed() {
        Shot
                s =
                        edit(plated(), "light", "key", "channel", "level", "frame", "1")
                                .shot(),
                k = edit(s, "light", "settings", "level", "0.5", "frame", "3").shot();
        assertThat(k.light().level()).as("at rest as it was").isEqualTo(1);
        assertThat(k.light().at(2, 24).level()).isCloseTo(0.75, within(1e-9));
        assertThat(Prints.light(k)).isNotEqualTo(Prints.light(s));
        assertThat(Prints.frame(k, 1)).isNotEqualTo(Prints.frame(s, 1));
        assertThatThrownBy(() -> edit(s, "light", "key", "channel", "hum", "frame", "1"))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("hum");
    }

    @Test
    void passesKeepTheirBounds() {
        Shot s = plated(),
                p =
                        edit(
                                        s,
                                        "passes",
                                        "settings",
                                        "size",
                                        "0.5",
                                        "minSamples",
                                        "8",
                                        "maxSamples",
                                        "64",
                                        "noise",
                                        "2",
                                        "passShutter",
                                        "172.8",
                                        "denoise_",
                                        "1")
                                .shot();
        assertThat(p.passes().size()).isEqualTo(0.5);
        assertThat(p.passes().noise()).isCloseTo(0.02, within(1e-12));
        assertThat(p.passes().shutterDeg()).isEqualTo(172.8);
        assertThat(p.passes().denoise()).isFalse();
        // Emptied, the shutter is the plate's again.
        assertThat(edit(p, "passes", "settings", "passShutter", "")
                        .shot()
                        .passes()
                        .shutterDeg())
                .isEqualTo(-1);
        refused(s, "passes", "not be fewer", "minSamples", "64", "maxSamples", "16");
        refused(s, "passes", "the size", "size", "3");
    }

    /** Every number that a step declares is taken as it is shown, and comes back as it was typed. */
    @Test
    void everyNumberOfTheCompIsTakenAsItIsShown() {
        Shot s = plated();
        assertThat(Steps.params()).hasSizeGreaterThan(8);
        for (Param p : Steps.params()) {
            // Switches are ticks, not numbers, in forms.
            if (Arrays.stream(Group.values()).anyMatch(g -> g.on() == p)) continue;
            Param.Range r = p.accepted();
            double shown = r.least() + 0.25 * (r.most() - r.least());
            Shot c =
                    edit(s, "comp", "settings", p.name(), String.valueOf(shown)).shot();
            assertThat(c.comp().get(p) * p.shown()).as(p.name()).isCloseTo(shown, within(1e-9));
            // Nothing that is rendered depends on it.
            assertThat(Prints.frame(c, 1)).as(p.name()).isEqualTo(Prints.frame(s, 1));
            refused(s, "comp", "must lie between", p.name(), String.valueOf(r.most() + 1));
            refused(s, "comp", "must be a number", p.name(), "much");
        }
    }

    @Test
    void stagesThatOnlyShowHaveNothingToChange() {
        assertThatThrownBy(() -> edit(plated(), "presence", "settings"))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("nothing to change");
    }
}
