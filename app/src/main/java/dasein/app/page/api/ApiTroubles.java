package dasein.app.page.api;

import dasein.app.store.Shots;
import dasein.core.BadInput;
import dasein.core.NoSolution;
import java.io.UncheckedIOException;
import java.util.Map;
import org.slf4j.LoggerFactory;
import org.springframework.core.Ordered;
import org.springframework.core.annotation.Order;
import org.springframework.http.HttpStatus;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.ExceptionHandler;
import org.springframework.web.bind.annotation.RestControllerAdvice;

/** What went wrong, as a sentence that a script can read. */
@RestControllerAdvice(assignableTypes = ApiV1.class)
@Order(Ordered.HIGHEST_PRECEDENCE)
class ApiTroubles {
    @ExceptionHandler({BadInput.class, NoSolution.class, IllegalArgumentException.class})
    ResponseEntity<Map<String, String>> bad(RuntimeException e) {
        return said(HttpStatus.UNPROCESSABLE_CONTENT, e.getMessage());
    }

    @ExceptionHandler(Shots.Conflict.class)
    ResponseEntity<Map<String, String>> conflict(Shots.Conflict e) {
        return said(HttpStatus.CONFLICT, e.getMessage());
    }

    @ExceptionHandler(Shots.NotThere.class)
    ResponseEntity<Map<String, String>> notThere(Shots.NotThere e) {
        return said(HttpStatus.NOT_FOUND, e.getMessage());
    }

    @ExceptionHandler(UncheckedIOException.class)
    ResponseEntity<Map<String, String>> storage(UncheckedIOException e) {
        LoggerFactory.getLogger(ApiTroubles.class).error("a script's request failed", e);
        return said(HttpStatus.INSUFFICIENT_STORAGE, "a file could not be read or written; the log tells more");
    }

    private static ResponseEntity<Map<String, String>> said(HttpStatus status, String sentence) {
        return ResponseEntity.status(status).body(Map.of("error", String.valueOf(sentence)));
    }
}
