package dasein.app.page;

import jakarta.servlet.RequestDispatcher;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.security.SecureRandom;
import java.util.HexFormat;
import java.util.Map;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.boot.webmvc.error.ErrorController;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.stereotype.Controller;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.servlet.ModelAndView;

/**
 * What nobody foresaw, as a sentence to whoever asked: a page for a person, a line for a page's script, a field for a
 * script. What is our own fault has a number, by which it is found in the log.
 */
@Controller
class WentWrong implements ErrorController {
    private static final Logger LOG = LoggerFactory.getLogger(WentWrong.class);
    private static final SecureRandom RANDOM = new SecureRandom();
    private static final String KEY = "That needs a key that counts, in the request's head: Authorization: Bearer KEY.";

    @RequestMapping("/error")
    Object say(HttpServletRequest q, HttpServletResponse r) {
        int status = q.getAttribute(RequestDispatcher.ERROR_STATUS_CODE) instanceof Integer s ? s : 404;
        String path = String.valueOf(q.getAttribute(RequestDispatcher.ERROR_REQUEST_URI));
        String number = "";
        if (status >= 500) {
            byte[] n = new byte[4];
            RANDOM.nextBytes(n);
            number = HexFormat.of().formatHex(n);
            LOG.error("{}: {} {} failed", number, q.getMethod(), path, (Throwable)
                    q.getAttribute(RequestDispatcher.ERROR_EXCEPTION));
        }
        String title = title(status), sentence = sentence(status, number);
        if (path.startsWith("/api/"))
            return ResponseEntity.status(status)
                    .contentType(MediaType.APPLICATION_JSON)
                    .body(Map.of("error", status == 401 || status == 403 ? KEY : sentence));
        boolean part = q.getHeader("HX-Request") != null;
        if (part) {
            r.setHeader("HX-Retarget", "#say");
            r.setHeader("HX-Reswap", "innerHTML");
        } else if (!String.valueOf(q.getHeader("Accept")).contains("text/html"))
            return ResponseEntity.status(status)
                    .contentType(MediaType.TEXT_PLAIN)
                    .body(sentence);
        ModelAndView v = new ModelAndView(part ? "say" : "error");
        v.addObject("title", title);
        v.addObject("sentence", sentence);
        return v;
    }

    private static String title(int status) {
        return status == 404
                ? "There is nothing here"
                : status == 403 ? "You may not do that" : status < 500 ? "That did not work" : "Something went wrong";
    }

    private static String sentence(int status, String number) {
        return switch (status) {
            case 404 -> "The address may be mistyped, or the shot is gone.";
            case 401, 403 -> "The page is too old, or the request came from elsewhere. Load it again.";
            case 405 -> "That address takes no such request.";
            case 400, 415, 406 -> "The request cannot be read. Load the page again.";
            case 413 -> "That is too large to be sent.";
            default ->
                status < 500
                        ? "The request was refused."
                        : "Something went wrong. Nothing stored is lost; the log tells more under number " + number
                                + ".";
        };
    }
}
