package glenmoor.engine.people;

import com.github.benmanes.caffeine.cache.Cache;
import com.github.benmanes.caffeine.cache.Caffeine;
import glenmoor.core.access.Catalogue;
import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.people.FactDefinition;
import glenmoor.core.people.FactDefinition.Shown;
import glenmoor.core.people.Facts;
import glenmoor.core.people.Standing;
import glenmoor.core.people.StandingSpan;
import glenmoor.core.people.ValueCount;
import glenmoor.core.people.WorkListEntry;
import glenmoor.engine.Authorization;
import glenmoor.engine.Refused;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.names.NameSearch;
import glenmoor.engine.time.Clock;
import glenmoor.store.people.FactsJson;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.people.PersonRow;
import glenmoor.store.people.PersonSearch;
import jakarta.inject.Named;
import java.time.Duration;
import java.time.LocalDate;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/** What there is to see of people: lists of them, and each one's facts and standing. */
@Named
public final class PeopleService {
  private static final int MOST_TROUBLES = 500;

  /** Counting the values of a fact takes everybody, and a filter's counts may be a minute old. */
  private static final Duration COUNTED_FOR = Duration.ofMinutes(1);

  private final Cache<String, List<ValueCount>> values =
      Caffeine.newBuilder().expireAfterWrite(COUNTED_FOR).maximumSize(200).build();

  /**
   * One person in a list.
   *
   * @param waits whether they count only once that was agreed to, and have no first day until then
   */
  public record Listed(
      String worker,
      String name,
      String standing,
      boolean waits,
      Map<String, Object> facts,
      @Nullable LocalDate startsOn,
      @Nullable LocalDate endsOn) {}

  /**
   * A page of a list.
   *
   * @param next what to ask for after it, or null at the end
   * @param total how many there are in all; only where it was asked for
   * @param columns the facts to show of each
   */
  public record PeoplePage(
      List<Listed> items, @Nullable String next, @Nullable Integer total, List<Fact> columns) {}

  /** A fact that people have here, and where it is shown. */
  public record Fact(String key, String name, String type, List<String> shown) {}

  /** One fact, for people to read. */
  public record FactShown(String key, String name, String value) {}

  /**
   * Whom somebody reports to.
   *
   * @param seen whether the asker may see more of them than this
   */
  public record Manager(String worker, String name, boolean seen) {}

  /**
   * Everything about one person that does not depend on a question.
   *
   * @param missingFeeds how many full feeds in a row did not name them, who have not left yet
   */
  public record PersonShown(
      Listed person,
      List<FactShown> facts,
      @Nullable Manager manager,
      List<StandingSpan> standings,
      int reports,
      int missingFeeds) {}

  private static final List<String> SORTS = List.of("name", "worker", "starts");

  private final PersonMapper people;
  private final NameSearch names;
  private final Visible visible;
  private final Standings standings;
  private final Catalogues catalogues;
  private final Clock clock;

  public PeopleService(
      PersonMapper people,
      NameSearch names,
      Visible visible,
      Standings standings,
      Catalogues catalogues,
      Clock clock) {
    this.standings = standings;
    this.people = people;
    this.names = names;
    this.visible = visible;
    this.catalogues = catalogues;
    this.clock = clock;
  }

  /**
   * What a list asks for.
   *
   * @param source the key of the one they come from; null for all
   * @param sort {@code name}, {@code worker} or {@code starts}, with a hyphen before it for the
   *     last first; null for names
   * @param after the {@code next} of the page before
   */
  public record Search(
      @Nullable String text,
      Map<String, String> facts,
      @Nullable String standing,
      @Nullable String source,
      @Nullable String sort,
      @Nullable String after,
      int limit,
      boolean counted) {
    /** Of all sources. */
    public Search(
        @Nullable String text,
        Map<String, String> facts,
        @Nullable String standing,
        @Nullable String sort,
        @Nullable String after,
        int limit,
        boolean counted) {
      this(text, facts, standing, null, sort, after, limit, counted);
    }
  }

  public PeoplePage list(Search search, Actor actor) {
    var catalogue = catalogues.current();
    for (var fact : search.facts().keySet()) {
      if (!catalogue.facts().containsKey(fact)) {
        throw Refused.badInput("There is no fact “%s” to filter by.".formatted(fact));
      }
    }
    standingExists(search.standing());
    sourceExists(search.source(), catalogue);
    var after = search.after();
    var last = after == null ? null : visible.row(after);
    var limits = actor.may(Permission.SEE_EVERYBODY) ? null : Visible.own(actor);
    var byWorker = people.isWorker(search.text());
    var query =
        new PersonSearch(
                search.text(),
                byWorker,
                search.facts(),
                search.standing(),
                today(catalogue),
                limits,
                order(search.sort(), byWorker),
                last == null ? null : PersonSearch.After.of(last),
                search.limit() + 1)
            .of(search.source());
    var rows = names.list(query);
    var more = rows.size() > search.limit();
    var page = more ? rows.subList(0, search.limit()) : rows;
    return new PeoplePage(
        page.stream().map(row -> listed(row, catalogue)).toList(),
        more ? page.getLast().workerNumber() : null,
        search.counted() ? names.count(query) : null,
        catalogue.shown(Shown.COLUMN).stream().map(PeopleService::fact).toList());
  }

