package glenmoor.engine.requests;

import glenmoor.core.access.Catalogue;
import glenmoor.core.access.Entitlement;
import glenmoor.core.access.Grant.Basis;
import glenmoor.core.access.GrantedBy;
import glenmoor.core.conflicts.ConflictRule;
import glenmoor.core.ledger.LedgerEntry;
import glenmoor.core.people.Facts;
import glenmoor.core.people.PersonId;
import glenmoor.core.people.Standing;
import glenmoor.core.people.WorkerNumber;
import glenmoor.core.requests.Ask;
import glenmoor.core.requests.AskKind;
import glenmoor.core.requests.Happening;
import glenmoor.core.requests.LineState;
import glenmoor.core.requests.LineState.Outcome;
import glenmoor.core.requests.Move;
import glenmoor.core.requests.Offer;
import glenmoor.core.requests.OfferKind;
import glenmoor.core.requests.Organisation;
import glenmoor.core.requests.Refusal;
import glenmoor.core.requests.RouteKind;
import glenmoor.core.requests.RouteRun;
import glenmoor.core.requests.Situation;
import glenmoor.core.requests.StageRun;
import glenmoor.core.requests.Term;
import glenmoor.core.requests.Unaskable;
import glenmoor.engine.Refused;
import glenmoor.engine.access.Granting;
import glenmoor.engine.conflicts.Prevention;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.ledger.Ledger;
import glenmoor.engine.time.Clock;
import glenmoor.store.Ids;
import glenmoor.store.access.GrantMapper;
import glenmoor.store.people.FactsJson;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.people.PersonRow;
import glenmoor.store.requests.RequestMapper;
import glenmoor.store.requests.RequestMapper.LineRow;
import glenmoor.store.requests.RequestMapper.NoteRow;
import glenmoor.store.requests.RequestMapper.RequestRow;
import jakarta.inject.Named;
import java.time.Instant;
import java.time.LocalDate;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/**
 * Moves one line on: whoever moves it, and for whatever reason, it goes through here, with its row
 * locked, so that of two who decide in the same second one comes first and the other is told.
 */
@Named
final class LineMoves {
  private final RequestMapper requests;
  private final PersonMapper people;
  private final GrantMapper grants;
  private final LineRuns runs;
  private final Organisations organisations;
  private final Granting granting;
  private final Prevention prevention;
  private final RequestLetters letters;
  private final Catalogues catalogues;
  private final Ledger ledger;
  private final Ids ids;
  private final Clock clock;

  LineMoves(
      RequestMapper requests,
      PersonMapper people,
      GrantMapper grants,
      LineRuns runs,
      Organisations organisations,
      Granting granting,
      Prevention prevention,
      RequestLetters letters,
      Catalogues catalogues,
      Ledger ledger,
      Ids ids,
      Clock clock) {
    this.requests = requests;
    this.people = people;
    this.grants = grants;
    this.runs = runs;
    this.organisations = organisations;
    this.granting = granting;
    this.prevention = prevention;
    this.letters = letters;
    this.catalogues = catalogues;
    this.ledger = ledger;
    this.ids = ids;
    this.clock = clock;
  }

  /**
   * Who moves a line.
   *
   * @param login their sign-in, or {@code glenmoor}
   * @param inPlaceOf in whose place; null for in their own
   */
  record Mover(String login, @Nullable Long inPlaceOf) {
    static final Mover CLOCK = new Mover("glenmoor", null);
  }

  /** A line with all that moving it has to know. */
  record Loaded(LineRow line, RequestRow request, PersonRow subject, RouteRun run) {}

  /**
   * A line, locked until the caller's transaction ends.
   *
   * @throws Refused if there is none
   */
  Loaded lock(long id) {
    var line = requests.lock(id);
    if (line == null) {
      throw noSuch(id);
    }
    return new Loaded(
        line,
        Objects.requireNonNull(requests.request(line.requestId())),
        people.byIds(List.of(line.personId())).getFirst(),
        runs.of(line));
  }

