package glenmoor.engine.lifecycle;

import glenmoor.connect.lifecycle.ScimFilter;
import glenmoor.connect.lifecycle.ScimGroup;
import glenmoor.connect.lifecycle.ScimParts;
import glenmoor.connect.lifecycle.ScimPerson;
import glenmoor.connect.lifecycle.ScimQuery;
import glenmoor.connect.lifecycle.ScimSchemas;
import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.lifecycle.Source;
import glenmoor.core.people.TeamKind;
import glenmoor.core.people.WorkerNumber;
import glenmoor.engine.Authorization;
import glenmoor.engine.Refused;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.time.Clock;
import glenmoor.engine.time.Transactions;
import glenmoor.store.lifecycle.PushedPersonMapper;
import glenmoor.store.lifecycle.PushedPersonMapper.PushedRow;
import jakarta.inject.Named;
import java.time.Instant;
import java.time.LocalDate;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Objects;
import java.util.UUID;
import java.util.function.Function;
import java.util.function.Supplier;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import org.springframework.dao.DuplicateKeyException;

/**
 * People whom a source's client pushes by SCIM, one at a time. Each change is a feed of one row,
 * checked and loaded like any other; only once it was taken does the client read back what it
 * wrote. Done twice it is the same as once.
 */
@Named
public final class PushService {
  public static final String USER = ScimPerson.USER;
  public static final String ENTERPRISE = ScimPerson.ENTERPRISE;
  public static final String GROUP = ScimGroup.GROUP;

  /** So many of a list are given at once. */
  public static final int MOST = ScimQuery.MOST;

  /** What was sent cannot be used; the type is one of RFC 7644's, section 3.12. */
  public static final class Unusable extends RuntimeException {
    private static final long serialVersionUID = 1;
    private final String type;

    Unusable(ScimPerson.Unusable why) {
      super(why.getMessage());
      type = why.type();
    }

    public String type() {
      return type;
    }
  }

  /** Somebody else changed it meanwhile. */
  public static final class Stale extends RuntimeException {
    private static final long serialVersionUID = 1;
  }

  /** There is one by that name, or with that worker number. */
  public static final class Taken extends RuntimeException {
    private static final long serialVersionUID = 1;

    Taken(String sentence) {
      super(sentence);
    }
  }

  /** A person as the client reads them. */
  public record Pushed(
      String id, int version, Instant created, Instant modified, ScimPerson person) {
    static Pushed of(PushedRow row) {
      return new Pushed(
          row.id(),
          row.version(),
          row.createdAt(),
          row.modifiedAt(),
          ScimPerson.read(row.resource()));
    }

    boolean isWanted(ScimFilter filter) {
      return person.isWanted(filter, id, version, created, modified);
    }

    /**
     * JSON, as the client reads it.
     *
     * @param location where it is found
     */
    public String shown(String location, Wanted wanted) {
      return person.shown(id, version, created, modified, location, wanted.parts());
    }
  }

  /** What of each person or group the client wants to read. */
  public record Wanted(ScimParts parts) {
    /**
     * As it is said in an address: names with commas between.
     *
     * @param attributes null for all
     * @param excluded null for none
     * @throws Unusable if both are said, or one is no name
     */
    public static Wanted of(@Nullable String attributes, @Nullable String excluded) {
      return said(() -> new Wanted(ScimParts.of(attributes, excluded)));
    }
  }

  /** What the client asks for of a list. */
  public record Asked(ScimQuery query) {
    /**
     * As it is said in an address (RFC 7644, section 3.4.2).
     *
     * @param parameter gives one by its name, or null
     * @throws Unusable if it cannot be understood
     */
    public static Asked of(Function<String, @Nullable String> parameter) {
      return said(() -> new Asked(ScimQuery.of(parameter)));
    }

    /**
     * As it is said in a body (RFC 7644, section 3.4.3).
     *
     * @throws Unusable if it is no SearchRequest
     */
    public static Asked search(String json) {
      return said(() -> new Asked(ScimQuery.search(json)));
    }

    /** The number of the first one, from 1. */
    public int start() {
      return query.start();
    }

    public Wanted wanted() {
      return new Wanted(query.parts());
    }
  }

  /** A page of a list; the total is of all that are wanted. */
  public record Page(List<Pushed> items, int total) {}

  /** A page of the groups, as JSON of each. */
  public record Groups(List<String> items, int total) {}