  /** The facts that people have here; they are configuration, and everybody may know them. */
  public List<Fact> facts() {
    return catalogues.current().facts().values().stream().map(PeopleService::fact).toList();
  }

  private static Fact fact(FactDefinition fact) {
    return new Fact(
        fact.key(),
        fact.name(),
        fact.type().word(),
        fact.shown().stream().map(Shown::word).toList());
  }

  private static PersonSearch.Order order(@Nullable String sort, boolean byWorker) {
    if (sort == null) {
      return byWorker ? PersonSearch.Order.BY_WORKER : PersonSearch.Order.BY_NAME;
    }
    var by = sort.startsWith("-") ? sort.substring(1) : sort;
    if (!SORTS.contains(by)) {
      throw Refused.badInput(
          "People cannot be sorted by “%s”; say one of %s, with a hyphen before it for the last first."
              .formatted(sort, String.join(", ", SORTS)));
    }
    return new PersonSearch.Order(by, sort.startsWith("-"));
  }

  private static void standingExists(@Nullable String standing) {
    var words = Arrays.stream(Standing.values()).map(Standing::word).toList();
    if (standing != null && !words.contains(standing)) {
      throw Refused.badInput(
          "There is no standing “%s”; say one of %s."
              .formatted(standing, String.join(", ", words)));
    }
  }

  private static void sourceExists(@Nullable String source, Catalogue catalogue) {
    if (source != null && !catalogue.sources().containsKey(source)) {
      throw Refused.badInput(
          "There is no source “%s”; say one of %s."
              .formatted(source, String.join(", ", catalogue.sources().keySet())));
    }
  }

  private LocalDate today(Catalogue catalogue) {
    return clock.instant().atZone(catalogue.zone()).toLocalDate();
  }

  private Listed listed(PersonRow row, Catalogue catalogue) {
    var person = FactsJson.person(row, catalogue.facts());
    var facts = new HashMap<String, Object>(person.facts().values());
    facts.replaceAll((key, value) -> value instanceof LocalDate date ? date.toString() : value);
    var standing = Standing.of(person, today(catalogue));
    var later = person.facts().countLater();
    if (later) {
      facts.remove(Facts.START);
    }
    return new Listed(
        row.workerNumber(),
        row.name(),
        standing.word(),
        later && !standing.isGone(),
        facts,
        later ? null : row.startsOn(),
        row.endsOn());
  }

  public PersonShown show(String worker, Actor actor) {
    var catalogue = catalogues.current();
    var row = visible.row(worker, actor);
    var person = FactsJson.person(row, catalogue.facts());
    var manager = person.facts().text(Facts.MANAGER);
    var managerRow = manager.isEmpty() ? null : people.byWorker(manager);
    var facts =
        catalogue.facts().values().stream()
            .map(fact -> new FactShown(fact.key(), fact.name(), person.facts().text(fact.key())))
            .filter(fact -> !fact.value().isEmpty())
            .filter(fact -> !fact.key().equals(Facts.START) || !person.facts().countLater())
            .toList();
    var reports = people.countReports(row.workerNumber());
    return new PersonShown(
        listed(row, catalogue),
        facts,
        managerRow == null
            ? null
            : new Manager(
                managerRow.workerNumber(), managerRow.name(), visible.sees(managerRow, actor)),
        standings.of(row),
        catalogue.facts().containsKey(Facts.MANAGER) ? reports : 0,
        Standing.of(person, today(catalogue)).isGone() ? 0 : row.missingFeeds());
  }

  /** The values a fact has among people who have not left, with how many have each. */
  public List<ValueCount> values(String fact, Actor actor) {
    if (!actor.may(Permission.SEE_EVERYBODY)) {
      return List.of();
    }
    var catalogue = catalogues.current();
    if (!catalogue.facts().containsKey(fact)) {
      throw Refused.notThere("There is no fact “%s”.".formatted(fact));
    }
    return Objects.requireNonNull(values.get(fact, key -> people.values(key, today(catalogue))));
  }

  /** The work list: people about whom something could not be computed, oldest first. */
  public List<WorkListEntry> troubles(Actor actor) {
    Authorization.need(actor, Permission.SEE_WORK_LIST);
    return people.troubles(MOST_TROUBLES);
  }
}
