package dasein.core.format;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import dasein.core.BadInput;
import java.nio.charset.StandardCharsets;
import org.junit.jupiter.api.Test;

/** Laid out as in the example of the ASC's specification (from memory). */
class DecisionListTest {
    private static final String EXAMPLE =
            """
            <ColorDecisionList xmlns="urn:ASC:CDL:v1.01">
              <ColorDecision><ColorCorrection id="cc03345"><SOPNode>
                <Description>change +1 red, contrast boost</Description>
                <Slope>1.2 1.3 1.4</Slope><Offset>0.3 0.0 -0.1</Offset><Power>1.0 0.9 1.1</Power>
              </SOPNode><SatNode><Saturation>1.2</Saturation></SatNode></ColorCorrection></ColorDecision>
            </ColorDecisionList>
            """;

    private static DecisionList read(String s) {
        return DecisionList.read(s.getBytes(StandardCharsets.UTF_8), "look.cdl");
    }

    @Test
    void readAndWrittenItIsTheSame() {
        DecisionList d = read(EXAMPLE);
        assertThat(d.slope()).containsExactly(1.2, 1.3, 1.4);
        assertThat(d.offset()).containsExactly(0.3, 0, -0.1);
        assertThat(d.saturation()).isEqualTo(1.2);
        DecisionList back = read(d.written("LW 010"));
        assertThat(back.power()).containsExactly(new double[] {1, 0.9, 1.1}, within(1e-9));
        assertThat(d.written("LW 010")).contains("id=\"LW_010\"");
        // What is not said is at rest.
        assertThat(read("<ColorCorrection><SatNode><Saturation>0.5</Saturation></SatNode></ColorCorrection>")
                        .slope())
                .containsExactly(1, 1, 1);
    }

    @Test
    void whatCannotBeIsRefusedWithASentence() {
        String[][] bad = {
            {EXAMPLE.replace("1.0 0.9 1.1", "1.0 -0.9 1.1"), "power"},
            {EXAMPLE.replace("1.2 1.3 1.4", "1.2 1.3"), "2 numbers for Slope"},
            {EXAMPLE.replace("1.2 1.3 1.4", "1.2 -1.3 1"), "negative slope"},
            {EXAMPLE.replace("0.3 0.0 -0.1", "0.3 NaN -0.1"), "no number"},
            {EXAMPLE.replace("0.3 0.0 -0.1", "0.3 a -0.1"), "no number"},
            {"<ColorDecisionList/>", "no slope"},
            {"slope 1 1 1", "not a colour decision list"},
            {"<!DOCTYPE x [<!ENTITY a SYSTEM \"file:///etc/passwd\">]><x>&a;</x>", "not a colour decision list"}
        };
        for (String[] b : bad)
            assertThatThrownBy(() -> read(b[0]))
                    .as(b[1])
                    .isInstanceOf(BadInput.class)
                    .hasMessageContaining(b[1]);
    }
}
