package dasein.core.image;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;

class EncodingTest {
    /** A plate that goes in and comes out untouched must be the same plate. */
    @ParameterizedTest
    @EnumSource(Encoding.class)
    void everyCodeComesBackExactly(Encoding e) {
        for (int code = 0; code < 256; code++) assertThat(e.encode8(e.decode8(code))).isEqualTo(code);
        for (int code = 0; code < 65536; code += 7) assertThat(e.encode16((float) e.decode(code / 65535.0))).isEqualTo(code);
    }

    /** IEC 61966-2-1: code 0.5 is linear 0.21404; both branches meet at 0.04045. */
    @Test
    void srgbIsTheStandards() {
        assertThat(Encoding.SRGB.decode(0.5)).isCloseTo(0.214041, within(1e-6));
        assertThat(Encoding.SRGB.decode(0.04045)).isCloseTo(0.04045 / 12.92, within(1e-9));
    }

    /** ITU-R BT.709-6 item 1.2: V = 1.099 L^0.45 - 0.099 above 0.018, 4.5 L below. */
    @Test
    void rec709IsTheCamerasCurve() {
        assertThat(Encoding.REC709.encode(0.18)).isCloseTo(1.099 * Math.pow(0.18, 0.45) - 0.099, within(3e-4));
        assertThat(Encoding.REC709.encode(0.01)).isCloseTo(0.045, within(1e-12));
        assertThat(Encoding.REC709.encode(1)).isCloseTo(1, within(1e-12));
    }
}
