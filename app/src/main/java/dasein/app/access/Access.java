package dasein.app.access;

import dasein.app.page.ImportMap;
import dasein.app.store.ApiTokenMapper;
import dasein.app.store.ReviewMapper;
import jakarta.servlet.DispatcherType;
import jakarta.servlet.FilterChain;
import jakarta.servlet.ServletException;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.net.InetAddress;
import java.util.Set;
import org.springframework.boot.autoconfigure.condition.ConditionalOnWebApplication;
import org.springframework.context.annotation.Bean;
import org.springframework.context.annotation.Configuration;
import org.springframework.security.authentication.UsernamePasswordAuthenticationToken;
import org.springframework.security.config.annotation.web.builders.HttpSecurity;
import org.springframework.security.core.authority.AuthorityUtils;
import org.springframework.security.core.context.SecurityContextHolder;
import org.springframework.security.core.userdetails.UserDetailsService;
import org.springframework.security.provisioning.InMemoryUserDetailsManager;
import org.springframework.security.web.SecurityFilterChain;
import org.springframework.security.web.access.intercept.AuthorizationFilter;
import org.springframework.security.web.header.writers.CrossOriginOpenerPolicyHeaderWriter;
import org.springframework.security.web.header.writers.CrossOriginResourcePolicyHeaderWriter;
import org.springframework.security.web.header.writers.ReferrerPolicyHeaderWriter;
import org.springframework.web.filter.OncePerRequestFilter;

/**
 * Who may come in. Until there are accounts, only somebody at this very machine: the request must come over loopback
 * and name this machine as its host (so that a foreign page cannot reach us under a borrowed name). Every other request
 * is refused, but what a review link opens ({@link ByLink}) and a script's key ({@link ByToken}).
 */
@Configuration
@ConditionalOnWebApplication
public class Access {
    private static final Set<String> FORWARDING =
            Set.of("Forwarded", "X-Forwarded-For", "X-Forwarded-Host", "X-Forwarded-Proto", "X-Real-IP", "Via");
    private static final Set<String> OURSELVES = Set.of("localhost", "127.0.0.1", "[::1]", "::1");

    @Bean
    SecurityFilterChain chain(HttpSecurity http, ImportMap scripts, ReviewMapper links, ApiTokenMapper keys)
            throws Exception {
        http.authorizeHttpRequests(a -> a.dispatcherTypeMatchers(DispatcherType.ERROR, DispatcherType.ASYNC)
                .permitAll()
                .requestMatchers("/actuator/health")
                .permitAll()
                .requestMatchers("/look/**")
                .hasAnyRole("OWNER", "LOOKER")
                .requestMatchers("/api/**")
                .hasRole("SCRIPT")
                .anyRequest()
                .hasRole("OWNER"));
        http.addFilterBefore(new AtThisMachine(), AuthorizationFilter.class);
        http.addFilterBefore(new ByLink(links), AuthorizationFilter.class);
        http.addFilterBefore(new ByToken(keys), AuthorizationFilter.class);
        // A link or a key is no session that a foreign page could ride on: it has to be said each time.
        http.csrf(c -> c.ignoringRequestMatchers("/look/**", "/api/**"));
        // Attributes of style are ours; a whole style sheet within a page would be somebody else's.
        http.headers(h -> h.contentSecurityPolicy(
                        c -> c.policyDirectives("default-src 'self'; img-src 'self' data: blob:; style-src 'self'; "
                                + "style-src-attr 'unsafe-inline'; script-src 'self' 'sha256-" + scripts.hash()
                                + "'; connect-src 'self' blob:; object-src 'none'; base-uri 'none'; form-action 'self'; "
                                + "frame-ancestors 'none'"))
                .referrerPolicy(r -> r.policy(ReferrerPolicyHeaderWriter.ReferrerPolicy.SAME_ORIGIN))
                .permissionsPolicyHeader(p ->
                        p.policy("camera=(), microphone=(), geolocation=(), payment=(), usb=(), serial=(), midi=(), "
                                + "display-capture=(), accelerometer=(), gyroscope=(), magnetometer=()"))
                .crossOriginOpenerPolicy(
                        c -> c.policy(CrossOriginOpenerPolicyHeaderWriter.CrossOriginOpenerPolicy.SAME_ORIGIN))
                .crossOriginResourcePolicy(
                        c -> c.policy(CrossOriginResourcePolicyHeaderWriter.CrossOriginResourcePolicy.SAME_ORIGIN)));
        http.formLogin(f -> f.disable()).httpBasic(b -> b.disable()).logout(l -> l.disable());
        return http.build();
    }

    /** There are no passwords; this keeps one from being made up. */
    @Bean
    UserDetailsService nobody() {
        return new InMemoryUserDetailsManager();
    }

    /** Lets whoever sends this request in. */
    static void enter(String who, String role) {
        var context = SecurityContextHolder.createEmptyContext();
        context.setAuthentication(
                new UsernamePasswordAuthenticationToken(who, null, AuthorityUtils.createAuthorityList("ROLE_" + role)));
        SecurityContextHolder.setContext(context);
    }

    private static final class AtThisMachine extends OncePerRequestFilter {
        @Override
        protected void doFilterInternal(HttpServletRequest request, HttpServletResponse response, FilterChain chain)
                throws ServletException, IOException {
            if (here(request) && !throughAProxy(request) && !ofAForeignPage(request)) enter("you", "OWNER");
            chain.doFilter(request, response);
        }

        private static boolean here(HttpServletRequest q) throws IOException {
            return InetAddress.getByName(q.getRemoteAddr()).isLoopbackAddress()
                    && OURSELVES.contains(q.getServerName());
        }

        /** Whoever stands behind a proxy may be anywhere. */
        private static boolean throughAProxy(HttpServletRequest q) {
            return FORWARDING.stream().anyMatch(h -> q.getHeader(h) != null);
        }

        /**
         * A request that another site's page makes, other than going to one of our pages: browsers say so (Fetch
         * Metadata, a W3C working draft that all of them follow). Pictures and drafts cost time, and are none of its
         * business.
         */
        private static boolean ofAForeignPage(HttpServletRequest q) {
            String site = q.getHeader("Sec-Fetch-Site");
            if (site == null || site.equals("same-origin") || site.equals("none")) return false;
            return !("navigate".equals(q.getHeader("Sec-Fetch-Mode"))
                    && "document".equals(q.getHeader("Sec-Fetch-Dest"))
                    && q.getMethod().equals("GET"));
        }
    }
}
