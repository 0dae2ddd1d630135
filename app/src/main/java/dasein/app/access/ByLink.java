package dasein.app.access;

import dasein.app.store.ReviewMapper;
import dasein.app.store.Token;
import jakarta.servlet.FilterChain;
import jakarta.servlet.ServletException;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.springframework.web.filter.OncePerRequestFilter;

/** A token that was given out and not taken back opens what lies under it, wherever the request comes from. */
final class ByLink extends OncePerRequestFilter {
    private static final Pattern UNDER = Pattern.compile("/look/([A-Za-z0-9_-]{43})(/.*)?");

    private final ReviewMapper links;

    ByLink(ReviewMapper links) {
        this.links = links;
    }

    @Override
    protected void doFilterInternal(HttpServletRequest request, HttpServletResponse response, FilterChain chain)
            throws ServletException, IOException {
        Matcher m = UNDER.matcher(request.getRequestURI());
        if (m.matches() && links.open(Token.hash(m.group(1))) != null) {
            Access.enter("a looker", "LOOKER");
        }
        chain.doFilter(request, response);
    }
}
