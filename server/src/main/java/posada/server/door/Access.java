package posada.server.door;

import org.springframework.context.annotation.Bean;
import org.springframework.context.annotation.Configuration;
import org.springframework.http.HttpMethod;
import org.springframework.http.HttpStatus;
import org.springframework.security.config.annotation.web.builders.HttpSecurity;
import org.springframework.security.core.userdetails.UserDetailsService;
import org.springframework.security.core.userdetails.UsernameNotFoundException;
import org.springframework.security.web.SecurityFilterChain;
import org.springframework.security.web.firewall.HttpFirewall;
import org.springframework.security.web.firewall.StrictHttpFirewall;

/**
 * Who may do what, where a password is asked for. A foreign page cannot use somebody's session: its
 * cookie is sent to pages of this server only, and {@link HostGuard} refuses other origins.
 */
@Configuration
class Access {
  /** What is asked with a body and never changes anything, whatever the body says. */
  private static final String[] READ_BY_POST = {
    "/api/assemblies/picture",
    "/api/assemblies/steps",
    "/api/assemblies/words",
    "/api/moves/*",
    "/api/revisions/*/unfit",
    "/api/shots/*/variants",
    "/api/strands/paths"
  };

  @Bean
  SecurityFilterChain chain(HttpSecurity http, Passwords passwords) {
    http.csrf(c -> c.disable())
        .headers(h -> h.disable())
        .requestCache(c -> c.disable())
        .formLogin(f -> f.disable())
        .httpBasic(b -> b.disable())
        .logout(l -> l.disable());
    if (!passwords.needed()) {
      return http.authorizeHttpRequests(a -> a.anyRequest().permitAll()).build();
    }
    String all = Passwords.Right.ALL.name(), look = Passwords.Right.LOOK.name();
    return http.authorizeHttpRequests(
            a ->
                a.requestMatchers("/api/session", "/api/health")
                    .permitAll()
                    .requestMatchers(HttpMethod.GET, "/api/**")
                    .hasAnyRole(all, look)
                    .requestMatchers(HttpMethod.HEAD, "/api/**")
                    .hasAnyRole(all, look)
                    .requestMatchers(HttpMethod.POST, READ_BY_POST)
                    .hasAnyRole(all, look)
                    .requestMatchers("/api/**")
                    .hasRole(all)
                    // The pages hold nothing but the sign-in until somebody is known.
                    .anyRequest()
                    .permitAll())
        .exceptionHandling(
            e ->
                e.authenticationEntryPoint(
                        (q, r, x) ->
                            Problems.write(
                                r, HttpStatus.UNAUTHORIZED, "Give the password to go on."))
                    .accessDeniedHandler(
                        (q, r, x) ->
                            Problems.write(
                                r,
                                HttpStatus.FORBIDDEN,
                                "This password is for looking only; nothing is changed.")))
        .build();
  }

  /** Nobody is known by name: {@link SessionController} knows who gave the password. */
  @Bean
  UserDetailsService nobody() {
    return name -> {
      throw new UsernameNotFoundException("nobody is known by name");
    };
  }

  /** Shots and layers have names of any signs, and their names stand in addresses of pages. */
  @Bean
  HttpFirewall anyNames() {
    StrictHttpFirewall f = new StrictHttpFirewall();
    f.setAllowSemicolon(true);
    f.setAllowUrlEncodedPercent(true);
    f.setAllowUrlEncodedPeriod(true);
    f.setAllowUrlEncodedSlash(true);
    f.setAllowUrlEncodedDoubleSlash(true);
    f.setAllowBackSlash(true);
    f.setAllowUrlEncodedLineSeparator(true);
    f.setAllowUrlEncodedParagraphSeparator(true);
    return f;
  }
}
