package dasein.app.access;

import static org.assertj.core.api.Assertions.assertThat;

import dasein.app.ServerTest;
import java.io.IOException;
import java.net.InetAddress;
import java.net.Socket;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.Test;

/**
 * Who is let in, by what the request says of itself; sent as plain text, since clients keep some headers to themselves.
 */
class AccessTest extends ServerTest {
    private static final int REFUSED = 403;

    private record Answer(int status, List<String> headers, String body) {
        String header(String name) {
            return headers.stream()
                    .filter(h -> h.toLowerCase().startsWith(name.toLowerCase() + ":"))
                    .map(h -> h.substring(name.length() + 1).trim())
                    .findFirst()
                    .orElse("");
        }
    }

    /** One request with a host and more headers; the server closes the connection after its answer. */
    private Answer ask(String line, String host, String... headers) throws IOException {
        try (Socket s = new Socket(InetAddress.getLoopbackAddress(), port)) {
            s.setSoTimeout(20_000);
            String text = line + " HTTP/1.1\r\nHost: " + host + "\r\nConnection: close\r\nContent-Length: 0\r\n"
                    + String.join(
                            "", List.of(headers).stream().map(h -> h + "\r\n").toList())
                    + "\r\n";
            s.getOutputStream().write(text.getBytes(StandardCharsets.ISO_8859_1));
            String all = new String(s.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
            String[] parts = all.split("\r\n\r\n", 2);
            List<String> lines = new ArrayList<>(List.of(parts[0].split("\r\n")));
            return new Answer(Integer.parseInt(lines.remove(0).split(" ")[1]), lines, parts.length > 1 ? parts[1] : "");
        }
    }

    private String here() {
        return "127.0.0.1:" + port;
    }

    @Test
    void whoeverNamesThisMachineIsLetIn() throws IOException {
        for (String host : new String[] {"127.0.0.1", "localhost", "[::1]"})
            assertThat(ask("GET /", host + ":" + port).status()).as(host).isEqualTo(200);
    }

    /** A foreign name that leads to this machine (DNS rebinding) is no owner, whatever it asks for. */
    @Test
    void aBorrowedNameIsRefused() throws IOException {
        for (String host : new String[] {"shots.example", "127.0.0.1.example", "0.0.0.0", "192.168.0.7"})
            for (String path : new String[] {"/", "/tasks", "/shots/1/plate", "/shots/1/data.json", "/js/page/time.js"})
                assertThat(ask("GET " + path, host + ":" + port).status())
                        .as(host + path)
                        .isEqualTo(REFUSED);
        // Whether it lives may be asked by anybody.
        assertThat(ask("GET /actuator/health", "shots.example").status()).isEqualTo(200);
    }

    @Test
    void whatCameThroughAProxyIsRefused() throws IOException {
        for (String header : new String[] {
            "Forwarded: for=10.0.0.9",
            "X-Forwarded-For: 127.0.0.1",
            "X-Forwarded-Host: localhost",
            "X-Forwarded-Proto: https",
            "X-Real-IP: 127.0.0.1",
            "Via: 1.1 gate",
            "x-forwarded-for: 10.0.0.9"
        }) assertThat(ask("GET /", here(), header).status()).as(header).isEqualTo(REFUSED);
    }

    /** As browsers tell (Fetch Metadata): another site's page may send a person to us, but fetch nothing from us. */
    @Test
    void aForeignPageMayOnlySendPeopleHere() throws IOException {
        String cross = "Sec-Fetch-Site: cross-site", same = "Sec-Fetch-Site: same-site";
        for (String site : new String[] {cross, same}) {
            assertThat(ask("GET /", here(), site, "Sec-Fetch-Mode: navigate", "Sec-Fetch-Dest: document")
                            .status())
                    .isEqualTo(200);
            for (String dest : new String[] {"image", "script", "iframe", "empty", "style"})
                for (String path : new String[] {"/shots/1/draft/1.jpg", "/shots/1/plate/1.jpg", "/"})
                    assertThat(ask("GET " + path, here(), site, "Sec-Fetch-Mode: no-cors", "Sec-Fetch-Dest: " + dest)
                                    .status())
                            .as(site + " " + dest + " " + path)
                            .isEqualTo(REFUSED);
            // A form of its own cannot be sent here, not even as a navigation.
            assertThat(ask("POST /tasks/1/cancel", here(), site, "Sec-Fetch-Mode: navigate", "Sec-Fetch-Dest: document")
                            .status())
                    .isEqualTo(REFUSED);
        }
        assertThat(ask("GET /", here(), "Sec-Fetch-Site: same-origin", "Sec-Fetch-Mode: cors", "Sec-Fetch-Dest: empty")
                        .status())
                .isEqualTo(200);
        assertThat(ask("GET /", here(), "Sec-Fetch-Site: none", "Sec-Fetch-Mode: navigate", "Sec-Fetch-Dest: document")
                        .status())
                .isEqualTo(200);
    }

    @Test
    void nothingIsChangedWithoutThePagesToken() throws IOException {
        for (String path : new String[] {"/shots", "/shots/1/plate/edit", "/tasks/1/cancel", "/uploads/begin"})
            assertThat(ask("POST " + path, here()).status()).as(path).isEqualTo(REFUSED);
    }

    /** A page that is too old says so: never a script's raw answer. */
    @Test
    void aRefusalIsASentence() throws IOException {
        String edit = "POST /shots/1/plate/edit", again = "Load it again";
        assertThat(ask(edit, here(), "HX-Request: true", "Accept: */*").body()).contains(again, "role=\"alert\"");
        assertThat(ask(edit, here(), "Accept: text/html").body()).contains(again, "<h1>");
        assertThat(ask(edit, here(), "Accept: */*").body()).contains(again).doesNotContain("{", "timestamp");
        assertThat(ask("GET /api/v1/shows", here()).body()).doesNotContain("timestamp");
        assertThat(ask("GET /nowhere", here(), "Accept: text/html").body()).contains("There is nothing here");
    }

    @Test
    void theCookieIsOursAndStaysHere() throws IOException {
        Answer a = ask("GET /", here());
        String cookie = a.header("Set-Cookie");
        assertThat(cookie).startsWith("dasein").contains("HttpOnly").contains("SameSite=Strict");
        assertThat(a.header("Content-Security-Policy"))
                .contains("default-src 'self'", "object-src 'none'", "frame-ancestors 'none'", "form-action 'self'")
                .contains("style-src 'self';")
                .doesNotContain("unsafe-eval");
        assertThat(a.header("X-Content-Type-Options")).isEqualTo("nosniff");
        assertThat(a.header("Referrer-Policy")).isEqualTo("same-origin");
        assertThat(a.header("Permissions-Policy")).contains("camera=()", "microphone=()", "geolocation=()");
        assertThat(a.header("Cross-Origin-Opener-Policy")).isEqualTo("same-origin");
        assertThat(a.header("Cross-Origin-Resource-Policy")).isEqualTo("same-origin");
    }

    /** "Back" leads to the page before only where that is ours, and never by a name that the request made up. */
    @Test
    void backLeadsToOurPagesAlone() throws IOException {
        String gone = "GET /shots/987654/plate";
        assertThat(ask(gone, here(), "Referer: http://" + here() + "/tasks?x=1").body())
                .contains("href=\"/tasks?x=1\"");
        for (String from : new String[] {
            "http://elsewhere.example/trap",
            "javascript:alert(1)",
            "http://" + here() + "//elsewhere.example/",
            "http://" + here() + "@elsewhere.example/",
            "\" onclick=x"
        })
            assertThat(ask(gone, here(), "Referer: " + from).body())
                    .as(from)
                    .contains("href=\"/\"")
                    .doesNotContain("elsewhere")
                    .doesNotContain("onclick");
    }
}
