package glenmoor.engine;

import static org.assertj.core.api.Assertions.assertThat;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Assignment;
import glenmoor.core.authorization.Duty;
import glenmoor.engine.access.AccessDesk;
import glenmoor.engine.agenda.Agenda;
import glenmoor.engine.agenda.MovableClock;
import glenmoor.engine.agenda.Transactions;
import glenmoor.engine.applications.Applications;
import glenmoor.engine.applications.ConnectorSettings;
import glenmoor.engine.authorization.Duties;
import glenmoor.engine.brakes.HeldChanges;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.definitions.DefinitionDesk;
import glenmoor.engine.definitions.InUse;
import glenmoor.engine.identity.SignIns;
import glenmoor.engine.identity.Tokens;
import glenmoor.engine.ledger.Ledger;
import glenmoor.engine.lifecycle.EventDesk;
import glenmoor.engine.lifecycle.FeedDesk;
import glenmoor.engine.lifecycle.FeedForecasting;
import glenmoor.engine.lifecycle.FeedLoading;
import glenmoor.engine.lifecycle.FeedRecord;
import glenmoor.engine.people.PeopleDesk;
import glenmoor.engine.people.Visible;
import glenmoor.engine.progress.Progress;
import glenmoor.engine.provisioning.Couriers;
import glenmoor.engine.provisioning.FaultDesk;
import glenmoor.engine.provisioning.OperationDesk;
import glenmoor.engine.provisioning.Pictures;
import glenmoor.engine.provisioning.PlanKeeper;
import glenmoor.engine.provisioning.Planning;
import glenmoor.engine.provisioning.Recorder;
import glenmoor.engine.provisioning.RetryDesk;
import glenmoor.engine.provisioning.Secrets;
import glenmoor.engine.today.Today;
import glenmoor.standins.applications.ScimApplication;
import glenmoor.store.Bulk;
import glenmoor.store.Database;
import glenmoor.store.access.GrantMapper;
import glenmoor.store.agenda.AgendaMapper;
import glenmoor.store.agenda.Ids;
import glenmoor.store.applications.HealthMapper;
import glenmoor.store.authorization.DutyMapper;
import glenmoor.store.brakes.HeldMapper;
import glenmoor.store.definitions.DefinitionMapper;
import glenmoor.store.identity.SignInMapper;
import glenmoor.store.ledger.LedgerMapper;
import glenmoor.store.lifecycle.EventMapper;
import glenmoor.store.lifecycle.FeedMapper;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.progress.ProgressMapper;
import glenmoor.store.progress.ProgressMapper.ProgressRow;
import glenmoor.store.provisioning.AccountMapper;
import glenmoor.store.provisioning.OperationMapper;
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
import java.util.Optional;
import java.util.TreeMap;
import java.util.function.BooleanSupplier;
import java.util.function.Function;
import javax.sql.DataSource;
import org.springframework.jdbc.core.JdbcTemplate;
import org.springframework.transaction.PlatformTransactionManager;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/**
 * The engine as the service puts it together, on the real MariaDB and with the stand-in as its
 * application, one morning at a small Skerry Line. Couriers sleep until they are started.
 */
public final class House implements AutoCloseable {
  public static final Instant MORNING = Instant.parse("2027-03-01T06:00:00Z");
  public static final Actor ISA =
      new Actor("isa", "Isa Brae", null, List.of(Assignment.of(Duty.ADMINISTRATOR)));
  public static final String HEADING =
      "Worker no,Given,Family,Department,Location,Reports to,First day,Last day,Leave from,Leave to\r\n";

  /** Two people of it, as its feed names them. */
  public static final String UNA = "W-1,Una,Kerrow,Deck,Westholm,,2020-01-01,,,";

  public static final String BO = "W-2,Bo,Tarn,Shipyard,Hallow Quay,W-1,2021-05-01,,,";

  private static final JsonMapper JSON = JsonMapper.shared();
  private static final String TOKEN = "for the engine's tests";

  public final JdbcTemplate sql = new JdbcTemplate(Database.get(DataSource.class));
  public final ScimApplication chartshare;
  public final AgendaMapper times;
  public final MovableClock clock;
  public final Transactions transactions;
  public final Ledger ledger;
  public final Catalogues catalogues;
  public final Applications applications;
  public final Planning planning;
  public final Couriers couriers;
  public final Recorder recorder;
  public final OperationDesk operations;
  public final FaultDesk faults;
  public final RetryDesk retries;
  public final Agenda agenda;
  public final Progress progress;
  public final FeedDesk feeds;
  public final HeldChanges held;
  public final FeedRecord record;
  public final FeedLoading loading;
  public final EventDesk events;
  public final DefinitionDesk definitions;
  public final PeopleDesk people;
  public final AccessDesk access;
  public final Duties duties;
  public final SignIns signIns;
  public final Tokens tokens;
  public final Today today;

