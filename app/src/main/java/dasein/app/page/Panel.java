package dasein.app.page;

import dasein.app.stage.Seen;
import dasein.app.stage.Stage;
import dasein.core.BadInput;
import dasein.core.NoSolution;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.nio.charset.StandardCharsets;
import java.util.HashMap;
import java.util.Locale;
import java.util.Map;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.boot.autoconfigure.condition.ConditionalOnWebApplication;
import org.springframework.stereotype.Component;
import org.springframework.ui.Model;
import org.springframework.web.servlet.View;
import org.springframework.web.util.ContentCachingResponseWrapper;
import org.thymeleaf.spring6.view.ThymeleafViewResolver;

/**
 * A stage's panel as text, made apart from the page around it: one that breaks is said in its place, and call sheet,
 * undo and the other stages stay usable.
 */
@Component
@ConditionalOnWebApplication
class Panel {
    private static final Logger LOG = LoggerFactory.getLogger(Panel.class);

    private final ThymeleafViewResolver views;

    Panel(ThymeleafViewResolver views) {
        this.views = views;
    }

    /** @param model what the page knows already; what the stage adds is for its panel, and for the page, too */
    String of(Stage stage, Seen s, Model model, HttpServletRequest request, HttpServletResponse response) {
        try {
            stage.bench(model, s);
            return rendered("stage/" + stage.key() + " :: bench", model.asMap(), request, response);
        } catch (BadInput | NoSolution e) {
            return broken(e.getMessage(), model, request, response);
        } catch (Exception e) {
            LOG.error("the panel of {} in shot {}", stage.key(), s.id(), e);
            return broken(
                    "this stage cannot be shown as the shot stands; undo the last change, or go to another stage. "
                            + "Nothing is lost, and the log tells more",
                    model,
                    request,
                    response);
        }
    }

    private String broken(String why, Model model, HttpServletRequest request, HttpServletResponse response) {
        Map<String, Object> all = new HashMap<>(model.asMap());
        all.put("why", why);
        try {
            return rendered("stage/broken :: bench", all, request, response);
        } catch (Exception e) {
            throw new IllegalStateException(e);
        }
    }

    private String rendered(String view, Map<String, ?> model, HttpServletRequest request, HttpServletResponse response)
            throws Exception {
        View v = views.resolveViewName(view, Locale.ENGLISH);
        ContentCachingResponseWrapper text = new ContentCachingResponseWrapper(response);
        v.render(model, request, text);
        return new String(text.getContentAsByteArray(), StandardCharsets.UTF_8);
    }
}
