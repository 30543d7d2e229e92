package glenmoor.standins.letters;

import com.fasterxml.jackson.databind.ObjectMapper;
import com.icegreen.greenmail.mail.MailAddress;
import com.icegreen.greenmail.mail.MovingMessage;
import com.icegreen.greenmail.user.GreenMailUser;
import com.icegreen.greenmail.user.UserException;
import com.icegreen.greenmail.util.GreenMail;
import com.icegreen.greenmail.util.ServerSetup;
import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpServer;
import jakarta.mail.BodyPart;
import jakarta.mail.Message;
import jakarta.mail.MessagingException;
import jakarta.mail.Multipart;
import jakarta.mail.Session;
import jakarta.mail.internet.MimeMessage;
import java.io.IOException;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Properties;
import java.util.concurrent.Executors;
import java.util.concurrent.atomic.AtomicInteger;

/**
 * A mail server that takes letters for everybody (SMTP) and shows them: {@code GET /letters} lists
 * those that came, {@code POST /control} with {@code {"mode": "down"}} shuts its door, {@code
 * "well"} opens it again. Both want the token.
 */
public final class PostOffice implements AutoCloseable {
  private static final ObjectMapper JSON = new ObjectMapper();

  /**
   * A letter as it came.
   *
   * @param id its Message-ID: a letter that came twice has the same
   */
  public record Letter(
      String id, String from, String to, String subject, String text, String html, String sent) {}

  private final GreenMail mail;
  private final HttpServer server;
  private final String token;
  private final int port;
  private final Path kept;
  private final AtomicInteger came = new AtomicInteger();
  private boolean open = true;

  /**
   * Opens it.
   *
   * @param smtpPort 0 for a free one
   * @param httpPort where letters are shown; 0 for a free one
   * @param directory where it keeps what came
   */
  public PostOffice(int smtpPort, int httpPort, Path directory, String token) throws IOException {
    this.token = token;
    kept = Files.createDirectories(directory.resolve("letters"));
    mail = new GreenMail(setup(smtpPort));
    mail.start();
    mail.getUserManager().setMessageDeliveryHandler(this::keep);
    port = mail.getSmtp().getPort();
    server = HttpServer.create(new InetSocketAddress("127.0.0.1", httpPort), 0);
    server.createContext("/letters", this::letters);
    server.createContext("/control", this::control);
    server.setExecutor(Executors.newVirtualThreadPerTaskExecutor());
    server.start();
  }

  private static ServerSetup setup(int port) {
    return new ServerSetup(port, "127.0.0.1", ServerSetup.PROTOCOL_SMTP);
  }

  /** Where letters are handed in. */
  public int port() {
    return port;
  }

  /** Where they are shown. */
  public int httpPort() {
    return server.getAddress().getPort();
  }

  /** A letter that came is a file of its own, as it came (RFC 5322). */
  private GreenMailUser keep(MovingMessage message, MailAddress to)
      throws MessagingException, UserException {
    try {
      var number = came.incrementAndGet();
      var file = kept.resolve("%019d-%06d.eml".formatted(System.currentTimeMillis(), number));
      var whole = kept.resolve(file.getFileName() + ".part");
      try (var out = Files.newOutputStream(whole)) {
        message.getMessage().writeTo(out);
      }
      Files.move(whole, file);
    } catch (IOException full) {
      throw new MessagingException("It cannot be kept.", full);
    }
    var user = mail.getUserManager().getUserByEmail("everybody@skerryline.example");
    return user != null
        ? user
        : mail.getUserManager().createUser("everybody@skerryline.example", "everybody", "");
  }

  /** All that came, in their order. */
  public List<Letter> letters() {
    var letters = new ArrayList<Letter>();
    try (var files = Files.list(kept)) {
      for (var file : files.filter(each -> each.toString().endsWith(".eml")).sorted().toList()) {
        try (var in = Files.newInputStream(file)) {
          letters.add(letter(new MimeMessage(Session.getInstance(new Properties()), in)));
        }
      }
      return letters;
    } catch (MessagingException | IOException unreadable) {
      throw new IllegalStateException(unreadable);
    }
  }

  private static Letter letter(Message message) throws MessagingException, IOException {
    var parts = new LinkedHashMap<String, String>();
    if (message.getContent() instanceof Multipart several) {
      for (var i = 0; i < several.getCount(); i++) {
        BodyPart part = several.getBodyPart(i);
        parts.put(
            part.isMimeType("text/html") ? "html" : "text", String.valueOf(part.getContent()));
      }
    }
    return new Letter(
        message.getHeader("Message-ID")[0],
        message.getFrom()[0].toString(),
        message.getAllRecipients()[0].toString(),
        message.getSubject(),
        parts.getOrDefault("text", ""),
        parts.getOrDefault("html", ""),
        message.getSentDate().toInstant().toString());
  }

  /** Shuts its door: nobody can hand in anything any more. */
  public synchronized void shut() {
    if (open) {
      mail.getSmtp().stopService();
      open = false;
    }
  }

  private void letters(HttpExchange exchange) throws IOException {
    send(exchange, isKnown(exchange) ? 200 : 401, isKnown(exchange) ? letters() : Map.of());
  }

  private void control(HttpExchange exchange) throws IOException {
    if (!isKnown(exchange)) {
      send(exchange, 401, Map.of("detail", "This token is not known here."));
      return;
    }
    var mode = JSON.readTree(exchange.getRequestBody()).path("mode").asText("");
    if (mode.toLowerCase(Locale.ROOT).equals("down")) {
      shut();
    }
    send(exchange, 200, Map.of("letters", letters().size(), "open", open));
  }

  private boolean isKnown(HttpExchange exchange) {
    return ("Bearer " + token).equals(exchange.getRequestHeaders().getFirst("Authorization"));
  }

  private static void send(HttpExchange exchange, int status, Object body) throws IOException {
    try (exchange) {
      var bytes = JSON.writeValueAsString(body).getBytes(StandardCharsets.UTF_8);
      exchange.getResponseHeaders().set("Content-Type", "application/json");
      exchange.sendResponseHeaders(status, bytes.length);
      exchange.getResponseBody().write(bytes);
    }
  }

  @Override
  public void close() {
    server.stop(0);
    mail.stop();
  }
}
