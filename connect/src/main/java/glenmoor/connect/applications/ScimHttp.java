package glenmoor.connect.applications;

import java.io.IOException;
import java.net.ConnectException;
import java.net.URI;
import java.net.URLEncoder;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpRequest.BodyPublishers;
import java.net.http.HttpResponse;
import java.net.http.HttpResponse.BodyHandlers;
import java.net.http.HttpTimeoutException;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.time.ZonedDateTime;
import java.time.format.DateTimeFormatter;
import java.time.format.DateTimeParseException;
import java.util.Optional;
import java.util.concurrent.Executors;
import org.jspecify.annotations.Nullable;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** Sends SCIM requests (RFC 7644) and tells apart what failed and whether it may pass. */
final class ScimHttp {
  private static final JsonMapper JSON = JsonMapper.shared();
  private static final Duration CONNECT = Duration.ofSeconds(4);
  private static final Duration ANSWER = Duration.ofSeconds(10);

  /** The application did not give what was asked for. */
  static final class Failed extends Exception {
    private static final long serialVersionUID = 1;
    private final int status;
    private final @Nullable Duration after;

    Failed(int status, String sentence, @Nullable Duration after) {
      super(sentence);
      this.status = status;
      this.after = after;
    }

    /** The HTTP status, or 0 when nothing answered. */
    int status() {
      return status;
    }

    Optional<Duration> after() {
      return Optional.ofNullable(after);
    }
  }

  /** A resource and its version, empty where the application offers none. */
  record Answer(int status, JsonNode body, String etag) {}

  private final HttpClient http =
      HttpClient.newBuilder()
          .version(HttpClient.Version.HTTP_1_1)
          .connectTimeout(CONNECT)
          .executor(Executors.newVirtualThreadPerTaskExecutor())
          .build();
  private final String url;
  private final String token;

  ScimHttp(String url, String token) {
    this.url = url.endsWith("/") ? url.substring(0, url.length() - 1) : url;
    this.token = token;
  }

  Answer get(String path) throws Failed {
    return send(request(path).GET());
  }

  Answer post(String path, JsonNode body) throws Failed {
    return send(request(path).POST(BodyPublishers.ofString(JSON.writeValueAsString(body))));
  }

  /** Changes a resource; with a version, only if it is still that one. */
  Answer patch(String path, JsonNode body, String etag) throws Failed {
    var request =
        request(path).method("PATCH", BodyPublishers.ofString(JSON.writeValueAsString(body)));
    return send(etag.isEmpty() ? request : request.header("If-Match", etag));
  }

  void delete(String path) throws Failed {
    send(request(path).DELETE());
  }

  static String encoded(String text) {
    return URLEncoder.encode(text, StandardCharsets.UTF_8);
  }

  private HttpRequest.Builder request(String path) {
    return HttpRequest.newBuilder(URI.create(url + path))
        .timeout(ANSWER)
        .header("Authorization", "Bearer " + token)
        .header("Accept", "application/scim+json")
        .header("Content-Type", "application/scim+json");
  }

  private Answer send(HttpRequest.Builder builder) throws Failed {
    HttpResponse<String> response;
    try {
      response = http.send(builder.build(), BodyHandlers.ofString());
    } catch (ConnectException refused) {
      throw new Failed(0, "Nothing answers at " + url, null);
    } catch (HttpTimeoutException slow) {
      throw new Failed(0, "No answer from %s within %d s".formatted(url, ANSWER.toSeconds()), null);
    } catch (IOException broken) {
      throw new Failed(0, "%s broke the connection off without an answer".formatted(url), null);
    } catch (InterruptedException stopped) {
      Thread.currentThread().interrupt();
      throw new Failed(0, "Stopped while waiting for " + url, null);
    }
    var body = response.body();
    var json = json(body);
    if (response.statusCode() >= 400) {
      throw new Failed(response.statusCode(), sentence(response, json), retryAfter(response));
    }
    return new Answer(
        response.statusCode(), json, response.headers().firstValue("ETag").orElse(""));
  }

  private static JsonNode json(@Nullable String body) {
    try {
      return body == null || body.isBlank() ? JSON.createObjectNode() : JSON.readTree(body);
    } catch (JacksonException noJson) {
      return JSON.createObjectNode();
    }
  }

  /** The error's own words (RFC 7644, section 3.12), or the status. */
  private static String sentence(HttpResponse<String> response, JsonNode json) {
    var detail = json.path("detail").asString("");
    return detail.isEmpty() ? "HTTP status " + response.statusCode() : detail;
  }

  /** RFC 9110, section 10.2.3: seconds or a date. */
  private static @Nullable Duration retryAfter(HttpResponse<String> response) {
    var value = response.headers().firstValue("Retry-After").orElse("");
    if (value.matches("\\d{1,6}")) {
      return Duration.ofSeconds(Long.parseLong(value));
    }
    try {
      var until = ZonedDateTime.parse(value, DateTimeFormatter.RFC_1123_DATE_TIME);
      var wait = Duration.between(ZonedDateTime.now(until.getZone()), until);
      return wait.isNegative() ? Duration.ZERO : wait;
    } catch (DateTimeParseException none) {
      return null;
    }
  }

  void close() {
    http.close();
  }
}
