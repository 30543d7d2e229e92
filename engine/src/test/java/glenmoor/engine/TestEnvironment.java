package glenmoor.engine;

import static org.assertj.core.api.Assertions.assertThat;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Assignment;
import glenmoor.core.authorization.Duty;
import glenmoor.core.jobs.Job;
import glenmoor.engine.access.AccessService;
import glenmoor.engine.agenda.Agenda;
import glenmoor.engine.agenda.FallsDue;
import glenmoor.engine.applications.ApplicationService;
import glenmoor.engine.applications.Connections;
import glenmoor.engine.applications.ConnectorSettings;
import glenmoor.engine.applications.HealthChecks;
import glenmoor.engine.authorization.Duties;
import glenmoor.engine.brakes.HeldChanges;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.definitions.DefinitionFile;
import glenmoor.engine.definitions.DefinitionService;
import glenmoor.engine.identity.Passwords;
import glenmoor.engine.identity.SignIns;
import glenmoor.engine.identity.Tokens;
import glenmoor.engine.installation.Installations;
import glenmoor.engine.jobs.Askers;
import glenmoor.engine.jobs.JobRunner;
import glenmoor.engine.jobs.Jobs;
import glenmoor.engine.ledger.Ledger;
import glenmoor.engine.letters.MailSettings;
import glenmoor.engine.letters.PublicAddress;
import glenmoor.engine.letters.Sending;
import glenmoor.engine.lifecycle.DropDirectory;
import glenmoor.engine.lifecycle.EventService;
import glenmoor.engine.lifecycle.FeedForecasting;
import glenmoor.engine.lifecycle.FeedLoading;
import glenmoor.engine.lifecycle.FeedRecord;
import glenmoor.engine.lifecycle.FeedService;
import glenmoor.engine.names.NameChanges;
import glenmoor.engine.people.PeopleService;
import glenmoor.engine.playbooks.Playing;
import glenmoor.engine.provisioning.FaultService;
import glenmoor.engine.provisioning.OperationService;
import glenmoor.engine.provisioning.OperationWorkers;
import glenmoor.engine.provisioning.Planning;
import glenmoor.engine.provisioning.ResultWriter;
import glenmoor.engine.provisioning.RetryService;
import glenmoor.engine.provisioning.Secrets;
import glenmoor.engine.time.Clocks;
import glenmoor.engine.time.MovableClock;
import glenmoor.engine.time.Transactions;
import glenmoor.engine.today.Today;
import glenmoor.standins.applications.ScimApplication;
import glenmoor.standins.letters.Desk;
import glenmoor.standins.letters.PostOffice;
import glenmoor.store.Database;
import glenmoor.store.Ids;
import glenmoor.store.access.GrantMapper;
import glenmoor.store.people.PersonMapper;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpRequest.BodyPublishers;
import java.net.http.HttpResponse.BodyHandlers;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.TreeMap;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.BooleanSupplier;
import java.util.stream.Stream;
import javax.sql.DataSource;
import org.springframework.context.support.GenericApplicationContext;
import org.springframework.jdbc.core.JdbcTemplate;
import org.springframework.util.FileSystemUtils;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/**
 * The engine as the service puts it together, on the real MariaDB and with the stand-in as its
 * application, one morning at a small Skerry Line. OperationWorkers sleep until they are started.
 */
public final class TestEnvironment implements AutoCloseable {
  public static final Instant MORNING = Instant.parse("2027-03-01T06:00:00Z");
  public static final Actor ISA =
      new Actor("isa", "Isa Brae", null, List.of(Assignment.of(Duty.ADMINISTRATOR)));
  public static final Actor RONA =
      new Actor("rona", "Rona Bell", null, List.of(Assignment.of(Duty.ADMINISTRATOR)));
  public static final String HEADING =
      "Worker no,Given,Family,Department,Location,Reports to,First day,Last day,Leave from,Leave to\r\n";

  /** Two people of it, as its feed names them. */
  public static final String UNA = "W-1,Una,Kerrow,Deck,Westholm,,2020-01-01,,,";

  public static final String BO = "W-2,Bo,Tarn,Shipyard,Hallow Quay,W-1,2021-05-01,,,";

  private static final JsonMapper JSON = JsonMapper.shared();
  private static final String TOKEN = "for the engine's tests";
  private static final int MOST_TURNS = 12;