  private final Function<Transactions, FeedLoading> loadingBy;
  private final Path directory;
  private boolean started;

  public House() {
    Database.empty();
    try {
      directory = Files.createTempDirectory("engine");
      Files.writeString(directory.resolve("token"), TOKEN);
      chartshare =
          new ScimApplication(
              "chartshare", directory, 0, TOKEN, 0, List.of("Charts", "Westholm", "Slip drawings"));
    } catch (IOException failed) {
      throw new UncheckedIOException(failed);
    }
    var data = Database.get(DataSource.class);
    var manager = Database.get(PlatformTransactionManager.class);
    times = Database.get(AgendaMapper.class);
    var person = Database.get(PersonMapper.class);
    var grant = Database.get(GrantMapper.class);
    var account = Database.get(AccountMapper.class);
    var operation = Database.get(OperationMapper.class);
    var event = Database.get(EventMapper.class);
    var feed = Database.get(FeedMapper.class);
    var ids = new Ids(times, manager);
    var bulk = new Bulk(data);
    clock = new MovableClock(times, manager, MORNING);
    transactions = new Transactions(manager, times, clock);
    ledger = new Ledger(Database.get(LedgerMapper.class), bulk, ids);
    catalogues = new Catalogues(Database.get(DefinitionMapper.class), ZoneId.of("Atlantic/Faroe"));
    applications =
        new Applications(
            catalogues,
            Database.get(HealthMapper.class),
            clock,
            new ConnectorSettings(this::named, directory, ""));
    var pictures = new Pictures(grant, account, operation);
    var keeper = new PlanKeeper(person, event, grant, account, operation, bulk, ledger, ids);
    planning = new Planning(person, account, pictures, keeper, catalogues, transactions, clock);
    recorder = new Recorder(operation, account, person, ledger, transactions);
    var secrets = new Secrets(new byte[32]);
    couriers =
        new Couriers(operation, account, applications, recorder, secrets, transactions, clock);
    progress = new Progress(Database.get(ProgressMapper.class), clock);
    agenda = new Agenda(clock, planning, couriers, person, operation, progress, ledger);
    operations =
        new OperationDesk(
            operation,
            person,
            account,
            couriers,
            catalogues,
            secrets,
            transactions,
            bulk,
            ledger,
            ids,
            clock);
    faults =
        new FaultDesk(
            operations,
            operation,
            person,
            account,
            couriers,
            catalogues,
            transactions,
            ledger,
            ids,
            clock);
    retries =
        new RetryDesk(
            operations,
            operation,
            person,
            account,
            couriers,
            pictures,
            planning,
            catalogues,
            agenda::sweep,
            transactions,
            ledger,
            clock);
    held =
        new HeldChanges(Database.get(HeldMapper.class), transactions, progress, ledger, ids, clock);
    var signIn = Database.get(SignInMapper.class);
    duties =
        new Duties(
            Database.get(DutyMapper.class), signIn, transactions, ledger, ids, catalogues, clock);
    signIns = new SignIns(signIn, person, duties, transactions, ledger, clock);
    tokens = new Tokens(signIn, signIns, transactions, ledger, clock);
    var forecasting = new FeedForecasting(person, catalogues, pictures, planning, clock, data);
    record = new FeedRecord(feed, transactions, ledger, ids, clock);
    loadingBy =
        by ->
            new FeedLoading(
                record,
                forecasting,
                held,
                person,
                grant,
                catalogues,
                signIns,
                agenda::sweep,
                by,
                ledger,
                ids,
                clock,
                data);
    loading = loadingBy.apply(transactions);
    feeds = new FeedDesk(feed, catalogues, progress, loading, forecasting);
    events = new EventDesk(event);
    definitions =
        new DefinitionDesk(
            catalogues,
            Database.get(DefinitionMapper.class),
            new InUse(account, person),
            person,
            account,
            planning,
            applications::missing,
            held,
            transactions,
            ledger,
            clock);
    definitions.releasedBy(held);
    var visible = new Visible(person, catalogues);
    people = new PeopleDesk(person, visible, catalogues, clock);
    access = new AccessDesk(person, account, operation, visible, pictures, catalogues, clock);
    today =
        new Today(person, event, feed, operation, applications, held, planning, catalogues, clock);
  }

