package glenmoor.server;

import glenmoor.core.authorization.Actor;
import glenmoor.engine.identity.SignIns;
import glenmoor.engine.identity.Tokens;
import glenmoor.server.identity.HashedSessions;
import glenmoor.server.identity.Who;
import jakarta.servlet.http.HttpServletRequest;
import java.io.IOException;
import java.util.List;
import java.util.Objects;
import org.jspecify.annotations.Nullable;
import org.springdoc.core.utils.SpringDocUtils;
import org.springframework.boot.security.autoconfigure.actuate.web.servlet.EndpointRequest;
import org.springframework.context.annotation.Bean;
import org.springframework.context.annotation.Configuration;
import org.springframework.core.MethodParameter;
import org.springframework.core.Ordered;
import org.springframework.core.annotation.Order;
import org.springframework.core.io.Resource;
import org.springframework.http.CacheControl;
import org.springframework.http.HttpMethod;
import org.springframework.http.HttpStatus;
import org.springframework.security.config.annotation.web.builders.HttpSecurity;
import org.springframework.security.oauth2.server.resource.introspection.BadOpaqueTokenException;
import org.springframework.security.oauth2.server.resource.introspection.OpaqueTokenIntrospector;
import org.springframework.security.web.SecurityFilterChain;
import org.springframework.security.web.context.HttpSessionSecurityContextRepository;
import org.springframework.security.web.context.SecurityContextRepository;
import org.springframework.security.web.csrf.CookieCsrfTokenRepository;
import org.springframework.security.web.csrf.CsrfTokenRepository;
import org.springframework.security.web.header.writers.ReferrerPolicyHeaderWriter.ReferrerPolicy;
import org.springframework.security.web.servlet.util.matcher.PathPatternRequestMatcher;
import org.springframework.session.web.http.DefaultCookieSerializer;
import org.springframework.web.bind.support.WebDataBinderFactory;
import org.springframework.web.context.request.NativeWebRequest;
import org.springframework.web.method.support.HandlerMethodArgumentResolver;
import org.springframework.web.method.support.ModelAndViewContainer;
import org.springframework.web.servlet.config.annotation.InterceptorRegistry;
import org.springframework.web.servlet.config.annotation.ResourceHandlerRegistry;
import org.springframework.web.servlet.config.annotation.ViewControllerRegistry;
import org.springframework.web.servlet.config.annotation.WebMvcConfigurer;
import org.springframework.web.servlet.resource.PathResourceResolver;

/**
 * Who gets in: the console by a session cookie with protection against forged requests, programs by
 * a bearer token (RFC 6750). What somebody may do is not decided here but in the engine.
 */
@Configuration(proxyBeanMethods = false)
class SecurityConfiguration implements WebMvcConfigurer {
  static {
    SpringDocUtils.getConfig().addRequestWrapperToIgnore(Actor.class);
  }

  /**
   * What a page may load and send: its own, and nothing of or to anybody else. Workbooks are packed
   * by a worker.
   */
  private static final String CONTENT_POLICY =
      "default-src 'self'; img-src 'self' data:; style-src 'self' 'unsafe-inline'; worker-src 'self' blob:; object-src 'none'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'";

  private final Tokens tokens;
  private final Who who;

  SecurityConfiguration(Tokens tokens, SignIns signIns, ServiceSettings settings) {
    this.tokens = tokens;
    who = new Who(signIns, tokens, settings.longestSession());
  }

  @Bean
  Who who() {
    return who;
  }

  /** Health and metrics stand on a port of their own: there, nobody is asked who they are. */
  @Bean
  @Order(Ordered.HIGHEST_PRECEDENCE)
  SecurityFilterChain management(HttpSecurity http) throws Exception {
    return http.securityMatcher(EndpointRequest.toAnyEndpoint())
        .authorizeHttpRequests(requests -> requests.anyRequest().permitAll())
        .csrf(csrf -> csrf.disable())
        .build();
  }

