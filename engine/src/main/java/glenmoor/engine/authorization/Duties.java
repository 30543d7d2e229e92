package glenmoor.engine.authorization;

import glenmoor.core.access.Catalogue;
import glenmoor.core.access.PortfolioKind;
import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Assignment;
import glenmoor.core.authorization.Duty;
import glenmoor.core.authorization.Permission;
import glenmoor.core.authorization.Scope;
import glenmoor.core.conflicts.ConflictRuleKind;
import glenmoor.core.ledger.LedgerEntry;
import glenmoor.core.requests.Campaigns;
import glenmoor.engine.Authorization;
import glenmoor.engine.Refused;
import glenmoor.engine.StatedReason;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.ledger.Ledger;
import glenmoor.engine.time.Clock;
import glenmoor.engine.time.Transactions;
import glenmoor.store.Ids;
import glenmoor.store.authorization.DutyMapper;
import glenmoor.store.authorization.DutyMapper.DutyRow;
import glenmoor.store.identity.SignInMapper;
import jakarta.inject.Named;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/** Which duties people were given, for what, from when to when, and by whom. */
@Named
public final class Duties {
  /** A duty that somebody was given, for people to read. */
  public record Given(
      long id,
      String login,
      String duty,
      String scope,
      String key,
      @Nullable LocalDate from,
      @Nullable LocalDate until,
      boolean inForce,
      String givenBy,
      Instant givenAt,
      String reason,
      @Nullable Instant endedAt,
      String endedBy,
      String endReason) {}

  private final DutyMapper duties;
  private final SignInMapper signIns;
  private final Transactions transactions;
  private final Ledger ledger;
  private final Ids ids;
  private final Catalogues catalogues;
  private final Clock clock;

  public Duties(
      DutyMapper duties,
      SignInMapper signIns,
      Transactions transactions,
      Ledger ledger,
      Ids ids,
      Catalogues catalogues,
      Clock clock) {
    this.duties = duties;
    this.signIns = signIns;
    this.transactions = transactions;
    this.ledger = ledger;
    this.ids = ids;
    this.catalogues = catalogues;
    this.clock = clock;
  }

  /** The day it is where the organisation is. */
  public LocalDate today() {
    return clock.instant().atZone(catalogues.zone()).toLocalDate();
  }

  /** The duties of a sign-in that are in force. */
  public List<Assignment> inForce(String login) {
    var today = today();
    return duties.open(login).stream()
        .flatMap(row -> assignment(row).stream())
        .filter(each -> each.isInForce(today))
        .toList();
  }

  /** What a row says; nothing where it names a duty or a kind that this version does not know. */
  private static Optional<Assignment> assignment(DutyRow row) {
    return Duty.ofWord(row.duty())
        .flatMap(duty ->
            Scope.Kind.ofWord(row.scopeKind())
                .filter(kind -> kind == duty.within())
                .map(kind ->
                    new Assignment(
                        duty, new Scope(kind, row.scopeKey()), row.fromDay(), row.untilDay())));
  }

  /** Duties that stand, or all there ever were; the newest first. */
  public List<Given> list(boolean ended, long before, int limit, Actor actor) {
    Authorization.need(actor, Permission.SEE_SIGN_INS);
    return duties.list(ended, before, limit).stream().map(this::shown).toList();
  }

  /** Those that stand of all sign-ins, by sign-in. */
  public Map<String, List<Given>> bySignIn(Actor actor) {
    Authorization.need(actor, Permission.SEE_SIGN_INS);
    return duties.open(null).stream().map(this::shown).collect(Collectors.groupingBy(Given::login));
  }

  private Given shown(DutyRow row) {
    var today = today();
    return new Given(
        row.id(),
        row.login(),
        row.duty(),
        row.scopeKind(),
        row.scopeKey(),
        row.fromDay(),
        row.untilDay(),
        row.endedAt() == null && assignment(row).filter(each -> each.isInForce(today)).isPresent(),
        row.givenBy(),
        row.givenAt(),
        row.reason(),
        row.endedAt(),
        row.endedBy(),
        row.endReason());
  }