  /** Loading of feeds with transactions that go wrong. */
  public FeedLoading loadingBy(Transactions wrong) {
    return loadingBy.apply(wrong);
  }

  /** The clock as a second service on the same database reads it. */
  public MovableClock sameClock() {
    return new MovableClock(times, Database.get(PlatformTransactionManager.class), MORNING);
  }

  /** Couriers of a second service on the same database, not started yet. */
  public Couriers anotherReplica() {
    var operation = Database.get(OperationMapper.class);
    var account = Database.get(AccountMapper.class);
    var people = Database.get(PersonMapper.class);
    var notes = new Recorder(operation, account, people, ledger, transactions);
    return new Couriers(
        operation, account, applications, notes, new Secrets(new byte[32]), transactions, clock);
  }

  private Optional<String> named(String name) {
    return switch (name) {
      case "CHARTSHARE_URL" -> Optional.of("http://127.0.0.1:" + chartshare.port() + "/scim/v2");
      case "CHARTSHARE_TOKEN" -> Optional.of(directory.resolve("token").toString());
      default -> Optional.empty();
    };
  }

  /** Loads the small Skerry Line's definitions. */
  public House defined() {
    define(skerryLine(), true);
    return this;
  }

  public static String skerryLine() {
    try (var in = House.class.getResourceAsStream("/skerry-line.yaml")) {
      return new String(in.readAllBytes(), StandardCharsets.UTF_8);
    } catch (IOException failed) {
      throw new UncheckedIOException(failed);
    }
  }

  public DefinitionDesk.Outcome define(String yaml, boolean replace) {
    return definitions.load(List.of(new DefinitionDesk.File("x.yaml", yaml)), replace, ISA);
  }

  /** Loads a feed of these rows, and waits for the end of it. */
  public ProgressRow load(String... rows) {
    return ended(feeds.load("", "rows.csv", file(HEADING + String.join("\r\n", rows)), ISA));
  }

  public ProgressRow loadText(String text) {
    return ended(feeds.load("", "rows.csv", file(text), ISA));
  }

  public ProgressRow loadFrom(String source, String text) {
    return ended(feeds.load(source, "rows.csv", file(text), ISA));
  }

  /** What loading these rows would come to. */
  public JsonNode forecast(String... rows) {
    var work = feeds.forecast("", "rows.csv", file(HEADING + String.join("\r\n", rows)), ISA);
    return JSON.readTree(ended(work).result());
  }

  public static Path file(String text) {
    try {
      return Files.writeString(Files.createTempFile("rows", ".csv"), text);
    } catch (IOException failed) {
      throw new UncheckedIOException(failed);
    }
  }

  public ProgressRow ended(long work) {
    eventually(() -> !progress.of(work, ISA).state().equals("running"));
    return progress.of(work, ISA);
  }

  /** The events that a feed came to, by kind. */
  public static Map<String, Object> counted(ProgressRow work) {
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

  /** Lets couriers work until nothing waits that could be done now. */
  public House sent() {
    start();
    settled();
    return this;
  }

  public void start() {
    if (!started) {
      couriers.start();
      started = true;
    }
  }

  public void settled() {
    eventually(() -> number("select count(*) from operation where state = 'waiting'") == 0);
  }

  /** Moves the clock to a moment, with everything due before it. */
  public void at(String moment) {
    start();
    var by = Duration.between(clock.instant(), Instant.parse(moment));
    assertThat(ended(agenda.advance(by, ISA)).state()).isEqualTo("done");
  }

  public int number(String query) {
    return sql.queryForObject(query, Integer.class);
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

  private JsonNode scim(String path) {
    return send(
        HttpRequest.newBuilder(
                URI.create("http://127.0.0.1:" + chartshare.port() + "/scim/v2" + path))
            .header("Authorization", "Bearer " + TOKEN));
  }

  /** Tells the application how to behave. */
  public void mood(String json) {
    send(
        HttpRequest.newBuilder(URI.create("http://127.0.0.1:" + chartshare.port() + "/control"))
            .header("Authorization", "Bearer " + TOKEN)
            .POST(BodyPublishers.ofString(json)));
  }

  private static JsonNode send(HttpRequest.Builder request) {
    try (var http = HttpClient.newHttpClient()) {
      return JSON.readTree(http.send(request.build(), BodyHandlers.ofString()).body());
    } catch (IOException | InterruptedException failed) {
      throw new IllegalStateException(failed);
    }
  }

  @Override
  public void close() {
    couriers.close();
    applications.close();
    progress.close();
    chartshare.close();
  }
}
