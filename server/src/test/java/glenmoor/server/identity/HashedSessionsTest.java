package glenmoor.server.identity;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import jakarta.servlet.http.Cookie;
import java.util.Objects;
import org.junit.jupiter.api.Test;
import org.springframework.mock.web.MockHttpServletRequest;
import org.springframework.mock.web.MockHttpServletResponse;
import org.springframework.session.web.http.DefaultCookieSerializer;

/** What browsers bring is kept as a hash only. */
class HashedSessionsTest {
  private final HashedSessions sessions = new HashedSessions(serializer());

  private static DefaultCookieSerializer serializer() {
    var cookies = new DefaultCookieSerializer();
    cookies.setCookieName("glenmoor");
    cookies.setUseBase64Encoding(false);
    return cookies;
  }

  private static MockHttpServletRequest bringing(String secret) {
    var request = new MockHttpServletRequest();
    request.setCookies(new Cookie("glenmoor", secret));
    return request;
  }

  @Test
  void a_new_session_is_given_to_the_browser_and_found_again_by_what_it_brings() {
    var id = sessions.generate();
    var response = new MockHttpServletResponse();
    sessions.setSessionId(new MockHttpServletRequest(), response, id);
    var secret = Objects.requireNonNull(response.getCookie("glenmoor")).getValue();
    assertThat(secret).isNotEqualTo(id);
    assertThat(sessions.resolveSessionIds(bringing(secret))).containsExactly(id);
  }

  @Test
  void a_session_that_ended_while_its_stream_went_on_is_written_down_without_a_new_cookie() {
    var response = new MockHttpServletResponse();
    sessions.setSessionId(bringing("a secret"), response, HashedSessions.hash("a secret"));
    assertThat(response.getCookies()).isEmpty();
  }

  @Test
  void a_session_of_somebody_else_is_never_given_away() {
    var response = new MockHttpServletResponse();
    var others = HashedSessions.hash("another secret");
    assertThatThrownBy(() -> sessions.setSessionId(bringing("a secret"), response, others))
        .isInstanceOf(IllegalStateException.class);
    sessions.generate();
    assertThatThrownBy(() -> sessions.setSessionId(bringing("a secret"), response, others))
        .isInstanceOf(IllegalStateException.class);
    assertThat(response.getCookies()).isEmpty();
  }
}
