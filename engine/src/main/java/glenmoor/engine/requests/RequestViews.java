package glenmoor.engine.requests;

import glenmoor.core.access.Catalogue;
import glenmoor.core.access.RolePackage;
import glenmoor.core.authorization.Actor;
import glenmoor.core.conflicts.ConflictRuleKind;
import glenmoor.core.people.PersonId;
import glenmoor.core.requests.Ask;
import glenmoor.core.requests.RouteRun;
import glenmoor.core.requests.StageRun;
import glenmoor.core.requests.StageState.Settled;
import glenmoor.core.requests.TeamShare;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.time.Clock;
import glenmoor.store.access.GrantMapper;
import glenmoor.store.identity.SignInMapper;
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
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/** What there is to see of requests, for those whom they concern. */
@Named
public final class RequestViews {
  /** One thing that a record says of somebody. */
  public record SaidOf(String fact, String value) {}

  /**
   * A line of a request.
   *
   * @param subjectFacts what their record says, while it is open and they have not begun: whoever
   *     agrees agrees to that as well
   * @param holds the names of the packages that they have already, while it is open
   * @param used what the applications tell of the last use of this or of their accounts there, for
   *     whoever decides
   */
  public record LineShown(
      long id,
      String kind,
      String offer,
      String rolePackage,
      String name,
      String purpose,
      Who subject,
      String subjectDetail,
      List<SaidOf> subjectFacts,
      String reason,
      List<Answered> answers,
      List<Gives> gives,
      String risk,
      @Nullable LocalDate startDay,
      @Nullable LocalDate lastDay,
      String term,
      String state,
      @Nullable Instant endedAt,
      String endReason,
      boolean yours,
      List<Conflicting> conflicts,
      String exemptControl,
      @Nullable Instant exemptUntil,
      List<StageShown> stages,
      @Nullable Instant givenFrom,
      @Nullable Instant givenUntil,
      List<LineOutcome.Became> became,
      List<AskedSeats.SeatsLeft> seats,
      List<String> holds,
      TeamShare team,
      List<LastUsed> used) {}

  /** When somebody last used something that they have. */
  public record LastUsed(String what, Instant at) {}

  /** Something that was said or done. */
  public record NoteShown(
      Instant at,
      String by,
      String forPerson,
      String what,
      String text,
      @Nullable Long line,
      @Nullable Integer stage) {}

  /** A request with all there is to see of it. */
  public record RequestShown(
      long id,
      Instant askedAt,
      String askedBy,
      @Nullable Who asker,
      boolean withdrawable,
      List<LineShown> lines,
      List<NoteShown> notes) {}

  private final RequestMapper requests;
  private final PersonMapper people;
  private final LineOutcome outcome;
  private final SignInMapper signIns;
  private final LineRuns runs;
  private final Asking asking;
  private final Concerned concerned;
  private final AskedSeats seats;
  private final LineSubjects subjects;
  private final Catalogues catalogues;
  private final Clock clock;

  RequestViews(
      RequestMapper requests,
      PersonMapper people,
      LineOutcome outcome,
      SignInMapper signIns,
      LineRuns runs,
      Asking asking,
      Concerned concerned,
      AskedSeats seats,
      LineSubjects subjects,
      Catalogues catalogues,
      Clock clock) {
    this.requests = requests;
    this.people = people;
    this.outcome = outcome;
    this.signIns = signIns;
    this.runs = runs;
    this.asking = asking;
    this.concerned = concerned;
    this.seats = seats;
    this.subjects = subjects;
    this.catalogues = catalogues;
    this.clock = clock;
  }

  /**
   * A request as it stands.
   *
   * @throws glenmoor.engine.Refused as if there were none for whoever it does not concern
   */
  public RequestShown show(long id, Actor actor) {
    var request = requests.request(id);
    var lines = requests.linesOf(id);
    if (request == null || !concerned.concerns(request, lines, actor)) {
      throw LineMoves.noSuch(id);
    }
    var catalogue = catalogues.current();
    var byLine = runs.of(lines);
    var names = names(request, lines, byLine);
    var own = asking.own(actor);
    return new RequestShown(
        id,
        request.askedAt(),
        displayName(request.askedBy()),
        names.get(request.askerId()),
        concerned.mayWithdraw(request, lines, actor)
            && lines.stream().anyMatch(line -> line.state().equals("open")),
        lines.stream()
            .map(line ->
                line(line, Objects.requireNonNull(byLine.get(line.id())), names, own, catalogue))
            .toList(),
        requests.notes(id).stream().map(note -> note(note, names)).toList());
  }