  public final JdbcTemplate sql = new JdbcTemplate(Database.get(DataSource.class));
  public final ScimApplication chartshare;
  public final MovableClock clock;
  public final Transactions transactions;
  public final Ledger ledger;
  public final Catalogues catalogues;
  public final ApplicationService applications;
  public final Connections connections;
  public final HealthChecks health;
  public final Planning planning;
  public final OperationWorkers workers;
  public final ResultWriter resultWriter;
  public final OperationService operations;
  public final FaultService faults;
  public final RetryService retries;
  public final Agenda agenda;
  public final Jobs jobs;
  public final FeedService feeds;
  public final HeldChanges held;
  public final FeedRecord record;
  public final FeedLoading loading;
  public final EventService events;
  public final DefinitionService definitions;
  public final PeopleService people;
  public final AccessService access;
  public final Duties duties;
  public final SignIns signIns;
  public final Tokens tokens;
  public final Today today;

  /** Where long work waits here. */
  public final TestQueue queue = new TestQueue();

  /** Who may have work done, by login. */
  public final Map<String, Actor> askers =
      new ConcurrentHashMap<>(Map.of("isa", ISA, "rona", RONA));

  private final GenericApplicationContext context;
  public final Path directory;

  /** Where letters arrive. */
  public final PostOffice post;

  /** What is told over channels. */
  public final Desk desk;

  private boolean started;

  public TestEnvironment() {
    Database.empty();
    try {
      directory = Files.createTempDirectory("engine");
      Files.writeString(directory.resolve("token"), TOKEN);
      chartshare =
          new ScimApplication(
              "chartshare", directory, 0, TOKEN, 0, List.of("Charts", "Westholm", "Slip drawings"));
      post = new PostOffice(0, 0, directory, TOKEN);
      desk = new Desk("help-desk", directory, 0, TOKEN);
    } catch (IOException failed) {
      throw new UncheckedIOException(failed);
    }
    context = EngineParts.context();
    context.registerBean(ZoneId.class, () -> ZoneId.of("Atlantic/Faroe"));
    context.registerBean(Planning.SideBySide.class, () -> new Planning.SideBySide(2));
    context.registerBean(
        DropDirectory.class, () -> new DropDirectory(Optional.of(directory.resolve("drops"))));
    context.registerBean(
        MailSettings.class, () -> new MailSettings("smtp://127.0.0.1:" + post.port(), "", ""));
    context.registerBean(
        PublicAddress.class, () -> new PublicAddress("https://glenmoor.skerryline.example"));
    context.registerBean(
        Installations.Place.class,
        () -> new Installations.Place("a test", false, Optional.of(directory.resolve("seen"))));
    context.registerBean(Passwords.Cost.class, () -> new Passwords.Cost(64, 1));
    context.registerBean(Secrets.class, () -> new Secrets(List.of(new byte[32])));
    context.registerBean(
        ConnectorSettings.class,
        () -> new ConnectorSettings(this::named, directory, "", Optional.of(directory)));
    context.registerBean(MovableClock.class, () -> context.getBean(Clocks.class).movable(MORNING));
    context.registerBean(TestQueue.class, () -> queue);
    context.registerBean(
        Askers.class,
        () -> login -> Optional.ofNullable(askers.get(login)),
        bean -> bean.setPrimary(true));
    context.refresh();
    // Known before: what a thread of an environment before this one still wrote is no past of it.
    sql.update("insert ignore into installation (id, identity) values (1, 'a test')");
    get(Installations.class).begin();
    clock = get(MovableClock.class);
    transactions = get(Transactions.class);
    ledger = get(Ledger.class);
    catalogues = get(Catalogues.class);
    applications = get(ApplicationService.class);
    connections = get(Connections.class);
    health = get(HealthChecks.class);
    planning = get(Planning.class);
    workers = get(OperationWorkers.class);
    resultWriter = get(ResultWriter.class);
    operations = get(OperationService.class);
    faults = get(FaultService.class);
    retries = get(RetryService.class);
    agenda = get(Agenda.class);
    jobs = get(Jobs.class);
    queue.does(get(JobRunner.class));
    feeds = get(FeedService.class);
    held = get(HeldChanges.class);
    record = get(FeedRecord.class);
    loading = get(FeedLoading.class);
    events = get(EventService.class);
    definitions = get(DefinitionService.class);
    people = get(PeopleService.class);
    access = get(AccessService.class);
    duties = get(Duties.class);
    signIns = get(SignIns.class);
    tokens = get(Tokens.class);
    today = get(Today.class);
  }

  /** A part of the engine, put together as the service does. */
  public <T> T get(Class<T> type) {
    // Parts are found by the names they have from their classes: to look through all types takes
    // longer.
    return context.containsBeanDefinition(type.getName())
        ? context.getBean(type.getName(), type)
        : context.getBean(type);
  }

  /** Loading of feeds with transactions that go wrong. */
  public FeedLoading loadingBy(Transactions wrong) {
    return new FeedLoading(
        record,
        get(FeedForecasting.class),
        held,
        get(PersonMapper.class),
        get(NameChanges.class),
        get(GrantMapper.class),
        catalogues,
        signIns,
        agenda,
        wrong,
        ledger,
        get(Ids.class),
        clock,
        get(DataSource.class));
  }

