package glenmoor.connect.applications;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import com.unboundid.scim2.common.utils.JsonUtils;
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
import java.time.DateTimeException;
import java.time.Duration;
import java.time.ZonedDateTime;
import java.time.format.DateTimeFormatter;
import java.util.Locale;
import java.util.Optional;
import java.util.concurrent.CancellationException;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.Executors;
import org.jspecify.annotations.Nullable;

/**
 * Sends SCIM requests (RFC 7644), and believes only SCIM answers: media type, {@code schemas} and
 * shape are checked before an answer counts. A sign-in page with status 200 is no answer, and a 404
 * counts as "not there" only when the application says so in SCIM's own words (section 3.12).
 */
final class ScimHttp {
  static final String USER = "urn:ietf:params:scim:schemas:core:2.0:User";
  static final String GROUP = "urn:ietf:params:scim:schemas:core:2.0:Group";
  static final String LIST = "urn:ietf:params:scim:api:messages:2.0:ListResponse";
  private static final String ERROR = "urn:ietf:params:scim:api:messages:2.0:Error";
  private static final Duration CONNECT = Duration.ofSeconds(4);

  /** Over the whole exchange: an answer whose body never ends is no answer either. */
  private static final Duration WHOLE = Duration.ofSeconds(10);

  private static final long LARGEST_ANSWER = 32L << 20;
  private static final int FIRST_WORDS = 80;
  private static final int LONGEST_DETAIL = 400;

  /** The application did not give what was asked for. */
  static final class Failed extends Exception {
    private static final long serialVersionUID = 1;

    /** The status of a failure that is no SCIM answer. */
    static final int NO_SCIM = -1;

    /** The status where nothing answered at all. */
    static final int AWAY = 0;

    private final int status;
    private final @Nullable Duration after;

    Failed(int status, String sentence, @Nullable Duration after) {
      super(sentence);
      this.status = status;
      this.after = after;
    }

    /** The HTTP status of a SCIM error, {@link #AWAY} or {@link #NO_SCIM}. */
    int status() {
      return status;
    }

    Optional<Duration> after() {
      return Optional.ofNullable(after);
    }
  }

  /** A resource and its version, empty where the application offers none. */
  record Answer(ObjectNode body, String etag) {}

  private final HttpClient http =
      HttpClient.newBuilder()
          .version(HttpClient.Version.HTTP_1_1)
          .followRedirects(HttpClient.Redirect.NEVER)
          .connectTimeout(CONNECT)
          .executor(Executors.newVirtualThreadPerTaskExecutor())
          .build();
  private final Deadlines deadlines = new Deadlines(WHOLE);
  private final String url;
  private final String token;

  ScimHttp(String url, String token) {
    this.url = url.endsWith("/") ? url.substring(0, url.length() - 1) : url;
    this.token = token;
  }

  /** Gets something of a schema; anything else is no answer. */
  Answer get(String path, String schema) throws Failed {
    return expected(send(request(path).GET()), schema);
  }

  Answer post(String path, ObjectNode body, String schema) throws Failed {
    return expected(send(request(path).POST(BodyPublishers.ofString(body.toString()))), schema);
  }

  /** Changes a resource; with a version, only if it is still that one. */
  void patch(String path, String body, String etag) throws Failed {
    conditional(request(path).method("PATCH", BodyPublishers.ofString(body)), etag);
  }

  /** Puts a whole resource in the place of what is there. */
  void put(String path, ObjectNode body, String etag) throws Failed {
    conditional(request(path).PUT(BodyPublishers.ofString(body.toString())), etag);
  }

  private void conditional(HttpRequest.Builder request, String etag) throws Failed {
    var response = send(etag.isEmpty() ? request : request.header("If-Match", etag));
    if (!response.body().isBlank()) {
      scim(response);
    }
  }

  void delete(String path) throws Failed {
    send(request(path).DELETE());
  }

  static String encoded(String text) {
    return URLEncoder.encode(text, StandardCharsets.UTF_8).replace("+", "%20");
  }

  private HttpRequest.Builder request(String path) {
    return HttpRequest.newBuilder(URI.create(url + path))
        .header("Authorization", "Bearer " + token)
        .header("Accept", "application/scim+json, application/json")
        .header("Content-Type", "application/scim+json");
  }

  private HttpResponse<String> send(HttpRequest.Builder builder) throws Failed {
    var response = exchanged(builder.build());
    var status = response.statusCode();
    if (status >= 200 && status < 300) {
      return response;
    }
    if (status == 401 || status == 403 || status == 429 || status >= 500) {
      throw new Failed(status, sentence(response), retryAfter(response));
    }
    if (status < 400 || !isError(response)) {
      throw noScim(response);
    }
    throw new Failed(status, sentence(response), retryAfter(response));
  }

