package glenmoor.cli;

import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.net.HttpURLConnection;
import java.net.MalformedURLException;
import java.net.URI;
import java.net.URISyntaxException;
import java.net.URL;
import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.nio.file.FileSystemException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.time.Duration;
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

  private static final int REFUSED = 1;
  private static final int WRONG_WORDS = 2;
  private static final Duration RETRY_POLICY = Duration.ofSeconds(30);

  /** The service refused or could not be reached; the message is for the user. */
  public static final class Failed extends RuntimeException {
    private static final long serialVersionUID = 1;
    private final int exit;
    private final boolean away;

    public Failed(String sentence) {
      this(sentence, REFUSED, false);
    }

    private Failed(String sentence, int exit, boolean away) {
      super(sentence);
      this.exit = exit;
      this.away = away;
    }

    /** The words of the command are wrong: exit 2. */
    public static Failed wrongWords(String sentence) {
      return new Failed(sentence, WRONG_WORDS, false);
    }

    /** The service could not be reached: the next call would fail as well. */
    public boolean isAway() {
      return away;
    }

    int exit() {
      return exit;
    }
  }

  private final String url;
  private final @Nullable String tokenFile;

  public Client(Map<String, String> environment) {
    url = environment.getOrDefault("GLENMOOR_URL", "http://127.0.0.1:7480").replaceAll("/+$", "");
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
    return json(send("GET", path, "application/json", null));
  }

  /** The body as text, for what is no JSON. */
  public String text(String path) {
    return send("GET", path, "application/json", null);
  }

  public JsonNode post(String path, @Nullable Object body) {
    return json(send("POST", path, "application/json", body(body)));
  }

  public JsonNode put(String path, Object body) {
    return json(send("PUT", path, "application/json", body(body)));
  }

  public void delete(String path) {
    send("DELETE", path, "application/json", null);
  }

  /** Sends a file as it is. */
  public JsonNode postFile(String path, Path file) {
    if (Files.isDirectory(file)) {
      throw Failed.wrongWords("%s is a directory; name a file.".formatted(file));
    }
    if (!Files.isReadable(file)) {
      throw Failed.wrongWords(
          Files.exists(file)
              ? "The file %s cannot be read.".formatted(file)
              : "There is no file %s.".formatted(file));
    }
    return json(send("POST", path, "text/csv", out -> Files.copy(file, out)));
  }

  /** Writes what is sent. */
  private interface Body {
    void to(OutputStream out) throws IOException;
  }

  private static @Nullable Body body(@Nullable Object body) {
    return body == null
        ? null
        : out -> out.write(JSON.writeValueAsString(body).getBytes(StandardCharsets.UTF_8));
  }

  /**
   * Waits for long work, telling how far it is.
   *
   * @return what the work came to
   */
  public JsonNode await(JsonNode accepted, Output output) {
    var id = accepted.path("id").asString();
    var lastHeard = System.nanoTime();
    while (true) {
      JsonNode work;
      try {
        work = get("/api/v1/progress/" + id);
        lastHeard = System.nanoTime();
      } catch (Failed failed) {
        if (!failed.away) {
          throw failed;
        }
        if (System.nanoTime() - lastHeard > RETRY_POLICY.toNanos()) {
          throw new Failed(
              "The service stopped answering while it worked. The work may have been done, or go on: look once it answers again (work %s)."
                  .formatted(id));
        }
        pause();
        continue;
      }
      switch (work.path("state").asString("")) {
        case "waiting", "running" -> output.progress(work.path("sentence").asString(""));
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
      throw new Failed(
          "Stopped waiting; the work goes on in the service. glenmoor work list shows it, and glenmoor work cancel stops it.");
    }
  }

  private static JsonNode json(String body) {
    return body.isEmpty() ? JSON.createObjectNode() : JSON.readTree(body);
  }

  /** Writes what stands at an address to a file; an existing one is replaced. */
  public void save(String path, Path file) {
    exchange(
        "GET",
        path,
        "application/json",
        null,
        in -> {
          try {
            return Files.copy(in, file, StandardCopyOption.REPLACE_EXISTING);
          } catch (FileSystemException unwritable) {
            throw Failed.wrongWords("The file %s cannot be written.".formatted(file));
          }
        });
  }

  private String send(String method, String path, String type, @Nullable Body body) {
    return exchange(
        method, path, type, body, in -> new String(in.readAllBytes(), StandardCharsets.UTF_8));
  }

  /** Takes the answer. */
  private interface Taking<T> {
    T from(InputStream in) throws IOException;
  }

  private <T> T exchange(
      String method, String path, String type, @Nullable Body body, Taking<T> taking) {
    HttpURLConnection connection;
    try {
      connection = (HttpURLConnection) address(path).openConnection();
      connection.setRequestMethod(method);
      connection.setRequestProperty("Accept", "*/*");
      connection.setInstanceFollowRedirects(false);
      if (tokenFile != null) {
        connection.setRequestProperty("Authorization", "Bearer " + token(tokenFile));
      }
      if (body != null) {
        connection.setRequestProperty("Content-Type", type);
        connection.setDoOutput(true);
        connection.setChunkedStreamingMode(0);
        try (var out = connection.getOutputStream()) {
          body.to(out);
        }
      } else if (!method.equals("GET")) {
        connection.setRequestProperty("Content-Type", type);
        connection.setRequestProperty("Content-Length", "0");
      }
      var status = connection.getResponseCode();
      if (status >= 300) {
        throw problem(method, status, text(connection, status));
      }
      try (var in = connection.getInputStream()) {
        return taking.from(in);
      }
    } catch (IOException away) {
      throw new Failed(
          "Nothing answers at %s. Is the service running? (./glenmoor status tells; GLENMOOR_URL says where it is.)"
              .formatted(url),
          REFUSED,
          true);
    }
  }

  private URL address(String path) throws IOException {
    try {
      var address = new URI(url + path).toURL();
      if (!address.getProtocol().startsWith("http") || address.getHost().isEmpty()) {
        throw noAddress();
      }
      return address;
    } catch (URISyntaxException | IllegalArgumentException | MalformedURLException bad) {
      throw noAddress();
    }
  }

  private Failed noAddress() {
    return Failed.wrongWords(
        "GLENMOOR_URL is “%s”; say where the service is, such as http://127.0.0.1:7480."
            .formatted(url));
  }

  private static String text(HttpURLConnection connection, int status) throws IOException {
    try (var in = status >= 400 ? connection.getErrorStream() : connection.getInputStream()) {
      return in == null ? "" : new String(in.readAllBytes(), StandardCharsets.UTF_8);
    }
  }

  private static String token(String file) {
    try {
      return Files.readString(Path.of(file)).strip();
    } catch (IOException unreadable) {
      throw Failed.wrongWords(
          "The token file %s, which GLENMOOR_TOKEN_FILE names, cannot be read. Make one with: glenmoor sign-ins token NAME FILE --password-file PASSWORD-FILE"
              .formatted(file));
    }
  }

  /** The problem document's own sentences (RFC 9457). */
  private Failed problem(String method, int status, String text) {
    if (tokenFile == null && (status == 401 || status == 403)) {
      return new Failed(
          "Sign in first: glenmoor sign-ins token NAME FILE --password-file PASSWORD-FILE, and name that FILE in GLENMOOR_TOKEN_FILE.");
    }
    try {
      var body = JSON.readTree(text);
      var lines = new StringBuilder(body.path("detail").asString("HTTP status " + status));
      var errors = body.path("errors");
      if (errors.size() > 1) {
        errors.forEach(each ->
            lines
                .append("\n  ")
                .append(each.path("pointer").asString(""))
                .append(": ")
                .append(each.path("detail").asString("")));
      }
      // A question that cannot be asked like this is a matter of its words.
      return status == 422 && method.equals("GET")
          ? Failed.wrongWords(lines.toString())
          : new Failed(lines.toString());
    } catch (JacksonException noJson) {
      return new Failed(
          "What answers at %s is not Glenmoor, or not now (HTTP status %d)."
              .formatted(url, status));
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