  /** Begins a line of a request that is stored, inside the caller's transaction. */
  void begin(
      RequestRow request, LineRow line, PersonRow subject, Catalogue catalogue, Mover mover) {
    requests.insertLines(List.of(line));
    ledger.append(
        new LedgerEntry(
            line.lookedAt(),
            mover.login(),
            "request:" + request.id(),
            "person:" + subject.workerNumber(),
            "requested",
            Map.of(),
            Map.of(
                "line",
                String.valueOf(line.id()),
                "kind",
                line.kind(),
                "package",
                line.packageKey(),
                "offer",
                line.offer(),
                "reason",
                line.reason())));
    var route = Objects.requireNonNull(catalogue.defined().all(RouteKind.class).get(line.route()));
    var run = RouteRun.of(route.stages());
    runs.insert(line.id(), run);
    make(new Loaded(line, request, subject, run), new Move.Begin(), List.of(), mover);
  }

  static Refused noSuch(long id) {
    return Refused.notThere("There is no request " + id + " that concerns you.");
  }

  /** Who is who around a line; people it may be passed on to are looked at, too. */
  Organisation organisation(
      Loaded loaded,
      List<String> conflicts,
      Collection<Long> others,
      Catalogue catalogue,
      LocalDate today) {
    var line = loaded.line();
    return organisations.around(
        new Organisations.About(
            loaded.subject(),
            loaded.request().askerId(),
            portfolio(line.packageKey(), catalogue),
            Ask.gives(line.packageKey(), LineRuns.selected(line), catalogue).toList(),
            conflicts,
            Stream.concat(
                    others.stream(),
                    loaded.run().stages().stream()
                        .flatMap(stage -> stage.approvers().stream())
                        .map(each -> each.person().value()))
                .toList()),
        loaded.run().stages().stream().map(StageRun::rule).toList(),
        catalogue,
        today);
  }

  static String portfolio(String rolePackage, Catalogue catalogue) {
    var found = catalogue.packages().get(rolePackage);
    return found == null ? "" : found.portfolio();
  }

  /**
   * Makes a move, inside the caller's transaction, and all that follows from it.
   *
   * <p>Each time it is looked anew which conflict rules the line would break. Where it would, and
   * no stage is still to come that is about that, it gets one; so nothing is given with a conflict
   * that nobody was asked about.
   *
   * @param others people that the move names
   * @throws Refused if it cannot be made; nothing has changed then
   */
  RouteRun make(Loaded before, Move move, Collection<Long> others, Mover mover) {
    var now = clock.instant();
    var catalogue = catalogues.current();
    var today = now.atZone(catalogue.zone()).toLocalDate();
    var found = conflicts(before, catalogue, now);
    var loaded = withConflicts(before, found, catalogue);
    var organisation = organisation(loaded, keys(found), others, catalogue, today);
    var situation = new Situation(organisation, view(loaded, found.size(), catalogue, now), now);
    var moved = moved(loaded.run(), move, situation);
    // What was agreed to may not be possible any more: then it is dropped, and nothing is given.
    if (moved.run().state() instanceof LineState.Ended ended
        && ended.outcome() == Outcome.APPROVED) {
      var impossible =
          impossible(loaded, catalogue, now).or(() -> notAllowed(loaded.line(), found));
      if (impossible.isPresent()) {
        moved = moved(loaded.run(), new Move.Drop(impossible.get()), situation);
      } else {
        give(loaded, found, catalogue, now, mover);
      }
    }
    keep(loaded, before.run(), moved, catalogue, now, mover);
    letters.tell(loaded, moved, catalogue, now);
    return moved.run();
  }

  /** No way leads here; if one ever did, nothing would be given by it. */
  private static Optional<String> notAllowed(LineRow line, List<ConflictRule> found) {
    return found.isEmpty() || line.exemptUntil() != null
        ? Optional.empty()
        : Optional.of(
            "It would break “%s”, and nobody has allowed that.".formatted(found.getFirst().name()));
  }

  /** The rules that a line would break as the world is now. */
  List<ConflictRule> conflicts(Loaded loaded, Catalogue catalogue, Instant now) {
    var line = loaded.line();
    var kind = kind(line);
    var about = kind == AskKind.CHANGE ? about(line) : null;
    if (!kind.gives()) {
      return List.of();
    }
    return prevention.caused(
        line.personId(),
        about == null ? "" : about.basisKey(),
        Ask.gives(line.packageKey(), LineRuns.selected(line), catalogue)
            .map(Entitlement::key)
            .collect(Collectors.toSet()),
        catalogue,
        now);
  }

  private static List<String> keys(List<ConflictRule> rules) {
    return rules.stream().map(ConflictRule::key).sorted().toList();
  }

