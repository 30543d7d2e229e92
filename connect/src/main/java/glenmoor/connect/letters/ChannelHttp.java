package glenmoor.connect.letters;

import glenmoor.connect.applications.ConnectorEnvironment;
import glenmoor.connect.applications.Settings;
import glenmoor.core.letters.Channel;
import glenmoor.core.letters.Delivery;
import java.io.IOException;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpRequest.BodyPublishers;
import java.net.http.HttpResponse;
import java.net.http.HttpResponse.BodyHandlers;
import java.nio.charset.StandardCharsets;
import java.security.GeneralSecurityException;
import java.security.MessageDigest;
import java.time.DateTimeException;
import java.time.Duration;
import java.time.Instant;
import java.util.Arrays;
import java.util.Base64;
import java.util.Map;
import java.util.Set;
import java.util.regex.Pattern;
import javax.crypto.Mac;
import javax.crypto.spec.SecretKeySpec;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.json.JsonMapper;

/**
 * Tells a ticket desk, a chat or a webhook something: a CloudEvent (CloudEvents 1.0, JSON format,
 * structured mode) by POST, signed as the Standard Webhooks specification has it: HMAC-SHA256 over
 * identifier, time and body, in {@code webhook-signature}. The identifier of an event is the same
 * however often it is sent, so the other end can tell.
 */
public final class ChannelHttp {
  private static final Logger LOG = LoggerFactory.getLogger(ChannelHttp.class);
  private static final Duration PATIENCE = Duration.ofSeconds(10);
  private static final Duration TOLERANCE = Duration.ofMinutes(5);
  private static final int LARGEST_ANSWER = 64 << 10;
  private static final Pattern REFERENCE = Pattern.compile("[A-Za-z0-9._-]{1,100}");
  private static final JsonMapper JSON = JsonMapper.shared();
  private static final int OK = 200;
  private static final int NOT_OK = 300;
  private static final int TOO_EARLY = 408;
  private static final int TOO_MANY = 429;
  private static final int SERVER = 500;

  private final HttpClient http =
      HttpClient.newBuilder()
          .version(HttpClient.Version.HTTP_1_1)
          .followRedirects(HttpClient.Redirect.NEVER)
          .connectTimeout(PATIENCE)
          .build();
  private final ConnectorEnvironment environment;

  public ChannelHttp(ConnectorEnvironment environment) {
    this.environment = environment;
  }

  /**
   * Tells one thing.
   *
   * @param id of the message, for good
   * @param data JSON: what is told
   */
  public Delivery deliver(Channel channel, long id, String data, Instant at) {
    try {
      var settings =
          Settings.ofChannel(
              channel.key(), channel.settings(), Set.of("url", "secret-file"), environment);
      var url = settings.address("url");
      if (!url.startsWith("http://") && !url.startsWith("https://")) {
        return new Delivery.NotNow("The channel's url begins with https:// or http://.");
      }
      var body = event(channel, id, data, at);
      return told(
          http.send(
              request(url, id, body, settings.secretFrom("secret-file")),
              BodyHandlers.limiting(BodyHandlers.ofString(), LARGEST_ANSWER)));
    } catch (Settings.BadSetting bad) {
      return new Delivery.NotNow(String.valueOf(bad.getMessage()));
    } catch (IOException | IllegalArgumentException failed) {
      LOG.warn("The channel {} could not be told: {}", channel.key(), failed.toString());
      return new Delivery.NotNow("%s does not answer.".formatted(channel.name()));
    } catch (InterruptedException stopped) {
      Thread.currentThread().interrupt();
      return new Delivery.NotNow("The service was stopped.");
    }
  }

  /**
   * Whether what came back over a channel was signed by who has its secret (Standard Webhooks), and
   * not long ago.
   *
   * @param timestamp seconds since 1970, as the header has them
   * @param signatures as the header has them: one or several, with spaces between
   */
  public boolean isSigned(
      Channel channel, String id, String timestamp, String signatures, String body) {
    try {
      var settings =
          Settings.ofChannel(
              channel.key(), channel.settings(), Set.of("url", "secret-file"), environment);
      var sent = Instant.ofEpochSecond(Long.parseLong(timestamp));
      if (Duration.between(sent, Instant.now()).abs().compareTo(TOLERANCE) > 0) {
        return false;
      }
      var text = id + "." + timestamp + "." + body;
      var wanted =
          ("v1," + signature(settings.secretFrom("secret-file"), text))
              .getBytes(StandardCharsets.UTF_8);
      return Arrays.stream(signatures.split(" "))
          .anyMatch(each -> MessageDigest.isEqual(each.getBytes(StandardCharsets.UTF_8), wanted));
    } catch (Settings.BadSetting | NumberFormatException | DateTimeException unreadable) {
      return false;
    }
  }

  private static String event(Channel channel, long id, String data, Instant at) {
    var told = JSON.readTree(data);
    return JSON.writeValueAsString(
        Map.of(
            "specversion",
            "1.0",
            "id",
            String.valueOf(id),
            "source",
            "/glenmoor",
            "type",
            "glenmoor." + told.path("event").asString(channel.kind().word()),
            "time",
            at.toString(),
            "datacontenttype",
            "application/json",
            "data",
            told));
  }

  private static HttpRequest request(String url, long id, String body, String secret) {
    var sent = String.valueOf(Instant.now().getEpochSecond());
    return HttpRequest.newBuilder(URI.create(url))
        .timeout(PATIENCE)
        .header("Content-Type", "application/cloudevents+json; charset=utf-8")
        .header("webhook-id", String.valueOf(id))
        .header("webhook-timestamp", sent)
        .header("webhook-signature", "v1," + signature(secret, id + "." + sent + "." + body))
        .POST(BodyPublishers.ofString(body))
        .build();
  }

  private static String signature(String secret, String text) {
    try {
      var mac = Mac.getInstance("HmacSHA256");
      mac.init(new SecretKeySpec(secret.getBytes(StandardCharsets.UTF_8), "HmacSHA256"));
      return Base64.getEncoder().encodeToString(mac.doFinal(text.getBytes(StandardCharsets.UTF_8)));
    } catch (GeneralSecurityException impossible) {
      throw new IllegalStateException(impossible);
    }
  }

  private static Delivery told(HttpResponse<String> response) {
    var status = response.statusCode();
    if (status >= OK && status < NOT_OK) {
      return new Delivery.Taken(reference(response.body()));
    }
    return status == TOO_EARLY || status == TOO_MANY || status >= SERVER || status < OK
        ? new Delivery.NotNow("It was not taken now (status %d).".formatted(status))
        : new Delivery.Refused("It was refused (status %d).".formatted(status));
  }

  /** What the other end calls it, if it says so in letters and digits. */
  private static String reference(String body) {
    try {
      var said = JSON.readTree(body).path("ticket").asString("");
      return REFERENCE.matcher(said).matches() ? said : "";
    } catch (JacksonException noJson) {
      return "";
    }
  }
}
