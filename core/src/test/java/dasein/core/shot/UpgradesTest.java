package dasein.core.shot;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import dasein.core.comp.step.Shadow;
import dasein.core.ground.Piece;
import dasein.core.solve.LensTerms;
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
    void theTintOfVersionOneIsWhatIsLeftOfEachColour() {
        Shot s = ShotJson.read("{\"schema\": \"dasein-shot/1\", \"comp\": {\"shadowTint\": [0.9, 1.0, 1.2]}}");
        assertThat(s.comp().get(Shadow.RED)).isCloseTo(0.1, within(1e-12));
        assertThat(s.comp().get(Shadow.GREEN)).isZero();
        assertThat(s.comp().get(Shadow.BLUE)).isCloseTo(-0.2, within(1e-12));
        assertThat(s.schema()).isEqualTo("dasein-shot/" + Upgrades.newest());
    }

    /** Ticks that somebody set are kept as what was meant; as they were by themselves they meant nothing. */
    @Test
    void ticksOfTheLensAreAskedTerms() {
        assertThat(ShotJson.read("{\"schema\": \"dasein-shot/4\", \"camera\": {\"solveK1\": true, \"solveK2\": true}}")
                        .camera()
                        .terms())
                .isEqualTo(LensTerms.of(true, true, false, false, false));
        assertThat(ShotJson.read("{\"schema\": \"dasein-shot/4\", \"camera\": {\"solveK1\": true, \"centre\": false}}")
                        .camera()
                        .terms())
                .isEqualTo(LensTerms.FIND);
        assertThat(ShotJson.read("{\"schema\": \"dasein-shot/4\", \"camera\": {\"solveK1\": false}}")
                        .camera()
                        .terms())
                .isEqualTo(LensTerms.NONE);
    }

    /** Whole places in some frames became a curve a number; straight between them, as they were. */
    @Test
    void theKeysOfAPieceOfVersionTwoAreCurves() {
        Shot s = ShotJson.read(
                """
                {"schema": "dasein-shot/2", "set": {"pieces": [{"id": 3, "name": "gate", "kind": "BOX", "x": 1, "y": 0,
                 "z": -2, "headingDeg": 0, "width": 1, "height": 2, "depth": 0.1, "steps": 0, "corners": [],
                 "roles": ["HIDE"], "roughness": 0.3, "strength": 1, "model": "", "follows": 0, "builtIn": 0,
                 "keys": [{"frame": 1, "x": 1, "y": 0, "z": -2, "headingDeg": 0},
                          {"frame": 11, "x": 3, "y": 0, "z": -2, "headingDeg": 90}]}]}}""");
        Piece.Stand at = s.set().pieces().get(0).stand(6, 24);
        assertThat(at).isEqualTo(new Piece.Stand(2, 0, -2, 45));
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
