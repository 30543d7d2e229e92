package glenmoor.server;

import glenmoor.engine.applications.ConnectorSettings;
import glenmoor.engine.installation.Installations;
import glenmoor.engine.letters.MailSettings;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.DateTimeException;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.EnumMap;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Properties;

/** The settings in force, checked all at once, before anything is started with them. */
public final class ServiceSettings {
  /** Settings that cannot be used; the message has a line for each mistake. */
  public static final class Bad extends RuntimeException {
    private static final long serialVersionUID = 1;

    Bad(List<String> mistakes) {
      super(String.join("\n", mistakes));
    }
  }

  private static final String FOR_APPLICATIONS = "GLENMOOR_APPLICATION_";

  private final EnumMap<Setting, String> values = new EnumMap<>(Setting.class);
  private final Map<String, String> all;

  private ServiceSettings(Map<String, String> all) {
    this.all = Map.copyOf(all);
    for (var setting : Setting.values()) {
      values.put(setting, all.getOrDefault(setting.name(), setting.otherwise()).strip());
    }
  }

  /**
   * Reads the settings file, if the environment names one, and the environment.
   *
   * @throws Bad with every mistake
   */
  public static ServiceSettings read(Map<String, String> environment) {
    var mistakes = new ArrayList<String>();
    var all = new HashMap<String, String>();
    var file = environment.getOrDefault(Setting.GLENMOOR_SETTINGS_FILE.name(), "");
    if (!file.isEmpty()) {
      readFile(Path.of(file), all, mistakes);
    }
    all.putAll(environment);
    var settings = new ServiceSettings(all);
    settings.check(mistakes);
    if (!mistakes.isEmpty()) {
      throw new Bad(mistakes);
    }
    return settings;
  }

  private static void readFile(Path file, Map<String, String> all, List<String> mistakes) {
    var lines = new Properties();
    try (var reader = Files.newBufferedReader(file)) {
      lines.load(reader);
    } catch (IOException unreadable) {
      mistakes.add("GLENMOOR_SETTINGS_FILE names %s, which cannot be read.".formatted(file));
    }
    for (var name : lines.stringPropertyNames()) {
      if (name.startsWith("GLENMOOR_")) {
        all.put(name, lines.getProperty(name));
      } else {
        mistakes.add("%s has a line for %s, which is no setting.".formatted(file, name));
      }
    }
  }

