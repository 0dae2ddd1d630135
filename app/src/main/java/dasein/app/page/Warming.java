package dasein.app.page;

import dasein.app.stage.Stage;
import dasein.app.stage.Stages;
import dasein.app.store.ShotMapper;
import java.io.IOException;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.boot.autoconfigure.condition.ConditionalOnWebApplication;
import org.springframework.boot.context.event.ApplicationReadyEvent;
import org.springframework.context.event.EventListener;
import org.springframework.core.env.Environment;
import org.springframework.stereotype.Component;

/**
 * Looks once at what was worked on last, so that whoever comes first does not wait: after a start the first page costs
 * seconds (classes, templates, maps and models that are read), the second a fraction of one.
 */
@Component
@ConditionalOnWebApplication
public class Warming {
    private static final Logger LOG = LoggerFactory.getLogger(Warming.class);

    private final ShotMapper shots;
    private final Stages stages;
    private final Environment settings;

    Warming(ShotMapper shots, Stages stages, Environment settings) {
        this.shots = shots;
        this.stages = stages;
        this.settings = settings;
    }

    @EventListener(ApplicationReadyEvent.class)
    void begin() {
        Thread t = new Thread(this::look, "warming");
        t.setDaemon(true);
        t.start();
    }

    private void look() {
        String here = "http://127.0.0.1:" + settings.getProperty("local.server.port");
        HttpClient us = HttpClient.newHttpClient();
        try {
            for (String page : pages())
                us.send(
                        HttpRequest.newBuilder(URI.create(here + page)).build(),
                        HttpResponse.BodyHandlers.discarding());
        } catch (IOException e) {
            LOG.debug("not warmed: {}", e.toString());
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
    }

    /** The front page, and all stages of the shot that was changed last; what is looked at most comes first. */
    public List<String> pages() {
        List<String> out = new ArrayList<>(List.of("/"));
        shots.shots().stream()
                .max(Comparator.comparingLong(ShotMapper.ShotRow::head))
                .ifPresent(s -> {
                    String shot = "/shots/" + s.id() + "/";
                    out.addAll(List.of(shot + "plate", shot + "data.json", shot + "blocking", shot + "blocking.json"));
                    for (Stage t : stages.all()) out.add(shot + t.key());
                });
        return out.stream().distinct().toList();
    }
}
