package glenmoor.engine.reconcile;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.authorization.Reach;
import glenmoor.core.authorization.Scope;
import glenmoor.core.ledger.LedgerEntry;
import glenmoor.core.reconcile.DriftKind;
import glenmoor.core.reconcile.DriftSearch;
import glenmoor.core.reconcile.DriftView;
import glenmoor.core.reconcile.Response;
import glenmoor.core.reconcile.ServiceAccount;
import glenmoor.engine.Authorization;
import glenmoor.engine.Refused;
import glenmoor.engine.StatedReason;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.ledger.Ledger;
import glenmoor.engine.provisioning.CommandJson;
import glenmoor.engine.provisioning.DueWork;
import glenmoor.engine.provisioning.OperationWorkers;
import glenmoor.engine.provisioning.Terms;
import glenmoor.engine.reconcile.DriftDecisions.Decider;
import glenmoor.engine.time.Clock;
import glenmoor.engine.time.Transactions;
import glenmoor.store.Ids;
import glenmoor.store.reconcile.DriftMapper;
import glenmoor.store.reconcile.DriftMapper.DriftRow;
import glenmoor.store.reconcile.DriftMapper.ShownRow;
import jakarta.inject.Named;
import java.time.LocalDate;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.function.Consumer;
import org.jspecify.annotations.Nullable;

/**
 * Differences between applications and what is expected of them, and what people decide on them.
 */
@Named
public final class DriftService {
  private static final int MOST_AT_ONCE = 500;

  /** How many differences are open in an application, by kind, and how many wait for its owner. */
  public record OpenDrift(
      String application, String name, Map<String, Integer> byKind, int asked) {}

  /** What was decided on several at once. */
  public record Decided(int decided, int leftOpen) {}

  private final DriftMapper drifts;
  private final DriftDecisions decisions;
  private final StrayAccounts strays;
  private final Catalogues catalogues;
  private final OperationWorkers workers;
  private final DueWork due;
  private final Transactions transactions;
  private final Ledger ledger;
  private final Ids ids;
  private final Clock clock;

  DriftService(
      DriftMapper drifts,
      DriftDecisions decisions,
      StrayAccounts strays,
      Catalogues catalogues,
      OperationWorkers workers,
      DueWork due,
      Transactions transactions,
      Ledger ledger,
      Ids ids,
      Clock clock) {
    this.drifts = drifts;
    this.decisions = decisions;
    this.strays = strays;
    this.catalogues = catalogues;
    this.workers = workers;
    this.due = due;
    this.transactions = transactions;
    this.ledger = ledger;
    this.ids = ids;
    this.clock = clock;
  }

  /**
   * The newest first.
   *
   * @throws Refused if a side of the search is no word that there is
   */
  public List<DriftView> list(DriftSearch search, Actor actor) {
    var reach = Authorization.applications(actor, Permission.SEE_APPLICATIONS);
    oneOf("kind", search.kind(), Arrays.stream(DriftKind.values()).map(DriftKind::word).toList());
    oneOf(
        "response",
        search.response(),
        Arrays.stream(Response.values()).map(Response::word).toList());
    oneOf("state", search.state(), List.of("open", "settled"));
    return drifts.list(search, reach.keys()).stream().map(DriftService::view).toList();
  }

  private static void oneOf(String what, @Nullable String value, List<String> words) {
    if (value != null && !words.contains(value)) {
      throw Refused.badInput(
          "There is no %s “%s”; say one of %s.".formatted(what, value, String.join(", ", words)));
    }
  }

  public DriftView show(long id, Actor actor) {
    var reach = Authorization.applications(actor, Permission.SEE_APPLICATIONS);
    var row = drifts.byId(id);
    if (row == null || !reach.covers(row.application())) {
      throw noSuch(id);
    }
    return view(row);
  }

  /** Where drift is open. */
  public List<OpenDrift> open(Actor actor) {
    return open(Authorization.applications(actor, Permission.SEE_APPLICATIONS));
  }

  /** Where drift waits for the actor to decide. */
  public List<OpenDrift> asked(Actor actor) {
    var reach = actor.reach(Permission.DECIDE_DRIFT, Scope.Kind.APPLICATION);
    return reach.isNothing()
        ? List.of()
        : open(reach).stream().filter(each -> each.asked() > 0).toList();
  }