  @Bean
  SecurityFilterChain chain(HttpSecurity http, CsrfTokenRepository forgery) throws Exception {
    return http.authorizeHttpRequests(requests ->
            requests
                .requestMatchers("/api/v1/session", "/api/v1/openapi/**", "/api/v1/openapi")
                .permitAll()
                .requestMatchers(
                    HttpMethod.POST,
                    "/api/v1/tokens",
                    "/api/v1/session/password",
                    "/api/v1/decision-keys",
                    "/api/v1/decision-keys/look",
                    "/api/v1/chats/*/decisions",
                    "/api/v1/partner-doors/*/asks",
                    "/api/v1/partner-doors/confirm")
                .permitAll()
                .requestMatchers(HttpMethod.GET, "/api/v1/partner-doors/*")
                .permitAll()
                .requestMatchers("/api/**", "/scim/**")
                .authenticated()
                .anyRequest()
                .permitAll())
        .csrf(csrf ->
            csrf.spa()
                .csrfTokenRepository(forgery)
                .ignoringRequestMatchers(
                    PathPatternRequestMatcher.pathPattern(HttpMethod.POST, "/api/v1/tokens"),
                    PathPatternRequestMatcher.pathPattern(
                        HttpMethod.POST, "/api/v1/session/password"),
                    // Whoever has the key, or the chat's secret, needs no other proof.
                    PathPatternRequestMatcher.pathPattern(HttpMethod.POST, "/api/v1/decision-keys"),
                    PathPatternRequestMatcher.pathPattern(
                        HttpMethod.POST, "/api/v1/decision-keys/look"),
                    PathPatternRequestMatcher.pathPattern(
                        HttpMethod.POST, "/api/v1/chats/*/decisions"),
                    // Nobody's session is used here.
                    PathPatternRequestMatcher.pathPattern(
                        HttpMethod.POST, "/api/v1/partner-doors/*/asks"),
                    PathPatternRequestMatcher.pathPattern(
                        HttpMethod.POST, "/api/v1/partner-doors/confirm")))
        // What somebody asked for before they signed in is nothing to keep a session for.
        .requestCache(cache -> cache.disable())
        .headers(headers ->
            headers
                .contentSecurityPolicy(policy -> policy.policyDirectives(CONTENT_POLICY))
                .referrerPolicy(policy -> policy.policy(ReferrerPolicy.SAME_ORIGIN)))
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
  CsrfTokenRepository forgery(ServiceSettings settings) {
    var repository = CookieCsrfTokenRepository.withHttpOnlyFalse();
    repository.setCookieCustomizer(
        cookie -> cookie.secure(settings.secureCookies()).sameSite("Lax"));
    return repository;
  }

  @Bean
  HashedSessions sessions(ServiceSettings settings) {
    var cookies = new DefaultCookieSerializer();
    cookies.setCookieName("glenmoor");
    cookies.setUseHttpOnlyCookie(true);
    cookies.setSameSite("Lax");
    cookies.setUseSecureCookie(settings.secureCookies());
    cookies.setUseBase64Encoding(false);
    return new HashedSessions(cookies);
  }

  @Bean
  SecurityContextRepository contexts() {
    return new HttpSessionSecurityContextRepository();
  }

  @Bean
  OpaqueTokenIntrospector introspector() {
    return token ->
        tokens
            .actor(token)
            .map(Who::byToken)
            .orElseThrow(() -> new BadOpaqueTokenException("unknown or expired"));
  }

  @Override
  public void addArgumentResolvers(List<HandlerMethodArgumentResolver> resolvers) {
    resolvers.add(new ActorOfRequest());
  }

  /** The console finds its own way: each address that is no file of it is answered by its page. */
  @Override
  public void addResourceHandlers(ResourceHandlerRegistry registry) {
    registry
        .addResourceHandler("/**")
        .addResourceLocations("classpath:/static/")
        .setCacheControl(CacheControl.noCache())
        .resourceChain(true)
        .addResolver(new ConsoleFiles());
  }

  @Override
  public void addViewControllers(ViewControllerRegistry registry) {
    registry.addViewController("/").setViewName("forward:/index.html");
  }

  private static final class ConsoleFiles extends PathResourceResolver {
    @Override
    protected @Nullable Resource getResource(String path, Resource location) throws IOException {
      var file = super.getResource(path, location);
      var isPage =
          !path.startsWith("api/")
              && !path.startsWith("scim/")
              && !path.startsWith("actuator/")
              && !path.contains(".");
      return file == null && isPage ? super.getResource("index.html", location) : file;
    }
  }

  @Override
  public void addInterceptors(InterceptorRegistry registry) {
    registry.addInterceptor(new Gate(who));
  }

  /** Gives the handlers the one who asks. */
  private static final class ActorOfRequest implements HandlerMethodArgumentResolver {
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
      return Gate.actor(Objects.requireNonNull(request.getNativeRequest(HttpServletRequest.class)));
    }
  }
}
