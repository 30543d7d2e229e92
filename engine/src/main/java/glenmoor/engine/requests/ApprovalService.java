package glenmoor.engine.requests;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.conflicts.ConflictRule;
import glenmoor.core.ledger.LedgerEntry;
import glenmoor.core.people.PersonId;
import glenmoor.core.requests.Move;
import glenmoor.core.requests.RouteRun;
import glenmoor.engine.Authorization;
import glenmoor.engine.Refused;
import glenmoor.engine.StatedReason;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.ledger.Ledger;
import glenmoor.engine.time.Clock;
import glenmoor.engine.time.Transactions;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.people.PersonRow;
import glenmoor.store.requests.RequestMapper;
import jakarta.inject.Named;
import java.time.Instant;
import java.time.LocalDate;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/** Deciding on lines of requests: by those who are asked, or by an administrator in their place. */
@Named
public final class ApprovalService {
  private static final int MOST_AT_ONCE = 200;

  /**
   * What somebody decides.
   *
   * @param word approve, decline, hold, go-on, pass-on or ask-back
   * @param reason empty for none
   * @param until to the end of which day it is held; null for other words
   * @param to the worker number of whoever it is passed on to; empty for other words
   * @param control what is done in the place of separating the duties, where a conflict is allowed;
   *     empty for other decisions
   * @param exemptUntil the last day on which it is; null for other decisions
   * @param inPlaceOf whose decision an administrator takes, by worker number; empty for one's own,
   *     {@code anybody} where nobody who is asked could act
   */
  public record Decision(
      String word,
      String reason,
      @Nullable LocalDate until,
      String to,
      String control,
      @Nullable LocalDate exemptUntil,
      String inPlaceOf) {}

  /**
   * What came of deciding on one of several lines.
   *
   * @param problem why it could not be decided; empty where it was
   */
  public record LineDecided(long line, long request, String state, String problem) {}

  private final RequestMapper requests;
  private final PersonMapper people;
  private final Asking asking;
  private final LineMoves moves;
  private final LineEffects effects;
  private final Catalogues catalogues;
  private final Transactions transactions;
  private final Ledger ledger;
  private final Clock clock;

  ApprovalService(
      RequestMapper requests,
      PersonMapper people,
      Asking asking,
      LineMoves moves,
      LineEffects effects,
      Catalogues catalogues,
      Transactions transactions,
      Ledger ledger,
      Clock clock) {
    this.requests = requests;
    this.people = people;
    this.asking = asking;
    this.moves = moves;
    this.effects = effects;
    this.catalogues = catalogues;
    this.transactions = transactions;
    this.ledger = ledger;
    this.clock = clock;
  }

  /**
   * Decides on one line.
   *
   * @return the request it belongs to
   * @throws Refused if the actor is not asked, or it is settled already; nothing has changed then
   */
  public long decide(long line, Decision decision, Actor actor) {
    if (decision.reason().length() > StatedReason.LONGEST) {
      throw Refused.badInput(
          "A reason has at most %,d characters; this has %,d."
              .formatted(StatedReason.LONGEST, decision.reason().length()));
    }
    var overrules = !decision.inPlaceOf().isBlank();
    if (overrules) {
      Authorization.need(actor, Permission.DECIDE_IN_PLACE);
      new StatedReason(decision.reason());
    }
    return transactions.run(() -> {
      // Nobody learns of a line that it does not concern them: the same answer as for none.
      var row = requests.line(line);
      var own = asking.own(actor);
      if (row == null
          || !overrules && (own == null || !requests.isAsked(row.requestId(), own.id()))) {
        throw LineMoves.noSuch(line);
      }
      var loaded = moves.lock(line);
      if (overrules) {
        notOwn(loaded, own, actor);
      }
      take(
          loaded,
          decision,
          overrules ? inPlaceOf(decision.inPlaceOf()) : Optional.ofNullable(own),
          actor);
      return loaded.request().id();
    });
  }

  /** An administrator decides in another's place, but not on what they ask for, or get. */
  private static void notOwn(LoadedLine loaded, @Nullable PersonRow own, Actor actor) {
    // Also where whoever asked is no person here, such as an administrator's own sign-in.
    if (loaded.request().askedBy().equals(actor.login())
        || own != null
            && (own.id().equals(loaded.line().personId())
                || own.id().equals(loaded.request().askerId()))) {
      throw new Refused(
          Refused.Reason.NOT_ALLOWED,
          "Nobody decides on what they ask for, or get; somebody else has to.");
    }
  }

  private Optional<PersonRow> inPlaceOf(String worker) {
    if (worker.equals("anybody")) {
      return Optional.empty();
    }
    var row = people.byWorker(worker);
    if (row == null) {
      throw Refused.badInput("Nobody who is asked has the worker number %s.".formatted(worker));
    }
    return Optional.of(row);
  }

