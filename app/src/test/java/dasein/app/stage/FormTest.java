package dasein.app.stage;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dasein.core.BadInput;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;

/** What a person may type. */
class FormTest {
    private static Form of(String name, String value) {
        return new Form(Map.of(name, value));
    }

    @Test
    void numbersAreReadAsPeopleWriteThem() {
        assertThat(of("v", "2.5").number("v", "v", 0, 0, 9)).isEqualTo(2.5);
        assertThat(of("v", " 2,5 ").number("v", "v", 0, 0, 9)).isEqualTo(2.5);
        assertThat(of("w", "1").number("v", "v", 7, 0, 9)).isEqualTo(7);
    }

    @Test
    void whatIsNoNumberOrOutsideIsRefusedWithItsName() {
        for (String bad : List.of("two", "NaN", "Infinity", "-Infinity", "1e999", "10", "-1"))
            assertThatThrownBy(() -> of("v", bad).number("v", "the speed", 0, 0, 9))
                    .as(bad)
                    .isInstanceOf(BadInput.class)
                    .hasMessageContaining("speed");
    }

    @Test
    void wholeNumbersAndChoicesAreThat() {
        assertThat(of("n", "12").whole("n", "n", 0, 0, 20)).isEqualTo(12);
        assertThatThrownBy(() -> of("n", "21").whole("n", "the count", 0, 0, 20))
                .isInstanceOf(BadInput.class);
        assertThat(of("k", "B").choice("k", "A", "A", "B")).isEqualTo("B");
        assertThatThrownBy(() -> of("k", "C").choice("k", "A", "A", "B")).isInstanceOf(BadInput.class);
        assertThatThrownBy(() -> of("index", "3").index(3)).isInstanceOf(BadInput.class);
    }

    @Test
    void aTickIsKnownByItsCompanion() {
        assertThat(of("other", "1").tick("on", true)).isTrue();
        assertThat(of("on_", "1").tick("on", true)).isFalse();
        assertThat(new Form(Map.of("on_", "1", "on", "on")).tick("on", false)).isTrue();
    }

    @Test
    void idsAreOnesOnly() {
        assertThat(of("ids", "3,1,3").ids("ids")).contains(3, 1);
        for (String bad : List.of("1;drop", "a", "1,,x"))
            assertThatThrownBy(() -> of("ids", bad).ids("ids")).as(bad).isInstanceOf(BadInput.class);
    }
}
