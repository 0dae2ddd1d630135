package dasein.core.render.pass;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.Map;
import java.util.Random;
import org.junit.jupiter.api.Test;

/** Identity mattes by the Cryptomatte specification 1.2. */
class MattesTest {
    /** MurmurHash3_x86_32 with seed 0: published vectors (from memory), none of which needs its exponent changed. */
    @Test
    void namesAreHashedAsTheSpecificationSays() {
        assertThat(Mattes.id("test")).isEqualTo(0xba6bd213);
        assertThat(Mattes.id("Hello, world!")).isEqualTo(0xc0363e43);
        assertThat(Mattes.id("The quick brown fox jumps over the lazy dog")).isEqualTo(0x2e4ff723);
        // The specification's own example (from memory).
        assertThat(Float.intBitsToFloat(Mattes.id("hello"))).isCloseTo(6.0705627e-17f, within(1e-23f));
        // Not only seven-bit letters.
        assertThat(Mattes.id("Möwe")).isNotEqualTo(Mattes.id("Mowe"));
    }

    /** No name may be a float that a file or a program would change: 1 of 128 names would be. */
    @Test
    void noNameIsDenormalOrEndless() {
        assertThat(Mattes.id("")).as("zero bits").isEqualTo(1 << 23);
        int changed = 0;
        for (int i = 0; i < 20_000; i++) {
            float f = Float.intBitsToFloat(Mattes.id("strider_" + i));
            assertThat(Float.isFinite(f)).isTrue();
            assertThat(Math.abs(f)).isGreaterThanOrEqualTo(Float.MIN_NORMAL);
            int exponent = Math.getExponent(f);
            if (exponent == -126 || exponent == 127) changed++;
        }
        // Two exponents are folded onto their neighbours: 4 of 256.
        assertThat(changed / 20_000.0).isCloseTo(4 / 256.0, within(0.005));
    }

    @Test
    void theLargestStandsFirstAndCoverageAddsUp() {
        Mattes.Counts counts = new Mattes.Counts(3);
        int[] times = {5, 1, 9, 3};
        for (int name = 0; name < 4; name++) for (int k = 0; k < times[name]; k++) counts.add(1, 100 + name);
        float[][] planes = new float[2 * Mattes.RANKS][3];
        counts.resolve(1, 1 / 20f, planes);
        int[] order = {102, 100, 103, 101};
        float all = 0;
        for (int rank = 0; rank < 4; rank++) {
            assertThat(Float.floatToRawIntBits(planes[2 * rank][1])).isEqualTo(order[rank]);
            assertThat(planes[2 * rank + 1][1]).isCloseTo(times[order[rank] - 100] / 20f, within(1e-6f));
            all += planes[2 * rank + 1][1];
        }
        assertThat(all).isCloseTo(0.9f, within(1e-6f));
        assertThat(planes[1][0]).isZero();
        assertThat(planes[8][1]).isZero();
    }

    /** More names than there is room for: those that cover much are kept. */
    @Test
    void manyNamesLoseOnlyTheSmall() {
        Mattes.Counts counts = new Mattes.Counts(1);
        Random r = new Random(3);
        for (int k = 0; k < 4000; k++) counts.add(0, r.nextInt(10) < 7 ? 1 + r.nextInt(2) : 10 + r.nextInt(40));
        float[][] planes = new float[2 * Mattes.RANKS][1];
        counts.resolve(0, 1 / 4000f, planes);
        assertThat(Float.floatToRawIntBits(planes[0][0]) + Float.floatToRawIntBits(planes[2][0]))
                .isEqualTo(3);
        assertThat(planes[1][0] + planes[3][0]).isCloseTo(0.7f, within(0.05f));
    }

    @Test
    void theHeadTellsWhichNameIsWhich() {
        Map<String, String> said =
                Mattes.attributes(Map.of(Mattes.Kind.PERFORMER, Map.of("strider", Mattes.id("strider"))));
        String key = said.keySet().stream()
                .filter(k -> k.endsWith("/manifest"))
                .findFirst()
                .orElseThrow();
        // cryptomatte/<first seven digits of the layer's own hash>/...
        assertThat(key).matches("cryptomatte/[0-9a-f]{7}/manifest");
        String base = key.substring(0, key.length() - "manifest".length());
        assertThat(said.get(base + "name")).isEqualTo("MattePerformer");
        assertThat(said.get(base + "hash")).isEqualTo("MurmurHash3_32");
        assertThat(said.get(base + "conversion")).isEqualTo("uint32_to_float32");
        assertThat(said.get(key)).isEqualTo("{\"strider\":\"%08x\"}".formatted(Mattes.id("strider")));
        assertThat(Mattes.pass(Mattes.Kind.PERFORMER).channels())
                .startsWith("MattePerformer00.R", "MattePerformer00.G", "MattePerformer00.B", "MattePerformer00.A")
                .hasSize(12);
    }
}
