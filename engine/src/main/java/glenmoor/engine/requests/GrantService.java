package glenmoor.engine.requests;

import glenmoor.core.access.Catalogue;
import glenmoor.core.access.Entitlement;
import glenmoor.core.access.Grant.Basis;
import glenmoor.core.access.GrantedBy;
import glenmoor.core.access.RolePackage;
import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.authorization.Scope;
import glenmoor.core.people.Facts;
import glenmoor.core.people.WorkerNumber;
import glenmoor.core.requests.AskKind;
import glenmoor.core.requests.Offer;
import glenmoor.core.requests.OfferKind;
import glenmoor.engine.Refused;
import glenmoor.engine.StatedReason;
import glenmoor.engine.access.Granting;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.people.Visible;
import glenmoor.engine.time.Clock;
import glenmoor.engine.time.Transactions;
import glenmoor.store.access.GrantMapper;
import glenmoor.store.access.GrantMapper.GrantRow;
import glenmoor.store.people.FactsJson;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.people.PersonRow;
import glenmoor.store.requests.RequestMapper;
import glenmoor.store.requests.RequestMapper.AnswersRow;
import jakarta.inject.Named;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/** What somebody holds, by package, and giving it back or taking it before its time. */
@Named
public final class GrantService {
  /**
   * Something that somebody holds, or will.
   *
   * @param name plain name of the package or entitlement
   * @param line where it was asked for; null where it was not
   * @param extendable whether its offer lets the actor ask for it for longer
   * @param changeable whether the actor could ask for it with another answer
   * @param resumable whether it is over, and the actor could ask for it once more
   * @param endable whether the actor may end it
   * @param answers what was answered when it was asked for
   */
  public record Held(
      long id,
      String target,
      String name,
      String purpose,
      String basis,
      @Nullable Long line,
      String offer,
      Instant startsAt,
      @Nullable Instant endsAt,
      List<String> gives,
      boolean extendable,
      boolean changeable,
      boolean resumable,
      boolean endable,
      Map<String, String> answers) {}

  private static final Duration REMEMBERED = Duration.ofDays(90);

  private final GrantMapper grants;
  private final PersonMapper people;
  private final RequestMapper requests;
  private final Visible visible;
  private final Granting granting;
  private final Catalogues catalogues;
  private final Transactions transactions;
  private final Clock clock;

  GrantService(
      GrantMapper grants,
      PersonMapper people,
      RequestMapper requests,
      Visible visible,
      Granting granting,
      Catalogues catalogues,
      Transactions transactions,
      Clock clock) {
    this.grants = grants;
    this.people = people;
    this.requests = requests;
    this.visible = visible;
    this.granting = granting;
    this.catalogues = catalogues;
    this.transactions = transactions;
    this.clock = clock;
  }

  /** What somebody holds now or will, what ends first coming first. */
  public List<Held> of(String worker, Actor actor) {
    var row = visible.row(worker, actor);
    return shown(grants.lasting(List.of(row.id()), clock.instant()), row, actor)
        .sorted((one, other) -> end(one).compareTo(end(other)))
        .toList();
  }

  /** What somebody had by an offer until not long ago, and has no more; the last to end first. */
  public List<Held> past(String worker, Actor actor) {
    var row = visible.row(worker, actor);
    var now = clock.instant();
    var over = grants.ended(row.id(), now.minus(REMEMBERED), now);
    var held =
        grants.lasting(List.of(row.id()), now).stream()
            .map(GrantRow::targetKey)
            .collect(Collectors.toSet());
    var once = new HashSet<String>();
    return shown(over, row, actor)
        .filter(each -> !each.offer().isEmpty() && !held.contains(each.target()))
        .sorted((one, other) -> end(other).compareTo(end(one)))
        .filter(each -> once.add(each.target()))
        .toList();
  }

  private Stream<Held> shown(List<GrantRow> rows, PersonRow row, Actor actor) {
    var catalogue = catalogues.current();
    var together = new LinkedHashMap<String, List<GrantRow>>();
    for (var grant : rows) {
      var asked = GrantedBy.of(grant.basisKey()).isPresent();
      together
          .computeIfAbsent(
              asked ? grant.basisKey() : String.valueOf(grant.id()), k -> new ArrayList<>())
          .add(grant);
    }
    var answers = answers(rows);
    return together.values().stream().map(each -> held(each, answers, row, catalogue, actor));
  }

