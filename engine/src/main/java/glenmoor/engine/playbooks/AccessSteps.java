package glenmoor.engine.playbooks;

import glenmoor.core.access.Grant;
import glenmoor.core.access.RolePackageKind;
import glenmoor.core.ledger.LedgerEntry;
import glenmoor.core.people.Facts;
import glenmoor.core.playbooks.Action;
import glenmoor.core.playbooks.Action.Seen;
import glenmoor.core.playbooks.RunState.Outcome;
import glenmoor.core.provisioning.AccountOrder;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.ledger.Ledger;
import glenmoor.engine.letters.Occasion;
import glenmoor.engine.playbooks.RunRows.Awaited;
import glenmoor.engine.provisioning.Passcodes;
import glenmoor.store.Bulk;
import glenmoor.store.Ids;
import glenmoor.store.access.GrantMapper;
import glenmoor.store.access.GrantMapper.GrantRow;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.provisioning.AccountMapper;
import glenmoor.store.provisioning.AccountMapper.AccountRow;
import glenmoor.store.provisioning.AccountOrderMapper;
import glenmoor.store.provisioning.OperationMapper;
import glenmoor.store.time.SqlTime;
import jakarta.inject.Named;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import tools.jackson.databind.json.JsonMapper;

/**
 * Steps about accounts and packages. None of them has a way of its own into an application: each
 * says what shall be, and planning finds what is missing.
 */
@Named
final class AccessSteps {
  private static final JsonMapper JSON = JsonMapper.shared();

  /** An account that is not even planned by then is not to be. */
  private static final Duration APPEARS_WITHIN = Duration.ofDays(1);

  private static final Duration LONGEST_WAIT = Duration.ofDays(30);
  private static final Duration LOOKED_AT_EVERY = Duration.ofDays(1);

  private final AccountMapper accounts;
  private final AccountOrderMapper orders;
  private final GrantMapper grants;
  private final PersonMapper people;
  private final OperationMapper operations;
  private final Passcodes passcodes;
  private final Catalogues catalogues;
  private final Bulk bulk;
  private final Ledger ledger;
  private final Ids ids;

  AccessSteps(
      AccountMapper accounts,
      AccountOrderMapper orders,
      GrantMapper grants,
      PersonMapper people,
      OperationMapper operations,
      Passcodes passcodes,
      Catalogues catalogues,
      Bulk bulk,
      Ledger ledger,
      Ids ids) {
    this.accounts = accounts;
    this.orders = orders;
    this.grants = grants;
    this.people = people;
    this.operations = operations;
    this.passcodes = passcodes;
    this.catalogues = catalogues;
    this.bulk = bulk;
    this.ledger = ledger;
    this.ids = ids;
  }

  Did await(Action.AwaitAccount await, StepContext context) {
    var account = account(context.about(), await.application());
    var seen = account.map(AccountRow::seenState).orElse("none");
    if (is(await.seen(), seen)) {
      return Did.done(
          account
              .map(each ->
                  "%s in %s was seen %s"
                      .formatted(
                          each.name(),
                          await.application(),
                          seen.equals("none") ? "to be gone" : seen))
              .orElse("There is no account in " + await.application()));
    }
    var made = made(await.application(), context);
    var appears = context.until(APPEARS_WITHIN, made);
    var longest = context.until(LONGEST_WAIT, made);
    if (account.filter(each -> !each.state().equals("none")).isEmpty() && context.isOver(appears)) {
      return Did.of(
          new Outcome.LeftOut(
              "%s is to have no account in %s"
                  .formatted(context.about().row().name(), await.application())));
    }
    if (context.isOver(longest)) {
      return Did.failed(
          "The account in %s was not seen %s within %d days."
              .formatted(await.application(), await.seen().word(), LONGEST_WAIT.toDays()));
    }
    return new Did(
        new Outcome.NotYet(
            again(await.seen(), context, List.of(appears, longest)),
            "Waits until the account in %s is seen %s."
                .formatted(await.application(), await.seen().word())),
        null,
        new Awaited(await.application(), awaited(await.seen())));
  }

  /**
   * When to look again. The account wakes the run when it is seen as it is to be, so that there is
   * nothing to look for but the ends of waiting, and once a day whether it is still to be; only an
   * account whose row goes wakes nobody.
   */
  private static Instant again(Seen seen, StepContext context, List<Instant> ends) {
    return seen == Seen.GONE
        ? context.again()
        : Stream.concat(ends.stream(), Stream.of(context.now().plus(LOOKED_AT_EVERY)))
            .filter(end -> !context.isOver(end))
            .min(Instant::compareTo)
            .orElseThrow();
  }

