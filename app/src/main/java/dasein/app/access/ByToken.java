package dasein.app.access;

import dasein.app.store.ApiTokenMapper;
import dasein.app.store.Token;
import jakarta.servlet.FilterChain;
import jakarta.servlet.ServletException;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import org.springframework.web.filter.OncePerRequestFilter;

/** The programming interface is opened by a key in the request's head (RFC 6750, bearer), and by nothing else. */
final class ByToken extends OncePerRequestFilter {
    private static final String BEARER = "Bearer ";

    private final ApiTokenMapper keys;

    ByToken(ApiTokenMapper keys) {
        this.keys = keys;
    }

    @Override
    protected boolean shouldNotFilter(HttpServletRequest request) {
        return !request.getRequestURI().startsWith("/api/");
    }

    @Override
    protected void doFilterInternal(HttpServletRequest request, HttpServletResponse response, FilterChain chain)
            throws ServletException, IOException {
        String said = request.getHeader("Authorization");
        ApiTokenMapper.Key key = said == null || !said.startsWith(BEARER)
                ? null
                : keys.of(Token.hash(said.substring(BEARER.length()).strip()));
        if (key != null) {
            keys.used(key.id());
            Access.enter(key.name(), "SCRIPT");
        }
        chain.doFilter(request, response);
    }
}
