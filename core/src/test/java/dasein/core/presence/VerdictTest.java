package dasein.core.presence;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dasein.core.BadInput;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import org.junit.jupiter.api.Test;

class VerdictTest {
    private static Finding found(String key, String name) {
        return new Finding.About(key, name, "comp", "px", 1, "common practice").found(2, "It is so.");
    }

    @Test
    void saysWhereItWouldBeSeen() {
        Finding grain = found("grain", "Grain strength"), contact = found("contact", "Contact with the ground");
        assertThat(Verdict.of(List.of(grain), Set.of()))
                .isEqualTo(
                        "It would pass on a phone; on a cinema screen \u201cgrain strength\u201d would give it away.");
        assertThat(Verdict.of(List.of(grain, contact), Set.of()))
                .isEqualTo("It would be seen on any screen: \u201ccontact with the ground\u201d.");
        assertThat(Verdict.of(List.of(grain, contact), Set.of("contact", "grain")))
                .startsWith("It would pass on a cinema screen");
        Finding blind = new Finding.About("sun", "Light", "light", "degrees", 5, "").unseen("Nothing is marked.");
        assertThat(Verdict.of(List.of(blind), Set.of())).endsWith("One thing could not be looked at.");
    }

    @Test
    void everyCheckHasItsOwnKeyALimitWithAReasonAndSaysWhatItCouldNotLookAt() {
        Set<String> keys = new HashSet<>(), names = new HashSet<>();
        Subject bare = new Bare().subject();
        List<Check> all = Checks.all();
        assertThat(all).hasSizeGreaterThanOrEqualTo(25);
        for (Check c : all) {
            assertThat(keys.add(c.key())).as(c.key()).isTrue();
            assertThat(names.add(c.about().check())).as(c.about().check()).isTrue();
            assertThat(c.about().why()).as(c.key()).isNotBlank();
            Finding f = c.finding(bare);
            assertThat(f.sentence()).as(c.key()).endsWith(".").matches("[A-Z0-9].*");
            assertThat(f.state()).as(c.key()).isNotEqualTo(Finding.State.FOUND);
        }
    }

    @Test
    void whatIsMeantSoNeedsAReason() {
        PresenceRecipe r = PresenceRecipe.BLANK.waive("contact", " it hovers ");
        assertThat(r.waived()).containsEntry("contact", "it hovers");
        assertThat(r.unwaive("contact")).isEqualTo(PresenceRecipe.BLANK);
        assertThatThrownBy(() -> r.waive("slide", "  "))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("why");
    }
}
