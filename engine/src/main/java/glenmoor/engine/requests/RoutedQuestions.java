package glenmoor.engine.requests;

import glenmoor.core.access.Catalogue;
import glenmoor.core.letters.LetterKind;
import glenmoor.core.people.PersonId;
import glenmoor.core.requests.Ask;
import glenmoor.core.requests.Happening;
import glenmoor.core.requests.LineState;
import glenmoor.core.requests.Move;
import glenmoor.core.requests.Organisation;
import glenmoor.core.requests.RouteKind;
import glenmoor.core.requests.RouteRun;
import glenmoor.core.requests.Situation;
import glenmoor.core.requests.StageRun;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.letters.Outbox;
import glenmoor.engine.letters.Outbox.Unwritten;
import glenmoor.engine.time.Clock;
import glenmoor.store.people.FactsJson;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.people.PersonRow;
import glenmoor.store.requests.StageMapper;
import jakarta.inject.Named;
import java.time.Duration;
import java.time.Instant;
import java.util.Collection;
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Questions about somebody that are asked by a route, as what people ask for is: stage after stage,
 * with reminders, standby and lapse, of whoever is who at that moment. What the question is and
 * what follows from its answer is whose who asks; here it is only moved on. Everything happens
 * inside the caller's transaction, with the question locked.
 */
@Named
public final class RoutedQuestions {
  private static final Logger LOG = LoggerFactory.getLogger(RoutedQuestions.class);

  private final StageRows rows;
  private final StageMapper stages;
  private final Organisations organisations;
  private final PersonMapper people;
  private final Outbox outbox;
  private final Catalogues catalogues;
  private final Clock clock;

  RoutedQuestions(
      StageMapper stages,
      Organisations organisations,
      PersonMapper people,
      Outbox outbox,
      Catalogues catalogues,
      Clock clock) {
    rows = new StageRows(StageMapper.Of.QUESTION, stages, catalogues);
    this.stages = stages;
    this.organisations = organisations;
    this.people = people;
    this.outbox = outbox;
    this.catalogues = catalogues;
    this.clock = clock;
  }

  /**
   * A question.
   *
   * @param id its own, such as no line of a request has
   * @param route the key of the route
   * @param cause what led to it, as letters keep it
   */
  public record Question(long id, String route, PersonRow about, String words, String cause) {}

  /** How a question stands. */
  public sealed interface Standing {
    /**
     * @param next when its clock has something to do
     * @param who is asked, by their names
     */
    record Waits(Instant next, String who) implements Standing {}

    record Agreed() implements Standing {}

    record Declined(String reason) implements Standing {}

    /** Nobody decided in time, or it can be decided no more. */
    record Over(String why) implements Standing {}
  }

  /** Begins to ask. */
  public Standing begin(Question question) {
    var route = catalogues.current().defined().all(RouteKind.class).get(question.route());
    if (route == null) {
      return new Standing.Over("There is no route “%s” any more.".formatted(question.route()));
    }
    var run = RouteRun.of(route.stages());
    rows.write(question.id(), null, run, "");
    return move(question, run, new Move.Begin(), "glenmoor");
  }

  /** Looks whether time has passed, or who is who has changed. */
  public Standing look(Question question) {
    return move(question, kept(question), new Move.Look(), "glenmoor");
  }

  /**
   * Decides.
   *
   * @param by who of those that are asked; nothing for an administrator where nobody can act
   * @throws glenmoor.engine.Refused if it does not wait for them, or a reason is missing
   */
  public Standing decide(
      Question question, Optional<Long> by, boolean yes, String reason, String login) {
    var person = by.map(PersonId::new);
    return move(
        question,
        kept(question),
        yes ? new Move.Approve(person, reason) : new Move.Decline(person, reason),
        login);
  }

  /** Whether it waits for somebody. */
  public boolean asks(long question, long person) {
    return stages.asks(StageMapper.Of.QUESTION, question, person);
  }