  private final PushedPersonMapper pushed;
  private final PushedList list;
  private final OneRow rows;
  private final Catalogues catalogues;
  private final Transactions transactions;
  private final Clock clock;

  public PushService(
      PushedPersonMapper pushed,
      OneRow rows,
      Catalogues catalogues,
      Transactions transactions,
      Clock clock) {
    this.pushed = pushed;
    list = new PushedList(pushed);
    this.rows = rows;
    this.catalogues = catalogues;
    this.transactions = transactions;
    this.clock = clock;
  }

  private static <T> T said(Supplier<T> read) {
    try {
      return read.get();
    } catch (ScimPerson.Unusable unusable) {
      throw new Unusable(unusable);
    }
  }

  /**
   * JSON of the schemas of what a client may read and push, by their URNs.
   *
   * @param base where the door is, without a slash at its end
   */
  public static Map<String, String> schemas(String base) {
    return ScimSchemas.shown(base);
  }

  private Source source(Actor actor) {
    Authorization.need(actor, Permission.PUSH_PEOPLE);
    return catalogues.current().sources().values().stream()
        .filter(each -> each.push().filter(actor.login()::equals).isPresent())
        .findFirst()
        .orElseThrow(() ->
            new Refused(
                Refused.Reason.NOT_ALLOWED,
                "%s pushes no source: the definition of one names it as push."
                    .formatted(actor.login())));
  }

  /**
   * One of the client's people.
   *
   * @throws Refused if there is no such person of this client's
   */
  public Pushed get(String id, Actor actor) {
    return Pushed.of(row(source(actor), id));
  }

  private PushedRow row(Source source, String id) {
    var row = pushed.byId(source.key(), id);
    if (row == null) {
      throw Refused.notThere("There is no User %s.".formatted(id));
    }
    return row;
  }

  /**
   * Those that the client asks for.
   *
   * @throws Unusable if they cannot be filtered or sorted so
   */
  public Page list(Asked asked, Actor actor) {
    var source = source(actor);
    return said(() -> list.page(source.key(), asked.query()));
  }

  /**
   * The groups that the client may know of: teams in which people of its own are, with those.
   *
   * @param base where the door is, without a slash at its end
   * @throws Unusable if they cannot be filtered or sorted so
   */
  public Groups groups(Asked asked, String base, Actor actor) {
    var source = source(actor);
    var query = asked.query();
    return said(() -> {
      var filter = query.filter();
      var by = query.sortBy();
      var found =
          groups(source)
              .filter(each -> filter == null || each.isWanted(filter))
              .sorted(
                  PushedList.byText(
                      each -> key(by == null ? each.id() : each.text(by)), query.descending()))
              .toList();
      return new Groups(
          found.stream()
              .skip(query.start() - 1L)
              .limit(query.count())
              .map(each -> each.shown(base, query.parts()))
              .toList(),
          found.size());
    });
  }

  /**
   * JSON of one of them.
   *
   * @param base where the door is, without a slash at its end
   * @throws Refused if there is no such group that the client may know of
   */
  public String group(String id, Wanted wanted, String base, Actor actor) {
    return groups(source(actor))
        .filter(each -> each.id().equals(id))
        .findFirst()
        .map(each -> each.shown(base, wanted.parts()))
        .orElseThrow(() -> Refused.notThere("There is no Group %s.".formatted(id)));
  }

  private Stream<ScimGroup> groups(Source source) {
    var teams = catalogues.current().defined().all(TeamKind.class).values();
    var keys =
        teams.stream()
            .flatMap(team -> team.members().stream())
            .map(WorkerNumber::key)
            .collect(Collectors.toSet());
    var own =
        keys.isEmpty()
            ? Map.<String, ScimGroup.Member>of()
            : pushed.byWorkerKeys(source.key(), keys).stream()
                .collect(
                    Collectors.toMap(
                        PushedRow::workerKey,
                        row -> new ScimGroup.Member(row.id(), row.userName())));
    return teams.stream()
        .map(team ->
            new ScimGroup(
                team.key(),
                team.name(),
                team.members().stream()
                    .map(member -> own.get(WorkerNumber.key(member)))
                    .filter(Objects::nonNull)
                    .toList()))
        .filter(group -> !group.members().isEmpty());
  }