  private HttpResponse<String> exchanged(HttpRequest request) throws Failed {
    var whole =
        http.sendAsync(request, BodyHandlers.limiting(BodyHandlers.ofString(), LARGEST_ANSWER));
    deadlines.watch(whole);
    try {
      return whole.get();
    } catch (CancellationException stalled) {
      throw away("No whole answer from %s within %d s".formatted(url, WHOLE.toSeconds()));
    } catch (InterruptedException stopped) {
      whole.cancel(true);
      Thread.currentThread().interrupt();
      throw away("Stopped while waiting for " + url);
    } catch (ExecutionException failed) {
      throw away(
          switch (failed.getCause()) {
            case ConnectException refused -> "Nothing answers at " + url;
            case HttpTimeoutException slow ->
                "No answer from %s within %d s".formatted(url, WHOLE.toSeconds());
            case IOException broken ->
                "%s broke the connection off without a whole answer".formatted(url);
            case null, default -> "The request to %s could not be sent".formatted(url);
          });
    }
  }

  private static Failed away(String sentence) {
    return new Failed(Failed.AWAY, sentence, null);
  }

  private Answer expected(HttpResponse<String> response, String schema) throws Failed {
    var body = scim(response);
    if (!schema.isEmpty() && !hasSchema(body, schema)) {
      throw noScim(response);
    }
    return new Answer(body, response.headers().firstValue("ETag").orElse(""));
  }

  private ObjectNode scim(HttpResponse<String> response) throws Failed {
    var body = json(response);
    if (body == null) {
      throw noScim(response);
    }
    return body;
  }

  private static boolean isError(HttpResponse<String> response) {
    var body = json(response);
    return body != null && hasSchema(body, ERROR);
  }

  private static boolean hasSchema(ObjectNode body, String schema) {
    for (var each : body.path("schemas")) {
      if (each.asText().equalsIgnoreCase(schema)) {
        return true;
      }
    }
    return false;
  }

  private static @Nullable ObjectNode json(HttpResponse<String> response) {
    var type = response.headers().firstValue("Content-Type").orElse("").toLowerCase(Locale.ROOT);
    if (!type.startsWith("application/scim+json") && !type.startsWith("application/json")) {
      return null;
    }
    try {
      return JsonUtils.getObjectReader().readTree(response.body()) instanceof ObjectNode object
          ? object
          : null;
    } catch (JsonProcessingException noJson) {
      return null;
    }
  }

  private Failed noScim(HttpResponse<String> response) {
    var words = response.body().strip().replaceAll("\\s+", " ").replaceAll("\\p{Cntrl}", "");
    var type = response.headers().firstValue("Content-Type").orElse("no media type");
    return new Failed(
        Failed.NO_SCIM,
        "%s answered with something that is not SCIM (status %d, %s): %s"
            .formatted(
                url,
                response.statusCode(),
                cut(type, FIRST_WORDS),
                words.isEmpty() ? "nothing" : "“" + cut(words, FIRST_WORDS) + "”"),
        retryAfter(response));
  }

  /** The error's own words (RFC 7644, section 3.12), or the status. */
  private static String sentence(HttpResponse<String> response) {
    var body = json(response);
    JsonNode detail = body == null ? null : body.get("detail");
    return detail == null || detail.asText().isBlank()
        ? "HTTP status " + response.statusCode()
        : cut(detail.asText().replaceAll("\\p{Cntrl}", " "), LONGEST_DETAIL);
  }

  private static String cut(String text, int longest) {
    return text.length() <= longest ? text : text.substring(0, longest - 1) + "…";
  }

  /** RFC 9110, section 10.2.3: seconds or a date; how long is waited in the end has its bounds. */
  private static @Nullable Duration retryAfter(HttpResponse<String> response) {
    var value = response.headers().firstValue("Retry-After").orElse("").strip();
    if (value.matches("\\d{1,18}")) {
      return Duration.ofSeconds(Math.min(Long.parseLong(value), Duration.ofDays(1).toSeconds()));
    }
    try {
      var until = ZonedDateTime.parse(value, DateTimeFormatter.RFC_1123_DATE_TIME);
      var wait = Duration.between(ZonedDateTime.now(until.getZone()), until);
      return wait.isNegative() ? Duration.ZERO : wait;
    } catch (DateTimeException | ArithmeticException none) {
      return null;
    }
  }

  void close() {
    deadlines.close();
    http.shutdownNow();
  }
}
