package dasein.core.shot;

import static org.assertj.core.api.Assertions.assertThat;

import dasein.core.comp.step.Shadow;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import org.junit.jupiter.api.Test;

/** Documents of earlier versions mean what they meant. */
class UpgradesTest {
    private static String document(String name) throws IOException {
        try (InputStream in = UpgradesTest.class.getResourceAsStream("/documents/" + name)) {
            return new String(in.readAllBytes(), StandardCharsets.UTF_8);
        }
    }

    @Test
    void theTintOfVersionOneIsANumberAColour() {
        Shot s = ShotJson.read("{\"schema\": \"dasein-shot/1\", \"comp\": {\"shadowTint\": [0.9, 1.0, 1.2]}}");
        assertThat(s.comp().get(Shadow.RED)).isEqualTo(0.9);
        assertThat(s.comp().get(Shadow.GREEN)).isEqualTo(1);
        assertThat(s.comp().get(Shadow.BLUE)).isEqualTo(1.2);
        assertThat(s.schema()).isEqualTo("dasein-shot/" + Upgrades.newest());
    }

    /** Read, written and read again: the same shot, of the present version, whatever version it came from. */
    @Test
    void everyVersionSurvivesAsTheNewest() throws IOException {
        for (String name : new String[] {"rich-1.json", "short-1.json", "unknown-1.json"}) {
            Shot s = ShotJson.read(document(name));
            String text = ShotJson.write(s, document(name));
            assertThat(text).contains("dasein-shot/" + Upgrades.newest()).doesNotContain("shadowTint");
            assertThat(ShotJson.read(text)).isEqualTo(s);
        }
    }
}
