package glenmoor.server;

/**
 * Every setting of the service. Each is an environment variable of this name; a line {@code
 * NAME=value} in the settings file says the same, and the environment wins. Names that begin with
 * {@code GLENMOOR_APPLICATION_} are for the definitions of applications.
 */
public enum Setting {
  GLENMOOR_SETTINGS_FILE("", "A file with lines NAME=value for any of the settings below"),
  GLENMOOR_ADDRESS("127.0.0.1", "The address to listen on"),
  GLENMOOR_PORT("7480", "The port to listen on; 0 takes a free one"),
  GLENMOOR_MANAGEMENT_ADDRESS(
      "127.0.0.1", "The address on which health and metrics are given, to whoever asks there"),
  GLENMOOR_MANAGEMENT_PORT("7481", "The port for health and metrics; 0 takes a free one"),
  GLENMOOR_DATABASE_HOST("127.0.0.1", "Where MariaDB listens"),
  GLENMOOR_DATABASE_PORT("3306", "The port it listens on"),
  GLENMOOR_DATABASE_NAME("glenmoor", "The database to keep records in"),
  GLENMOOR_DATABASE_USER("glenmoor", "The user to sign in to MariaDB with"),
  GLENMOOR_DATABASE_PASSWORD_FILE(
      "", "A file with that user's password; without one, none is sent"),
  GLENMOOR_DATABASE_CONNECTIONS("20", "How many connections to keep at most"),
  GLENMOOR_KEY_FILE("", "A file with 32 bytes in base64: the key of all sealed secrets. Needed"),
  GLENMOOR_ZONE("UTC", "The organisation's time zone: where a date begins at midnight"),
  GLENMOOR_ADMIN_LOGIN(
      "admin", "The first administrator's sign-in name, made while there is no administrator"),
  GLENMOOR_ADMIN_PASSWORD_FILE("", "A file with the first administrator's password"),
  GLENMOOR_DEMO_CLOCK(
      "",
      "A moment such as 2027-03-01T06:00:00Z at which a movable clock starts; only for demos and tests"),
  GLENMOOR_SECRETS_DIRECTORY(
      "/etc/glenmoor/secrets",
      "The one directory from which definitions of applications may take secrets, a file each"),
  GLENMOOR_REACHABLE(
      "",
      "Where applications may be, such as https://*.example.org, with commas between; without any, what is encrypted anywhere and what is not on this machine"),
  GLENMOOR_DROP_DIRECTORY(
      "",
      "Where the directories are into which sources drop files; without it nothing is dropped here"),
  GLENMOOR_EXCHANGE_DIRECTORY(
      "",
      "Where the directories are through which files are exchanged with applications; without it none are"),
  GLENMOOR_MAIL_URL(
      "",
      "The mail server that takes letters, such as smtps://mail.example.org:465; smtp:// is encrypted by STARTTLS unless the server is on this machine. Without it letters wait"),
  GLENMOOR_MAIL_USER("", "The user to sign in to the mail server with; empty where none is needed"),
  GLENMOOR_MAIL_PASSWORD_FILE("", "A file with that user's password"),
  GLENMOOR_PUBLIC_URL(
      "",
      "Where people reach the console, such as https://glenmoor.example.org; letters and chats lead there. Without it they lead nowhere"),
  GLENMOOR_INSTALLATION(
      "",
      "Which installation this is, the same for all of its services, and another one for a copy. Without it, the address of its database"),
  GLENMOOR_QUIET(
      "no",
      "yes to start quiet: it plans and shows, and sends nothing, until an administrator releases it"),
  GLENMOOR_STATE_DIRECTORY(
      "",
      "A directory of this service's own, where it remembers how far the record went; without it that is forgotten when it stops"),
  GLENMOOR_PLANNERS("2", "How many plan for people side by side in one service"),
  GLENMOOR_LARGEST_FEED("500", "How many megabytes a feed may have"),
  GLENMOOR_SECURE_COOKIES("no", "yes when people reach the console over HTTPS only"),
  GLENMOOR_BEHIND_PROXY(
      "no",
      "yes when a proxy stands before the service and sets X-Forwarded-For and X-Forwarded-Proto itself"),
  GLENMOOR_SESSION_IDLE("60", "After how many minutes without a request a session ends"),
  GLENMOOR_SESSION_LONGEST("720", "After how many minutes a session ends, however much it is used"),
  GLENMOOR_LOG_FORMAT("text", "text for people, json for machines");

  private final String otherwise;
  private final String meaning;

  Setting(String otherwise, String meaning) {
    this.otherwise = otherwise;
    this.meaning = meaning;
  }

  /** The value where nothing is said. */
  public String otherwise() {
    return otherwise;
  }

  public String meaning() {
    return meaning;
  }
}
