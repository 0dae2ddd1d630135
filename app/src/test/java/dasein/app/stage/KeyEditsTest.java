package dasein.app.stage;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dasein.core.BadInput;
import dasein.core.cast.PartTurn;
import dasein.core.cast.Performer;
import dasein.core.key.Curve;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;

/** Keys and waves by what a form sends. */
class KeyEditsTest {
    private static final Performer MULE = new Performer(3, "mule", "m", 1, 0, 2, 30, 1.8, "", 0, 1, true);

    private static Performer edit(Performer p, String action, int frame, String... fields) {
        Map<String, String> f = new HashMap<>();
        for (int i = 0; i < fields.length; i += 2) f.put(fields[i], fields[i + 1]);
        return KeyEdits.apply(p, action, new Form(f), frame, () -> p.rest(f.get("channel")))
                .value();
    }

    @Test
    void aKeyKeepsWhatWasThereAndASecondPressTakesItAway() {
        Performer keyed = edit(MULE, "key", 10, "channel", "heading");
        assertThat(keyed.curve("heading").key(10).value()).isEqualTo(30);
        assertThat(edit(keyed, "key", 10, "channel", "heading")).isEqualTo(MULE);
    }

    @Test
    void aKeyIsMovedWithItsValueAndKeysDoNotCollide() {
        Performer two = edit(edit(MULE, "key", 10, "channel", "x"), "key", 20, "channel", "x", "value", "5");
        Performer moved = edit(two, "key-set", 20, "channel", "x", "to", "25", "ease", "LINEAR");
        assertThat(moved.curve("x").key(20)).isNull();
        assertThat(moved.curve("x").key(25).value()).isEqualTo(5);
        assertThat(moved.curve("x").key(25).ease()).isEqualTo(Curve.Ease.LINEAR);
        assertThatThrownBy(() -> edit(two, "key-set", 20, "channel", "x", "to", "10"))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("keyed in frame 10 already");
        assertThat(edit(two, "key-clear", 1, "channel", "x").curve("x").empty()).isTrue();
    }

    /** A key that becomes free goes on as it went: the slope of its neighbours' chord. */
    @Test
    void aKeyThatBecomesFreeBeginsAlongItsNeighbours() {
        Performer p = MULE;
        for (int f = 0; f <= 20; f += 10) p = edit(p, "key", f, "channel", "z", "value", String.valueOf(0.5 * f));
        Curve.Key free = edit(p, "key-set", 10, "channel", "z", "ease", "FREE")
                .curve("z")
                .key(10);
        assertThat(free.in()).isEqualTo(0.5);
        assertThat(free.out()).isEqualTo(0.5);
    }

    @Test
    void wavesAreAddedChangedAndTakenAway() {
        Performer one = edit(MULE, "wave-add", 1, "channel", "y", "amplitude", "0.2", "seconds", "2");
        assertThat(one.curve("y").waves()).hasSize(1);
        Performer other = edit(one, "wave-set", 1, "channel", "y", "index", "0", "amplitude", "0.4");
        assertThat(other.curve("y").waves().get(0).amplitude()).isEqualTo(0.4);
        assertThat(edit(other, "wave-delete", 1, "channel", "y", "index", "0")
                        .curve("y")
                        .empty())
                .isTrue();
    }

    @Test
    void partsHaveChannelsOfTheirOwnAndNothingElseHas() {
        Performer p = MULE.withParts(List.of(new PartTurn("wheel left", "x", 40)));
        assertThat(edit(p, "key", 4, "channel", "part x wheel left")
                        .curve("part x wheel left")
                        .key(4)
                        .value())
                .isEqualTo(40);
        for (String bad : new String[] {"", "colour", "part y wheel left", "x\"><script>"})
            assertThatThrownBy(() -> edit(p, "key", 4, "channel", bad))
                    .isInstanceOf(BadInput.class)
                    .hasMessageContaining("nothing called");
    }

    @Test
    void aNumberThatIsKeyedIsSetByAKey() {
        Performer keyed = edit(MULE, "key", 10, "channel", "height");
        assertThat(keyed.set("height", 2.5, 12).heightMetres()).isEqualTo(1.8);
        assertThat(keyed.set("height", 2.5, 12).curve("height").key(12).value()).isEqualTo(2.5);
        assertThat(MULE.set("height", 2.5, 12).heightMetres()).isEqualTo(2.5);
        assertThat(MULE.set("pitch", 7, 1).pitchDeg()).isEqualTo(7);
    }
}
