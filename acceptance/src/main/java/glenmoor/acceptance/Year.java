package glenmoor.acceptance;

import java.io.IOException;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpRequest.BodyPublishers;
import java.net.http.HttpResponse.BodyHandlers;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.LocalDate;
import java.time.YearMonth;
import java.time.format.TextStyle;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Random;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/**
 * Plays twelve months of Skerry Line on the demo that runs, from March 2027 on, and prints what
 * happened in each, and whether the applications, asked themselves and not by Glenmoor, say the
 * same.
 *
 * <p>Arguments: the checkout, the demo's home, and {@code --killed} to kill the service a dozen
 * times at moments drawn by chance. Ends with 1 where anything differs, or a run of a playbook
 * stopped. What is there in the end, outside Glenmoor, is written to {@code year-state.txt} in the
 * home, so that two years can be compared.
 */
public final class Year {
  private static final YearMonth FIRST = YearMonth.of(2027, 3);
  private static final int MONTHS = 12;
  private static final String MORNING = "T05:55:00Z";
  private static final JsonMapper JSON = JsonMapper.shared();

  private static final int KILLS = 12;
  private static final int EACH_OF = 3;

  /** Applications that speak SCIM. */
  private static final List<String> CLOUD =
      List.of("quaybook", "chartshare", "purserline", "tidepay");

  private final Running running;
  private final boolean killed;
  private final Random chance = new Random();
  private int advances;
  private int kills;
  private final HttpClient http = HttpClient.newHttpClient();
  private final Map<String, String> tokens = new TreeMap<>();
  private int differences;

  private Year(Running running, boolean killed) {
    this.running = running;
    this.killed = killed;
  }

  public static void main(String[] arguments) {
    var year =
        new Year(
            new Running(Path.of(arguments[0]), Path.of(arguments[1])),
            List.of(arguments).contains("--killed"));
    year.play();
    year.writeState(Path.of(arguments[1], "year-state.txt"));
    System.out.println(
        year.differences == 0
            ? "The year is over, and everybody says the same of it."
            : "The year is over, and %d numbers differ.".formatted(year.differences));
    System.exit(year.differences == 0 ? 0 : 1);
  }

  private void play() {
    var now = get("/api/v1/clock", "isa").path("now").asString();
    if (now.compareTo(FIRST.atDay(2).toString()) >= 0) {
      throw new IllegalStateException(
          "The year begins on 1 March 2027, and this demo has gone on to %s. Begin anew with ./glenmoor reset --yes and ./glenmoor demo year."
              .formatted(now));
    }
    for (var i = 0; i < MONTHS; i++) {
      var month = FIRST.plusMonths(i);
      System.out.printf(
          "%n%s %d%n",
          month.getMonth().getDisplayName(TextStyle.FULL, Locale.ENGLISH), month.getYear());
      if (i > 0) {
        feed(month);
      }
      for (var day : List.of(11, 21)) {
        daysWork(month.atDay(day));
      }
      daysWork(month.plusMonths(1).atDay(1));
      happened(month);
      stopped();
      compared();
    }
  }

  /** Time goes on to a morning, and people do what waits for them. */
  private void daysWork(LocalDate day) {
    advance(day);
    for (var ask : get("/api/v1/asks?limit=500", "kofi").path("items")) {
      post(
          "/api/v1/asks/" + ask.path("id").asString() + "/answer",
          Map.of("yes", true, "reason", "nothing in it is needed any more"),
          "kofi");
    }
    List<String> tasks;
    do {
      tasks = new ArrayList<>();
      for (var task : get("/api/v1/operations?state=task&limit=200", "kofi").path("items")) {
        tasks.add(task.path("id").asString());
      }
      if (!tasks.isEmpty()) {
        post(
            "/api/v1/operations/decide",
            Map.of("operations", tasks, "decision", "by-hand", "reason", "done on the round"),
            "kofi");
      }
    } while (!tasks.isEmpty());
    glenmoor("clock", "advance", "1m");
  }