  /**
   * When an account is made for whoever is still expected: until then, that they have none says
   * nothing, however early a step asks for it.
   */
  private Instant made(String application, StepContext context) {
    var start = context.about().person().facts().date(Facts.START);
    return catalogues.current().applications().stream()
        .filter(each -> each.key().equals(application))
        .map(each -> each.lifecycle().readyDaysAhead())
        .flatMap(ahead -> start.stream().map(day -> day.minusDays(ahead)))
        .map(day -> day.atStartOfDay(context.zone()).toInstant())
        .findFirst()
        .orElse(context.since());
  }

  /** Whoever began already has an account that is more than ready. */
  private static boolean is(Seen wanted, String seen) {
    return switch (wanted) {
      case READY -> !seen.equals("none");
      case ENABLED -> seen.equals("enabled");
      case DISABLED -> seen.equals("disabled");
      case GONE -> seen.equals("none");
    };
  }

  private static String awaited(Seen seen) {
    return seen == Seen.GONE ? "none" : seen.word();
  }

  Optional<AccountRow> account(Occasion about, String application) {
    return accounts.of(List.of(about.row().id())).stream()
        .filter(each -> each.application().equals(application))
        .findFirst();
  }

  Did disable(String application, StepContext context) {
    order(application, AccountOrder.Kind.DISABLE, context);
    return Did.done("The account in %s is kept disabled".formatted(application));
  }

  Did enable(String application, StepContext context) {
    orders.end(
        context.about().row().id(), application, AccountOrder.Kind.DISABLE.word(), context.now());
    due(context);
    note(context, "account-order-ended", Map.of("application", application));
    return Did.done("The account in %s is not kept disabled any more".formatted(application));
  }

  Did delete(String application, StepContext context) {
    order(application, AccountOrder.Kind.DELETE, context);
    return Did.done(
        "The account in %s is deleted as soon as nobody needs it".formatted(application));
  }

  private void order(String application, AccountOrder.Kind kind, StepContext context) {
    orders.begin(
        ids.next(),
        context.about().row().id(),
        application,
        kind.word(),
        context.run().id(),
        context.now());
    due(context);
    note(context, "account-ordered", Map.of("application", application, "order", kind.word()));
  }

  private void due(StepContext context) {
    people.dueFor(List.of(context.about().row().id()), context.now(), context.cause());
  }

  private void note(StepContext context, String what, Map<String, Object> after) {
    ledger.append(
        new LedgerEntry(
            context.now(),
            "glenmoor",
            context.cause(),
            "person:" + context.about().row().workerNumber(),
            what,
            Map.of(),
            after));
  }

  Did reset(Action.ResetSecret reset, StepContext context) {
    var application = reset.application();
    if (context.step().reference().isEmpty()) {
      return replaced(reset, context);
    }
    var id = Long.parseLong(context.step().reference());
    var operation = operations.view(id);
    return switch (operation == null ? "" : operation.state()) {
      case "confirmed" ->
          Did.done(
              reset.unlessChanged() && isUnmarked(id)
                  ? "They have chosen a secret of their own in " + application
                  : opensNothing(application));
      case "by-hand" -> Did.done(opensNothing(application));
      case "waiting", "task", "fault" ->
          Did.of(new Outcome.NotYet(context.again(), "The secret is being replaced."));
      default -> Did.failed("The secret in %s was not replaced.".formatted(application));
    };
  }

  private static String opensNothing(String application) {
    return "What was known of the account in %s opens nothing".formatted(application);
  }

  /** Whether an operation set no secret: what it sets is marked. */
  private boolean isUnmarked(long operation) {
    return Objects.requireNonNullElse(operations.mark(operation), "").isEmpty();
  }

