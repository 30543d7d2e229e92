package glenmoor.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.net.URI;
import java.net.http.HttpRequest;
import java.net.http.HttpRequest.BodyPublishers;
import java.net.http.HttpResponse;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.concurrent.Executors;
import org.junit.jupiter.api.Order;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/**
 * Who may ask what: each address of the API, as it describes itself, asked by nobody and by
 * everybody, and compared with the table in the docs. An address without a row fails.
 *
 * <p>What is sent is empty or of nobody, so that whoever may do something finds out no more than
 * that it cannot be done like this.
 */
@AnyDay
@Order(6)
class MatrixTest {
  private static final String NOBODY = "nobody";
  private static final String WRONG_TOKEN = "a wrong token";

  /** Who asks, in the order of the table: what they are called there, and their sign-in. */
  private static final Map<String, String> ASKERS = new LinkedHashMap<>();

  static {
    ASKERS.put(NOBODY, "");
    ASKERS.put(WRONG_TOKEN, "");
    ASKERS.put("a person", "tam");
    ASKERS.put("a manager", "angus");
    ASKERS.put("owner", "rhona");
    ASKERS.put("fixer", "kofi");
    ASKERS.put("people-desk", "anneli");
    ASKERS.put("auditor", "siobhan");
    ASKERS.put("administrator", "isa");
  }

  private final Map<String, String> tokens = new TreeMap<>();

  private String token(String login) {
    return tokens.computeIfAbsent(
        login,
        name -> {
          var body =
              JsonMapper.shared()
                  .writeValueAsString(
                      Map.of("login", name, "password", Demo.running().password(name)));
          var made =
              Demo.http(
                  request("/api/v1/tokens")
                      .header("Content-Type", "application/json")
                      .POST(BodyPublishers.ofString(body)));
          return JsonMapper.shared().readTree(made.body()).path("token").asString();
        });
  }

  private static HttpRequest.Builder request(String path) {
    return HttpRequest.newBuilder(URI.create(Demo.running().url() + path));
  }

  /** One row: a method, an address, and what stands in its place. */
  private record Row(String method, String path, String what, String asked, String type) {}

  private static List<Row> rows(JsonNode description) {
    var rows = new ArrayList<Row>();
    for (var path : description.path("paths").properties()) {
      for (var method : path.getValue().properties()) {
        var content = method.getValue().path("requestBody").path("content");
        var type = content.isEmpty() ? "" : content.propertyNames().iterator().next();
        rows.addAll(rows(method.getKey().toUpperCase(), path.getKey(), type));
      }
    }
    return rows;
  }

  private static List<Row> rows(String method, String path, String type) {
    if (path.contains("{worker}")) {
      var query = "?entitlement=directory/crew&application=nowhere";
      var people = new LinkedHashMap<String, String>();
      people.put("a deckhand", "W-01012");
      people.put("a mate", "W-01006");
      people.put("a report of the mate", "W-01011");
      people.put("a stranger", "W-01002");
      people.put("nobody", "W-00000");
      return people.entrySet().stream()
          .map(each ->
              new Row(
                  method,
                  path,
                  each.getKey(),
                  path.replace("{worker}", each.getValue()) + query,
                  type))
          .toList();
    }
    if (path.startsWith("/api/v1/applications/{key}/")) {
      var of = path.endsWith("/preview") ? "?worker=W-01012" : "";
      return List.of("chartshare", "quaybook", "nowhere").stream()
          .map(key -> new Row(method, path, key, path.replace("{key}", key) + of, type))
          .toList();
    }
    var asked =
        path.replace("{id}", "77000000077")
            .replace("{key}", path.contains("/tokens/") ? "0000000000000000" : "nowhere")
            .replace("{kind}", "letter")
            .replace("{package}", "nothing")
            .replace("{line}", "77000000077")
            .replace("{channel}", "nowhere")
            .replace("{login}", "Not.A.Name")
            .replace("{fact}", "location");
    var query =
        path.endsWith("/find")
            ? "?text=kerr"
            : path.endsWith("/counts")
                ? "?since=2027-03-01T00:00:00Z&until=2027-03-02T00:00:00Z"
                : path.endsWith("/operations/retry")
                    ? "?application=nowhere"
                    : path.endsWith("/grants") ? "?worker=W-00000" : "";
    return List.of(new Row(method, path, "", asked + query, type));
  }

  private HttpResponse<InputStream> ask(Row row, String asker) {
    var builder = request(row.asked());
    if (!row.type().isEmpty()) {
      builder.header("Content-Type", row.type());
    }
    if (asker.equals(WRONG_TOKEN)) {
      builder.header("Authorization", "Bearer glm_nonsense");
    } else if (!asker.equals(NOBODY)) {
      builder.header("Authorization", "Bearer " + token(ASKERS.get(asker)));
    }
    var body = row.type().equals("application/json") ? "{}" : "";
    return Demo.open(
        builder.method(
            row.method(),
            row.method().equals("GET") ? BodyPublishers.noBody() : BodyPublishers.ofString(body)));
  }

  /** What an answer means to whoever asked. */
  private static String word(int status) {
    return switch (status) {
      case 401 -> "sign in";
      case 403 -> "no";
      case 404 -> "not there";
      default -> status < 500 ? "yes" : "broken: " + status;
    };
  }

  @Test
  void each_address_answers_each_asker_as_the_table_says() throws Exception {
    var description =
        JsonMapper.shared().readTree(Demo.http(request("/api/v1/openapi").GET()).body());
    var table = new StringBuilder();
    table.append("| asked | of | ").append(String.join(" | ", ASKERS.keySet())).append(" |\n|");
    table.append(" --- |".repeat(ASKERS.size() + 2)).append('\n');
    var rows = rows(description);
    // Whoever comes with wrong tokens again and again is held back, so they are all asked at once.
    try (var threads = Executors.newVirtualThreadPerTaskExecutor()) {
      var wrong = rows.stream().map(row -> threads.submit(() -> status(row, WRONG_TOKEN))).toList();
      for (var i = 0; i < rows.size(); i++) {
        var row = rows.get(i);
        table.append("| `%s %s` | %s |".formatted(row.method(), row.path(), row.what()));
        for (var asker : ASKERS.keySet()) {
          var status = asker.equals(WRONG_TOKEN) ? wrong.get(i).get() : status(row, asker);
          table.append(' ').append(word(status)).append(" |");
        }
        table.append('\n');
      }
    }
    compared(table.toString());
  }

  private int status(Row row, String asker) {
    var response = ask(row, asker);
    try {
      response.body().close();
    } catch (IOException failed) {
      throw new UncheckedIOException(failed);
    }
    return response.statusCode();
  }

  private static void compared(String table) throws IOException {
    var root = Path.of(System.getenv("GLENMOOR_TEST_ROOT"));
    Files.writeString(root.resolve("acceptance/target/permissions.md"), table);
    assertThat(table).doesNotContain("broken");
    assertThat(Files.readString(root.resolve("docs/permissions.md")))
        .as("docs/permissions.md; what it should say is in acceptance/target/permissions.md")
        .contains(table);
  }
}
