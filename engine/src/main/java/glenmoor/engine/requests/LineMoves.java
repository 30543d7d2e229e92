package glenmoor.engine.requests;

import glenmoor.core.access.Catalogue;
import glenmoor.core.conflicts.ConflictRule;
import glenmoor.core.ledger.LedgerEntry;
import glenmoor.core.people.Facts;
import glenmoor.core.people.PersonId;
import glenmoor.core.people.WorkerNumber;
import glenmoor.core.requests.Ask;
import glenmoor.core.requests.Happening;
import glenmoor.core.requests.LineState;
import glenmoor.core.requests.LineState.Outcome;
import glenmoor.core.requests.Move;
import glenmoor.core.requests.Organisation;
import glenmoor.core.requests.Refusal;
import glenmoor.core.requests.RouteKind;
import glenmoor.core.requests.RouteRun;
import glenmoor.core.requests.Situation;
import glenmoor.core.requests.StageRun;
import glenmoor.engine.Refused;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.ledger.Ledger;
import glenmoor.engine.time.Clock;
import glenmoor.store.Ids;
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
  private final LineRuns runs;
  private final Organisations organisations;
  private final LineEffects effects;
  private final RequestLetters letters;
  private final Catalogues catalogues;
  private final Ledger ledger;
  private final Ids ids;
  private final Clock clock;

  LineMoves(
      RequestMapper requests,
      PersonMapper people,
      LineRuns runs,
      Organisations organisations,
      LineEffects effects,
      RequestLetters letters,
      Catalogues catalogues,
      Ledger ledger,
      Ids ids,
      Clock clock) {
    this.requests = requests;
    this.people = people;
    this.runs = runs;
    this.organisations = organisations;
    this.effects = effects;
    this.letters = letters;
    this.catalogues = catalogues;
    this.ledger = ledger;
    this.ids = ids;
    this.clock = clock;
  }

  /**
   * A line, locked until the caller's transaction ends.
   *
   * @throws Refused if there is none
   */
  LoadedLine lock(long id) {
    var line = requests.lock(id);
    if (line == null) {
      throw noSuch(id);
    }
    return new LoadedLine(
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
    make(new LoadedLine(line, request, subject, run), new Move.Begin(), List.of(), mover);
  }

  static Refused noSuch(long id) {
    return Refused.notThere("There is no request " + id + " that concerns you.");
  }

  /** Who is who around a line; people it may be passed on to are looked at, too. */
  Organisation organisation(
      LoadedLine loaded,
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
  RouteRun make(LoadedLine before, Move move, Collection<Long> others, Mover mover) {
    var now = clock.instant();
    var catalogue = catalogues.current();
    var today = now.atZone(catalogue.zone()).toLocalDate();
    var found = effects.conflicts(before, catalogue, now);
    var loaded = withConflicts(before, found, catalogue);
    var organisation = organisation(loaded, keys(found), others, catalogue, today);
    var situation =
        new Situation(organisation, effects.view(loaded, found.size(), catalogue, now), now);
    var moved = moved(loaded.run(), move, situation);
    // What was agreed to may not be possible any more: then it is dropped, and nothing is given.
    if (moved.run().state() instanceof LineState.Ended ended
        && ended.outcome() == Outcome.APPROVED) {
      var impossible =
          effects
              .impossible(loaded, catalogue, now)
              .or(() -> LineEffects.notAllowed(loaded.line(), found));
      if (impossible.isPresent()) {
        moved = moved(loaded.run(), new Move.Drop(impossible.get()), situation);
      } else {
        effects.give(loaded, found, catalogue, now, mover);
      }
    }
    keep(loaded, before.run(), moved, catalogue, now, mover);
    letters.tell(loaded, moved, catalogue, now);
    return moved.run();
  }

  private static List<String> keys(List<ConflictRule> rules) {
    return rules.stream().map(ConflictRule::key).sorted().toList();
  }

  private static LoadedLine withConflicts(
      LoadedLine loaded, List<ConflictRule> found, Catalogue catalogue) {
    var known = LineRuns.keys(loaded.line().conflicts());
    var keys = keys(found);
    var run = loaded.run();
    if (run.open() && !known.containsAll(keys) && !run.conflictsAhead()) {
      run = run.adding(RouteKind.conflictStage(catalogue.defined()));
    }
    return new LoadedLine(
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
      LoadedLine loaded,
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
      LoadedLine loaded,
      @Nullable Integer stage,
      String what,
      String text,
      Mover mover,
      Instant now) {
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
}