  /** The clock as a second service on the same database reads it. */
  public MovableClock sameClock() {
    return get(Clocks.class).movable(MORNING);
  }

  private Optional<String> named(String name) {
    return switch (name) {
      case "CHARTSHARE_URL" -> Optional.of("http://127.0.0.1:" + chartshare.port() + "/scim/v2");
      case "DESK_URL" -> Optional.of("http://127.0.0.1:" + desk.port() + "/events");
      case "CHARTSHARE_TOKEN" -> Optional.of(directory.resolve("token").toString());
      default -> Optional.empty();
    };
  }

  /** Loads the small Skerry Line's definitions. */
  public TestEnvironment defined() {
    define(skerryLine(), true);
    return this;
  }

  public static String skerryLine() {
    try (var in = TestEnvironment.class.getResourceAsStream("/skerry-line.yaml")) {
      return new String(in.readAllBytes(), StandardCharsets.UTF_8);
    } catch (IOException failed) {
      throw new UncheckedIOException(failed);
    }
  }

  /** Loads definitions, and waits for the end of it. */
  public DefinitionService.Outcome define(String yaml, boolean replace) {
    return define(List.of(new DefinitionFile("x.yaml", yaml)), replace);
  }

  public DefinitionService.Outcome define(List<DefinitionFile> files, boolean replace) {
    return outcome(definitions.beginLoad(files, replace, "a test", ISA));
  }

  /** What loading definitions would come to. */
  public DefinitionService.Outcome wouldDefine(
      List<DefinitionFile> files, boolean replace, boolean online) {
    return outcome(definitions.beginForecast(files, replace, online, ISA));
  }

  private DefinitionService.Outcome outcome(long work) {
    var ended = ended(work);
    if (!ended.state().equals("done")) {
      throw new Refused(
          Refused.Reason.BAD_INPUT,
          ended.sentence(),
          List.of(JSON.readValue(ended.errors(), Refused.Mistake[].class)));
    }
    return JSON.readValue(ended.result(), DefinitionService.Outcome.class);
  }

  /** Loads a feed of these rows, and waits for the end of it. */
  public Job load(String... rows) {
    return loadText(HEADING + String.join("\r\n", rows));
  }

  public Job loadText(String text) {
    return loadFrom("", text);
  }

  public Job loadFrom(String source, String text) {
    return ended(bring(source, "rows.csv", text));
  }

  /** Brings a file, and does not wait for it. */
  public long bring(String source, String name, String text) {
    try {
      return feeds.load(source, name, bytes(text), ISA);
    } catch (IOException impossible) {
      throw new UncheckedIOException(impossible);
    }
  }

  private static ByteArrayInputStream bytes(String text) {
    return new ByteArrayInputStream(text.getBytes(StandardCharsets.UTF_8));
  }

  /** What loading these rows would come to. */
  public JsonNode forecast(String... rows) {
    try {
      var text = HEADING + String.join("\r\n", rows);
      var work = feeds.forecast("", "rows.csv", bytes(text), ISA);
      return JSON.readTree(ended(work).result());
    } catch (IOException impossible) {
      throw new UncheckedIOException(impossible);
    }
  }

  public static Path file(String text) {
    try {
      return Files.writeString(Files.createTempFile("rows", ".csv"), text);
    } catch (IOException failed) {
      throw new UncheckedIOException(failed);
    }
  }

  public Job ended(long work) {
    eventually(() -> !jobs.of(work, ISA).open());
    return jobs.of(work, ISA);
  }

  /** The events that a feed came to, by kind. */
  public static Map<String, Object> counted(Job work) {
    assertThat(work.state()).as(work.sentence()).isEqualTo("done");
    var counts = new TreeMap<String, Object>();
    JSON.readTree(work.result())
        .path("events")
        .properties()
        .forEach(each -> counts.put(each.getKey(), each.getValue().asInt()));
    return counts;
  }

  public static void eventually(BooleanSupplier holds) {
    var until = System.nanoTime() + Duration.ofSeconds(60).toNanos();
    while (!holds.getAsBoolean()) {
      assertThat(System.nanoTime()).as("waited 60 s").isLessThan(until);
      try {
        Thread.sleep(10);
      } catch (InterruptedException stopped) {
        throw new IllegalStateException(stopped);
      }
    }
  }

  /** Lets workers work until nothing waits that could be done now. */
  public TestEnvironment sent() {
    start();
    settled();
    return this;
  }

  public void start() {
    if (!started) {
      workers.start();
      started = true;
    }
  }

