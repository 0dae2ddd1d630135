package dasein.app.access;

import static org.assertj.core.api.Assertions.assertThat;

import dasein.app.Server;
import dasein.app.TestDatabase;
import java.io.ByteArrayOutputStream;
import java.net.CookieManager;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.zip.CRC32;
import java.util.zip.DeflaterOutputStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.springframework.beans.factory.annotation.Autowired;
import org.springframework.boot.test.context.SpringBootTest;
import org.springframework.boot.test.web.server.LocalServerPort;
import org.springframework.test.context.DynamicPropertyRegistry;
import org.springframework.test.context.DynamicPropertySource;

/** Who is let in, by what browsers and proxies say of a request, and what is let in with it. */
@SpringBootTest(classes = Server.class, webEnvironment = SpringBootTest.WebEnvironment.RANDOM_PORT)
class AccessTest {
    @TempDir
    static Path folder;

    @DynamicPropertySource
    static void place(DynamicPropertyRegistry r) {
        String url = TestDatabase.make("access_test");
        r.add("spring.datasource.url", () -> url);
        r.add("dasein.media", () -> folder.resolve("media").toString());
    }

    @LocalServerPort
    int port;

    @Autowired
    dasein.app.store.Shots shots;

    private final HttpClient http =
            HttpClient.newBuilder().cookieHandler(new CookieManager()).build();

    private HttpResponse<String> get(String path, String... headers) throws Exception {
        HttpRequest.Builder b = HttpRequest.newBuilder(URI.create("http://127.0.0.1:" + port + path));
        if (headers.length > 0) b.headers(headers);
        return http.send(b.build(), HttpResponse.BodyHandlers.ofString());
    }

    @Test
    void foreignPagesMayLinkToUsAndNoMore() throws Exception {
        assertThat(get("/").statusCode()).isEqualTo(200);
        assertThat(get("/", "Sec-Fetch-Site", "same-origin", "Sec-Fetch-Mode", "cors")
                        .statusCode())
                .isEqualTo(200);
        assertThat(get("/", "Sec-Fetch-Site", "cross-site", "Sec-Fetch-Mode", "navigate", "Sec-Fetch-Dest", "document")
                        .statusCode())
                .isEqualTo(200);
        // A picture, a script, a frame of another site.
        for (String[] h : new String[][] {
            {"Sec-Fetch-Site", "cross-site", "Sec-Fetch-Mode", "no-cors", "Sec-Fetch-Dest", "image"},
            {"Sec-Fetch-Site", "same-site", "Sec-Fetch-Mode", "cors", "Sec-Fetch-Dest", "empty"},
            {"Sec-Fetch-Site", "cross-site", "Sec-Fetch-Mode", "navigate", "Sec-Fetch-Dest", "iframe"}
        }) assertThat(get("/", h).statusCode()).as(h[5]).isEqualTo(403);
    }

    @Test
    void whatCameThroughAProxyIsNotTheOwner() throws Exception {
        for (String h : new String[] {"X-Forwarded-For", "Forwarded", "X-Real-IP", "Via"})
            assertThat(get("/", h, "for=192.0.2.1").statusCode()).as(h).isEqualTo(403);
    }

    @Test
    void theCookieIsOursAndStaysHere() throws Exception {
        String cookie = http.send(
                        HttpRequest.newBuilder(URI.create("http://127.0.0.1:" + port + "/"))
                                .build(),
                        HttpResponse.BodyHandlers.ofString())
                .headers()
                .firstValue("set-cookie")
                .orElseThrow();
        assertThat(cookie).startsWith("dasein=").contains("SameSite=Strict").contains("HttpOnly");
    }

    private static void chunk(ByteArrayOutputStream out, String type, byte[] data) {
        byte[] t = type.getBytes(StandardCharsets.US_ASCII);
        CRC32 crc = new CRC32();
        crc.update(t);
        crc.update(data);
        out.writeBytes(java.nio.ByteBuffer.allocate(4).putInt(data.length).array());
        out.writeBytes(t);
        out.writeBytes(data);
        out.writeBytes(
                java.nio.ByteBuffer.allocate(4).putInt((int) crc.getValue()).array());
    }

    /** Black, grey of 16 bit, as few bytes as a large picture can have. */
    private static byte[] png(int w, int h) throws Exception {
        ByteArrayOutputStream rows = new ByteArrayOutputStream(), out = new ByteArrayOutputStream();
        try (DeflaterOutputStream z = new DeflaterOutputStream(rows)) {
            byte[] row = new byte[1 + 6 * w];
            for (int y = 0; y < h; y++) z.write(row);
        }
        out.writeBytes(new byte[] {(byte) 0x89, 'P', 'N', 'G', '\r', '\n', 0x1a, '\n'});
        byte[] size = java.nio.ByteBuffer.allocate(13)
                .putInt(w)
                .putInt(h)
                .put(new byte[] {16, 2, 0, 0, 0})
                .array();
        chunk(out, "IHDR", size);
        chunk(out, "IDAT", rows.toByteArray());
        chunk(out, "IEND", new byte[0]);
        return out.toByteArray();
    }

    private HttpResponse<String> send(long shot, String stage, String name, byte[] file) throws Exception {
        Matcher token = Pattern.compile("name=\"_csrf\" value=\"([^\"]+)\"").matcher(get("/").body());
        assertThat(token.find()).isTrue();
        String edge = "----dasein";
        ByteArrayOutputStream b = new ByteArrayOutputStream();
        b.writeBytes(("--" + edge + "\r\nContent-Disposition: form-data; name=\"file\"; filename=\"" + name
                        + "\"\r\nContent-Type: application/octet-stream\r\n\r\n")
                .getBytes(StandardCharsets.UTF_8));
        b.writeBytes(file);
        b.writeBytes(("\r\n--" + edge + "--\r\n").getBytes(StandardCharsets.UTF_8));
        return http.send(
                HttpRequest.newBuilder(
                                URI.create("http://127.0.0.1:" + port + "/shots/" + shot + "/" + stage + "/upload"))
                        .header("X-CSRF-TOKEN", token.group(1))
                        .header("HX-Request", "true")
                        .header("Content-Type", "multipart/form-data; boundary=" + edge)
                        .POST(HttpRequest.BodyPublishers.ofByteArray(b.toByteArray()))
                        .build(),
                HttpResponse.BodyHandlers.ofString());
    }

    /** A file of a few hundred kilobytes that would fill the memory of everybody is refused before it does. */
    @Test
    void aPictureThatWouldFillTheMemoryIsRefusedInASentence() throws Exception {
        long shot = shots.create("Low Water", "LW_" + System.nanoTime(), dasein.core.shot.Shot.BLANK);
        byte[] huge = png(30_000, 15_000);
        assertThat(huge.length).isLessThan(8_000_000);
        HttpResponse<String> a = send(shot, "light", "sky.png", huge);
        assertThat(a.statusCode()).isEqualTo(422);
        assertThat(a.body()).contains("sky.png").contains("30000 x 15000");
        assertThat(get("/shots/" + shot + "/light").statusCode()).isEqualTo(200);
    }
}