  private List<OpenDrift> open(Reach reach) {
    var counts = new TreeMap<String, Map<String, Integer>>();
    var asked = new TreeMap<String, Integer>();
    for (var count : drifts.counts(reach.keys())) {
      counts
          .computeIfAbsent(count.application(), key -> new TreeMap<>())
          .merge(count.kind(), count.drifts(), Integer::sum);
      if (count.response().equals(Response.ASK.word())) {
        asked.merge(count.application(), count.drifts(), Integer::sum);
      }
    }
    return catalogues.current().applications().stream()
        .filter(each -> counts.containsKey(each.key()))
        .map(each ->
            new OpenDrift(
                each.key(),
                each.name(),
                counts.getOrDefault(each.key(), Map.of()),
                asked.getOrDefault(each.key(), 0)))
        .toList();
  }

  /** Has what differs made as it should be. */
  public Decided repair(List<Long> chosen, String reason, Actor actor) {
    return several(
        chosen,
        reason,
        actor,
        rows -> rows.stream().filter(row -> can(row, Response.REPAIR)).toList(),
        (rows, by) -> decisions.repair(rows, by, clock.instant()));
  }

  /** Lets people have the rights they were found to have. */
  public Decided adopt(List<Long> chosen, String reason, Actor actor) {
    return several(
        chosen,
        reason,
        actor,
        rows -> rows,
        (rows, by) -> decisions.adopt(rows, by, catalogues.current(), clock.instant()));
  }

  private static boolean can(DriftRow row, Response response) {
    return DriftKind.ofWord(row.kind())
        .filter(kind -> kind.responses().contains(response))
        .isPresent();
  }

  private interface Choice {
    List<DriftRow> of(List<DriftRow> rows);
  }

  private interface Decision {
    List<DriftRow> on(List<DriftRow> rows, Decider by);
  }

  private Decided several(
      List<Long> chosen, String reason, Actor actor, Choice choice, Decision decision) {
    Authorization.applications(actor, Permission.DECIDE_DRIFT);
    if (chosen.isEmpty() || chosen.size() > MOST_AT_ONCE) {
      throw Refused.badInput(
          "Say which differences: at least one, at most %,d at once.".formatted(MOST_AT_ONCE));
    }
    var by = new Decider(actor.login(), new StatedReason(reason).text());
    var decided =
        transactions.run(() -> {
          var open =
              locked(chosen, actor).stream().filter(row -> row.state().equals("open")).toList();
          return decision.on(choice.of(open), by).size();
        });
    if (decided == 0) {
      throw new Refused(
          Refused.Reason.NOT_NOW,
          "None of them can be decided like this: they are settled, of another kind, or something was done for their accounts since. Reconcile the application again to see them as they are.");
    }
    due.sweep();
    workers.wake();
    return new Decided(decided, chosen.size() - decided);
  }

  /** As if it were not there, for those who may not see it. */
  private List<DriftRow> locked(List<Long> chosen, Actor actor) {
    var rows = drifts.lock(chosen);
    for (var id : chosen) {
      var row = rows.stream().filter(each -> each.id().equals(id)).findFirst();
      if (row.isEmpty()
          || !actor.may(Permission.SEE_APPLICATIONS, Scope.application(row.get().application()))) {
        throw noSuch(id);
      }
      Authorization.need(
          actor, Permission.DECIDE_DRIFT, Scope.application(row.get().application()));
    }
    return rows;
  }

  private static Refused noSuch(long id) {
    return Refused.notThere(
        "There is no drift " + id + "; glenmoor drift list shows what there is.");
  }

  /**
   * Lets a difference be.
   *
   * @param until the last day of it; null for the usual 90 days
   */
  public DriftView accept(long id, String reason, @Nullable LocalDate until, Actor actor) {
    return one(
        id,
        reason,
        actor,
        row -> {
          if (row.accountId() == null) {
            throw Refused.badInput(
                "It is nobody's account: declare what it is for, or say whose it is.");
          }
          decisions.accept(
              row,
              Terms.end(until, clock.instant(), catalogues.zone()),
              new Decider(actor.login(), reason),
              clock.instant());
        });
  }

  /** Says whose an account is that was nobody's. */
  public DriftView attach(long id, String worker, String reason, Actor actor) {
    var by = new Decider(actor.login(), new StatedReason(reason).text());
    var row = stray(id, actor);
    strays.attach(row, strays.person(worker), by);
    due.sweep();
    workers.wake();
    return show(id, actor);
  }

