package dasein.core.light.chart;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import dasein.core.BadInput;
import dasein.core.image.Encoding;
import dasein.core.image.Image;
import dasein.core.light.photo.Photo;
import dasein.core.light.photo.Response;
import java.nio.file.Files;
import java.nio.file.Path;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.EnumSource;
import org.junit.jupiter.params.provider.ValueSource;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

class ChartTest {
    @TempDir
    Path dir;

    /** Pairs of Sharma, Wu and Dalal (2005), table 1 (from memory); they print four digits. */
    @ParameterizedTest
    @CsvSource({
        "50, 2.6772, -79.7751, 50, 0, -82.7485, 2.0425",
        "50, 3.1571, -77.2803, 50, 0, -82.7485, 2.8615",
        "50, 2.8361, -74.0200, 50, 0, -82.7485, 3.4412",
        "50, -1.3802, -84.2814, 50, 0, -82.7485, 1.0000",
        "50, 0, 0, 50, -1, 2, 2.3669",
        "50, 2.5, 0, 50, 0, -2.5, 4.3065",
        "50, 2.5, 0, 73, 25, -18, 27.1492",
        "50, 2.5, 0, 61, -5, 29, 22.8977",
        "50, 2.5, 0, 56, -27, -3, 31.9030",
        "60.2574, -34.0099, 36.2677, 60.4626, -34.1751, 39.4387, 1.2644",
        "63.0109, -31.0961, -5.8663, 62.8187, -29.7946, -4.0864, 1.2630",
        "6.7747, -0.2908, -2.4247, 5.8714, -0.0985, -2.2286, 0.6377",
        "2.0776, 0.0795, -1.1350, 0.9033, -0.0636, -0.5514, 0.9082"
    })
    void differenceIsThePrintedOne(double l, double a, double b, double m, double c, double d, double e) {
        assertThat(Lab.difference(new double[] {l, a, b}, new double[] {m, c, d}))
                .isCloseTo(e, within(5e-5));
        assertThat(Lab.difference(new double[] {m, c, d}, new double[] {l, a, b}))
                .isCloseTo(e, within(5e-5));
    }

    /** Three lists from three sources describe one chart: a slip of memory in one would stand out. */
    @Test
    void editionsAgree() {
        double mean = 0;
        for (int i = 0; i < Patches.COUNT; i++) {
            double d = Lab.difference(Patches.AVERAGES.lab(i), Patches.BEFORE_2014.lab(i));
            assertThat(d).as("patch " + i).isLessThan(4);
            mean += d / Patches.COUNT;
        }
        assertThat(mean).isLessThan(1.8);
        for (int i = 0; i < Patches.COUNT; i++)
            assertThat(Lab.difference(Patches.SINCE_2014.lab(i), Patches.BEFORE_2014.lab(i)))
                    .as("patch " + i)
                    .isLessThan(2.5);
    }

    @ParameterizedTest
    @ValueSource(doubles = {180, 45})
    void isFoundTurnedAndReadThroughUnevenLight(double degrees) {
        KnownChart k = new KnownChart().turned(degrees);
        Chart c = Chart.of(k.photo(), null, null);
        for (int i = 0; i < 4; i++)
            assertThat(Math.hypot(c.corners()[i][0] - k.corners[i][0], c.corners()[i][1] - k.corners[i][1]))
                    .as("corner " + i)
                    .isLessThan(3);
        assertThat(c.fit().mean()).isLessThan(1);
        assertThat(c.fit().worst()).isLessThan(3);
        assertThat(c.encoding()).isEqualTo(Encoding.SRGB);
        // The matrix up to the level that the light's middle has.
        double level = 0;
        for (int j = 0; j < 9; j++) level += c.fit().matrix()[j] * k.matrix[j];
        double square = 0;
        for (double v : k.matrix) square += v * v;
        level /= square;
        for (int j = 0; j < 9; j++) assertThat(c.fit().matrix()[j] / level).isCloseTo(k.matrix[j], within(0.04));
        assertThat(c.fit().uneven()).isCloseTo(0.75, within(0.4));
    }

    /** What the light's unevenness costs where nobody takes it out. */
    @Test
    void evenLightIsNotTakenForUneven() {
        KnownChart k = new KnownChart();
        k.slope = k.bend = 0;
        k.noise = 0;
        Chart c = Chart.of(k.photo(), null, null);
        assertThat(c.fit().uneven()).isLessThan(0.05);
        assertThat(c.fit().mean()).isLessThan(0.5);
        // Exposed by 0.8: the matrix makes reflectance of it.
        assertThat(c.fit().matrix()[0] * 0.8).isCloseTo(k.matrix[0], within(0.03));
    }

