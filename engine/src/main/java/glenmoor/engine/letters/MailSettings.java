package glenmoor.engine.letters;

import glenmoor.connect.letters.MailServer;

/**
 * The mail server that takes letters.
 *
 * @param url {@code smtps://host:port} or {@code smtp://host:port}; empty where there is none
 * @param user to sign in as; empty where none is needed
 */
public record MailSettings(String url, String user, String password) {
  /**
   * @throws IllegalArgumentException with a sentence, if the address is none
   */
  public MailSettings {
    new MailServer(url, user, password);
  }

  MailServer server() {
    return new MailServer(url, user, password);
  }
}