  private static Loaded withConflicts(
      Loaded loaded, List<ConflictRule> found, Catalogue catalogue) {
    var known = LineRuns.keys(loaded.line().conflicts());
    var keys = keys(found);
    var run = loaded.run();
    if (run.open() && !known.containsAll(keys) && !run.conflictsAhead()) {
      run = run.adding(RouteKind.conflictStage(catalogue.defined()));
    }
    return new Loaded(
        LineRuns.withConflicts(loaded.line(), keys), loaded.request(), loaded.subject(), run);
  }

  /**
   * What a move comes to.
   *
   * @throws Refused if it cannot be made
   */
  static RouteRun.Moved moved(RouteRun run, Move move, Situation situation) {
    try {
      return run.after(move, situation);
    } catch (Refusal refusal) {
      throw new Refused(
          switch (refusal.kind()) {
            case NOT_YOURS -> Refused.Reason.NOT_ALLOWED;
            case SETTLED -> Refused.Reason.NOT_NOW;
            case BAD_INPUT -> Refused.Reason.BAD_INPUT;
          },
          String.valueOf(refusal.getMessage()));
    }
  }

  private void keep(
      Loaded loaded,
      RouteRun before,
      RouteRun.Moved moved,
      Catalogue catalogue,
      Instant now,
      Mover mover) {
    var facts = FactsJson.read(loaded.subject().facts(), catalogue.facts());
    runs.write(
        loaded.line(),
        before,
        moved.run(),
        WorkerNumber.key(facts.text(Facts.MANAGER)),
        catalogue.revision(),
        now,
        mover.login());
    for (var each : moved.happened()) {
      switch (each) {
        case Happening.Asked asked -> {
          if (asked.who().isEmpty()) {
            note(
                loaded,
                asked.stage(),
                "nobody",
                "Nobody who is asked here could act: an administrator has to decide.",
                Mover.CLOCK,
                now);
          } else if (asked.why() != Happening.Why.OPENED
              && asked.why() != Happening.Why.PASSED_ON) {
            note(loaded, asked.stage(), "asked", names(asked.who()), Mover.CLOCK, now);
          }
        }
        case Happening.Nudged nudged ->
            note(loaded, nudged.stage(), "reminded", names(nudged.who()), Mover.CLOCK, now);
        case Happening.StageSettled settled -> {}
        case Happening.LineEnded ended -> {
          note(loaded, null, ended.how().outcome().word(), ended.how().reason(), mover, now);
          ledger.append(
              new LedgerEntry(
                  now,
                  mover.login(),
                  "request:" + loaded.request().id(),
                  "person:" + loaded.subject().workerNumber(),
                  "request-" + ended.how().outcome().word(),
                  Map.of(),
                  Map.of(
                      "line",
                      String.valueOf(loaded.line().id()),
                      "package",
                      loaded.line().packageKey(),
                      "reason",
                      ended.how().reason())));
        }
      }
    }
  }

  /** Keeps what was said or done about a line. */
  void note(
      Loaded loaded, @Nullable Integer stage, String what, String text, Mover mover, Instant now) {
    requests.note(
        new NoteRow(
            ids.next(),
            loaded.request().id(),
            loaded.line().id(),
            stage,
            now,
            mover.login(),
            mover.inPlaceOf(),
            what,
            text));
  }

  private String names(Collection<PersonId> who) {
    return people.byIds(who.stream().map(PersonId::value).toList()).stream()
        .map(PersonRow::name)
        .sorted()
        .reduce((one, other) -> one + ", " + other)
        .orElse("");
  }

  // ---- what it comes to

  /** From when, and until when, a line would be given at a moment. */
  record Times(Instant start, @Nullable Instant end) {}

  /**
   * @throws Unaskable if it has no time to run any more
   */
  Times times(LineRow line, Catalogue catalogue, Instant now) {
    var term = Term.of(line.term()).orElseThrow();
    return switch (kind(line)) {
      case NEW, RESUME -> {
        var day = line.startDay();
        var wanted = day == null ? now : day.atStartOfDay(catalogue.zone()).toInstant();
        var start = wanted.isAfter(now) ? wanted : now;
        yield new Times(start, term.end(start, line.lastDay(), catalogue.zone()));
      }
      case EXTEND -> {
        var until = lasting(line, now).endsAt();
        if (until == null) {
          throw new Unaskable("kind", "What it was to extend has no end any more.");
        }
        yield new Times(until, term.end(until, line.lastDay(), catalogue.zone()));
      }
      case CHANGE -> new Times(now, lasting(line, now).endsAt());
      case REMOVE ->
          new Times(now, Ask.removed(line.lastDay(), lasting(line, now).endsAt(), catalogue, now));
    };
  }

