package dasein.app;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.net.CookieManager;
import java.net.URI;
import java.net.URLEncoder;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.util.HashMap;
import java.util.Map;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** A browser without pictures: keeps cookies, sends the token of the page. */
public final class Client {
    private static final Pattern TOKEN = Pattern.compile("name=\"_csrf\" value=\"([^\"]+)\"");

    private static final Pattern CHANGE = Pattern.compile("/shots/(\\d+)/\\w+/(edit|undo|redo)");

    private final HttpClient http =
            HttpClient.newBuilder().cookieHandler(new CookieManager()).build();
    private final String base;
    private String token;

    public Client(int port) {
        base = "http://127.0.0.1:" + port;
    }

    public HttpResponse<String> get(String path) throws IOException, InterruptedException {
        return http.send(HttpRequest.newBuilder(URI.create(base + path)).build(), HttpResponse.BodyHandlers.ofString());
    }

    public HttpResponse<byte[]> bytes(String path) throws IOException, InterruptedException {
        return http.send(
                HttpRequest.newBuilder(URI.create(base + path)).build(), HttpResponse.BodyHandlers.ofByteArray());
    }

    public JsonNode json(String path) throws IOException, InterruptedException {
        return new JsonMapper().readTree(get(path).body());
    }

    private String token() throws IOException, InterruptedException {
        if (token == null) {
            Matcher m = TOKEN.matcher(get("/").body());
            if (!m.find()) throw new IllegalStateException("no token on the page");
            token = m.group(1);
        }
        return token;
    }

    /** A form; a change says that what stands now was seen, unless it says something else. */
    public HttpResponse<String> post(String path, Map<String, String> given) throws IOException, InterruptedException {
        Map<String, String> fields = new HashMap<>(given);
        Matcher shot = CHANGE.matcher(path);
        if (shot.matches())
            fields.putIfAbsent(
                    "seen",
                    Long.toString(json("/shots/" + shot.group(1) + "/data.json")
                            .path("revision")
                            .asLong()));
        String body = fields.entrySet().stream()
                .map(e -> e.getKey() + "=" + URLEncoder.encode(e.getValue(), StandardCharsets.UTF_8))
                .collect(Collectors.joining("&"));
        return http.send(
                HttpRequest.newBuilder(URI.create(base + path))
                        .header("X-CSRF-TOKEN", token())
                        .header("HX-Request", "true")
                        .header("Content-Type", "application/x-www-form-urlencoded")
                        .POST(HttpRequest.BodyPublishers.ofString(body))
                        .build(),
                HttpResponse.BodyHandlers.ofString());
    }

    /** Raw bytes. */
    public HttpResponse<String> send(String path, byte[] body) throws IOException, InterruptedException {
        return http.send(
                HttpRequest.newBuilder(URI.create(base + path))
                        .header("X-CSRF-TOKEN", token())
                        .header("HX-Request", "true")
                        .header("Content-Type", "application/octet-stream")
                        .POST(HttpRequest.BodyPublishers.ofByteArray(body))
                        .build(),
                HttpResponse.BodyHandlers.ofString());
    }

    public HttpResponse<String> upload(
            String path, String field, String name, byte[] content, Map<String, String> fields)
            throws IOException, InterruptedException {
        return upload(path, field, Map.of(name, content), fields);
    }

    /** Several files in one form. @param files by their names */
    public HttpResponse<String> upload(String path, String field, Map<String, byte[]> files, Map<String, String> fields)
            throws IOException, InterruptedException {
        String edge = "----dasein" + System.nanoTime();
        ByteArrayOutputStream all = new ByteArrayOutputStream();
        for (var e : fields.entrySet())
            text(
                    all,
                    "--" + edge + "\r\nContent-Disposition: form-data; name=\"" + e.getKey() + "\"\r\n\r\n"
                            + e.getValue() + "\r\n");
        for (var e : files.entrySet()) {
            text(
                    all,
                    "--" + edge + "\r\nContent-Disposition: form-data; name=\"" + field + "\"; filename=\"" + e.getKey()
                            + "\"\r\nContent-Type: application/octet-stream\r\n\r\n");
            all.write(e.getValue());
            text(all, "\r\n");
        }
        text(all, "--" + edge + "--\r\n");
        return http.send(
                HttpRequest.newBuilder(URI.create(base + path))
                        .header("X-CSRF-TOKEN", token())
                        .header("Content-Type", "multipart/form-data; boundary=" + edge)
                        .POST(HttpRequest.BodyPublishers.ofByteArray(all.toByteArray()))
                        .build(),
                HttpResponse.BodyHandlers.ofString());
    }

    private static void text(ByteArrayOutputStream to, String s) throws IOException {
        to.write(s.getBytes(StandardCharsets.UTF_8));
    }
}
