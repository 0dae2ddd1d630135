package dasein.core.image;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;

/** Tables give what their curves give. */
class CodeTableTest {
    @ParameterizedTest
    @EnumSource(Encoding.class)
    void tablesAreTheCurves(Encoding e) {
        CodeTable t = CodeTable.of(e);
        for (double v = -0.2; v < 2; v += 0.000937) {
            double l = e.decode(v);
            if (!Double.isFinite(l)) continue;
            assertThat((double) t.decode((float) v))
                    .as("light of %.4f", v)
                    .isCloseTo(l, within(2e-5 * Math.abs(l) + 2e-6));
        }
        for (double l = 1e-8; l < 50; l *= 1.013) {
            assertThat((double) t.encode((float) l))
                    .as("code of %.3g", l)
                    .isCloseTo(e.encode((float) l), within(2e-6 * Math.max(1, Math.abs(e.encode(l)))));
            assertThat((double) t.encode((float) -l))
                    .isCloseTo(e.encode((float) -l), within(2e-6 * Math.max(1, Math.abs(e.encode(-l)))));
        }
        assertThat((double) t.encode(0)).isCloseTo(e.encode(0), within(1e-6));
    }
}
