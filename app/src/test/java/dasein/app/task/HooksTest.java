package dasein.app.task;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import com.sun.net.httpserver.HttpServer;
import dasein.app.Await;
import dasein.core.BadInput;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.concurrent.CopyOnWriteArrayList;
import javax.crypto.Mac;
import javax.crypto.spec.SecretKeySpec;
import org.junit.jupiter.api.Test;

/** Listeners of this machine are told of ends, and no others. */
class HooksTest {
    @Test
    void aListenerIsToldAndKnowsFromWhom() throws Exception {
        List<String> bodies = new CopyOnWriteArrayList<>(), signs = new CopyOnWriteArrayList<>();
        HttpServer s = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
        s.createContext("/told", q -> {
            bodies.add(new String(q.getRequestBody().readAllBytes(), StandardCharsets.UTF_8));
            signs.add(q.getRequestHeaders().getFirst("X-Dasein-Signature"));
            // The first time it stumbles.
            q.sendResponseHeaders(bodies.size() == 1 ? 500 : 204, -1);
            q.close();
        });
        s.start();
        try {
            Hooks h = new Hooks("http://127.0.0.1:" + s.getAddress().getPort() + "/told", "between us");
            h.ended(new TaskEnded(3, 17, "output", "done", "8 frames written"));
            Await.until("told twice", () -> bodies.size() == 2);
        } finally {
            s.stop(0);
        }
        assertThat(bodies.get(1))
                .isEqualTo(bodies.get(0))
                .contains("\"shot\":3", "\"task\":17", "\"kind\":\"output\"", "\"state\":\"done\"");
        Mac mac = Mac.getInstance("HmacSHA256");
        mac.init(new SecretKeySpec("between us".getBytes(StandardCharsets.UTF_8), "HmacSHA256"));
        StringBuilder hex = new StringBuilder();
        for (byte b : mac.doFinal(bodies.get(1).getBytes(StandardCharsets.UTF_8))) hex.append(String.format("%02x", b));
        assertThat(signs.get(1)).isEqualTo(hex.toString());
    }

    @Test
    void addressesElsewhereAreRefused() {
        for (String bad : new String[] {
            "http://192.0.2.7/x",
            "https://127.0.0.1/x",
            "file:///etc/passwd",
            "http://",
            "not an address",
            "ftp://localhost/x"
        })
            assertThatThrownBy(() -> new Hooks(bad, ""))
                    .as(bad)
                    .isInstanceOf(BadInput.class)
                    .hasMessageContaining("no address of this machine");
        assertThat(Hooks.here("http://localhost:9/x")).hasHost("localhost");
        // Without any nothing is done.
        new Hooks("", "").ended(new TaskEnded(1, 1, "solve", "done", ""));
    }
}