  /**
   * Understands {@code auditor}, or {@code fixer:directory} where a duty is for one thing.
   *
   * @throws Refused if there is no such duty or thing
   */
  public Assignment read(String words, @Nullable LocalDate from, @Nullable LocalDate until) {
    var colon = words.indexOf(':');
    var word = colon < 0 ? words : words.substring(0, colon);
    var key = colon < 0 ? "" : words.substring(colon + 1);
    var duty =
        Duty.ofWord(word)
            .orElseThrow(() ->
                Refused.badInput(
                    "There is no duty “%s”; there are %s."
                        .formatted(
                            word,
                            Arrays.stream(Duty.values())
                                .map(Duty::word)
                                .collect(Collectors.joining(", ")))));
    if (from != null && until != null && until.isBefore(from)) {
      throw Refused.badInput(
          "A duty cannot end on %s before it begins on %s.".formatted(until, from));
    }
    return new Assignment(duty, scope(duty, key, catalogues.current()), from, until);
  }

  private static Scope scope(Duty duty, String key, Catalogue catalogue) {
    return switch (duty.within()) {
      case EVERYTHING -> {
        if (!key.isEmpty()) {
          throw Refused.badInput(
              "The duty %s is given for everything; leave “:%s” out.".formatted(duty.word(), key));
        }
        yield Scope.EVERYTHING;
      }
      case APPLICATION -> {
        one(duty, key, catalogue.applications().stream().map(each -> each.key()).toList());
        yield Scope.application(key);
      }
      case PORTFOLIO -> {
        one(duty, key, catalogue.defined().all(PortfolioKind.class).keySet());
        yield Scope.portfolio(key);
      }
      case CONFLICT_RULE -> {
        one(duty, key, catalogue.defined().all(ConflictRuleKind.class).keySet());
        yield Scope.conflictRule(key);
      }
      case CAMPAIGN -> {
        one(duty, key, Campaigns.of(catalogue.defined()).keySet());
        yield Scope.campaign(key);
      }
    };
  }

  private static void one(Duty duty, String key, Collection<String> keys) {
    if (!keys.contains(key)) {
      throw Refused.badInput(
          "The duty %s is given for one %s: say %s:KEY with one of %s."
              .formatted(duty.word(), duty.within().word(), duty.word(), String.join(", ", keys)));
    }
  }

  /** Gives somebody a duty; one they have for the same thing already takes the new dates. */
  public Given give(String login, Assignment assignment, StatedReason reason, Actor actor) {
    Authorization.need(actor, Permission.MANAGE_SIGN_INS);
    if (signIns.byName(login) == null) {
      throw Refused.notThere(
          "There is no sign-in “%s”; glenmoor sign-ins list shows those there are."
              .formatted(login));
    }
    var id =
        transactions.run(() -> {
          for (var row : duties.open(login)) {
            if (sameThing(row, assignment)) {
              if (assignment.until() != null) {
                anAdministratorStays(row);
              }
              end(row, "given anew", actor);
            }
          }
          return insert(login, assignment, reason.text(), actor);
        });
    return shown(row(id));
  }

  private static boolean sameThing(DutyRow row, Assignment assignment) {
    return assignment(row)
        .filter(each -> each.duty() == assignment.duty() && each.scope().equals(assignment.scope()))
        .isPresent();
  }

  private long insert(String login, Assignment given, String reason, Actor actor) {
    var now = clock.instant();
    var id = ids.next();
    duties.insert(
        new DutyRow(
            id,
            login,
            given.duty().word(),
            given.scope().kind().word(),
            given.scope().key(),
            given.from(),
            given.until(),
            actor.login(),
            now,
            reason,
            null,
            "",
            ""));
    ledger.append(
        new LedgerEntry(
            now,
            actor.login(),
            "",
            "login:" + login,
            "duty-given",
            Map.of(),
            Map.of(
                "duty", given.words(),
                "from", day(given.from()),
                "until", day(given.until()),
                "reason", reason)));
    return id;
  }

  private static String day(@Nullable LocalDate day) {
    return day == null ? "" : day.toString();
  }