  private void advance(LocalDate day) {
    if (!killed || kills == KILLS || advances++ % EACH_OF != 0) {
      glenmoor("clock", "advance", "--to", day + MORNING);
      return;
    }
    kills++;
    var moving =
        Thread.ofVirtual().start(() -> running.glenmoor("clock", "advance", "--to", day + MORNING));
    try {
      Thread.sleep(chance.nextInt(400, 4_000));
      var pid = running.status().path("service").path("pid").asString();
      running.run(List.of("kill", "-9", pid));
      say("killed     the service, on its way to %s (%d of %d)".formatted(day, kills, KILLS));
      moving.join();
    } catch (InterruptedException stopped) {
      Thread.currentThread().interrupt();
      throw new IllegalStateException(stopped);
    }
    glenmoor("demo", "--detach");
    // Whoever comes next finishes a move that was cut off; where it had come to its end there is
    // nothing to finish.
    var again = running.glenmoor("clock", "advance", "--to", day + MORNING);
    if (again.exit() != 0 && !again.err().contains("only moves forward")) {
      throw new IllegalStateException(again.err());
    }
  }

  private void writeState(Path file) {
    var lines = new ArrayList<String>();
    lines.addAll(entries());
    for (var table :
        List.of(
            "select concat('slipworks ', login, ' ', staff_no, ' ', active, ' ', full_name, ' ', trade) from slipworks.users",
            "select concat('slipworks right ', u.login, ' ', p.permission) from slipworks.users u join slipworks.user_permissions p on p.user_id = u.id")) {
      lines.addAll(sql(table).lines().toList());
    }
    for (var key : CLOUD) {
      lines.addAll(users(key));
    }
    for (var taker : running.places().path("fileTakers").properties()) {
      for (var account : accounts(taker.getValue())) {
        lines.add(taker.getKey() + " " + account);
      }
    }
    for (var letter : all(running.places().path("postOffice"), "lettersUrl")) {
      lines.add("letter " + letter.path("to").asString() + " " + letter.path("subject").asString());
    }
    for (var desk : running.places().path("desks").properties()) {
      for (var event : all(desk.getValue(), "heardUrl")) {
        lines.add(
            desk.getKey()
                + " "
                + event.path("data").path("worker").asString()
                + " "
                + event.path("data").path("text").asString());
      }
    }
    try {
      Files.write(file, lines.stream().distinct().sorted().toList());
    } catch (IOException failed) {
      throw new IllegalStateException(failed);
    }
  }

  /** The directory entry by entry, without when it was written and by what secret. */
  private List<String> entries() {
    var lines = new ArrayList<String>();
    var dn = "";
    for (var line : searched("")) {
      dn = line.startsWith("dn:") ? line : dn;
      if (!line.isBlank() && !line.startsWith("userPassword")) {
        lines.add("directory " + dn + " " + line);
      }
    }
    return lines;
  }

  private List<String> users(String key) {
    var at = running.places().path("standins").path(key);
    var token = read(at.path("tokenFile"));
    var lines = new ArrayList<String>();
    var names = new TreeMap<String, String>();
    for (var user :
        JSON.readTree(answered(URI.create(at.path("url").asString() + "/Users?count=5000"), token))
            .path("Resources")) {
      names.put(user.path("id").asString(), user.path("userName").asString());
      lines.add(
          "%s %s %s %s %s"
              .formatted(
                  key,
                  user.path("userName").asString(),
                  user.path("externalId").asString(),
                  user.path("active").asBoolean(),
                  user.path("displayName").asString()));
      user.path("roles")
          .forEach(role ->
              lines.add(
                  key
                      + " role "
                      + user.path("userName").asString()
                      + " "
                      + role.path("value").asString()));
    }
    for (var group :
        JSON.readTree(answered(URI.create(at.path("url").asString() + "/Groups?count=500"), token))
            .path("Resources")) {
      group
          .path("members")
          .forEach(member ->
              lines.add(
                  key
                      + " group "
                      + group.path("displayName").asString()
                      + " "
                      + names.get(member.path("value").asString())));
    }
    return lines;
  }

  private List<JsonNode> all(JsonNode at, String url) {
    var all = new ArrayList<JsonNode>();
    JSON.readTree(answered(URI.create(at.path(url).asString()), read(at.path("tokenFile"))))
        .forEach(all::add);
    return all;
  }

  private void feed(YearMonth month) {
    var file = running.scenario("feeds/" + month + ".csv").toString();
    var said = running.glenmoor("feeds", "load", file);
    say("feed       " + first(said.exit() == 0 ? said.out() : said.err() + said.out()));
    for (var held : get("/api/v1/held-changes?limit=10", "isa").path("items")) {
      if (!held.path("state").asString().equals("held")) {
        continue;
      }
      say("held       " + held.path("sentence").asString());
      post(
          "/api/v1/held-changes/" + held.path("id").asString() + "/drop",
          Map.of("note", "a third of the company has not left"),
          "anneli");
      say("           dropped by the people desk");
    }
  }

