package dasein.app.task;

import dasein.core.BadInput;
import java.net.InetAddress;
import java.net.URI;
import java.net.UnknownHostException;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.time.Duration;
import java.util.Arrays;
import java.util.List;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import org.apache.commons.codec.digest.HmacAlgorithms;
import org.apache.commons.codec.digest.HmacUtils;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.beans.factory.annotation.Value;
import org.springframework.context.event.EventListener;
import org.springframework.stereotype.Component;
import tools.jackson.databind.json.JsonMapper;

/**
 * Tells addresses of this machine that a task has ended: a POST with a few words of JSON, and with its HMAC-SHA256
 * where a secret is set, so that the listener knows from whom it comes. Who does not answer is asked three times, and
 * then left alone: what became of a task can be asked for.
 */
@Component
public class Hooks {
    private static final Logger LOG = LoggerFactory.getLogger(Hooks.class);
    private static final JsonMapper JSON = JsonMapper.builder().build();
    private static final int TRIES = 3, WAITING = 200;
    private static final Duration PATIENCE = Duration.ofSeconds(5);

    private final List<URI> to;
    private final String secret;
    private final HttpClient http =
            HttpClient.newBuilder().connectTimeout(PATIENCE).build();
    private final ExecutorService one = Executors.newSingleThreadExecutor(r -> {
        Thread t = new Thread(r, "hooks");
        t.setDaemon(true);
        return t;
    });
    private int waiting;

    Hooks(@Value("${dasein.hooks:}") String addresses, @Value("${dasein.hook-secret:}") String secret) {
        to = Arrays.stream(addresses.split(","))
                .map(String::strip)
                .filter(a -> !a.isEmpty())
                .map(Hooks::here)
                .toList();
        this.secret = secret;
    }

    /** @throws BadInput where it does not lead to this machine */
    static URI here(String address) {
        try {
            URI u = URI.create(address);
            if ("http".equals(u.getScheme())
                    && u.getHost() != null
                    && InetAddress.getByName(u.getHost()).isLoopbackAddress()) return u;
        } catch (IllegalArgumentException | UnknownHostException e) {
            // Said below.
        }
        throw new BadInput("dasein.hooks: " + address + " is no address of this machine");
    }

    @EventListener
    void ended(TaskEnded e) {
        if (to.isEmpty()) return;
        synchronized (this) {
            if (waiting >= WAITING) return;
            waiting++;
        }
        one.execute(() -> {
            try {
                String body = JSON.writeValueAsString(e);
                for (URI u : to) tell(u, body);
            } finally {
                synchronized (this) {
                    waiting--;
                }
            }
        });
    }

    private void tell(URI u, String body) {
        HttpRequest.Builder q = HttpRequest.newBuilder(u)
                .timeout(PATIENCE)
                .header("Content-Type", "application/json")
                .POST(HttpRequest.BodyPublishers.ofString(body));
        if (!secret.isEmpty())
            q.header("X-Dasein-Signature", new HmacUtils(HmacAlgorithms.HMAC_SHA_256, secret).hmacHex(body));
        for (int k = 0; k < TRIES; k++) {
            try {
                if (http.send(q.build(), HttpResponse.BodyHandlers.discarding()).statusCode() / 100 == 2) return;
            } catch (java.io.IOException e) {
                LOG.debug("{} does not answer: {}", u, e.getMessage());
            } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
                return;
            }
        }
        LOG.warn("{} was not told of a task's end: it does not answer", u);
    }
}