  private void check(List<String> mistakes) {
    number(Setting.GLENMOOR_PORT, 0, 65_535, mistakes);
    number(Setting.GLENMOOR_MANAGEMENT_PORT, 0, 65_535, mistakes);
    if (!get(Setting.GLENMOOR_PORT).equals("0")
        && get(Setting.GLENMOOR_PORT).equals(get(Setting.GLENMOOR_MANAGEMENT_PORT))) {
      mistakes.add("GLENMOOR_MANAGEMENT_PORT is GLENMOOR_PORT; say another one.");
    }
    number(Setting.GLENMOOR_DATABASE_PORT, 1, 65_535, mistakes);
    number(Setting.GLENMOOR_DATABASE_CONNECTIONS, 4, 500, mistakes);
    number(Setting.GLENMOOR_PLANNERS, 1, 16, mistakes);
    number(Setting.GLENMOOR_LARGEST_FEED, 1, 100_000, mistakes);
    oneOf(Setting.GLENMOOR_LOG_FORMAT, List.of("text", "json"), mistakes);
    number(Setting.GLENMOOR_SESSION_IDLE, 1, 10_000, mistakes);
    number(Setting.GLENMOOR_SESSION_LONGEST, 1, 100_000, mistakes);
    oneOf(Setting.GLENMOOR_SECURE_COOKIES, List.of("yes", "no"), mistakes);
    oneOf(Setting.GLENMOOR_BEHIND_PROXY, List.of("yes", "no"), mistakes);
    oneOf(Setting.GLENMOOR_QUIET, List.of("yes", "no"), mistakes);
    var state = get(Setting.GLENMOOR_STATE_DIRECTORY);
    if (!state.isEmpty() && !Files.isWritable(Path.of(state))) {
      mistakes.add(
          "GLENMOOR_STATE_DIRECTORY names %s, which this service cannot write into."
              .formatted(state));
    }
    readable(Setting.GLENMOOR_DATABASE_PASSWORD_FILE, mistakes);
    readable(Setting.GLENMOOR_ADMIN_PASSWORD_FILE, mistakes);
    readable(Setting.GLENMOOR_KEY_FILE, mistakes);
    readable(Setting.GLENMOOR_MAIL_PASSWORD_FILE, mistakes);
    notAmongSecrets(Setting.GLENMOOR_MAIL_PASSWORD_FILE, mistakes);
    try {
      mail();
    } catch (IllegalArgumentException bad) {
      mistakes.add("GLENMOOR_MAIL_URL: %s.".formatted(bad.getMessage()));
    }
    notAmongSecrets(Setting.GLENMOOR_KEY_FILE, mistakes);
    notAmongSecrets(Setting.GLENMOOR_DATABASE_PASSWORD_FILE, mistakes);
    notAmongSecrets(Setting.GLENMOOR_ADMIN_PASSWORD_FILE, mistakes);
    try {
      forConnectors();
    } catch (IllegalArgumentException bad) {
      mistakes.add("GLENMOOR_REACHABLE: %s.".formatted(bad.getMessage()));
    }
    if (get(Setting.GLENMOOR_KEY_FILE).isEmpty()) {
      mistakes.add(
          "GLENMOOR_KEY_FILE is not set. Make a key with: openssl rand -base64 32 > glenmoor.key, and keep it: what is sealed with it cannot be opened without.");
    }
    try {
      ZoneId.of(get(Setting.GLENMOOR_ZONE));
    } catch (DateTimeException bad) {
      mistakes.add(
          "GLENMOOR_ZONE is “%s”; say a zone such as Europe/Oslo."
              .formatted(get(Setting.GLENMOOR_ZONE)));
    }
    try {
      demoClock();
    } catch (DateTimeException bad) {
      mistakes.add(
          "GLENMOOR_DEMO_CLOCK is “%s”; say a moment such as 2027-03-01T06:00:00Z, or leave it out."
              .formatted(get(Setting.GLENMOOR_DEMO_CLOCK)));
    }
  }

  /** What definitions of applications may name must not be able to name this. */
  private void notAmongSecrets(Setting setting, List<String> mistakes) {
    var directory = get(Setting.GLENMOOR_SECRETS_DIRECTORY);
    var file = get(setting);
    if (!directory.isEmpty()
        && !file.isEmpty()
        && Path.of(file)
            .toAbsolutePath()
            .normalize()
            .startsWith(Path.of(directory).toAbsolutePath().normalize())) {
      mistakes.add(
          "%s lies in GLENMOOR_SECRETS_DIRECTORY, whose files definitions of applications may name; keep it elsewhere."
              .formatted(setting));
    }
  }

  private void number(Setting setting, int least, int most, List<String> mistakes) {
    var text = get(setting);
    var good = text.matches("\\d{1,6}") && inside(Integer.parseInt(text), least, most);
    if (!good) {
      mistakes.add("%s is “%s”; say a number from %d to %d.".formatted(setting, text, least, most));
    }
  }

  private static boolean inside(int number, int least, int most) {
    return number >= least && number <= most;
  }

  private void oneOf(Setting setting, List<String> words, List<String> mistakes) {
    if (!words.contains(get(setting))) {
      mistakes.add(
          "%s is “%s”; say %s.".formatted(setting, get(setting), String.join(" or ", words)));
    }
  }

  private void readable(Setting setting, List<String> mistakes) {
    if (!get(setting).isEmpty() && !Files.isReadable(Path.of(get(setting)))) {
      mistakes.add("%s names %s, which cannot be read.".formatted(setting, get(setting)));
    }
  }

  /** The value of a setting; the empty text where nothing is said and there is no default. */
  public String get(Setting setting) {
    return values.getOrDefault(setting, "");
  }

  /** What definitions of applications may use: names declared for them, and nothing of our own. */
  public ConnectorSettings forConnectors() {
    return new ConnectorSettings(
        name ->
            name.startsWith(FOR_APPLICATIONS)
                ? Optional.ofNullable(all.get(name))
                : Optional.empty(),
        Path.of(get(Setting.GLENMOOR_SECRETS_DIRECTORY)),
        get(Setting.GLENMOOR_REACHABLE),
        Optional.of(get(Setting.GLENMOOR_EXCHANGE_DIRECTORY))
            .filter(each -> !each.isEmpty())
            .map(Path::of));
  }

