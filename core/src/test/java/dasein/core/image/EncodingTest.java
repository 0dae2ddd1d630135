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
        for (int code = 0; code < 256; code++)
            assertThat(e.encode8(e.decode8(code))).isEqualTo(code);
        for (int code = 0; code < 65536; code += 7)
            assertThat(e.encode16((float) e.decode(code / 65535.0))).isEqualTo(code);
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

    /**
     * Academy S-2016-001, table of 18 % grey: 0.4135884. ITU-R BT.2408: diffuse white at 58 % of PQ and 75 % of HLG.
     * BT.2100: HLG 0.5 is 1/12 of its range.
     */
    @Test
    void wideCurvesAreTheStandards() {
        assertThat(Encoding.ACESCCT.encode(0.18)).isCloseTo(0.4135884, within(1e-6));
        assertThat(Encoding.ACESCCT.encode(0)).isCloseTo(0.0729055, within(1e-6));
        assertThat(Encoding.PQ.encode(1)).isCloseTo(0.58, within(0.002));
        assertThat(Encoding.PQ.decode(1)).isCloseTo(10000 / 203.0, within(1e-6));
        assertThat(Encoding.HLG.decode(0.75)).isCloseTo(1, within(1e-9));
        assertThat(Encoding.HLG.decode(0.5) / Encoding.HLG.decode(1)).isCloseTo(1 / 12.0, within(1e-6));
    }

    /** Common practice (values from memory): code 685 is white, 95 black, 18 % grey near 470. */
    @Test
    void printingDensityHasItsThreeCodes() {
        assertThat(Encoding.DENSITY.decode(685 / 1023.0)).isCloseTo(1, within(1e-9));
        assertThat(Encoding.DENSITY.decode(95 / 1023.0)).isCloseTo(0, within(1e-9));
        assertThat(Encoding.DENSITY.encode(0.18) * 1023).isCloseTo(470, within(3.0));
    }

    /**
     * ITU-R BT.2087 (2020 to 709); AP1 to Rec. 709 with Bradford as published with the ACES transforms (from memory);
     * neutral stays neutral.
     */
    @Test
    void primariesAreThePublishedMatrices() {
        close(
                Primaries.REC2020.toRec709(),
                1.6605,
                -0.5876,
                -0.0728,
                -0.1246,
                1.1329,
                -0.0083,
                -0.0182,
                -0.1006,
                1.1187);
        close(
                Primaries.AP1.toRec709(),
                1.70505,
                -0.62179,
                -0.08326,
                -0.13026,
                1.14080,
                -0.01055,
                -0.02400,
                -0.12897,
                1.15297);
        for (Primaries p : Primaries.values()) {
            Image im = new Image(1, 1, new float[] {0.4f}, new float[] {0.4f}, new float[] {0.4f}),
                    back = p.outOfRec709(p.intoRec709(im.copy()));
            for (int c = 0; c < 3; c++) {
                assertThat(p.intoRec709(im.copy()).planes[c][0]).isCloseTo(0.4f, within(1e-4f));
                assertThat(back.planes[c][0]).isCloseTo(0.4f, within(1e-6f));
            }
        }
    }

    private static void close(float[] m, double... want) {
        for (int i = 0; i < 9; i++) assertThat((double) m[i]).as("entry " + i).isCloseTo(want[i], within(2e-4));
    }
}
