package glenmoor.engine.playbooks;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Assignment;
import glenmoor.core.authorization.Duty;
import glenmoor.core.authorization.Permission;
import glenmoor.core.authorization.Scope;
import glenmoor.core.ledger.LedgerEntry;
import glenmoor.core.people.Facts;
import glenmoor.core.people.WorkerNumber;
import glenmoor.core.playbooks.AskView;
import glenmoor.engine.Refused;
import glenmoor.engine.StatedReason;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.ledger.Ledger;
import glenmoor.engine.requests.RoutedQuestions;
import glenmoor.engine.requests.RoutedQuestions.Question;
import glenmoor.engine.requests.RoutedQuestions.Standing;
import glenmoor.engine.time.Clock;
import glenmoor.engine.time.Transactions;
import glenmoor.store.people.FactsJson;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.people.PersonRow;
import glenmoor.store.playbooks.AskMapper;
import glenmoor.store.playbooks.AskMapper.AskRow;
import glenmoor.store.playbooks.PlaybookRunMapper;
import jakarta.inject.Named;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;

/**
 * What runs ask people. Who is asked is who is it now: the manager that the person's facts name,
 * the holders of a duty. Nobody answers about themselves.
 */
@Named
public final class AskService {
  private final AskMapper asks;
  private final PlaybookRunMapper runs;
  private final PersonMapper people;
  private final RoutedQuestions routed;
  private final Catalogues catalogues;
  private final Ledger ledger;
  private final Transactions transactions;
  private final Clock clock;

  AskService(
      AskMapper asks,
      PlaybookRunMapper runs,
      PersonMapper people,
      RoutedQuestions routed,
      Catalogues catalogues,
      Ledger ledger,
      Transactions transactions,
      Clock clock) {
    this.asks = asks;
    this.runs = runs;
    this.people = people;
    this.routed = routed;
    this.catalogues = catalogues;
    this.ledger = ledger;
    this.transactions = transactions;
    this.clock = clock;
  }

  /** What stands as whom is asked, before the key of a route. */
  static final String BY_ROUTE = "route ";

  private static boolean isByRoute(AskRow ask) {
    return ask.whom().startsWith(BY_ROUTE);
  }

  /** A question that goes by a route, as the route sees it. */
  static Question question(AskRow ask, PersonRow about) {
    return new Question(
        ask.id(),
        ask.whom().substring(BY_ROUTE.length()),
        about,
        ask.question(),
        "run:%d/%d".formatted(ask.runId(), ask.step() + 1));
  }

  /** What waits for an answer of the actor; of all, for those who see playbooks and want that. */
  public List<AskView> open(boolean all, long before, int limit, Actor actor) {
    var everything = all && actor.may(Permission.SEE_PLAYBOOKS);
    var own = WorkerNumber.keyOrNone(actor.worker());
    return asks.open(own.isEmpty() ? null : own, duties(actor), everything, before, limit).stream()
        .filter(ask -> everything || !WorkerNumber.key(ask.worker()).equals(own))
        .toList();
  }

  private List<String> duties(Actor actor) {
    var duties = new ArrayList<String>();
    for (var assignment : actor.duties()) {
      var duty = assignment.duty().word();
      if (assignment.scope().kind() == Scope.Kind.APPLICATION) {
        duties.add(duty + ":" + assignment.scope().key());
      } else {
        duties.add(duty + ":");
        catalogues.current().applications().forEach(each -> duties.add(duty + ":" + each.key()));
      }
    }
    return duties;
  }

  /**
   * Answers.
   *
   * @throws Refused if the actor is not asked, or it was answered or dropped meanwhile
   */
  public AskView answer(long id, boolean yes, String why, Actor actor) {
    var reason = yes && why.isBlank() ? "" : new StatedReason(why).text().strip();
    transactions.run(() -> {
      var ask = asks.lock(id);
      if (ask == null || !isAsked(ask, actor)) {
        throw Refused.notThere("There is no question " + id + " that you are asked.");
      }
      if (!ask.state().equals("open")) {
        throw new Refused(
            Refused.Reason.NOT_NOW,
            ask.answeredBy().isEmpty()
                ? "It needs no answer any more."
                : "%s has answered it with %s.".formatted(ask.answeredBy(), ask.state()));
      }
      var now = clock.instant();
      var state = isByRoute(ask) ? byRoute(ask, yes, reason, actor) : yes ? "yes" : "no";
      if (!state.equals("open")) {
        asks.answer(id, state, actor.login(), now, reason);
      }
      runs.wake(ask.runId(), now);
      ledger.append(
          new LedgerEntry(
              now,
              actor.login(),
              "run:" + ask.runId(),
              "run:" + ask.runId(),
              "ask-answered",
              Map.of("question", ask.question()),
              Map.of("answer", yes ? "yes" : "no", "reason", reason)));
    });
    return Objects.requireNonNull(asks.byId(id));
  }

  /** How it stands after an answer by its route: others may have to agree as well. */
  private String byRoute(AskRow ask, boolean yes, String reason, Actor actor) {
    var about = people.byIds(List.of(ask.personId())).getFirst();
    return switch (routed.decide(
        question(ask, about), askedAs(ask, actor), yes, reason, actor.login())) {
      case Standing.Waits waits -> "open";
      case Standing.Agreed agreed -> "yes";
      case Standing.Declined declined -> "no";
      case Standing.Over over -> "lapsed";
    };
  }

  /** As whom the actor is asked by a route; nothing as an administrator where nobody can act. */
  private Optional<Long> askedAs(AskRow ask, Actor actor) {
    return Optional.ofNullable(actor.worker())
        .map(people::byWorker)
        .map(PersonRow::id)
        .filter(person -> routed.asks(ask.id(), person));
  }

  private boolean isAsked(AskRow ask, Actor actor) {
    var row = people.byIds(List.of(ask.personId())).getFirst();
    var own = WorkerNumber.keyOrNone(actor.worker());
    if (!own.isEmpty() && own.equals(WorkerNumber.key(row.workerNumber()))) {
      return false;
    }
    if (isByRoute(ask)) {
      return askedAs(ask, actor).isPresent()
          || routed.asksNobody(ask.id())
              && actor.duties().stream().anyMatch(AskService::isAdministrator);
    }
    if (ask.duty().isEmpty()) {
      var manager = FactsJson.read(row.facts(), catalogues.current().facts()).text(Facts.MANAGER);
      return !own.isEmpty() && own.equals(WorkerNumber.key(manager));
    }
    return actor.duties().stream().anyMatch(each -> holds(each, ask));
  }

  private static boolean isAdministrator(Assignment assignment) {
    return assignment.duty() == Duty.ADMINISTRATOR && assignment.scope().equals(Scope.EVERYTHING);
  }

  private static boolean holds(Assignment assignment, AskRow ask) {
    return assignment.duty().word().equals(ask.duty())
        && (ask.application().isEmpty()
            ? assignment.scope().equals(Scope.EVERYTHING)
            : assignment.scope().covers(Scope.application(ask.application())));
  }
}
