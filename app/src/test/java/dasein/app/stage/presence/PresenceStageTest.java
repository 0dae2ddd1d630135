package dasein.app.stage.presence;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dasein.app.ServerTest;
import dasein.core.BadInput;
import dasein.core.shot.Shot;
import dasein.core.shot.ShotJson;
import java.util.Map;
import org.junit.jupiter.api.Test;

/** Findings before anything is rendered, and what is meant so. */
class PresenceStageTest extends ServerTest {
    @Test
    void whatIsMeantSoIsInTheDocumentWithItsReason() {
        Shot s = edit(plated(), "presence", "waive", "key", "contact", "reason", "it hovers")
                .shot();
        assertThat(s.presence().waived()).isEqualTo(Map.of("contact", "it hovers"));
        assertThat(ShotJson.read(ShotJson.write(s)).presence()).isEqualTo(s.presence());
        assertThat(edit(s, "presence", "unwaive", "key", "contact")
                        .shot()
                        .presence()
                        .waived())
                .isEmpty();
        assertThatThrownBy(() -> edit(s, "presence", "waive", "key", "slide", "reason", " "))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("why");
    }

    @Test
    void nothingIsLookedAtWithoutACamera() throws Exception {
        long id = make(plated());
        var answer = client.post("/shots/" + id + "/presence/start", Map.of());
        assertThat(answer.statusCode()).isEqualTo(422);
        assertThat(answer.body()).contains("solve the camera first");
        assertThat(client.get("/shots/" + id + "/presence").body()).contains("Not looked at yet");
    }
}