  /**
   * Takes a new person in.
   *
   * @throws Taken if there is one by that name, or with that worker number
   * @throws Refused if the row they come to is rejected, or held
   */
  public Pushed create(String json, Actor actor) {
    var source = source(actor);
    var person = said(() -> ScimPerson.read(json));
    var worker = worker(source, person);
    if (pushed.byUserKey(source.key(), key(person.userName())) != null) {
      throw new Taken("There is a User called %s.".formatted(person.userName()));
    }
    if (pushed.byWorkerKey(source.key(), WorkerNumber.key(worker)) != null) {
      throw new Taken("There is a User with the worker number %s.".formatted(worker));
    }
    load(source, person, !person.active());
    var now = clock.instant();
    var row =
        new PushedRow(
            UUID.randomUUID().toString(),
            source.key(),
            person.userName(),
            key(person.userName()),
            person.externalId(),
            WorkerNumber.key(worker),
            person.kept(),
            1,
            now,
            now);
    try {
      transactions.run(() -> pushed.insert(row));
    } catch (DuplicateKeyException other) {
      throw new Taken("There is a User called %s.".formatted(person.userName()));
    }
    return Pushed.of(row);
  }

  static String key(String userName) {
    return userName.toLowerCase(Locale.ROOT);
  }

  private static String worker(Source source, ScimPerson person) {
    var worker = person.text(source.workerColumn());
    if (worker.isBlank()) {
      throw Refused.badInput(
          "%s is missing: it is the worker number.".formatted(source.workerColumn()));
    }
    return worker;
  }

  /**
   * Puts another state in the place of one.
   *
   * @param version the one the client knows; null where it does not say
   * @throws Stale if it is another by now
   */
  public Pushed replace(String id, String json, @Nullable Integer version, Actor actor) {
    var source = source(actor);
    return changed(source, row(source, id), said(() -> ScimPerson.read(json)), version);
  }

  /** Changes parts of one, as a PatchOp says. */
  public Pushed patch(String id, String json, @Nullable Integer version, Actor actor) {
    var source = source(actor);
    var row = row(source, id);
    return changed(source, row, said(() -> ScimPerson.read(row.resource()).patched(json)), version);
  }

  private Pushed changed(
      Source source, PushedRow row, ScimPerson person, @Nullable Integer version) {
    if (version != null && !version.equals(row.version())) {
      throw new Stale();
    }
    if (!WorkerNumber.key(worker(source, person)).equals(row.workerKey())) {
      throw Refused.badInput(
          "%s is the worker number, which stays: another one is another person."
              .formatted(source.workerColumn()));
    }
    var other = pushed.byUserKey(source.key(), key(person.userName()));
    if (other != null && !other.id().equals(row.id())) {
      throw new Taken("There is a User called %s.".formatted(person.userName()));
    }
    load(source, person, !person.active());
    var after =
        new PushedRow(
            row.id(),
            row.source(),
            person.userName(),
            key(person.userName()),
            person.externalId(),
            row.workerKey(),
            person.kept(),
            row.version() + 1,
            row.createdAt(),
            clock.instant());
    if (transactions.run(() -> pushed.update(after, row.version())) == 0) {
      throw new Stale();
    }
    return Pushed.of(after);
  }

  /** Takes one away: they have left. */
  public void delete(String id, @Nullable Integer version, Actor actor) {
    var source = source(actor);
    var row = row(source, id);
    if (version != null && !version.equals(row.version())) {
      throw new Stale();
    }
    load(source, ScimPerson.read(row.resource()), true);
    if (transactions.run(() -> pushed.delete(source.key(), id, row.version(), clock.instant()))
        == 0) {
      throw new Stale();
    }
  }

  /** Loads the row that somebody comes to, and waits until it was taken. */
  private void load(Source source, ScimPerson person, boolean left) {
    var row =
        new PushedRows(source, catalogues.current(), this::workerOf)
            .text(person, left, yesterday());
    rows.load(source, "pushed", row, Actor.SERVICE);
  }

  private LocalDate yesterday() {
    return clock.instant().atZone(catalogues.current().zone()).toLocalDate().minusDays(1);
  }

  /** The worker number of somebody whom the client names by the id it was given. */
  private String workerOf(Source source, String said) {
    var row = pushed.byId(source.key(), said);
    return row == null ? said : ScimPerson.read(row.resource()).text(source.workerColumn());
  }
}