  private Did replaced(Action.ResetSecret reset, StepContext context) {
    var mark =
        reset.unlessChanged()
            ? context
                .referenceOf(
                    step -> reset.application().equals(KeptSteps.said(step.said()).get("passcode")))
                .map(operation -> operations.mark(Long.parseLong(operation)))
            : Optional.of("");
    if (reset.unlessChanged() && mark.orElse("").isEmpty()) {
      return context.done("passcode", reset.application())
          ? Did.failed(
              "Whether they changed it cannot be told: %s did not show what was set."
                  .formatted(reset.application()))
          : Did.of(new Outcome.LeftOut("No passcode was set"));
    }
    var issued =
        passcodes.replace(
            context.about().row(), reset.application(), mark.orElse(""), context.cause());
    return issued.isEmpty()
        ? Did.of(new Outcome.LeftOut("There is no account in " + reset.application()))
        : new Did(
            new Outcome.NotYet(context.again(), "The secret is being replaced."),
            String.valueOf(issued.get().operation()),
            null);
  }

  Did give(Action.GivePackage give, StepContext context) {
    var name = name(give.rolePackage());
    var key = context.cause();
    var lasting = lasting(give.rolePackage(), context);
    if (lasting.stream().noneMatch(grant -> grant.basisKey().equals(key))) {
      @Nullable Instant until =
          give.days() == 0
              ? null
              : context.now().atZone(context.zone()).plusDays(give.days()).toInstant();
      bulk.insert(
          "access_grant",
          List.of(
              new GrantRow(
                  ids.next(),
                  context.about().row().id(),
                  "package",
                  give.rolePackage(),
                  Grant.Basis.DIRECT.word(),
                  key,
                  null,
                  context.now(),
                  until,
                  "")));
      due(context);
      note(context, "grant-began", Map.of("target", give.rolePackage(), "basis", "direct"));
    }
    return Did.done(
        "Gave " + name + (give.days() == 0 ? "" : " for %d days".formatted(give.days())));
  }

  private List<GrantRow> lasting(String rolePackage, StepContext context) {
    return grants.lasting(List.of(context.about().row().id()), context.now()).stream()
        .filter(
            grant -> grant.targetKind().equals("package") && grant.targetKey().equals(rolePackage))
        .toList();
  }

  Did end(Action.EndPackage end, StepContext context) {
    var lasting = lasting(end.rolePackage(), context);
    var ending =
        lasting.stream()
            .filter(grant -> !grant.basis().equals(Grant.Basis.BIRTHRIGHT.word()))
            .toList();
    if (!ending.isEmpty()) {
      grants.end(
          JSON.writeValueAsString(
              ending.stream()
                  .map(grant ->
                      new GrantMapper.Ended(
                          grant.id(),
                          SqlTime.write(context.now()),
                          "ended by the playbook " + context.run().playbook()))
                  .toList()));
      due(context);
      note(context, "grant-ended", Map.of("target", end.rolePackage()));
    }
    var name = name(end.rolePackage());
    return Did.done(
        (ending.isEmpty() ? "Nothing was given of %s".formatted(name) : "Ended " + name)
            + (ending.size() < lasting.size() ? "; a rule still gives it" : ""));
  }

  private String name(String rolePackage) {
    return Optional.ofNullable(
            catalogues.current().defined().all(RolePackageKind.class).get(rolePackage))
        .map(each -> "“%s”".formatted(each.name()))
        .orElse(rolePackage);
  }

  Would would(Action action, Occasion about) {
    return switch (action) {
      case Action.AwaitAccount await ->
          Would.doIt(
              "Waits until the account in %s is seen %s; it is %s now."
                  .formatted(
                      await.application(),
                      await.seen().word(),
                      account(about, await.application())
                          .map(AccountRow::seenState)
                          .map(seen -> seen.equals("none") ? "not there" : seen)
                          .orElse("not there")));
      case Action.GivePackage give ->
          Would.doIt(
              "Gives %s%s."
                  .formatted(
                      name(give.rolePackage()),
                      give.days() == 0 ? "" : " for %d days".formatted(give.days())));
      case Action.EndPackage end -> Would.doIt("Ends %s.".formatted(name(end.rolePackage())));
      case Action.DisableAccount a ->
          Would.doIt("Keeps the account in %s disabled.".formatted(a.application()));
      case Action.EnableAccount a ->
          Would.doIt("Keeps the account in %s disabled no more.".formatted(a.application()));
      case Action.DeleteAccount a ->
          Would.doIt(
              "Has the account in %s deleted as soon as nobody needs it."
                  .formatted(a.application()));
      case Action.ResetSecret a ->
          Would.doIt(
              "Replaces the secret of the account in %s by one that nobody learns."
                  .formatted(a.application()));
      default -> throw new IllegalArgumentException("No step about access: " + action.word());
    };
  }
}