  /**
   * Says what an account that is nobody's is for, and who answers for it.
   *
   * @param until the last day of it; null for the usual 90 days
   */
  public DriftView declare(
      long id, String owner, String purpose, @Nullable LocalDate until, Actor actor) {
    var row = stray(id, actor);
    var why = new StatedReason(purpose).text();
    var answers = strays.person(owner).person();
    var last =
        Terms.end(until, clock.instant(), catalogues.zone())
            .atZone(catalogues.zone())
            .toLocalDate()
            .minusDays(1);
    transactions.run(() -> {
      var locked = open(row.id());
      drifts.declare(
          ids.next(),
          row.application(),
          row.nativeId(),
          row.accountName(),
          why,
          answers.id().value(),
          last,
          actor.login(),
          clock.instant());
      decisions.settle(
          List.of(locked), "declared", new Decider(actor.login(), why), clock.instant());
    });
    return show(id, actor);
  }

  /** Deletes an account that is nobody's. */
  public DriftView remove(long id, String reason, Actor actor) {
    var by = new Decider(actor.login(), new StatedReason(reason).text());
    var row = stray(id, actor);
    strays.remove(row.application(), row.nativeId());
    transactions.run(
        () -> decisions.settle(List.of(open(row.id())), "removed", by, clock.instant()));
    return show(id, actor);
  }

  /** Accounts that are nobody's and declared, the newest first. */
  public List<ServiceAccount> serviceAccounts(
      @Nullable String application, long before, int limit, Actor actor) {
    var reach = Authorization.applications(actor, Permission.SEE_APPLICATIONS);
    return drifts.declared(application, reach.keys(), before, limit);
  }

  /** Says that an account is not what it was declared to be any more. */
  public void endServiceAccount(long id, Actor actor) {
    var reach = Authorization.applications(actor, Permission.DECIDE_DRIFT);
    if (transactions.run(() -> drifts.endDeclared(id, reach.keys(), clock.instant())) == 0) {
      throw Refused.notThere("There is no service account " + id + " that you may end.");
    }
  }

  /**
   * Removes a service account in its application; whoever answered for it does so no more.
   *
   * @throws Refused if there is none, or if the application does not remove it
   */
  public void removeServiceAccount(long id, String reason, Actor actor) {
    var reach = Authorization.applications(actor, Permission.DECIDE_DRIFT);
    var why = new StatedReason(reason).text();
    var known = drifts.declaredOne(id);
    if (known == null || !reach.covers(known.application())) {
      throw Refused.notThere("There is no service account " + id + " that you may remove.");
    }
    strays.remove(known.application(), known.nativeId());
    transactions.run(() -> {
      var now = clock.instant();
      if (drifts.endDeclared(id, reach.keys(), now) > 0) {
        ledger.append(
            new LedgerEntry(
                now,
                actor.login(),
                "",
                "application:" + known.application(),
                "service-account-removed",
                Map.of("account", known.name(), "purpose", known.purpose(), "owner", known.owner()),
                Map.of("reason", why)));
      }
    });
  }

  private DriftView one(long id, String reason, Actor actor, Consumer<DriftRow> decision) {
    Authorization.applications(actor, Permission.DECIDE_DRIFT);
    new StatedReason(reason);
    transactions.run(() -> decision.accept(mustBeOpen(locked(List.of(id), actor).getFirst())));
    return show(id, actor);
  }

  private DriftRow stray(long id, Actor actor) {
    Authorization.applications(actor, Permission.DECIDE_DRIFT);
    var row = mustBeOpen(transactions.run(() -> locked(List.of(id), actor).getFirst()));
    if (!row.kind().equals(DriftKind.STRAY_ACCOUNT.word())) {
      throw Refused.badInput("It is somebody's account: repair, adopt or accept what differs.");
    }
    return row;
  }

  private DriftRow open(long id) {
    return mustBeOpen(drifts.lock(List.of(id)).getFirst());
  }

  private static DriftRow mustBeOpen(DriftRow row) {
    if (!row.state().equals("open")) {
      throw new Refused(
          Refused.Reason.NOT_NOW,
          "It was settled already: %s%s."
              .formatted(row.outcome(), row.settledBy().isEmpty() ? "" : " by " + row.settledBy()));
    }
    return row;
  }

  private static DriftView view(ShownRow row) {
    return new DriftView(
        row.id(),
        row.application(),
        DriftKind.ofWord(row.kind()).orElseThrow(),
        row.state(),
        Response.ofWord(row.response()).orElseThrow(),
        row.worker(),
        row.person(),
        row.accountName(),
        row.nativeId(),
        row.aspect(),
        CommandJson.attributesOf(row.expected()),
        CommandJson.attributesOf(row.found()),
        row.firstSeenAt(),
        row.lastSeenAt(),
        row.outcome(),
        row.settledAt(),
        row.settledBy(),
        row.reason());
  }
}
