package dasein.app.page;

import dasein.app.stage.BadField;
import dasein.app.store.Shots;
import dasein.core.BadInput;
import dasein.core.NoSolution;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.UncheckedIOException;
import java.net.URI;
import org.mybatis.spring.MyBatisSystemException;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.dao.DataAccessResourceFailureException;
import org.springframework.http.HttpStatus;
import org.springframework.transaction.CannotCreateTransactionException;
import org.springframework.web.bind.annotation.ControllerAdvice;
import org.springframework.web.bind.annotation.ExceptionHandler;
import org.springframework.web.multipart.MaxUploadSizeExceededException;
import org.springframework.web.servlet.ModelAndView;

/** What went wrong, as a sentence where the person is looking; never a stack trace on a page. */
@ControllerAdvice
public class Troubles {
    private static final Logger LOG = LoggerFactory.getLogger(Troubles.class);

    @ExceptionHandler({BadInput.class, NoSolution.class})
    ModelAndView badInput(RuntimeException e, HttpServletRequest q, HttpServletResponse r) {
        if (e instanceof BadField b) r.setHeader("X-Field", b.field());
        return say(e.getMessage(), HttpStatus.UNPROCESSABLE_CONTENT, q, r);
    }

    @ExceptionHandler(Shots.Conflict.class)
    ModelAndView conflict(Shots.Conflict e, HttpServletRequest q, HttpServletResponse r) {
        return say(e.getMessage(), HttpStatus.CONFLICT, q, r);
    }

    @ExceptionHandler(Shots.NotThere.class)
    ModelAndView notThere(Shots.NotThere e, HttpServletRequest q, HttpServletResponse r) {
        return say(e.getMessage(), HttpStatus.NOT_FOUND, q, r);
    }

    @ExceptionHandler(MaxUploadSizeExceededException.class)
    ModelAndView tooLarge(MaxUploadSizeExceededException e, HttpServletRequest q, HttpServletResponse r) {
        return say("that file is too large to bring in", HttpStatus.CONTENT_TOO_LARGE, q, r);
    }

    @ExceptionHandler({
        DataAccessResourceFailureException.class,
        MyBatisSystemException.class,
        CannotCreateTransactionException.class
    })
    ModelAndView noDatabase(RuntimeException e, HttpServletRequest q, HttpServletResponse r) {
        LOG.error("{} {} failed", q.getMethod(), q.getRequestURI(), e);
        return say(
                "the database does not answer, so nothing was changed; start Dasein again and what was "
                        + "stored is there",
                HttpStatus.SERVICE_UNAVAILABLE,
                q,
                r);
    }

    /** Storage that is full or gone is said as such; what was sent stays where it can be sent again. */
    @ExceptionHandler(UncheckedIOException.class)
    ModelAndView storage(UncheckedIOException e, HttpServletRequest q, HttpServletResponse r) {
        LOG.error("{} {} failed", q.getMethod(), q.getRequestURI(), e);
        boolean full = String.valueOf(e.getMessage()).contains("No space left");
        return say(
                full
                        ? "the disk is full, so nothing was changed; make room and try again"
                        : "a file could not be read or written, so nothing was changed; the log tells more",
                HttpStatus.INSUFFICIENT_STORAGE,
                q,
                r);
    }

    private static ModelAndView say(String sentence, HttpStatus status, HttpServletRequest q, HttpServletResponse r) {
        LOG.debug("{}: {}", q.getRequestURI(), sentence);
        // A file's name stays as it is written.
        boolean name = sentence.split(" ", 2)[0].contains(".");
        String text =
                (name ? sentence.substring(0, 1) : sentence.substring(0, 1).toUpperCase(java.util.Locale.ROOT))
                        + sentence.substring(1)
                        + (sentence.endsWith(".") ? "" : ".");
        if (q.getHeader("HX-Request") != null) {
            r.setHeader("HX-Retarget", "#say");
            r.setHeader("HX-Reswap", "innerHTML");
        }
        ModelAndView v = new ModelAndView(q.getHeader("HX-Request") != null ? "say" : "trouble");
        v.setStatus(status);
        v.addObject("sentence", text);
        v.addObject("back", back(q));
        return v;
    }

    /** The page before this one, where it is one of ours; null otherwise. */
    private static String back(HttpServletRequest q) {
        String from = q.getHeader("Referer");
        if (from == null) return null;
        try {
            URI u = URI.create(from);
            String path = u.getRawPath();
            boolean ours = u.getRawAuthority() != null && u.getRawAuthority().equals(q.getHeader("Host"));
            if (!ours || path == null || !path.startsWith("/") || path.startsWith("//")) return null;
            return u.getRawQuery() == null ? path : path + "?" + u.getRawQuery();
        } catch (IllegalArgumentException e) {
            return null;
        }
    }
}