  /** Whether nobody is asked who could act, so that an administrator has to. */
  public boolean asksNobody(long question) {
    return !stages.asksAnybody(StageMapper.Of.QUESTION, question);
  }

  private RouteRun kept(Question question) {
    return new RouteRun(
        rows.of(List.of(question.id())).getOrDefault(question.id(), List.of()),
        new LineState.Open());
  }

  private Standing move(Question question, RouteRun before, Move move, String login) {
    var now = clock.instant();
    var catalogue = catalogues.current();
    var moved = LineMoves.moved(before, move, situation(question, before, catalogue, now));
    rows.write(question.id(), before, moved.run(), login);
    tell(question, moved, catalogue, now);
    return standing(moved.run(), now);
  }

  private Situation situation(Question question, RouteRun run, Catalogue catalogue, Instant now) {
    return new Situation(
        organisation(question, run, catalogue, now),
        Ask.questionView(FactsJson.person(question.about(), catalogue.facts()), catalogue),
        now);
  }

  private Organisation organisation(
      Question question, RouteRun run, Catalogue catalogue, Instant now) {
    return organisations.around(
        new Organisations.About(
            question.about(),
            null,
            "",
            List.of(),
            List.of(),
            run.stages().stream()
                .flatMap(stage -> stage.approvers().stream())
                .map(each -> each.person().value())
                .toList()),
        run.stages().stream().map(StageRun::rule).toList(),
        catalogue,
        now.atZone(catalogue.zone()).toLocalDate());
  }

  private Standing standing(RouteRun run, Instant now) {
    if (run.state() instanceof LineState.Ended ended) {
      return switch (ended.outcome()) {
        case APPROVED -> new Standing.Agreed();
        case DECLINED -> new Standing.Declined(ended.reason());
        case LAPSED, WITHDRAWN, DROPPED -> new Standing.Over(ended.reason());
      };
    }
    var who =
        run.stages().stream()
            .filter(StageRun::waits)
            .flatMap(stage -> stage.approvers().stream())
            .filter(each -> !each.agreed())
            .map(each -> each.person().value())
            .distinct()
            .toList();
    return new Standing.Waits(
        run.due().orElse(now.plus(Duration.ofDays(1))),
        who.isEmpty()
            ? "an administrator"
            : people.byIds(who).stream()
                .map(PersonRow::name)
                .sorted()
                .collect(Collectors.joining(", ")));
  }

  /** Whoever is asked now, or reminded, is told by the route's letter, if they have an address. */
  private void tell(Question question, RouteRun.Moved moved, Catalogue catalogue, Instant now) {
    var route = catalogue.defined().all(RouteKind.class).get(question.route());
    var letter =
        route == null ? null : catalogue.defined().all(LetterKind.class).get(route.askedLetter());
    if (letter == null) {
      return;
    }
    for (var happening : moved.happened()) {
      var who =
          switch (happening) {
            case Happening.Asked asked -> asked.who();
            case Happening.Nudged nudged -> nudged.who();
            case Happening.StageSettled settled -> List.<PersonId>of();
            case Happening.LineEnded ended -> List.<PersonId>of();
          };
      var words = (happening instanceof Happening.Nudged ? "Still waits: " : "") + question.words();
      for (var row : rows(who)) {
        try {
          outbox.remind(
              letter,
              row,
              words,
              now.atZone(catalogue.zone()).toLocalDate(),
              new Outbox.Cause(
                  null, "question:%d:%s".formatted(question.id(), now), question.cause()));
        } catch (Unwritten unwritten) {
          LOG.warn("Nobody can be told of question {}: {}", question.id(), unwritten.getMessage());
        }
      }
    }
  }

  private List<PersonRow> rows(Collection<PersonId> who) {
    return who.isEmpty() ? List.of() : people.byIds(who.stream().map(PersonId::value).toList());
  }
}
