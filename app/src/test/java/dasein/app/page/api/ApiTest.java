package dasein.app.page.api;

import static org.assertj.core.api.Assertions.assertThat;

import dasein.app.Frames;
import dasein.app.ServerTest;
import dasein.core.format.MovieReader;
import java.io.ByteArrayOutputStream;
import java.net.URI;
import java.net.URLEncoder;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** A script drives a shot from footage to movie, as docs/api.md shows it. */
class ApiTest extends ServerTest {
    private static final JsonMapper JSON = new JsonMapper();

    @TempDir
    Path folder;

    private final HttpClient http = HttpClient.newHttpClient();
    private String key;

    private String key(String name) throws Exception {
        String page = client.post("/keys", Map.of("name", name)).body();
        return page.replaceAll("(?s).*<code id=\"fresh\">([A-Za-z0-9_-]{43})</code>.*", "$1");
    }

    private HttpResponse<byte[]> ask(HttpRequest.Builder q) throws Exception {
        if (key != null) q.header("Authorization", "Bearer " + key);
        return http.send(q.build(), HttpResponse.BodyHandlers.ofByteArray());
    }

    private HttpRequest.Builder to(String path) {
        return HttpRequest.newBuilder(URI.create("http://127.0.0.1:" + port + path));
    }

    private JsonNode get(String path) throws Exception {
        return JSON.readTree(ask(to(path)).body());
    }

    private HttpResponse<byte[]> form(String path, Map<String, String> fields) throws Exception {
        String body = fields.entrySet().stream()
                .map(e -> e.getKey() + "=" + URLEncoder.encode(e.getValue(), StandardCharsets.UTF_8))
                .collect(Collectors.joining("&"));
        return ask(to(path).header("Content-Type", "application/x-www-form-urlencoded")
                .POST(HttpRequest.BodyPublishers.ofString(body)));
    }

    private JsonNode send(String path, String field, String name, byte[] file, Map<String, String> fields)
            throws Exception {
        ByteArrayOutputStream b = new ByteArrayOutputStream();
        for (var e : fields.entrySet())
            b.write(("--cut\r\nContent-Disposition: form-data; name=\"" + e.getKey() + "\"\r\n\r\n" + e.getValue()
                            + "\r\n")
                    .getBytes(StandardCharsets.UTF_8));
        b.write(("--cut\r\nContent-Disposition: form-data; name=\"" + field + "\"; filename=\"" + name
                        + "\"\r\nContent-Type: application/octet-stream\r\n\r\n")
                .getBytes(StandardCharsets.UTF_8));
        b.write(file);
        b.write("\r\n--cut--\r\n".getBytes(StandardCharsets.UTF_8));
        HttpResponse<byte[]> a = ask(to(path).header("Content-Type", "multipart/form-data; boundary=cut")
                .POST(HttpRequest.BodyPublishers.ofByteArray(b.toByteArray())));
        assertThat(a.statusCode()).as(new String(a.body())).isEqualTo(201);
        return JSON.readTree(a.body());
    }

    /** Starts work and asks until it has ended, as scripts do. */
    private void done(long shot, String stage, Map<String, String> fields) throws Exception {
        HttpResponse<byte[]> a = form("/api/v1/shots/" + shot + "/" + stage + "/start", fields);
        assertThat(a.statusCode()).as(stage + ": " + new String(a.body())).isEqualTo(200);
        for (JsonNode t : JSON.readTree(a.body())) {
            JsonNode now = t;
            while (List.of("waiting", "running").contains(now.path("state").asString())) {
                Thread.sleep(100);
                now = get("/api/v1/tasks/" + t.path("id").asLong());
            }
            assertThat(now.path("state").asString())
                    .as(stage + ": " + now.path("note").asString())
                    .isEqualTo("done");
        }
    }

    private void edit(long shot, String stage, Map<String, String> fields) throws Exception {
        HttpResponse<byte[]> a = form("/api/v1/shots/" + shot + "/" + stage + "/edit", fields);
        assertThat(a.statusCode()).as(stage + ": " + new String(a.body())).isEqualTo(200);
    }

