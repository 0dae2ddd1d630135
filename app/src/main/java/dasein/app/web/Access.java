package dasein.app.web;

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
import org.springframework.web.filter.OncePerRequestFilter;

/**
 * Who may come in. Until there are accounts, only somebody at this very machine: the request must come over loopback
 * and name this machine as its host (so that a foreign page cannot reach us under a borrowed name). Every other request
 * is refused.
 */
@Configuration
@ConditionalOnWebApplication
class Access {
    private static final Set<String> OURSELVES = Set.of("localhost", "127.0.0.1", "[::1]", "::1");

    @Bean
    SecurityFilterChain chain(HttpSecurity http, ImportMap scripts) throws Exception {
        http.authorizeHttpRequests(a -> a.dispatcherTypeMatchers(DispatcherType.ERROR, DispatcherType.ASYNC)
                .permitAll()
                .requestMatchers("/actuator/health")
                .permitAll()
                .anyRequest()
                .hasRole("OWNER"));
        http.addFilterBefore(new AtThisMachine(), AuthorizationFilter.class);
        http.headers(h -> h.contentSecurityPolicy(c ->
                c.policyDirectives("default-src 'self'; img-src 'self' data: blob:; style-src 'self' 'unsafe-inline'; "
                        + "script-src 'self' 'sha256-"
                        + scripts.hash()
                        + "'; connect-src 'self' blob:; object-src 'none'; base-uri 'none'; frame-ancestors "
                        + "'none'")));
        http.formLogin(f -> f.disable()).httpBasic(b -> b.disable()).logout(l -> l.disable());
        return http.build();
    }

    /** There are no passwords; this keeps one from being made up. */
    @Bean
    UserDetailsService nobody() {
        return new InMemoryUserDetailsManager();
    }

    private static final class AtThisMachine extends OncePerRequestFilter {
        @Override
        protected void doFilterInternal(HttpServletRequest request, HttpServletResponse response, FilterChain chain)
                throws ServletException, IOException {
            if (InetAddress.getByName(request.getRemoteAddr()).isLoopbackAddress()
                    && OURSELVES.contains(request.getServerName())) {
                var context = SecurityContextHolder.createEmptyContext();
                context.setAuthentication(new UsernamePasswordAuthenticationToken(
                        "you", null, AuthorityUtils.createAuthorityList("ROLE_OWNER")));
                SecurityContextHolder.setContext(context);
            }
            chain.doFilter(request, response);
        }
    }
}
