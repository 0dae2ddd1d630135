package dasein.app.page.review;

import static org.assertj.core.api.Assertions.assertThat;

import dasein.app.ServerTest;
import dasein.app.store.ReviewMapper;
import java.io.IOException;
import java.net.InetAddress;
import java.net.Socket;
import java.nio.charset.StandardCharsets;
import java.util.LinkedHashSet;
import java.util.Map;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.springframework.beans.factory.annotation.Autowired;
import org.springframework.beans.factory.annotation.Qualifier;
import org.springframework.web.bind.annotation.RequestMethod;
import org.springframework.web.servlet.mvc.method.annotation.RequestMappingHandlerMapping;

/** Who has a link looks and notes, and can do nothing else. */
class ReviewTest extends ServerTest {
    @Autowired
    @Qualifier("requestMappingHandlerMapping")
    RequestMappingHandlerMapping routes;

    @Autowired
    ReviewMapper rows;

    /** As from another machine: a request that names another host. @return status and body */
    private String[] elsewhere(String method, String path, String body) throws IOException {
        try (Socket s = new Socket(InetAddress.getLoopbackAddress(), port)) {
            s.setSoTimeout(20_000);
            byte[] b = body.getBytes(StandardCharsets.UTF_8);
            String head = method + " " + path + " HTTP/1.1\r\nHost: review.example\r\nConnection: close\r\n"
                    + "Content-Type: application/x-www-form-urlencoded\r\nContent-Length: " + b.length + "\r\n\r\n";
            s.getOutputStream().write(head.getBytes(StandardCharsets.ISO_8859_1));
            s.getOutputStream().write(b);
            String all = new String(s.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
            return new String[] {all.split(" ")[1], all.substring(all.indexOf("\r\n\r\n") + 4)};
        }
    }

    private long shot() {
        return make(plated());
    }

    private String link(long id, String name) throws Exception {
        String answer = client.post("/shots/" + id + "/review/links", Map.of("name", name))
                .body();
        return answer.replaceAll("(?s).*\"address\":\"(/look/[^\"]+)\".*", "$1");
    }

    @Test
    void aLinkShowsAndNotesAndIsTakenBack() throws Exception {
        long id = shot(), before = shots.head(id).revision().id();
        String look = link(id, "the client");
        assertThat(look).matches("/look/[A-Za-z0-9_-]{43}");
        for (String path : new String[] {
            "", "/data.json", "/plate/2.jpg", "/frame/2.jpg", "/file/js/review.js", "/file/css/base.css"
        }) assertThat(elsewhere("GET", look + path, "")[0]).as(path).isEqualTo("200");
        String[] noted = elsewhere("POST", look + "/notes", "frame=2&x=0.25&y=0.5&author=Ada&text=feet+slide");
        assertThat(noted[0]).isEqualTo("200");
        assertThat(noted[1]).contains("feet slide", "Ada", "\"owner\":false");
        assertThat(rows.notes(id)).singleElement().satisfies(n -> {
            assertThat(n.frame()).isEqualTo(2);
            assertThat(n.x()).isEqualTo(0.25);
            assertThat(n.linkId()).isNotNull();
        });
        assertThat(shots.head(id).revision().id()).as("nothing changed").isEqualTo(before);
        // The owner says what became of it.
        long note = rows.notes(id).get(0).id();
        assertThat(client.post("/shots/" + id + "/review/notes/" + note + "/state", Map.of("state", "done"))
                        .statusCode())
                .isEqualTo(200);
        assertThat(elsewhere("GET", look + "/data.json", "")[1]).contains("\"state\":\"done\"");
        client.post("/shots/" + id + "/review/links/" + rows.links(id).get(0).id() + "/revoke", Map.of());
        for (String path : new String[] {"", "/data.json", "/frame/2.jpg", "/file/js/review.js"})
            assertThat(elsewhere("GET", look + path, "")[0]).as(path).isEqualTo("403");
        assertThat(elsewhere("POST", look + "/notes", "frame=2&text=again")[0]).isEqualTo("403");
        // The token itself is kept nowhere.
        assertThat(rows.links(id).toString()).doesNotContain(look.substring(6));
    }

    /** Every route there is, asked from elsewhere by somebody who has a link to another shot. */
    @Test
    void nothingElseIsOpenedByALink() throws Exception {
        long id = shot(), other = shot();
        String look = link(id, "one");
        Set<String> opened = new LinkedHashSet<>();
        int asked = 0;
        for (var info : routes.getHandlerMethods().keySet())
            for (String pattern : info.getPatternValues()) {
                Set<RequestMethod> methods = info.getMethodsCondition().getMethods();
                String method = methods.contains(RequestMethod.POST) ? "POST" : "GET";
                if (pattern.startsWith("/look/{token}")) continue;
                String path = pattern.replaceAll("\\{id[^}]*}", Long.toString(other))
                        .replaceAll("\\{what:([^|}]*)[^}]*}", "$1")
                        .replaceAll("\\{[^}]*}", "2");
                asked++;
                if (!elsewhere(method, path, "")[0].equals("403")) opened.add(method + " " + path);
                // Nor as if it lay under the token.
                String under = elsewhere(method, look + path, "")[0];
                if (!under.matches("40[0345]")) opened.add(method + " " + look + path);
            }
        assertThat(asked).isGreaterThan(60);
        assertThat(opened).isEmpty();
        // Of what lies under it, only a note may be sent; and it is of this one shot.
        for (String path : new String[] {"/links", "/notes/1/state", "/notes/1/drop", "/edit", "/data.json"})
            assertThat(elsewhere("POST", look + path, "state=done")[0]).as(path).matches("40[45]");
        assertThat(elsewhere("GET", look + "/data.json", "")[1])
                .contains(shots.head(id).row().name())
                .doesNotContain(shots.head(other).row().name());
        for (String path : new String[] {"/../../shots/" + other + "/plate", "/%2e%2e/shots", "/file/css/../x"})
            assertThat(elsewhere("GET", look + path, "")[0]).as(path).matches("40[034]");
        assertThat(elsewhere("GET", "/look/" + "a".repeat(43) + "/data.json", "")[0])
                .isEqualTo("403");
    }

    @Test
    void whatIsNoNoteIsSaid() throws Exception {
        long id = shot();
        String look = link(id, "");
        for (String bad : new String[] {
            "frame=2&text=",
            "frame=99&text=x",
            "frame=2&x=0.5&text=x",
            "frame=2&x=2&y=0&text=x",
            "frame=two&text=x",
            "frame=2&text=" + "x".repeat(2100)
        }) assertThat(elsewhere("POST", look + "/notes", bad)[0]).as(bad).matches("4[02][024]");
        assertThat(rows.notes(id)).isEmpty();
        // A note is text: what it holds is shown, and done by no page.
        elsewhere("POST", look + "/notes", "frame=2&text=%3Cscript%3Ealert(1)%3C/script%3E");
        assertThat(rows.notes(id).get(0).text()).isEqualTo("<script>alert(1)</script>");
        assertThat(elsewhere("GET", look, "")[1]).doesNotContain("alert(1)");
        // A version that was not kept is not shown.
        assertThat(elsewhere(
                        "GET",
                        look + "/frame/2.jpg?of=" + (shots.head(id).revision().id()),
                        "")[0])
                .isEqualTo("404");
    }
}