    @Test
    void fromFootageToMovie() throws Exception {
        key = key("nightly");
        JsonNode made = send(
                "/api/v1/shots",
                "plate",
                "take.zip",
                Frames.zip(12, 320, 180, 77),
                Map.of("show", "Low Water", "name", "LW_" + System.nanoTime()));
        long id = made.path("id").asLong();
        assertThat(made.path("stages")).hasSize(10);
        edit(id, "plate", Map.of("action", "read", "rate", "24"));
        done(id, "tracks", Map.of());
        assertThat(get("/api/v1/shots/" + id)
                        .path("stages")
                        .get(1)
                        .path("state")
                        .asString())
                .isEqualTo("fresh");
        edit(id, "comp", Map.of("action", "edit", "exposure", "0.5"));
        done(id, "output", Map.of("format", "h264", "from", "2", "to", "9"));
        JsonNode file = get("/api/v1/shots/" + id + "/written").get(0);
        Path movie = folder.resolve(file.path("name").asString());
        Files.write(
                movie,
                ask(to("/api/v1/shots/" + id + "/written/" + file.path("print").asString()))
                        .body());
        assertThat(Files.size(movie)).isEqualTo(file.path("bytes").asLong());
        try (MovieReader r = new MovieReader(movie)) {
            assertThat(r.frameCount).isEqualTo(8);
        }
        assertThat(new String(ask(to("/api/v1/shots/" + id + "/document")).body()))
                .contains("\"schema\" : \"dasein-shot/");
        assertThat(get("/api/v1/shots").toString()).contains(made.path("name").asString());
    }

    @Test
    void onlyAKeyOpensIt() throws Exception {
        assertThat(ask(to("/api/v1/shots")).statusCode())
                .as("none, from this machine")
                .isEqualTo(403);
        key = "a".repeat(43);
        assertThat(ask(to("/api/v1/shots")).statusCode()).isEqualTo(403);
        key = key("one");
        assertThat(ask(to("/api/v1/shots")).statusCode()).isEqualTo(200);
        // It opens the interface and nothing else: elsewhere it does not count.
        HttpResponse<byte[]> page = ask(to("/shots/1/plate").header("X-Forwarded-For", "10.0.0.9"));
        assertThat(page.statusCode()).isEqualTo(403);
        String list = client.get("/keys").body();
        assertThat(list).contains("one").doesNotContain(key);
        String mine = list.replaceAll("(?s).*one</td>.*?/keys/(\\d+)/revoke.*", "$1");
        client.post("/keys/" + mine + "/revoke", Map.of());
        assertThat(ask(to("/api/v1/shots")).statusCode()).as("taken back").isEqualTo(403);
    }

    @Test
    void whatIsWrongIsSaidInJson() throws Exception {
        key = key("two");
        HttpResponse<byte[]> a = ask(to("/api/v1/shots/999999"));
        assertThat(a.statusCode()).isEqualTo(404);
        assertThat(JSON.readTree(a.body()).path("error").asString()).isNotBlank();
        long id = make(plated());
        HttpResponse<byte[]> b = form("/api/v1/shots/" + id + "/output/start", Map.of("format", "none"));
        assertThat(b.statusCode()).isEqualTo(422);
        assertThat(JSON.readTree(b.body()).path("error").asString()).contains("none");
        HttpResponse<byte[]> c =
                form("/api/v1/shots/" + id + "/comp/edit", Map.of("action", "edit", "gain", "2", "seen", "1"));
        assertThat(c.statusCode()).as("another edit came between").isEqualTo(409);
    }

    /** What the document says there is, is what there is. */
    @Test
    void theDocumentNamesEveryRoute() throws Exception {
        key = key("three");
        JsonNode doc = get("/api/v1/openapi.json");
        assertThat(doc.path("openapi").asString()).startsWith("3.");
        assertThat(doc.path("paths").propertyNames())
                .contains(
                        "/api/v1/shots",
                        "/api/v1/shots/{id}",
                        "/api/v1/shots/{id}/{stage}/edit",
                        "/api/v1/shots/{id}/{stage}/start",
                        "/api/v1/tasks/{task}",
                        "/api/v1/shots/{id}/written/{print}")
                .allMatch(p -> p.startsWith("/api/v1/"));
    }
}