  /** One line, for whom it concerns. */
  Optional<LineShown> line(long id, Actor actor) {
    var line = requests.line(id);
    return line == null
        ? Optional.empty()
        : show(line.requestId(), actor).lines().stream()
            .filter(each -> each.id() == id)
            .findFirst();
  }

  private NoteShown note(NoteRow note, Map<Long, Who> names) {
    var inPlaceOf = note.forPerson();
    return new NoteShown(
        note.at(),
        displayName(note.byLogin()),
        inPlaceOf == null ? "" : Who.name(names, inPlaceOf),
        note.what(),
        note.text(),
        note.lineId(),
        note.stage());
  }

  private String displayName(String login) {
    if (login.equals(Actor.SERVICE.login())) {
      return Actor.SERVICE.displayName();
    }
    var found = signIns.byName(login);
    return found == null ? login : found.displayName();
  }

  private Map<Long, Who> names(
      RequestRow request, List<LineRow> lines, Map<Long, RouteRun> byLine) {
    var ids =
        Stream.of(
                Stream.ofNullable(request.askerId()),
                lines.stream().map(LineRow::personId),
                requests.notes(request.id()).stream()
                    .flatMap(note -> Stream.ofNullable(note.forPerson())),
                byLine.values().stream()
                    .flatMap(run -> run.stages().stream())
                    .flatMap(RequestViews::mentioned))
            .flatMap(each -> each)
            .distinct()
            .toList();
    return people.byIds(ids).stream()
        .collect(Collectors.toMap(PersonRow::id, Who::of, (one, other) -> one, HashMap::new));
  }

  private static Stream<Long> mentioned(StageRun stage) {
    var asked =
        stage.approvers().stream()
            .flatMap(each -> Stream.of(each.named().value(), each.person().value()));
    return stage.state() instanceof Settled settled && settled.by() != null
        ? Stream.concat(asked, Stream.of(settled.by().value()))
        : asked;
  }

  private LineShown line(
      LineRow line,
      RouteRun run,
      Map<Long, Who> names,
      @Nullable PersonRow own,
      Catalogue catalogue) {
    var rolePackage = Optional.ofNullable(catalogue.packages().get(line.packageKey()));
    var gives = Ask.gives(line.packageKey(), LineRuns.selected(line), catalogue).toList();
    var subject = people.byIds(List.of(line.personId())).getFirst();
    var given = outcome.given(line);
    var yours = own != null && run.asks(new PersonId(own.id()));
    return new LineShown(
        line.id(),
        line.kind(),
        line.offer(),
        line.packageKey(),
        rolePackage.map(RolePackage::name).orElse(line.packageKey()),
        rolePackage.map(RolePackage::purpose).orElse(""),
        Who.of(subject),
        catalogue.subtitle(FactsJson.read(subject.facts(), catalogue.facts())),
        line.state().equals("open") ? subjects.saidOf(subject, catalogue) : List.of(),
        line.reason(),
        Answered.of(line.offer(), LineRuns.answers(line), catalogue),
        gives.stream().map(each -> Gives.of(each, catalogue)).toList(),
        Ask.risk(gives.stream()).word(),
        line.startDay(),
        line.lastDay(),
        line.term(),
        line.state(),
        line.endedAt(),
        line.endReason(),
        yours,
        conflicting(
            line,
            run.conflictsWait(Optional.ofNullable(own).map(row -> new PersonId(row.id()))),
            catalogue),
        line.exemptControl(),
        line.exemptUntil(),
        StageShown.of(run, names),
        given.map(GrantMapper.GrantRow::startsAt).orElse(null),
        given.map(GrantMapper.GrantRow::endsAt).orElse(null),
        given.isEmpty() ? List.of() : outcome.became(subject, gives),
        line.state().equals("open") && LineEffects.kind(line).gives()
            ? seats.of(subject.id(), gives, catalogue)
            : List.of(),
        line.state().equals("open") ? subjects.holds(subject, catalogue) : List.of(),
        subjects.team(subject, line.packageKey(), catalogue),
        yours ? subjects.used(subject, gives, catalogue) : List.of());
  }

  private static List<Conflicting> conflicting(
      LineRow line, boolean needsTerms, Catalogue catalogue) {
    var rules = catalogue.defined().all(ConflictRuleKind.class);
    return LineRuns.keys(line.conflicts()).stream()
        .flatMap(key -> Stream.ofNullable(rules.get(key)))
        .map(rule -> Conflicting.of(rule, needsTerms))
        .toList();
  }
}