  static AskKind kind(LineRow line) {
    return AskKind.ofWord(line.kind()).orElseThrow();
  }

  /**
   * What a line is about, while that is not over.
   *
   * @throws Unaskable if it is
   */
  private GrantMapper.GrantRow lasting(LineRow line, Instant now) {
    var grant = about(line);
    var until = grant == null ? null : grant.endsAt();
    if (grant == null || until != null && !until.isAfter(now)) {
      throw new Unaskable("kind", "What it was about is over.");
    }
    return grant;
  }

  private GrantMapper.@Nullable GrantRow about(LineRow line) {
    var grant = line.aboutGrant();
    return grant == null ? null : grants.byId(grant);
  }

  private Map<String, Object> view(Loaded loaded, int conflicts, Catalogue catalogue, Instant now) {
    var line = loaded.line();
    Long days;
    try {
      var times = times(line, catalogue, now);
      days = Ask.days(times.start(), times.end());
    } catch (Unaskable over) {
      days = 0L;
    }
    return Ask.view(
        FactsJson.person(loaded.subject(), catalogue.facts()),
        kind(line),
        days,
        Ask.risk(Ask.gives(line.packageKey(), LineRuns.selected(line), catalogue)),
        conflicts,
        LineRuns.answers(line),
        catalogue);
  }

  /** Why a line can come to nothing any more; nothing where it can. */
  Optional<String> impossible(Loaded loaded, Catalogue catalogue, Instant now) {
    var line = loaded.line();
    var subject = FactsJson.person(loaded.subject(), catalogue.facts());
    var standing = Standing.of(subject, now.atZone(catalogue.zone()).toLocalDate());
    if (standing.isGone()) {
      return Optional.of("%s has left.".formatted(loaded.subject().name()));
    }
    if (kind(line).gives()) {
      var rolePackage = catalogue.packages().get(line.packageKey());
      if (rolePackage == null || rolePackage.retired().isPresent()) {
        return Optional.of("The package is not there any more.");
      }
      Optional<Offer> offer =
          Optional.ofNullable(catalogue.defined().all(OfferKind.class).get(line.offer()));
      if (offer.isEmpty() || !Ask.isFor(offer.get(), subject, catalogue)) {
        return Optional.of("It is not offered to %s any more.".formatted(loaded.subject().name()));
      }
    }
    try {
      times(line, catalogue, now);
    } catch (Unaskable over) {
      return Optional.of(String.valueOf(over.getMessage()));
    }
    return Optional.empty();
  }

  /** What is given with a conflict ends with the exemption from it at the latest. */
  private void give(
      Loaded loaded, List<ConflictRule> conflicts, Catalogue catalogue, Instant now, Mover mover) {
    var line = loaded.line();
    var times = times(line, catalogue, now);
    var cause = "request:" + loaded.request().id();
    var until = line.exemptUntil();
    var end = times.end();
    if (!conflicts.isEmpty() && until != null) {
      prevention.exempt(
          loaded.subject(),
          conflicts,
          new Prevention.Terms(
              line.reason(), line.exemptControl(), line.exemptBy(), until, line.id()),
          now);
      end = end == null || end.isAfter(until) ? until : end;
    }
    var by = mover.login();
    switch (kind(line)) {
      case NEW, RESUME -> granting.give(given(loaded, times.start(), end), by, cause, now);
      case EXTEND -> granting.end(loaded.subject(), lasting(line, now), end, "", by, cause, now);
      case CHANGE -> {
        granting.end(
            loaded.subject(), lasting(line, now), now, "changed by " + cause, by, cause, now);
        granting.give(given(loaded, now, end), by, cause, now);
      }
      case REMOVE ->
          granting.end(
              loaded.subject(),
              lasting(line, now),
              times.end(),
              line.reason().isBlank() ? "removed by " + cause : line.reason(),
              by,
              cause,
              now);
    }
  }

  private static Granting.Given given(Loaded loaded, Instant start, @Nullable Instant end) {
    var line = loaded.line();
    return new Granting.Given(
        loaded.subject(),
        line.packageKey(),
        LineRuns.selected(line),
        Basis.REQUEST,
        new GrantedBy(line.offer(), line.id()).key(),
        start,
        end,
        line.reason());
  }
}
