package glenmoor.engine.lifecycle;

import glenmoor.core.access.Catalogue;
import glenmoor.core.applications.AccountState;
import glenmoor.core.lifecycle.CutOff;
import glenmoor.core.people.Standing;
import glenmoor.core.provisioning.Account;
import glenmoor.core.provisioning.CommandWords;
import glenmoor.core.provisioning.OperationSearch;
import glenmoor.core.provisioning.OperationView;
import glenmoor.core.provisioning.PersonSnapshot;
import glenmoor.engine.Refused;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.identity.SignIns;
import glenmoor.engine.provisioning.PersonSnapshots;
import glenmoor.engine.provisioning.Planning;
import glenmoor.engine.time.Clock;
import glenmoor.store.lifecycle.CutOffMapper;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.people.PersonRow;
import glenmoor.store.provisioning.OperationMapper;
import jakarta.inject.Named;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.util.Collection;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Set;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/** What there is to see of somebody who is cut off, or might be: application by application. */
@Named
public final class CutOffViews {
  private static final int MOST_OPERATIONS = 1_000;
  private static final Duration FOLLOWED_FOR = Duration.ofHours(1);
  private static final Set<String> OPEN = Set.of("waiting", "fault", "task");

  /** How far an application is. */
  public enum Progress {
    FAULT("fault"),
    TASK("task"),
    WAITING("waiting"),
    SENT("sent"),
    CONFIRMED("confirmed"),
    /** Nobody has asked for anything yet. */
    OPEN("open"),
    NOTHING("nothing");

    private final String word;

    Progress(String word) {
      this.word = word;
    }

    public String word() {
      return word;
    }
  }

  /**
   * How far one application is.
   *
   * @param account the account's name there
   * @param state how the account was last seen: enabled, disabled or none
   * @param rights with how many entitlements it was last seen
   * @param what what is done there, or would be, such as {@code shut, 3 rights taken}
   * @param reason why it waits, why it failed, or what somebody has to do
   * @param since when it came to this; null while nothing was asked for
   */
  public record InApplication(
      String application,
      String name,
      String account,
      String state,
      int rights,
      Progress progress,
      String what,
      String reason,
      @Nullable Instant since) {}

  /**
   * Somebody and their access: before they are cut off what would go, and then how far it is.
   *
   * @param sourceSays their standing as their source alone tells it
   * @param signIns those to Glenmoor that are in force
   * @param last the last time they were cut off; null if they never were
   */
  public record Shown(
      String worker,
      String name,
      String subtitle,
      Standing standing,
      Standing sourceSays,
      List<String> signIns,
      @Nullable CutOff last,
      List<InApplication> applications) {
    public boolean isCutOff() {
      return last != null && last.endedAt() == null;
    }
  }

  private final PersonMapper people;
  private final CutOffMapper cutOffs;
  private final OperationMapper operations;
  private final PersonSnapshots snapshots;
  private final Planning planning;
  private final SignIns signIns;
  private final Catalogues catalogues;
  private final Clock clock;

  CutOffViews(
      PersonMapper people,
      CutOffMapper cutOffs,
      OperationMapper operations,
      PersonSnapshots snapshots,
      Planning planning,
      SignIns signIns,
      Catalogues catalogues,
      Clock clock) {
    this.people = people;
    this.cutOffs = cutOffs;
    this.operations = operations;
    this.snapshots = snapshots;
    this.planning = planning;
    this.signIns = signIns;
    this.catalogues = catalogues;
    this.clock = clock;
  }

  /**
   * How it stands with somebody.
   *
   * @throws Refused if there is no such person
   */
  Shown of(String worker) {
    var row = row(worker);
    var catalogue = catalogues.current();
    var today = clock.instant().atZone(catalogue.zone()).toLocalDate();
    var snapshot = snapshots.shown(List.of(row), catalogue).getFirst();
    var person = snapshot.person();
    var last = cutOffs.last(row.id());
    var event = last == null ? null : followed(last, clock.instant());
    return new Shown(
        row.workerNumber(),
        row.name(),
        catalogue.subtitle(person.facts()),
        Standing.of(person, today),
        Standing.of(person.bySource(), today),
        signIns.inForceOf(row.id()),
        last,
        event == null ? wouldGo(snapshot, today, catalogue) : went(snapshot, event, catalogue));
  }

