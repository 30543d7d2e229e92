package glenmoor.server;

import glenmoor.engine.people.Actor;
import glenmoor.engine.people.SignIns;
import glenmoor.server.people.Who;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import org.springdoc.core.utils.SpringDocUtils;
import org.springframework.context.annotation.Bean;
import org.springframework.context.annotation.Configuration;
import org.springframework.core.MethodParameter;
import org.springframework.http.HttpMethod;
import org.springframework.http.HttpStatus;
import org.springframework.security.config.annotation.web.builders.HttpSecurity;
import org.springframework.security.core.authority.AuthorityUtils;
import org.springframework.security.oauth2.core.DefaultOAuth2AuthenticatedPrincipal;
import org.springframework.security.oauth2.server.resource.introspection.BadOpaqueTokenException;
import org.springframework.security.oauth2.server.resource.introspection.OpaqueTokenIntrospector;
import org.springframework.security.web.SecurityFilterChain;
import org.springframework.security.web.context.HttpSessionSecurityContextRepository;
import org.springframework.security.web.context.SecurityContextRepository;
import org.springframework.security.web.servlet.util.matcher.PathPatternRequestMatcher;
import org.springframework.web.bind.support.WebDataBinderFactory;
import org.springframework.web.context.request.NativeWebRequest;
import org.springframework.web.method.support.HandlerMethodArgumentResolver;
import org.springframework.web.method.support.ModelAndViewContainer;
import org.springframework.web.server.ResponseStatusException;
import org.springframework.web.servlet.config.annotation.ViewControllerRegistry;
import org.springframework.web.servlet.config.annotation.WebMvcConfigurer;

/**
 * Who gets in: the console by a session cookie with protection against forged requests, programs by
 * a bearer token (RFC 6750). What somebody may do is not decided here but in the engine.
 */
@Configuration(proxyBeanMethods = false)
class Doors implements WebMvcConfigurer {
  static {
    SpringDocUtils.getConfig().addRequestWrapperToIgnore(Actor.class);
  }

  private final SignIns signIns;

  Doors(SignIns signIns) {
    this.signIns = signIns;
  }

  @Bean
  SecurityFilterChain chain(HttpSecurity http) throws Exception {
    return http.authorizeHttpRequests(requests ->
            requests
                .requestMatchers("/api/v1/session", "/api/v1/openapi/**", "/api/v1/openapi")
                .permitAll()
                .requestMatchers(HttpMethod.POST, "/api/v1/tokens")
                .permitAll()
                .requestMatchers("/api/**")
                .authenticated()
                .anyRequest()
                .permitAll())
        .csrf(csrf ->
            csrf.spa()
                .ignoringRequestMatchers(
                    PathPatternRequestMatcher.pathPattern(HttpMethod.POST, "/api/v1/tokens")))
        .oauth2ResourceServer(server ->
            server
                .opaqueToken(token -> token.introspector(introspector()))
                .authenticationEntryPoint((request, response, failure) ->
                    Problems.write(
                        response,
                        HttpStatus.UNAUTHORIZED,
                        "Sign in first: this token is unknown or has expired.")))
        .exceptionHandling(handling ->
            handling
                .authenticationEntryPoint((request, response, failure) ->
                    Problems.write(response, HttpStatus.UNAUTHORIZED, "Sign in first."))
                .accessDeniedHandler((request, response, failure) ->
                    Problems.write(
                        response,
                        HttpStatus.FORBIDDEN,
                        "The request carries no proof that it comes from the console; load the page again.")))
        .build();
  }

  @Bean
  SecurityContextRepository contexts() {
    return new HttpSessionSecurityContextRepository();
  }

  @Bean
  OpaqueTokenIntrospector introspector() {
    return token ->
        signIns
            .withToken(token)
            .map(actor ->
                new DefaultOAuth2AuthenticatedPrincipal(
                    actor.login(), Map.of("sub", actor.login()), AuthorityUtils.NO_AUTHORITIES))
            .orElseThrow(() -> new BadOpaqueTokenException("unknown or expired"));
  }

  @Override
  public void addArgumentResolvers(List<HandlerMethodArgumentResolver> resolvers) {
    resolvers.add(new ActorOfRequest(signIns));
  }

  /** The console finds its own way: each of its addresses is answered with its one page. */
  @Override
  public void addViewControllers(ViewControllerRegistry registry) {
    for (var path :
        List.of(
            "/",
            "/sign-in",
            "/people",
            "/people/{*rest}",
            "/flow",
            "/applications",
            "/applications/{*rest}",
            "/feeds",
            "/feeds/{*rest}",
            "/operations/{*rest}",
            "/operations",
            "/held",
            "/held/{*rest}",
            "/work-list",
            "/ledger",
            "/parts")) {
      registry.addViewController(path).setViewName("forward:/index.html");
    }
  }

  /** Gives the handlers the one who asks. */
  private record ActorOfRequest(SignIns signIns) implements HandlerMethodArgumentResolver {
    @Override
    public boolean supportsParameter(MethodParameter parameter) {
      return parameter.getParameterType().equals(Actor.class);
    }

    @Override
    public Actor resolveArgument(
        MethodParameter parameter,
        @Nullable ModelAndViewContainer container,
        NativeWebRequest request,
        @Nullable WebDataBinderFactory binders) {
      return Who.asks(signIns)
          .orElseThrow(
              () -> new ResponseStatusException(HttpStatus.UNAUTHORIZED, "Sign in first."));
    }
  }
}
