package glenmoor.cli;

import java.io.IOException;
import java.net.URI;
import java.net.URLEncoder;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpRequest.BodyPublisher;
import java.net.http.HttpRequest.BodyPublishers;
import java.net.http.HttpResponse;
import java.net.http.HttpResponse.BodyHandlers;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/**
 * Speaks to the service. Where it is and whose token to use come from {@code GLENMOOR_URL} and
 * {@code GLENMOOR_TOKEN_FILE}.
 */
public final class Client {
  private static final JsonMapper JSON = JsonMapper.shared();
  private static final long POLL_MILLIS = 150;

  /** The service refused or could not be reached; the message is for the user. */
  public static final class Failed extends RuntimeException {
    private static final long serialVersionUID = 1;

    public Failed(String sentence) {
      super(sentence);
    }
  }

  private final HttpClient http =
      HttpClient.newBuilder().version(HttpClient.Version.HTTP_1_1).build();
  private final String url;
  private final @Nullable String tokenFile;

  public Client(Map<String, String> environment) {
    url = environment.getOrDefault("GLENMOOR_URL", "http://127.0.0.1:7480");
    tokenFile = environment.get("GLENMOOR_TOKEN_FILE");
  }

  /** The query part of an address; parameters without a value are left out. */
  public static String query(@Nullable Object... namesAndValues) {
    var query = new StringBuilder();
    for (var i = 0; i < namesAndValues.length; i += 2) {
      var value = namesAndValues[i + 1];
      if (value instanceof Iterable<?> each) {
        for (var one : each) {
          add(query, namesAndValues[i], one);
        }
      } else if (value != null && !value.toString().isEmpty()) {
        add(query, namesAndValues[i], value);
      }
    }
    return query.toString();
  }

  private static void add(StringBuilder query, @Nullable Object name, Object value) {
    query
        .append(query.isEmpty() ? '?' : '&')
        .append(name)
        .append('=')
        .append(encoded(value.toString()));
  }

  public static String encoded(String text) {
    return URLEncoder.encode(text, StandardCharsets.UTF_8);
  }

  public JsonNode get(String path) {
    return json(send("GET", path, "application/json", BodyPublishers.noBody()));
  }

  /** The body as text, for what is no JSON. */
  public String text(String path) {
    return send("GET", path, "application/json", BodyPublishers.noBody());
  }

  public JsonNode post(String path, @Nullable Object body) {
    return json(send("POST", path, "application/json", body(body)));
  }

  public JsonNode put(String path, Object body) {
    return json(send("PUT", path, "application/json", body(body)));
  }

  /** Sends a file as it is. */
  public JsonNode postFile(String path, Path file) {
    try {
      return json(send("POST", path, "text/csv", BodyPublishers.ofFile(file)));
    } catch (IOException unreadable) {
      throw new Failed("The file %s cannot be read.".formatted(file));
    }
  }

  private static BodyPublisher body(@Nullable Object body) {
    return body == null
        ? BodyPublishers.noBody()
        : BodyPublishers.ofString(JSON.writeValueAsString(body));
  }

  /**
   * Waits for long work, telling how far it is.
   *
   * @return what the work came to
   */
  public JsonNode await(JsonNode accepted, Output output) {
    var id = accepted.path("id").asLong();
    while (true) {
      var work = get("/api/v1/progress/" + id);
      switch (work.path("state").asString("")) {
        case "running" -> output.progress(work.path("sentence").asString(""));
        case "done" -> {
          output.progress("");
          return work.path("result");
        }
        default -> {
          output.progress("");
          throw new Failed(work.path("sentence").asString(""));
        }
      }
      pause();
    }
  }

  private static void pause() {
    try {
      Thread.sleep(POLL_MILLIS);
    } catch (InterruptedException stopped) {
      Thread.currentThread().interrupt();
      throw new Failed("Stopped waiting; the work goes on in the service.");
    }
  }

  private static JsonNode json(String body) {
    return body.isEmpty() ? JSON.createObjectNode() : JSON.readTree(body);
  }

  private String send(String method, String path, String type, BodyPublisher body) {
    var request =
        HttpRequest.newBuilder(URI.create(url + path))
            .method(method, body)
            .header("Content-Type", type)
            .header("Accept", "*/*");
    if (tokenFile != null) {
      request.header("Authorization", "Bearer " + token(tokenFile));
    }
    HttpResponse<String> response;
    try {
      response = http.send(request.build(), BodyHandlers.ofString());
    } catch (IOException away) {
      throw new Failed(
          "Nothing answers at %s. Is the service running? (./glenmoor status tells; GLENMOOR_URL says where it is.)"
              .formatted(url));
    } catch (InterruptedException stopped) {
      Thread.currentThread().interrupt();
      throw new Failed("Stopped.");
    }
    if (response.statusCode() >= 400) {
      throw new Failed(problem(response));
    }
    return response.body();
  }

  private static String token(String file) {
    try {
      return Files.readString(Path.of(file)).strip();
    } catch (IOException unreadable) {
      throw new Failed("The token file %s cannot be read.".formatted(file));
    }
  }

  /** The problem document's own sentences (RFC 9457). */
  private static String problem(HttpResponse<String> response) {
    try {
      var body = JSON.readTree(response.body());
      var lines = new StringBuilder(body.path("detail").asString("HTTP " + response.statusCode()));
      var errors = body.path("errors");
      if (errors.size() > 1) {
        errors.forEach(each ->
            lines
                .append("\n  ")
                .append(each.path("pointer").asString(""))
                .append(": ")
                .append(each.path("detail").asString("")));
      }
      return lines.toString();
    } catch (JacksonException noJson) {
      return "The service answers with HTTP status " + response.statusCode() + ".";
    }
  }

  /** A JSON object with these fields in this order. */
  public static Map<String, Object> object(Object... namesAndValues) {
    var object = new LinkedHashMap<String, Object>();
    for (var i = 0; i < namesAndValues.length; i += 2) {
      object.put(namesAndValues[i].toString(), namesAndValues[i + 1]);
    }
    return object;
  }
}