  /**
   * The row of somebody.
   *
   * @throws Refused if there is no such person
   */
  PersonRow row(String worker) {
    var row = people.byWorker(worker);
    if (row == null) {
      throw Refused.notThere("Nobody has the worker number " + worker + ".");
    }
    return row;
  }

  /** The event whose operations are shown; null where what would go is shown instead. */
  private static @Nullable Long followed(CutOff last, Instant now) {
    var ended = last.endedAt();
    if (ended == null) {
      return last.event();
    }
    // Somebody who was brought back long ago is a person like any other.
    return ended.isAfter(now.minus(FOLLOWED_FOR)) ? last.endEvent() : null;
  }

  /** The plan for the same person, cut off today. */
  private List<InApplication> wouldGo(
      PersonSnapshot snapshot, LocalDate today, Catalogue catalogue) {
    var person = snapshot.person().cutOffFrom(today);
    var plan =
        planning.forecaster(catalogue).apply(List.of(snapshot.withPerson(person))).getFirst();
    var kinds = new HashMap<String, List<String>>();
    plan.accounts()
        .forEach(account ->
            kinds.put(
                account.after().application(),
                account.commands().stream().map(command -> command.word()).toList()));
    return snapshot.accounts().stream()
        .filter(CutOffViews::isThere)
        .map(account -> {
          var words = kinds.getOrDefault(account.application(), List.of());
          return shown(
              account,
              catalogue,
              words.isEmpty() ? Progress.NOTHING : Progress.OPEN,
              words,
              "",
              null);
        })
        .toList();
  }

  private static boolean isThere(Account account) {
    return account.state() != AccountState.NONE || account.seen().state() != AccountState.NONE;
  }

  /** The operations that came of an event. */
  private List<InApplication> went(PersonSnapshot snapshot, long event, Catalogue catalogue) {
    var worker = snapshot.person().worker().value();
    var search = new OperationSearch(null, null, null, worker, event, null, MOST_OPERATIONS);
    var sent =
        operations.search(search, null).stream()
            .filter(each -> !each.state().equals("superseded"))
            .collect(Collectors.groupingBy(OperationView::application));
    return snapshot.accounts().stream()
        .filter(account -> isThere(account) || sent.containsKey(account.application()))
        .map(account ->
            went(account, sent.getOrDefault(account.application(), List.of()), catalogue))
        .toList();
  }

  private static InApplication went(
      Account account, List<OperationView> sent, Catalogue catalogue) {
    return shown(
        account,
        catalogue,
        progress(sent),
        sent.stream().map(OperationView::kind).toList(),
        sent.stream()
            .filter(each -> OPEN.contains(each.state()))
            .map(OperationView::reason)
            .filter(reason -> !reason.isEmpty())
            .findFirst()
            .orElse(""),
        sent.stream()
            .map(each -> each.settledAt() == null ? each.createdAt() : each.settledAt())
            .max(Comparator.naturalOrder())
            .orElse(null));
  }

  private static Progress progress(List<OperationView> sent) {
    var states = sent.stream().map(OperationView::state).collect(Collectors.toSet());
    if (states.isEmpty()) {
      return Progress.NOTHING;
    } else if (states.contains("fault")) {
      return Progress.FAULT;
    } else if (states.contains("waiting")) {
      return sent.stream().anyMatch(each -> each.sentAt() != null)
          ? Progress.SENT
          : Progress.WAITING;
    } else {
      return states.contains("task") ? Progress.TASK : Progress.CONFIRMED;
    }
  }

  private static InApplication shown(
      Account account,
      Catalogue catalogue,
      Progress progress,
      Collection<String> kinds,
      String reason,
      @Nullable Instant since) {
    var seen = account.seen();
    return new InApplication(
        account.application(),
        catalogue.application(account.application()).name(),
        account.name(),
        seen.state().word(),
        seen.entitlements().size(),
        progress,
        CommandWords.of(kinds),
        reason,
        since);
  }
}