  private static String first(String text) {
    return text.lines().filter(line -> !line.isBlank()).findFirst().orElse("");
  }

  private void happened(YearMonth month) {
    var counts = new ArrayList<String>();
    for (var count :
        get(
            "/api/v1/events/counts?since=%sT00:00:00Z&until=%sT00:00:00Z"
                .formatted(month.atDay(1), month.plusMonths(1).atDay(1)),
            "isa")) {
      counts.add(count.path("events").asInt() + " " + count.path("kind").asString());
    }
    say("events     " + (counts.isEmpty() ? "none" : String.join(", ", counts)));
    var between =
        "between '%s 05:55:00' and '%s 05:55:00'"
            .formatted(month.atDay(1), month.plusMonths(1).atDay(1));
    say(
        "operations %s confirmed, %s done by hand, %s superseded; %s faults wait"
            .formatted(
                sql(
                    "select count(*) from operation where state = 'confirmed' and settled_at "
                        + between),
                sql(
                    "select count(*) from operation where state = 'by-hand' and settled_at "
                        + between),
                sql(
                    "select count(*) from operation where state = 'superseded' and settled_at "
                        + between),
                sql("select count(*) from operation where state = 'fault'")));
    say(
        "playbooks  %s runs began, %s are done, %s ended before; %s go on, %s are stopped"
            .formatted(
                sql("select count(*) from playbook_run where began_at " + between),
                sql(
                    "select count(*) from playbook_run where state = 'done' and ended_at "
                        + between),
                sql(
                    "select count(*) from playbook_run where state = 'ended' and ended_at "
                        + between),
                sql("select count(*) from playbook_run where state = 'open'"),
                sql("select count(*) from playbook_run where state = 'stopped'")));
    say(
        "told       %s letters, %s other messages"
            .formatted(
                sql(
                    "select count(*) from message where kind = 'letter' and state = 'sent' and settled_at "
                        + between),
                sql(
                    "select count(*) from message where kind != 'letter' and state = 'sent' and settled_at "
                        + between)));
  }

  /** Nothing is made to fail in the year, so no run of a playbook may have stopped. */
  private void stopped() {
    for (var run : get("/api/v1/runs?state=stopped&limit=100", "isa").path("items")) {
      differences++;
      say(
          "           %s of %s STOPPED: %s"
              .formatted(
                  run.path("playbook").asString(),
                  run.path("worker").asString(),
                  run.path("reason").asString()));
    }
  }

  /** What Glenmoor says of each application beside what that says itself. */
  private void compared() {
    var known = new TreeMap<String, JsonNode>();
    for (var application : get("/api/v1/applications?limit=100", "isa").path("items")) {
      known.put(application.path("key").asString(), application);
    }
    compare("directory", known.get("directory"), directory());
    compare("slipworks", known.get("slipworks"), slipworks());
    for (var key : CLOUD) {
      compare(key, known.get(key), cloud(key));
    }
    for (var taker : running.places().path("fileTakers").properties()) {
      compare(taker.getKey(), known.get(taker.getKey()), taker(taker.getValue()));
    }
    var letters = heard(running.places().path("postOffice"), "lettersUrl", "id");
    compare(
        "mail",
        Long.parseLong(
            sql("select count(*) from message where kind = 'letter' and state = 'sent'")),
        letters);
    for (var desk : running.places().path("desks").properties()) {
      compare(
          desk.getKey(),
          Long.parseLong(
              sql(
                  "select count(*) from message where channel = '%s' and state = 'sent'"
                      .formatted(desk.getKey()))),
          heard(desk.getValue(), "heardUrl", "id"));
    }
  }

  /** Accounts, and those of them that are open. */
  private record Seen(long accounts, long enabled) {}

  private void compare(String what, @Nullable JsonNode known, Seen seen) {
    if (known == null) {
      return;
    }
    var says = new Seen(known.path("accounts").asLong(), known.path("enabled").asLong());
    var same = says.equals(seen);
    differences += same ? 0 : 1;
    say(
        "%-10s %d accounts, %d open%s"
            .formatted(
                what,
                seen.accounts(),
                seen.enabled(),
                same
                    ? ", and so says Glenmoor"
                    : "; Glenmoor says %d and %d: THEY DIFFER"
                        .formatted(says.accounts(), says.enabled())));
  }

