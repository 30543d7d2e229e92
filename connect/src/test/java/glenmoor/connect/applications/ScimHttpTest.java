package glenmoor.connect.applications;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import com.unboundid.scim2.common.utils.JsonUtils;
import glenmoor.connect.applications.ScimHttp.Failed;
import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.ProxySelector;
import java.net.ServerSocket;
import java.net.Socket;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.util.List;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.concurrent.atomic.AtomicReference;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/**
 * What lies below SCIM: connections that close, answers without end, and threads that are stopped.
 */
class ScimHttpTest {
  private static final String WELL = answer("{\"schemas\":[\"%s\"]}".formatted(ScimHttp.USER));

  private final List<String> requests = new CopyOnWriteArrayList<>();
  private final AtomicReference<Answering> answering = new AtomicReference<>();
  private ServerSocket server;
  private ScimHttp http;

  /** What comes back for the nth request of a connection; nothing closes it. */
  private interface Answering {
    String answer(int nth);
  }

  @BeforeEach
  void start() throws IOException {
    server = new ServerSocket(0, 50, InetAddress.getLoopbackAddress());
    http = new ScimHttp("http://127.0.0.1:%d/scim/v2/".formatted(server.getLocalPort()), "a token");
    Thread.ofVirtual().start(this::accept);
  }

  @AfterEach
  void stop() throws IOException {
    http.close();
    server.close();
  }

  private void accept() {
    try {
      while (true) {
        var connection = server.accept();
        Thread.ofVirtual().start(() -> serve(connection));
      }
    } catch (IOException closed) {
      // The test is over.
    }
  }

  private void serve(Socket connection) {
    try (connection;
        var in =
            new BufferedReader(
                new InputStreamReader(connection.getInputStream(), StandardCharsets.US_ASCII))) {
      for (var nth = 1; ; nth++) {
        var first = in.readLine();
        if (first == null) {
          return;
        }
        requests.add(first);
        var length = 0;
        for (var line = in.readLine(); !line.isEmpty(); line = in.readLine()) {
          length =
              line.startsWith("Content-Length: ") ? Integer.parseInt(line.substring(16)) : length;
        }
        for (var i = 0; i < length; i++) {
          in.read();
        }
        var back = answering.get().answer(nth);
        if (back.isEmpty()) {
          return;
        }
        connection.getOutputStream().write(back.getBytes(StandardCharsets.US_ASCII));
        connection.getOutputStream().flush();
      }
    } catch (IOException closed) {
      // The other end has had enough.
    }
  }

  private static String answer(String body) {
    return "HTTP/1.1 200 OK\r\nContent-Type: application/scim+json\r\nContent-Length: %d\r\n\r\n%s"
        .formatted(body.length(), body);
  }

  private void get() throws Failed {
    http.get("/Users/1", ScimHttp.USER);
  }

  private void post() throws Failed {
    http.post("/Users", JsonUtils.getJsonNodeFactory().objectNode(), ScimHttp.USER);
  }

  @Test
  void a_connection_is_kept() throws Failed {
    var connections = new CopyOnWriteArrayList<Integer>();
    answering.set(nth -> {
      connections.add(nth);
      return WELL;
    });
    get();
    get();
    get();
    assertThat(connections).containsExactly(1, 2, 3);
    assertThat(requests).containsOnly("GET /scim/v2/Users/1 HTTP/1.1");
  }

  @Test
  void what_is_read_is_read_again_where_a_kept_connection_was_closed() throws Failed {
    answering.set(nth -> nth == 1 ? WELL : "");
    get();
    get();
    assertThat(requests).hasSize(3);
  }

  @Test
  void what_changes_something_is_not_sent_a_second_time() throws Failed {
    answering.set(nth -> nth == 1 ? WELL : "");
    get();
    assertThatThrownBy(this::post)
        .isInstanceOfSatisfying(
            Failed.class, failed -> assertThat(failed.status()).isEqualTo(Failed.AWAY));
    assertThat(requests).hasSize(2);
  }

  @Test
  void one_that_never_answers_is_not_asked_without_end() {
    answering.set(nth -> "");
    assertThatThrownBy(this::get).hasMessageContaining("broke the connection off");
    assertThat(requests).hasSize(2);
  }

  @Test
  void an_answer_without_end_is_cut_off() {
    answering.set(nth ->
        "HTTP/1.1 200 OK\r\nContent-Type: application/scim+json\r\nConnection: close\r\n\r\n"
            + " ".repeat(33 << 20));
    assertThatThrownBy(this::get).hasMessageContaining("broke the connection off");
  }

  @Test
  void nobody_is_followed_elsewhere() {
    answering.set(
        nth -> "HTTP/1.1 302 Found\r\nLocation: /scim/v2/Users/2\r\nContent-Length: 0\r\n\r\n");
    assertThatThrownBy(this::get).hasMessageContaining("not SCIM (status 302");
    assertThat(requests).hasSize(1);
  }

  @Test
  void where_there_is_a_proxy_it_is_asked() throws Failed {
    answering.set(nth -> WELL);
    var usual = ProxySelector.getDefault();
    ProxySelector.setDefault(
        ProxySelector.of(new InetSocketAddress("127.0.0.1", server.getLocalPort())));
    var far = new ScimHttp("http://cloud.skerry.example/scim", "a token");
    try {
      far.get("/Users/1", ScimHttp.USER);
    } finally {
      far.close();
      ProxySelector.setDefault(usual);
    }
    assertThat(requests).containsExactly("GET http://cloud.skerry.example/scim/Users/1 HTTP/1.1");
  }

  @Test
  void whoever_waits_can_be_stopped() throws InterruptedException {
    var told = new AtomicReference<Throwable>();
    answering.set(nth -> {
      try {
        Thread.sleep(Duration.ofSeconds(30));
      } catch (InterruptedException over) {
        Thread.currentThread().interrupt();
      }
      return "";
    });
    var waiting =
        Thread.ofVirtual()
            .start(() -> {
              try {
                get();
              } catch (Failed failed) {
                told.set(failed);
              }
            });
    while (requests.isEmpty()) {
      Thread.sleep(5);
    }
    waiting.interrupt();
    assertThat(waiting.join(Duration.ofSeconds(5))).isTrue();
    assertThat(told.get()).hasMessageContaining("Stopped while waiting");
  }

  @Test
  void what_is_asked_after_it_was_closed_is_not_refused_but_can_be_sent_another_time() {
    http.close();
    assertThatThrownBy(this::get)
        .hasMessageContaining("was closed meanwhile")
        .isInstanceOfSatisfying(
            Failed.class, failed -> assertThat(failed.status()).isEqualTo(Failed.AWAY));
  }

  @Test
  void where_nobody_listens_nothing_answers() throws IOException {
    int free;
    try (var once = new ServerSocket(0, 1, InetAddress.getLoopbackAddress())) {
      free = once.getLocalPort();
    }
    var nobody = new ScimHttp("http://127.0.0.1:" + free, "a token");
    try {
      assertThatThrownBy(() -> nobody.get("/Users/1", ScimHttp.USER))
          .hasMessage("Nothing answers at http://127.0.0.1:" + free);
    } finally {
      nobody.close();
    }
  }
}
