package glenmoor.engine.playbooks;

import glenmoor.core.ledger.LedgerEntry;
import glenmoor.core.people.WorkerNumber;
import glenmoor.core.playbooks.RunState.Outcome;
import glenmoor.engine.authorization.Duties;
import glenmoor.engine.authorization.Duties.LookedAfter;
import glenmoor.engine.identity.SignIns;
import glenmoor.engine.ledger.Ledger;
import glenmoor.engine.letters.Occasion;
import glenmoor.store.authorization.DutyMapper.DutyRow;
import glenmoor.store.definitions.DefinitionMapper;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.people.PersonRow;
import glenmoor.store.reconcile.DriftMapper;
import jakarta.inject.Named;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Pattern;
import java.util.stream.Collectors;

/**
 * Hands what somebody looks after in Glenmoor to their manager: service accounts, and duties for
 * one application, portfolio, conflict rule or campaign. What waits for them to decide or to judge
 * goes to others by itself. A duty over everything is nobody's by inheritance, reports are their
 * source's to say, and definitions that name them are said to be changed by hand.
 */
@Named
final class HandingOver {
  private static final int NAMED = 5;

  private final DriftMapper drifts;
  private final Duties duties;
  private final SignIns signIns;
  private final PersonMapper people;
  private final DefinitionMapper definitions;
  private final HandingGroups groups;
  private final Ledger ledger;

  HandingOver(
      DriftMapper drifts,
      Duties duties,
      SignIns signIns,
      PersonMapper people,
      DefinitionMapper definitions,
      HandingGroups groups,
      Ledger ledger) {
    this.drifts = drifts;
    this.duties = duties;
    this.signIns = signIns;
    this.people = people;
    this.definitions = definitions;
    this.groups = groups;
    this.ledger = ledger;
  }

  /** What there is to hand over, and the sign-in that can take duties. */
  private record Found(int accounts, LookedAfter after, Optional<String> signIn) {
    boolean nothing() {
      return accounts == 0 && after.one().isEmpty();
    }

    String what() {
      var parts = new ArrayList<String>();
      if (accounts > 0) {
        parts.add(accounts == 1 ? "1 service account" : accounts + " service accounts");
      }
      if (!after.one().isEmpty()) {
        parts.add(
            after.one().stream()
                .map(HandingOver::words)
                .distinct()
                .collect(
                    Collectors.joining(", ", after.one().size() == 1 ? "duty " : "duties ", "")));
      }
      return String.join(" and ", parts);
    }
  }

  private static String words(DutyRow row) {
    return row.duty() + " of " + row.scopeKey();
  }

  private Found found(Occasion about) {
    var row = about.row();
    var accounts = drifts.ownedBy(row.id());
    var after = duties.lookedAfter(row.id());
    var signIn =
        about.manager().flatMap(manager -> signIns.inForceOf(manager.id()).stream().findFirst());
    return new Found(accounts, after, signIn);
  }

  /** What stands in the way of it; nothing where it can be done. */
  private static Optional<String> hindered(Found found, Occasion about) {
    if (found.nothing()) {
      return Optional.empty();
    }
    var looksAfter = "%s looks after %s, and ".formatted(about.row().name(), found.what());
    if (about.manager().isEmpty()) {
      return Optional.of(looksAfter + "has no manager to hand that to.");
    }
    return found.after().one().isEmpty() || found.signIn().isPresent()
        ? Optional.empty()
        : Optional.of(
            looksAfter
                + "%s has no sign-in to take that: make one, or give it to somebody else."
                    .formatted(about.manager().get().name()));
  }

  /** Does it, inside the caller's transaction; done twice it is the same as once. */
  Did handOver(StepContext context) {
    if (!context.step().reference().isEmpty()) {
      return groups.followed(context);
    }
    var done = handedOverHere(context);
    return done.outcome() instanceof Outcome.Done here ? groups.handOver(here, context) : done;
  }

  private Did handedOverHere(StepContext context) {
    var about = context.about();
    var found = found(about);
    var besides = besides(about.row(), found.after());
    if (found.nothing()) {
      return Did.done("They look after nothing here that could be handed over" + besides);
    }
    var hindered = hindered(found, about);
    if (hindered.isPresent()) {
      return Did.failed(hindered.get());
    }
    var manager = about.manager().orElseThrow();
    drifts.handOver(about.row().id(), manager.id());
    found
        .signIn()
        .ifPresent(login ->
            duties.handOver(
                found.after().one(),
                login,
                "handed over from %s to %s".formatted(about.row().name(), manager.name())));
    ledger.append(
        new LedgerEntry(
            context.now(),
            "glenmoor",
            context.cause(),
            "person:" + about.row().workerNumber(),
            "handed-over",
            Map.of(
                "serviceAccounts",
                found.accounts(),
                "duties",
                found.after().one().stream().map(HandingOver::words).toList()),
            Map.of("to", manager.workerNumber())));
    return Did.done("%s: now with %s%s".formatted(upper(found.what()), manager.name(), besides));
  }

  /** What it would do, as things are now. */
  Would would(Occasion about) {
    var found = found(about);
    var besides = besides(about.row(), found.after());
    if (found.nothing()) {
      return Would.doIt(
          "They look after nothing here that could be handed over%s.%s"
              .formatted(besides, groups.would(about)));
    }
    return hindered(found, about)
        .map(Would::not)
        .orElseGet(() ->
            Would.doIt(
                "Hands %s to %s%s.%s"
                    .formatted(
                        found.what(),
                        about.manager().orElseThrow().name(),
                        besides,
                        groups.would(about))));
  }

  private static String upper(String text) {
    return Character.toUpperCase(text.charAt(0)) + text.substring(1);
  }

  /** What stays as it is, for people to see to. */
  private String besides(PersonRow row, LookedAfter after) {
    var besides = new StringBuilder();
    if (!after.everything().isEmpty()) {
      besides
          .append("; not handed on: the duty ")
          .append(String.join(", ", after.everything()))
          .append(" over everything");
    }
    var named = named(row.workerNumber());
    if (!named.isEmpty()) {
      besides
          .append("; to be changed by hand, since they are named there: ")
          .append(String.join(", ", named.subList(0, Math.min(NAMED, named.size()))))
          .append(named.size() > NAMED ? " and %d more".formatted(named.size() - NAMED) : "");
    }
    var reports = people.countReports(row.workerNumber());
    if (reports > 0) {
      besides.append("; %d still report to them, says the source".formatted(reports));
    }
    return besides.toString();
  }

  /** The definitions in which a worker number stands as a word of its own. */
  private List<String> named(String worker) {
    var word =
        Pattern.compile(
            "(?<![\\p{L}\\p{N}-])" + Pattern.quote(worker) + "(?![\\p{L}\\p{N}-])",
            Pattern.CASE_INSENSITIVE | Pattern.UNICODE_CASE);
    return definitions.holding(WorkerNumber.key(worker)).stream()
        .filter(each -> word.matcher(each.body()).find())
        .map(each -> each.kind() + " " + each.definitionKey())
        .toList();
  }
}
