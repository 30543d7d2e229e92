package glenmoor.connect.letters;

import glenmoor.core.letters.Delivery;
import jakarta.mail.Address;
import jakarta.mail.AuthenticationFailedException;
import jakarta.mail.MessagingException;
import jakarta.mail.SendFailedException;
import jakarta.mail.Session;
import jakarta.mail.internet.AddressException;
import jakarta.mail.internet.InternetAddress;
import jakarta.mail.internet.MimeBodyPart;
import jakarta.mail.internet.MimeMessage;
import jakarta.mail.internet.MimeMultipart;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.Date;
import java.util.Properties;
import org.eclipse.angus.mail.smtp.SMTPAddressFailedException;
import org.eclipse.angus.mail.smtp.SMTPSendFailedException;
import org.eclipse.angus.mail.smtp.SMTPSenderFailedException;
import org.eclipse.angus.mail.smtp.SMTPTransport;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Hands letters to a mail server (SMTP, RFC 5321), each with a text and an HTML part (MIME
 * multipart/alternative, RFC 2046 section 5.1.4). What a server says never stands in a reason: it
 * goes to the log.
 */
public final class Smtp {
  private static final Logger LOG = LoggerFactory.getLogger(Smtp.class);
  private static final String PATIENCE_MILLIS = "10000";
  private static final int PERMANENT = 500;

  /**
   * A letter ready to be handed over.
   *
   * @param id names it for good: the same letter has the same message identifier however often it
   *     is handed over, so that a receiver can tell
   */
  public record Mail(
      long id, String from, String to, String subject, String text, String html, Instant at) {}

  private final MailServer server;

  public Smtp(MailServer server) {
    this.server = server;
  }

  /** Hands over one letter. */
  public Delivery deliver(Mail mail) {
    if (!server.isThere()) {
      return new Delivery.NotNow(
          "There is no mail server to hand letters to; GLENMOOR_MAIL_URL says where it is.");
    }
    InternetAddress to;
    try {
      to = new InternetAddress(mail.to(), true);
    } catch (AddressException bad) {
      return new Delivery.Refused("The address it should go to is none.");
    }
    try {
      hand(mail, to);
      return new Delivery.Taken("");
    } catch (AuthenticationFailedException failed) {
      LOG.warn("The mail server does not accept the user: {}", failed.getMessage());
      return new Delivery.NotNow(
          "The mail server does not accept the user and password it is signed in to with.");
    } catch (MessagingException failed) {
      LOG.warn("Letter {} was not taken: {}", mail.id(), failed.getMessage());
      return code(failed) >= PERMANENT
          ? new Delivery.Refused(
              "The mail server refuses it for good (code %d); the service's log has its words."
                  .formatted(code(failed)))
          : new Delivery.NotNow(
              code(failed) > 0
                  ? "The mail server does not take it now (code %d).".formatted(code(failed))
                  : "The mail server does not answer.");
    }
  }

  private void hand(Mail mail, InternetAddress to) throws MessagingException {
    var session = Session.getInstance(properties());
    var message = message(session, mail, to);
    var address = URI.create(server.url());
    try (var transport = (SMTPTransport) session.getTransport(address.getScheme())) {
      transport.connect(
          address.getHost(),
          address.getPort(),
          server.user().isEmpty() ? null : server.user(),
          server.user().isEmpty() ? null : server.password());
      transport.sendMessage(message, new Address[] {to});
    }
  }

  private Properties properties() {
    var properties = new Properties();
    for (var scheme : new String[] {"smtp", "smtps"}) {
      var mail = "mail." + scheme + ".";
      properties.put(mail + "connectiontimeout", PATIENCE_MILLIS);
      properties.put(mail + "timeout", PATIENCE_MILLIS);
      properties.put(mail + "writetimeout", PATIENCE_MILLIS);
      properties.put(mail + "auth", String.valueOf(!server.user().isEmpty()));
      properties.put(mail + "ssl.checkserveridentity", "true");
      // A local name of one's own: it is told to the server, and needs no look at the network.
      properties.put(mail + "localhost", "glenmoor");
    }
    properties.put("mail.smtp.starttls.enable", "true");
    properties.put("mail.smtp.starttls.required", String.valueOf(!server.isHere()));
    return properties;
  }

  private static MimeMessage message(Session session, Mail mail, InternetAddress to)
      throws MessagingException {
    var domain = to.getAddress().substring(to.getAddress().indexOf('@') + 1);
    var message =
        new MimeMessage(session) {
          @Override
          protected void updateMessageID() throws MessagingException {
            setHeader("Message-ID", "<" + mail.id() + ".glenmoor@" + domain + ">");
          }
        };
    message.setFrom(new InternetAddress(mail.from()));
    message.setRecipient(jakarta.mail.Message.RecipientType.TO, to);
    message.setSubject(mail.subject(), StandardCharsets.UTF_8.name());
    message.setSentDate(Date.from(mail.at()));
    // RFC 3834: nobody's absence note answers to a machine.
    message.setHeader("Auto-Submitted", "auto-generated");
    var text = new MimeBodyPart();
    text.setText(mail.text(), StandardCharsets.UTF_8.name());
    var html = new MimeBodyPart();
    html.setText(mail.html(), StandardCharsets.UTF_8.name(), "html");
    message.setContent(new MimeMultipart("alternative", text, html));
    return message;
  }

  private static int code(Exception failed) {
    return switch (failed) {
      case SMTPAddressFailedException refused -> refused.getReturnCode();
      case SMTPSenderFailedException refused -> refused.getReturnCode();
      case SMTPSendFailedException refused -> refused.getReturnCode();
      case SendFailedException several when several.getNextException() != null ->
          code(several.getNextException());
      default -> 0;
    };
  }
}
