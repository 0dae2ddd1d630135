package dasein.app.page;

import static org.assertj.core.api.Assertions.assertThat;

import jakarta.servlet.RequestDispatcher;
import java.util.Map;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.extension.ExtendWith;
import org.springframework.boot.test.system.CapturedOutput;
import org.springframework.boot.test.system.OutputCaptureExtension;
import org.springframework.http.ResponseEntity;
import org.springframework.mock.web.MockHttpServletRequest;
import org.springframework.mock.web.MockHttpServletResponse;
import org.springframework.web.servlet.ModelAndView;

@ExtendWith(OutputCaptureExtension.class)
class WentWrongTest {
    private static MockHttpServletRequest asked(String path, int status, String... headers) {
        MockHttpServletRequest q = new MockHttpServletRequest("POST", "/error");
        q.setAttribute(RequestDispatcher.ERROR_STATUS_CODE, status);
        q.setAttribute(RequestDispatcher.ERROR_REQUEST_URI, path);
        for (int i = 0; i < headers.length; i += 2) q.addHeader(headers[i], headers[i + 1]);
        return q;
    }

    /** Whoever reads the number on the page finds the one entry in the log, with what threw. */
    @Test
    void aNumberLeadsToTheEntryInTheLog(CapturedOutput log) {
        MockHttpServletRequest q = asked("/shots/1/plate", 500, "Accept", "text/html");
        q.setAttribute(RequestDispatcher.ERROR_EXCEPTION, new IllegalStateException("a wheel came off"));
        ModelAndView page = (ModelAndView) new WentWrong().say(q, new MockHttpServletResponse());
        assertThat(page.getViewName()).isEqualTo("error");
        Matcher m = Pattern.compile("number ([0-9a-f]{8})\\.")
                .matcher((String) page.getModel().get("sentence"));
        assertThat(m.find()).isTrue();
        assertThat(log.getOut())
                .contains(m.group(1) + ": POST /shots/1/plate failed")
                .contains("a wheel came off");
        // What threw is nobody else's business.
        assertThat(page.getModel().toString()).doesNotContain("wheel");
    }

    @Test
    void aPagesScriptGetsALine(CapturedOutput log) {
        MockHttpServletResponse r = new MockHttpServletResponse();
        ModelAndView part =
                (ModelAndView) new WentWrong().say(asked("/shots/1/plate/edit", 403, "HX-Request", "true"), r);
        assertThat(part.getViewName()).isEqualTo("say");
        assertThat(part.getModel().get("sentence").toString()).contains("Load it again");
        assertThat(r.getHeader("HX-Retarget")).isEqualTo("#say");
        assertThat(log.getOut()).doesNotContain("failed");
        Object plain = new WentWrong().say(asked("/uploads/begin", 403, "Accept", "*/*"), r);
        assertThat(((ResponseEntity<?>) plain).getBody().toString())
                .doesNotContain("{")
                .contains("Load it again");
    }

    @Test
    void aScriptGetsAField() {
        ResponseEntity<?> e =
                (ResponseEntity<?>) new WentWrong().say(asked("/api/v1/shows", 405), new MockHttpServletResponse());
        assertThat(e.getStatusCode().value()).isEqualTo(405);
        assertThat(e.getBody()).isEqualTo(Map.of("error", "That address takes no such request."));
        e = (ResponseEntity<?>) new WentWrong().say(asked("/api/v1/shows", 403), new MockHttpServletResponse());
        assertThat(e.getBody().toString()).contains("needs a key");
    }
}