    @ParameterizedTest
    @EnumSource(Patches.class)
    void editionIsTold(Patches edition) {
        KnownChart k = new KnownChart();
        k.edition = edition;
        Chart c = Chart.of(k.photo(), null, null);
        assertThat(c.edition()).isEqualTo(edition);
        assertThat(c.fit().mean()).isLessThan(1);
    }

    @Test
    void isFoundSmallAndLargeAndAtASlant() {
        KnownChart small = new KnownChart();
        small.corners = new double[][] {{290, 200}, {385, 208}, {381, 270}, {288, 263}};
        KnownChart tiny = new KnownChart();
        tiny.corners = new double[][] {{320, 200}, {392, 205}, {390, 252}, {319, 249}};
        KnownChart large = new KnownChart();
        large.corners = new double[][] {{21, 21}, {679, 42}, {665, 462}, {42, 448}};
        KnownChart slanted = new KnownChart();
        slanted.corners = new double[][] {{245, 105}, {420, 182}, {420, 364}, {245, 392}};
        for (KnownChart k : new KnownChart[] {small, large, slanted, tiny}) {
            Chart c = Chart.of(k.photo(), null, null);
            for (int i = 0; i < 4; i++)
                assertThat(Math.hypot(c.corners()[i][0] - k.corners[i][0], c.corners()[i][1] - k.corners[i][1]))
                        .isLessThan(5);
            assertThat(c.fit().mean()).isLessThan(1.2);
        }
    }

    @Test
    void anotherCurveIsSeenInTheGreysOrSaid() {
        KnownChart k = new KnownChart();
        k.curve = l -> Encoding.REC709.encode(l);
        assertThat(Chart.of(k.photo(), null, null).encoding()).isEqualTo(Encoding.REC709);
        k.curve = l -> l;
        assertThat(Chart.of(k.photo(), null, null).encoding()).isEqualTo(Encoding.LINEAR);
        assertThat(Chart.of(k.photo(), Response.LINEAR, null).fit().mean()).isLessThan(1);
    }

    @Test
    void cornersAreTakenFromAnyOneRoundEitherWay() {
        KnownChart k = new KnownChart();
        Photo p = k.photo();
        double[][] c = k.corners;
        double[][] rotated = {c[2], c[3], c[0], c[1]}, backward = {c[1], c[0], c[3], c[2]};
        for (double[][] given : new double[][][] {c, rotated, backward}) {
            Chart found = Chart.of(p, null, given);
            assertThat(found.corners()[0]).containsExactly(c[0]);
            assertThat(found.fit().mean()).isLessThan(1);
        }
        assertThatThrownBy(() -> Chart.of(p, null, new double[][] {c[0], c[2], c[1], c[3]}))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("go round");
        assertThatThrownBy(() -> Chart.of(p, null, new double[][] {c[0], c[1], c[2], {5000, 4}}))
                .hasMessageContaining("outside the picture");
    }

    @Test
    void noChartHalfAChartAndACutOffOneAreSaid() {
        Image stones = new Image(240, 180, 3);
        for (int i = 0; i < 43_200; i++)
            for (int c = 0; c < 3; c++) stones.planes[c][i] = ((i % 240) / 37 + i / 240 / 29) % 3 * 0.2f + 0.1f;
        assertThatThrownBy(() -> Chart.of(Photo.ofCodes("stones", stones), null, null))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("no chart");
        KnownChart half = new KnownChart();
        for (double[] c : half.corners) c[0] -= 322;
        assertThatThrownBy(() -> Chart.of(half.photo(), null, null))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("cut off by the edge");
        KnownChart bright = new KnownChart();
        bright.exposure = 12;
        assertThatThrownBy(() -> Chart.of(bright.photo(), null, bright.corners))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("cut off by the exposure");
    }

    @Test
    void fileHasItsForm() throws Exception {
        KnownChart k = new KnownChart();
        Path out = dir.resolve("chart.json");
        Chart.of(k.photo(), null, k.corners).write(out);
        JsonNode n = new JsonMapper().readTree(Files.readString(out));
        assertThat(n.path("matrix").size()).isEqualTo(9);
        assertThat(n.path("deltaE").path("mean").asDouble()).isGreaterThan(0).isLessThan(1);
        assertThat(n.path("deltaE").path("worst").asDouble()).isLessThan(3);
        assertThat(n.path("corners").get(3).get(1).asDouble()).isEqualTo(k.corners[3][1]);
    }
}