  /** Takes a duty. */
  public Given end(long id, StatedReason reason, Actor actor) {
    Authorization.need(actor, Permission.MANAGE_SIGN_INS);
    transactions.run(() -> {
      var row = row(id);
      anAdministratorStays(row);
      end(row, reason.text(), actor);
    });
    return shown(row(id));
  }

  private DutyRow row(long id) {
    var row = duties.byId(id);
    if (row == null) {
      throw Refused.notThere(
          "There is no duty with the number %d; glenmoor duties list shows those there are."
              .formatted(id));
    }
    return row;
  }

  private void end(DutyRow row, String reason, Actor actor) {
    var now = clock.instant();
    if (duties.end(row.id(), actor.login(), reason, now) == 0) {
      return;
    }
    ledger.append(
        new LedgerEntry(
            now,
            actor.login(),
            "",
            "login:" + row.login(),
            "duty-ended",
            Map.of("duty", (row.duty() + " " + row.scopeKey()).strip()),
            Map.of("reason", reason)));
  }

  /**
   * Makes these the duties of a sign-in: what is missing is given, what is too many ends. Inside
   * the caller's transaction.
   */
  public void set(String login, List<Assignment> wanted, Actor actor) {
    Authorization.need(actor, Permission.MANAGE_SIGN_INS);
    var open = duties.open(login);
    for (var row : open) {
      if (wanted.stream().noneMatch(each -> sameThing(row, each))) {
        anAdministratorStays(row);
        end(row, "not among those set", actor);
      }
    }
    for (var each : wanted) {
      if (open.stream().noneMatch(row -> sameThing(row, each))) {
        insert(login, each, "set with the sign-in", actor);
      }
    }
  }

  /**
   * What somebody looks after by duty.
   *
   * @param one duties for one thing, which can be handed to somebody else
   * @param everything words of duties over everything, which nobody gets by somebody's leaving
   */
  public record LookedAfter(List<DutyRow> one, List<String> everything) {}

  /** What a person's sign-ins look after by duty, whether they may still be used or not. */
  public LookedAfter lookedAfter(long person) {
    var one = new ArrayList<DutyRow>();
    var everything = new ArrayList<String>();
    for (var signIn : signIns.ofPerson(person)) {
      for (var row : duties.open(signIn.name())) {
        assignment(row)
            .ifPresent(each -> {
              if (each.scope().equals(Scope.EVERYTHING)) {
                everything.add(each.words());
              } else {
                one.add(row);
              }
            });
      }
    }
    return new LookedAfter(one, everything);
  }

  /**
   * Gives duties for one thing to another sign-in, with the days that are left of them, and ends
   * them where they were. Inside the caller's transaction.
   */
  public void handOver(List<DutyRow> rows, String login, String reason) {
    for (var row : rows) {
      assignment(row)
          .ifPresent(each -> {
            end(row, reason, Actor.SERVICE);
            if (duties.open(login).stream().noneMatch(known -> sameThing(known, each))) {
              insert(login, each, reason, Actor.SERVICE);
            }
          });
    }
  }

  private void anAdministratorStays(DutyRow going) {
    if (going.duty().equals(Duty.ADMINISTRATOR.word()) && going.endedAt() == null) {
      anotherAdministratorStays(going.login());
    }
  }

  /**
   * Inside the caller's transaction, before a sign-in ends or loses the duty.
   *
   * @throws Refused if nobody else would be administrator, open-ended
   */
  public void anotherAdministratorStays(String login) {
    var open = duties.lockOpenEnded(Duty.ADMINISTRATOR.word(), today());
    if (open.stream().anyMatch(row -> row.login().equals(login))
        && open.stream().allMatch(row -> row.login().equals(login))) {
      throw new Refused(
          Refused.Reason.NOT_NOW,
          "%s is the last administrator; give somebody else the duty first.".formatted(login));
    }
  }

  /** Whether anybody can still manage this installation. */
  public boolean anAdministratorIsLeft() {
    return !duties.lockOpenEnded(Duty.ADMINISTRATOR.word(), today()).isEmpty();
  }
}