  /** What was answered when each of some grants was asked for, by its line. */
  private Map<Long, Map<String, String>> answers(List<GrantRow> rows) {
    var lines =
        rows.stream()
            .filter(each -> each.basis().equals(Basis.REQUEST.word()))
            .flatMap(each -> GrantedBy.of(each.basisKey()).stream())
            .map(GrantedBy::line)
            .distinct()
            .toList();
    return lines.isEmpty()
        ? Map.of()
        : requests.answers(lines).stream()
            .collect(Collectors.toMap(AnswersRow::id, each -> LineRuns.answersOf(each.answers())));
  }

  private static Instant end(Held held) {
    return Objects.requireNonNullElse(held.endsAt(), Instant.MAX);
  }

  private Held held(
      List<GrantRow> together,
      Map<Long, Map<String, String>> answers,
      PersonRow row,
      Catalogue catalogue,
      Actor actor) {
    var first =
        together.stream()
            .filter(each -> each.targetKind().equals("package"))
            .findFirst()
            .orElse(together.getFirst());
    Optional<RolePackage> bundle = Optional.ofNullable(catalogue.packages().get(first.targetKey()));
    var by = GrantedBy.of(first.basisKey());
    var offer =
        by.map(GrantedBy::offer)
            .flatMap(key -> Optional.ofNullable(catalogue.defined().all(OfferKind.class).get(key)))
            .filter(Offer::open)
            .filter(each -> bundle.filter(has -> has.retired().isEmpty()).isPresent());
    var over = isOver(first);
    var facts = FactsJson.read(row.facts(), catalogue.facts());
    var gives =
        together.stream()
            .flatMap(each -> catalogue.given(each.target()))
            .map(Entitlement::plainName)
            .distinct()
            .toList();
    return new Held(
        first.id(),
        first.targetKey(),
        catalogue.name(first.target()),
        bundle.map(RolePackage::purpose).orElse(""),
        first.basis(),
        first.basis().equals(Basis.REQUEST.word()) ? by.map(GrantedBy::line).orElse(null) : null,
        by.map(GrantedBy::offer).orElse(""),
        first.startsAt(),
        first.endsAt(),
        gives,
        first.endsAt() != null
            && !over
            && offer
                .filter(Offer::extendable)
                .filter(each -> Asking.mayAsk(AskKind.EXTEND, each, row, facts, actor))
                .isPresent(),
        !over
            && offer
                .filter(each -> !each.questions().isEmpty())
                .filter(each -> Asking.mayAsk(AskKind.CHANGE, each, row, facts, actor))
                .isPresent(),
        over
            && offer
                .filter(each -> Asking.mayAsk(AskKind.RESUME, each, row, facts, actor))
                .isPresent(),
        !over && mayEnd(first, row, catalogue, actor),
        by.map(each -> answers.getOrDefault(each.line(), Map.of())).orElse(Map.of()));
  }

  private boolean isOver(GrantRow grant) {
    var endsAt = grant.endsAt();
    return endsAt != null && !endsAt.isAfter(clock.instant());
  }

  /** The holder, their manager, the stewards of its portfolio, and who may end everything. */
  private static boolean mayEnd(GrantRow grant, PersonRow row, Catalogue catalogue, Actor actor) {
    if (!grant.basis().equals(Basis.REQUEST.word()) && !grant.basis().equals(Basis.DIRECT.word())) {
      return false;
    }
    var own = WorkerNumber.keyOrNone(actor.worker());
    var facts = FactsJson.read(row.facts(), catalogue.facts());
    var portfolio = LineMoves.portfolio(grant.targetKey(), catalogue);
    return !own.isEmpty()
            && (own.equals(WorkerNumber.key(row.workerNumber()))
                || own.equals(WorkerNumber.key(facts.text(Facts.MANAGER))))
        || actor.may(Permission.END_GRANTS)
        || !portfolio.isEmpty() && actor.may(Permission.END_GRANTS, Scope.portfolio(portfolio));
  }

  /**
   * Ends something at once: given back by its holder, or taken.
   *
   * @throws Refused as if there were none where the actor may not end it; what a rule gives cannot
   *     be given back
   */
  public void end(long id, String reason, Actor actor) {
    var said = new StatedReason(reason).text().strip();
    transactions.run(() -> {
      var grant = grants.byId(id);
      var row = grant == null ? null : people.byIds(List.of(grant.personId())).getFirst();
      if (grant == null || row == null || !mayEnd(grant, row, catalogues.current(), actor)) {
        throw Refused.notThere("There is no grant %d that you may end.".formatted(id));
      }
      var now = clock.instant();
      if (granting.end(row, grant, now, said, actor.login(), "grant:" + id, now) == 0) {
        throw new Refused(Refused.Reason.NOT_NOW, "It is over already.");
      }
    });
  }
}
