package glenmoor.cli;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import com.sun.net.httpserver.HttpServer;
import java.io.IOException;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.assertj.core.api.ThrowableAssert.ThrowingCallable;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/**
 * What the client makes of answers that the real service gives rarely; the rest is in the stories.
 */
class ClientTest {
  @TempDir private Path directory;
  private final List<String> asked = new ArrayList<>();
  private HttpServer server;
  private int status = 200;
  private volatile String answer = "{}";

  @BeforeEach
  void start() throws IOException {
    start(0);
  }

  private void start(int port) throws IOException {
    server = HttpServer.create(new InetSocketAddress("127.0.0.1", port), 0);
    server.createContext(
        "/",
        exchange -> {
          asked.add(
              exchange.getRequestURI()
                  + " "
                  + exchange.getRequestHeaders().getFirst("Authorization"));
          var bytes = answer(exchange.getRequestURI().toString()).getBytes(StandardCharsets.UTF_8);
          exchange.sendResponseHeaders(status, bytes.length);
          exchange.getResponseBody().write(bytes);
          exchange.close();
        });
    server.start();
  }

  private String answer(String address) {
    return address.contains("after=2") ? "{\"items\": [3], \"next\": null}" : answer;
  }

  @AfterEach
  void stop() {
    server.stop(0);
  }

  private Client client(String... more) {
    var url = "http://127.0.0.1:" + server.getAddress().getPort();
    return new Client(
        more.length == 0
            ? Map.of("GLENMOOR_URL", url)
            : Map.of("GLENMOOR_URL", url, "GLENMOOR_TOKEN_FILE", more[0]));
  }

  @Test
  void a_query_leaves_out_what_was_not_said_and_repeats_what_was_said_twice() {
    assertThat(Client.query("a", null, "b", "", "c", "x&y", "d", List.of("1", "2")))
        .isEqualTo("?c=x%26y&d=1&d=2");
    assertThat(Client.query("a", null)).isEmpty();
  }

  @Test
  void the_token_is_read_from_its_file_each_time() throws IOException {
    var file = Files.writeString(directory.resolve("token"), "glm_one\n");
    var client = client(file.toString());
    client.get("/x");
    Files.writeString(file, "glm_two\n");
    client.get("/x");
    assertThat(asked).containsExactly("/x Bearer glm_one", "/x Bearer glm_two");
    Files.delete(file);
    assertThatThrownBy(() -> client.get("/x")).hasMessageContaining("token file");
  }

  @Test
  void a_problem_is_its_sentence_and_every_place() {
    status = 422;
    answer =
        "{\"detail\": \"2 things are wrong.\", \"errors\": [{\"pointer\": \"x.yaml line 3\", \"detail\": \"no such package\"}, {\"pointer\": \"/b\", \"detail\": \"empty\"}]}";
    assertThatThrownBy(() -> client().get("/x"))
        .isInstanceOf(Client.Failed.class)
        .hasMessage("2 things are wrong.\n  x.yaml line 3: no such package\n  /b: empty");
  }

  @Test
  void what_is_no_problem_document_is_told_by_its_status() {
    status = 502;
    answer = "<html>bad gateway</html>";
    assertThatThrownBy(() -> client().get("/x")).hasMessageContaining("502");
  }

  @Test
  void nobody_there_is_told_with_where_it_looked() {
    server.stop(0);
    assertThatThrownBy(() -> client().get("/x"))
        .isInstanceOf(Client.Failed.class)
        .hasMessageContaining("Nothing answers at http://127.0.0.1:");
  }

  @Test
  void pages_are_joined_until_there_are_enough() {
    answer = "{\"items\": [1, 2], \"total\": 3, \"next\": \"2\"}";
    var paging = new Paging();
    paging.all = true;
    var all = paging.of(client(), "/list", "state", "fault");
    assertThat(all.path("items")).hasSize(3);
    assertThat(all.path("next").isNull()).isTrue();
    assertThat(all.path("total").asInt()).isEqualTo(3);
    assertThat(asked)
        .containsExactly(
            "/list?state=fault&limit=500 null", "/list?state=fault&after=2&limit=500 null");
    asked.clear();
    var two = new Paging();
    two.limit = 2;
    assertThat(two.of(client(), "/list").path("next").asString()).isEqualTo("2");
    assertThat(asked).containsExactly("/list?limit=2 null");
  }

  @Test
  void work_that_was_refused_says_why() {
    answer = "{\"id\": 7, \"state\": \"refused\", \"sentence\": \"The file is empty.\"}";
    var client = client();
    assertThatThrownBy(() -> client.await(client.get("/x"), new Output()))
        .hasMessage("The file is empty.");
    answer = "{\"id\": 7, \"state\": \"done\", \"result\": {\"rows\": 5}}";
    assertThat(client.await(client.get("/x"), new Output()).path("rows").asInt()).isEqualTo(5);
  }

  private static int exit(ThrowingCallable call) {
    try {
      call.call();
    } catch (Client.Failed failed) {
      return failed.exit();
    } catch (Throwable other) {
      throw new AssertionError(other);
    }
    return 0;
  }

  @Test
  void without_a_token_what_is_said_is_about_signing_in() {
    for (var each : List.of(401, 403)) {
      status = each;
      answer = "{\"detail\": \"The request carries no proof that it comes from the console.\"}";
      assertThatThrownBy(() -> client().post("/x", Map.of()))
          .hasMessageContaining("Sign in first")
          .hasMessageNotContaining("console");
    }
  }

  @Test
  void a_question_in_wrong_words_is_exit_2_and_a_refusal_exit_1() {
    status = 422;
    answer = "{\"detail\": \"There is no state nope.\"}";
    assertThat(exit(() -> client().get("/x"))).isEqualTo(2);
    assertThat(exit(() -> client().post("/x", Map.of()))).isEqualTo(1);
  }

  @Test
  void a_bad_address_and_a_slash_at_its_end_are_understood() {
    for (var bad : List.of("nonsense", "ftp://x", "http://", "http://a b", "")) {
      var client = new Client(Map.of("GLENMOOR_URL", bad));
      assertThatThrownBy(() -> client.get("/x"))
          .as(bad)
          .hasMessageContaining("GLENMOOR_URL is “" + bad.replaceAll("/+$", "") + "”");
      assertThat(exit(() -> client.get("/x"))).isEqualTo(2);
    }
    new Client(Map.of("GLENMOOR_URL", "http://127.0.0.1:" + server.getAddress().getPort() + "//"))
        .get("/x");
    assertThat(asked).containsExactly("/x null");
  }

  @Test
  void a_directory_or_nothing_is_no_file() {
    assertThatThrownBy(() -> client().postFile("/x", directory))
        .hasMessageContaining("is a directory");
    assertThatThrownBy(() -> client().postFile("/x", directory.resolve("none")))
        .hasMessageContaining("There is no file");
    assertThat(asked).isEmpty();
  }

  @Test
  void a_poll_that_fails_is_not_the_work_that_fails() {
    answer = "{\"id\": 7, \"state\": \"running\"}";
    var client = client();
    var accepted = client.get("/x");
    new Thread(
            () -> {
              try {
                Thread.sleep(400);
                server.stop(0);
                Thread.sleep(600);
                var port = server.getAddress().getPort();
                answer = "{\"id\": 7, \"state\": \"done\", \"result\": {\"rows\": 5}}";
                start(port);
              } catch (IOException | InterruptedException failed) {
                throw new IllegalStateException(failed);
              }
            })
        .start();
    assertThat(client.await(accepted, new Output()).path("rows").asInt()).isEqualTo(5);
  }
}