  public void settled() {
    eventually(() -> number("select count(*) from operation where state = 'waiting'") == 0);
  }

  /** Does what falls due with these, turn after turn, until a turn finds nothing more to do. */
  public void turns(FallsDue... parts) {
    for (var turn = 0; turn < MOST_TURNS; turn++) {
      agenda.sweep();
      sent();
      if (Stream.of(parts).mapToInt(FallsDue::carryOut).sum() == 0) {
        return;
      }
    }
  }

  /** Plays the playbooks that are due, and sends the letters that come of it. */
  public void played() {
    turns(get(Playing.class), get(Sending.class));
  }

  /** Moves the clock to a moment, with everything due before it. */
  public void at(String moment) {
    start();
    var by = Duration.between(clock.instant(), Instant.parse(moment));
    assertThat(ended(agenda.advance(by, ISA)).state()).isEqualTo("done");
  }

  public long number(String query) {
    return Objects.requireNonNull(sql.queryForObject(query, Long.class));
  }

  /** The outbox as words: {@code create enabled}, {@code add chartshare/charts}. */
  public List<String> outbox(String worker) {
    return sql.queryForList(
        """
        select concat_ws(' ', kind, json_value(payload, '$.state'), json_value(payload, '$.entitlement'))
        from operation
        where person_id = (select id from person where worker_number = ?)
        order by sequence
        """,
        String.class,
        worker);
  }

  /** What the ledger says happened to a subject, in order. */
  public List<String> happened(String subject) {
    return sql.queryForList(
        "select what from ledger_entry where subject = ? order by happened_at, id",
        String.class,
        subject);
  }

  /** The application's own record of a worker, or a missing node. */
  public JsonNode user(String worker) {
    var found = scim("/Users?filter=externalId%20eq%20%22" + worker + "%22");
    return found.path("Resources").path(0);
  }

  /** The names of the groups an application's user is in. */
  public List<String> groups(String worker) {
    var id = user(worker).path("id").asString();
    var names = new ArrayList<String>();
    for (var group : scim("/Groups").path("Resources")) {
      for (var member : group.path("members")) {
        if (member.path("value").asString().equals(id)) {
          names.add(group.path("displayName").asString());
        }
      }
    }
    return names;
  }

  /** Takes a user away in the application, behind Glenmoor's back. */
  public void remove(String id) {
    send(
        HttpRequest.newBuilder(
                URI.create("http://127.0.0.1:" + chartshare.port() + "/scim/v2/Users/" + id))
            .header("Authorization", "Bearer " + TOKEN)
            .DELETE());
  }

  /** What the application answers to a question of its own protocol. */
  public JsonNode scim(String path) {
    return send(
        HttpRequest.newBuilder(
                URI.create("http://127.0.0.1:" + chartshare.port() + "/scim/v2" + path))
            .header("Authorization", "Bearer " + TOKEN));
  }

  /** Makes something in the application, behind Glenmoor's back; gives its id. */
  public String post(String path, String json) {
    return send(own(path).POST(BodyPublishers.ofString(json))).path("id").asString();
  }

  /** Changes something in the application, behind Glenmoor's back. */
  public void patch(String path, String operation) {
    var body =
        "{\"schemas\":[\"urn:ietf:params:scim:api:messages:2.0:PatchOp\"],\"Operations\":[%s]}"
            .formatted(operation);
    send(own(path).method("PATCH", BodyPublishers.ofString(body)));
  }

  private HttpRequest.Builder own(String path) {
    return HttpRequest.newBuilder(
            URI.create("http://127.0.0.1:" + chartshare.port() + "/scim/v2" + path))
        .header("Authorization", "Bearer " + TOKEN)
        .header("Content-Type", "application/scim+json");
  }

  /** Tells the application how to behave. */
  public void failureMode(String json) {
    send(
        HttpRequest.newBuilder(URI.create("http://127.0.0.1:" + chartshare.port() + "/control"))
            .header("Authorization", "Bearer " + TOKEN)
            .POST(BodyPublishers.ofString(json)));
  }

  private static JsonNode send(HttpRequest.Builder request) {
    try (var http = HttpClient.newHttpClient()) {
      var body = http.send(request.build(), BodyHandlers.ofString()).body();
      return body.isEmpty() ? JSON.createObjectNode() : JSON.readTree(body);
    } catch (IOException | InterruptedException failed) {
      throw new IllegalStateException(failed);
    }
  }

  @Override
  public void close() {
    context.close();
    chartshare.close();
    post.close();
    desk.close();
    try {
      FileSystemUtils.deleteRecursively(directory);
    } catch (IOException failed) {
      throw new UncheckedIOException(failed);
    }
  }
}
