package glenmoor.connect.letters;

import java.net.URI;
import java.util.Set;

/**
 * The mail server that takes letters.
 *
 * @param url {@code smtps://host:port}, or {@code smtp://host:port}, which is encrypted by STARTTLS
 *     (RFC 3207) unless the server is on this machine; empty where there is none
 * @param user to sign in as; empty where none is needed
 */
public record MailServer(String url, String user, String password) {
  private static final Set<String> HERE = Set.of("127.0.0.1", "localhost", "[::1]");

  /**
   * @throws IllegalArgumentException with a sentence, if the address is none
   */
  public MailServer {
    if (!url.isEmpty() && !url.matches("smtps?://[a-zA-Z0-9.\\[\\]:-]+:\\d{1,5}")) {
      throw new IllegalArgumentException(
          "“%s” is no address of a mail server; say one such as smtps://mail.example.org:465"
              .formatted(url));
    }
  }

  boolean isThere() {
    return !url.isEmpty();
  }

  boolean isHere() {
    return HERE.contains(URI.create(url).getHost());
  }
}