  private void take(LoadedLine loaded, Decision decision, Optional<PersonRow> as, Actor actor) {
    var now = clock.instant();
    var person = as.map(row -> new PersonId(row.id()));
    var own = asking.own(actor);
    var inPlace = as.filter(row -> own == null || !row.id().equals(own.id())).map(PersonRow::id);
    var mover = new Mover(actor.login(), inPlace.orElse(null));
    var reason = decision.reason().strip();
    moves.note(
        loaded, stage(loaded.run(), person), decision.word(), said(decision, reason), mover, now);
    switch (decision.word()) {
      case "approve" -> {
        possible(loaded);
        move(
            exempting(loaded, decision, person, actor),
            new Move.Approve(person, reason),
            List.of(),
            mover);
      }
      case "decline" -> move(loaded, new Move.Decline(person, reason), List.of(), mover);
      case "hold" ->
          move(
              loaded,
              new Move.Hold(somebody(person), endOf(decision.until()), reason),
              List.of(),
              mover);
      case "go-on" -> move(loaded, new Move.GoOn(somebody(person)), List.of(), mover);
      case "pass-on" -> {
        var to = passedTo(decision.to());
        move(
            loaded,
            new Move.PassOn(somebody(person), new PersonId(to.id()), reason),
            List.of(to.id()),
            mover);
      }
      case "ask-back" -> new StatedReason(reason);
      default ->
          throw Refused.badInput(
              "“%s” decides nothing; say approve, decline, hold, go-on, pass-on or ask-back."
                  .formatted(decision.word()));
    }
    ledger.append(
        new LedgerEntry(
            now,
            actor.login(),
            "request:" + loaded.request().id(),
            "person:" + loaded.subject().workerNumber(),
            "request-decision",
            Map.of(),
            Map.of(
                "line",
                String.valueOf(loaded.line().id()),
                "decision",
                decision.word(),
                "inPlaceOf",
                decision.inPlaceOf(),
                "reason",
                reason)));
  }

  /**
   * Whoever agrees at a stage about conflicts says on what terms: what is done instead, and until
   * when.
   */
  private LoadedLine exempting(
      LoadedLine loaded, Decision decision, Optional<PersonId> person, Actor actor) {
    if (!loaded.run().conflictsWait(person)) {
      return loaded;
    }
    var catalogue = catalogues.current();
    var now = clock.instant();
    var rules = effects.conflicts(loaded, catalogue, now);
    if (rules.isEmpty()) {
      return loaded;
    }
    var last = decision.exemptUntil();
    if (decision.control().isBlank() || last == null) {
      throw Refused.badInput(
          "It would break “%s”. Allow it with a control in its place, and until a day: say both."
              .formatted(rules.getFirst().name()));
    }
    new StatedReason(decision.control());
    var today = now.atZone(catalogue.zone()).toLocalDate();
    var longest = rules.stream().mapToInt(ConflictRule::longestDays).min().getAsInt();
    if (last.isBefore(today) || last.isAfter(today.plusDays(longest))) {
      throw Refused.badInput(
          "An exemption from “%s” lasts to %s at the latest; %s is not within."
              .formatted(rules.getFirst().name(), today.plusDays(longest), last));
    }
    return new LoadedLine(
        LineRuns.exempt(loaded.line(), decision.control().strip(), endOf(last), actor.login()),
        loaded.request(),
        loaded.subject(),
        loaded.run());
  }

  /** Whoever agrees to what can come to nothing is told so; it is dropped by the sweep. */
  private void possible(LoadedLine loaded) {
    effects
        .impossible(loaded, catalogues.current(), clock.instant())
        .filter(why -> loaded.run().open())
        .ifPresent(why -> {
          throw new Refused(Refused.Reason.NOT_NOW, "It can come to nothing any more: " + why);
        });
  }

  private void move(LoadedLine loaded, Move move, List<Long> others, Mover mover) {
    moves.make(loaded, move, others, mover);
  }

  private String said(Decision decision, String reason) {
    return switch (decision.word()) {
      case "pass-on" -> "to %s. %s".formatted(passedTo(decision.to()).name(), reason).strip();
      case "hold" -> "until %s. %s".formatted(decision.until(), reason).strip();
      default -> reason;
    };
  }

  private static @Nullable Integer stage(RouteRun run, Optional<PersonId> person) {
    for (var i = 0; i < run.stages().size(); i++) {
      var stage = run.stages().get(i);
      if (person.map(stage::asks).orElse(stage.waits())) {
        return i;
      }
    }
    return null;
  }

  private static PersonId somebody(Optional<PersonId> person) {
    return person.orElseThrow(() ->
        Refused.badInput("Say in whose place: only approving and declining is done for anybody."));
  }

  private Instant endOf(@Nullable LocalDate day) {
    if (day == null) {
      throw Refused.badInput("Say until when it waits, as a day such as 2027-03-14.");
    }
    return day.plusDays(1).atStartOfDay(catalogues.zone()).toInstant();
  }

  private PersonRow passedTo(String worker) {
    var row = worker.isBlank() ? null : people.byWorker(worker);
    if (row == null) {
      throw Refused.badInput("Say to whom it is passed on, by a worker number there is.");
    }
    return row;
  }

  /**
   * Decides on several lines alike; each by itself, so that one that cannot be decided keeps none
   * of the others.
   */
  public List<LineDecided> decideAll(List<Long> lines, Decision decision, Actor actor) {
    if (lines.isEmpty() || lines.size() > MOST_AT_ONCE) {
      throw Refused.badInput(
          "From 1 to %d lines are decided at once; these are %d."
              .formatted(MOST_AT_ONCE, lines.size()));
    }
    return lines.stream()
        .distinct()
        .map(line -> {
          try {
            return decideOne(line, decision, actor);
          } catch (Refused refused) {
            return new LineDecided(line, 0, "", String.valueOf(refused.getMessage()));
          }
        })
        .toList();
  }

  /** The same on one line, with how it stands then. */
  public LineDecided decideOne(long line, Decision decision, Actor actor) {
    var request = decide(line, decision, actor);
    var after = requests.line(line);
    return new LineDecided(line, request, after == null ? "" : after.state(), "");
  }
}
