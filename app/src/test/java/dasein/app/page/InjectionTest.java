package dasein.app.page;

import static org.assertj.core.api.Assertions.assertThat;

import dasein.app.Frames;
import dasein.app.ServerTest;
import dasein.core.shot.Shot;
import dasein.core.shot.ShotJson;
import java.io.ByteArrayInputStream;
import java.net.http.HttpResponse;
import java.nio.file.Files;
import java.nio.file.Path;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;
import tools.jackson.databind.node.StringNode;

/** Whatever a person calls things, it is shown as text and never becomes part of a page. */
class InjectionTest extends ServerTest {
    private static final String EVIL = "<script>x()</script>\"'><img src=x onerror=x()>${7*7}__${7*7}__";
    private static final JsonMapper JSON = new JsonMapper();

    /** Puts the name wherever the document has one that people give. */
    private static int rename(JsonNode n) {
        int count = 0;
        if (n instanceof ObjectNode o) {
            for (String key : new String[] {"name", "notes", "lens", "timecode"})
                if (o.get(key) instanceof StringNode) {
                    o.put(key, EVIL);
                    count++;
                }
            for (JsonNode e : o.values()) count += rename(e);
        } else if (n instanceof ArrayNode a) {
            for (JsonNode e : a) count += rename(e);
        }
        return count;
    }

    @Test
    void namesStayText() throws Exception {
        JsonNode rich = JSON.readTree(Files.readString(Path.of("core/src/test/resources/documents/rich-1.json")));
        assertThat(rename(rich)).as("names in the document").isGreaterThan(8);
        Shot s = ShotJson.read(JSON.writeValueAsString(rich));
        // The file's name is the person's too.
        String plate = media.plate(new ByteArrayInputStream(Frames.zip(4, 160, 96)), EVIL.replace('/', '_'))
                .hash();
        s = s.with(s.plate().withFile(plate).read("", "24", 0, 0));
        long id = shots.create(EVIL.substring(0, 60), EVIL.substring(0, 60), s);
        int seen = 0;
        for (String path : new String[] {
            "/",
            "/tasks",
            "/shots/" + id + "/plate",
            "/shots/" + id + "/tracks",
            "/shots/" + id + "/camera",
            "/shots/" + id + "/set",
            "/shots/" + id + "/blocking",
            "/shots/" + id + "/light",
            "/shots/" + id + "/passes",
            "/shots/" + id + "/comp",
            "/shots/" + id + "/presence",
            "/shots/" + id + "/output"
        }) {
            HttpResponse<String> a = client.get(path);
            assertThat(a.statusCode()).as(path).isEqualTo(200);
            assertThat(a.body())
                    .as(path)
                    .doesNotContain("<script>x()")
                    .doesNotContain("<img src=x")
                    .doesNotContain("49__");
            if (a.body().contains("&lt;script&gt;x()")) seen++;
        }
        assertThat(seen).as("pages that show such a name").isGreaterThan(9);
        HttpResponse<String> data = client.get("/shots/" + id + "/data.json");
        assertThat(data.headers().firstValue("content-type").orElse("")).startsWith("application/json");
        assertThat(data.headers().firstValue("x-content-type-options").orElse(""))
                .isEqualTo("nosniff");
    }
}