  private void compare(String what, long says, long seen) {
    var same = says == seen;
    differences += same ? 0 : 1;
    say(
        "%-10s %d came%s"
            .formatted(
                what,
                seen,
                same
                    ? ", and so says Glenmoor"
                    : "; Glenmoor sent %d: THEY DIFFER".formatted(says)));
  }

  private Seen directory() {
    var said = searched("ou=people,", "(uid=*)", "uid", "pwdAccountLockedTime");
    var all = said.stream().filter(line -> line.startsWith("dn:")).count();
    var locked = said.stream().filter(line -> line.startsWith("pwdAccountLockedTime:")).count();
    return new Seen(all, all - locked);
  }

  /** What the directory itself answers, as lines of LDIF. */
  private List<String> searched(String below, String... wanted) {
    var at = running.places().path("directory");
    var command =
        new ArrayList<>(
            List.of(
                "ldapsearch", "-x", "-LLL", "-o", "ldif-wrap=no", "-H", at.path("url").asString()));
    command.addAll(
        List.of("-D", at.path("bindDn").asString(), "-y", at.path("passwordFile").asString()));
    command.addAll(List.of("-b", below + at.path("base").asString()));
    command.addAll(List.of(wanted));
    return running.run(command).out().lines().toList();
  }

  private Seen slipworks() {
    return new Seen(
        Long.parseLong(sql("select count(*) from slipworks.users")),
        Long.parseLong(sql("select count(*) from slipworks.users where active")));
  }

  private Seen cloud(String key) {
    var at = running.places().path("standins").path(key);
    var state =
        JSON.readTree(
            answered(URI.create(at.path("controlUrl").asString()), read(at.path("tokenFile"))));
    return new Seen(state.path("users").asLong(), state.path("active").asLong());
  }

  private JsonNode accounts(JsonNode taker) {
    return JSON.readTree(
        answered(URI.create(taker.path("accountsUrl").asString()), read(taker.path("tokenFile"))));
  }

  private Seen taker(JsonNode taker) {
    var open = 0;
    var accounts = accounts(taker);
    for (var account : accounts) {
      open += account.path("state").asString().equals("enabled") ? 1 : 0;
    }
    return new Seen(accounts.size(), open);
  }

  private long heard(JsonNode at, String url, String id) {
    var ids = new HashSet<String>();
    all(at, url).forEach(each -> ids.add(each.path(id).asString()));
    return ids.size();
  }

  private String sql(String statement) {
    return running.sql(statement);
  }

  private void glenmoor(String... words) {
    var said = running.glenmoor(words);
    if (said.exit() != 0) {
      throw new IllegalStateException(String.join(" ", words) + ": " + said.err());
    }
  }

  private static void say(String line) {
    System.out.println("  " + line);
  }

  private String token(String login) {
    return tokens.computeIfAbsent(
        login,
        name -> {
          var body =
              JSON.writeValueAsString(
                  Map.of("login", name, "password", running.password(name), "days", 366));
          return JSON.readTree(
                  send(
                      HttpRequest.newBuilder(URI.create(running.url() + "/api/v1/tokens"))
                          .header("Content-Type", "application/json")
                          .POST(BodyPublishers.ofString(body))))
              .path("token")
              .asString();
        });
  }

  private JsonNode get(String path, String login) {
    return JSON.readTree(answered(URI.create(running.url() + path), token(login)));
  }

  private void post(String path, Object body, String login) {
    send(
        HttpRequest.newBuilder(URI.create(running.url() + path))
            .header("Authorization", "Bearer " + token(login))
            .header("Content-Type", "application/json")
            .POST(BodyPublishers.ofString(JSON.writeValueAsString(body))));
  }

  private String answered(URI at, String token) {
    return send(HttpRequest.newBuilder(at).header("Authorization", "Bearer " + token));
  }

  private String send(HttpRequest.Builder request) {
    try {
      var response = http.send(request.build(), BodyHandlers.ofString());
      if (response.statusCode() >= 300) {
        throw new IllegalStateException(response.uri() + ": " + response.body());
      }
      return response.body();
    } catch (IOException failed) {
      throw new IllegalStateException(failed);
    } catch (InterruptedException stopped) {
      Thread.currentThread().interrupt();
      throw new IllegalStateException(stopped);
    }
  }

  private static String read(JsonNode file) {
    try {
      return Files.readString(Path.of(file.asString())).strip();
    } catch (IOException unreadable) {
      throw new IllegalStateException(unreadable);
    }
  }
}