  /**
   * The mail server that takes letters.
   *
   * @throws IllegalArgumentException with a sentence, if its address is none
   */
  public MailSettings mail() {
    var file = get(Setting.GLENMOOR_MAIL_PASSWORD_FILE);
    return new MailSettings(
        get(Setting.GLENMOOR_MAIL_URL),
        get(Setting.GLENMOOR_MAIL_USER),
        file.isEmpty() || !Files.isReadable(Path.of(file))
            ? ""
            : secret(Setting.GLENMOOR_MAIL_PASSWORD_FILE));
  }

  /** The content of the file a setting names, or the empty text. */
  public String secret(Setting setting) {
    var file = get(setting);
    try {
      return file.isEmpty() ? "" : Files.readString(Path.of(file)).strip();
    } catch (IOException unreadable) {
      throw new Bad(List.of("%s names %s, which cannot be read.".formatted(setting, file)));
    }
  }

  /** Whether cookies are sent over HTTPS only. */
  public boolean secureCookies() {
    return get(Setting.GLENMOOR_SECURE_COOKIES).equals("yes");
  }

  /** How long a session may last, however much it is used. */
  public Duration longestSession() {
    return Duration.ofMinutes(Long.parseLong(get(Setting.GLENMOOR_SESSION_LONGEST)));
  }

  public ZoneId zone() {
    return ZoneId.of(get(Setting.GLENMOOR_ZONE));
  }

  /** The moment at which a movable clock starts; nothing where the clock is the real one. */
  public Optional<Instant> demoClock() {
    var text = get(Setting.GLENMOOR_DEMO_CLOCK);
    return text.isEmpty() ? Optional.empty() : Optional.of(Instant.parse(text));
  }

  /** Which installation this is. */
  public Installations.Place installation() {
    var name = get(Setting.GLENMOOR_INSTALLATION).strip();
    var state = get(Setting.GLENMOOR_STATE_DIRECTORY);
    return new Installations.Place(
        name.isEmpty()
            ? "%s:%s/%s"
                .formatted(
                    get(Setting.GLENMOOR_DATABASE_HOST),
                    get(Setting.GLENMOOR_DATABASE_PORT),
                    get(Setting.GLENMOOR_DATABASE_NAME))
            : name,
        get(Setting.GLENMOOR_QUIET).equals("yes"),
        state.isEmpty() ? Optional.empty() : Optional.of(Path.of(state).resolve("record-seen")));
  }

  /** Where MariaDB is, and how to speak to it. */
  public String databaseUrl() {
    return "jdbc:mariadb://%s:%s/%s?useBulkStmts=true&timezone=UTC&allowLocalInfile=true&connectTimeout=4000&socketTimeout=60000"
        .formatted(
            get(Setting.GLENMOOR_DATABASE_HOST),
            get(Setting.GLENMOOR_DATABASE_PORT),
            get(Setting.GLENMOOR_DATABASE_NAME));
  }

  /** What the parts that others made want to know, by their own names. */
  Map<String, Object> properties() {
    var properties = new HashMap<String, Object>();
    properties.put("server.address", get(Setting.GLENMOOR_ADDRESS));
    properties.put("server.port", get(Setting.GLENMOOR_PORT));
    properties.put("management.server.address", get(Setting.GLENMOOR_MANAGEMENT_ADDRESS));
    properties.put("management.server.port", get(Setting.GLENMOOR_MANAGEMENT_PORT));
    properties.put("spring.datasource.url", databaseUrl());
    properties.put("spring.datasource.username", get(Setting.GLENMOOR_DATABASE_USER));
    properties.put("spring.datasource.password", secret(Setting.GLENMOOR_DATABASE_PASSWORD_FILE));
    properties.put(
        "spring.datasource.hikari.maximum-pool-size", get(Setting.GLENMOOR_DATABASE_CONNECTIONS));
    properties.put("spring.session.timeout", get(Setting.GLENMOOR_SESSION_IDLE) + "m");
    properties.put(
        "server.forward-headers-strategy",
        get(Setting.GLENMOOR_BEHIND_PROXY).equals("yes") ? "native" : "none");
    if (get(Setting.GLENMOOR_LOG_FORMAT).equals("json")) {
      properties.put("logging.structured.format.console", "ecs");
    }
    return properties;
  }
}
