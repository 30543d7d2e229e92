package glenmoor.engine.requests;

import glenmoor.core.access.Catalogue;
import glenmoor.core.access.Entitlement;
import glenmoor.core.access.Grant.Basis;
import glenmoor.core.access.GrantedBy;
import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.people.Facts;
import glenmoor.core.people.Person;
import glenmoor.core.people.WorkerNumber;
import glenmoor.core.requests.Ask;
import glenmoor.core.requests.AskKind;
import glenmoor.core.requests.Offer;
import glenmoor.core.requests.Offer.Asker;
import glenmoor.core.requests.OfferKind;
import glenmoor.core.requests.Unaskable;
import glenmoor.engine.access.Revoking;
import glenmoor.store.access.GrantMapper;
import glenmoor.store.access.GrantMapper.GrantRow;
import glenmoor.store.people.FactsJson;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.people.PersonRow;
import glenmoor.store.requests.RequestMapper;
import jakarta.inject.Named;
import java.time.Instant;
import java.time.LocalDate;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/** Whether somebody may ask for something for somebody, and what that comes to. */
@Named
final class Asking {
  /**
   * A line as somebody sends it.
   *
   * @param worker for whom
   * @param grant the one that it is about; null for something new
   */
  record Wanted(
      String offer,
      String worker,
      AskKind kind,
      @Nullable LocalDate startDay,
      @Nullable LocalDate lastDay,
      Map<String, String> answers,
      String reason,
      @Nullable Long grant) {}

  /** A line that can be asked for. */
  record Checked(
      Wanted wanted, Ask ask, PersonRow subject, Person person, @Nullable GrantRow about) {}

  private static final Set<String> BY_OFFER = Set.of(Basis.REQUEST.word(), Basis.DIRECT.word());

  private final PersonMapper people;
  private final GrantMapper grants;
  private final Revoking revoking;
  private final RequestMapper requests;

  Asking(PersonMapper people, GrantMapper grants, Revoking revoking, RequestMapper requests) {
    this.revoking = revoking;
    this.people = people;
    this.grants = grants;
    this.requests = requests;
  }

  /** The person that the actor is; null where they are none. */
  @Nullable PersonRow own(Actor actor) {
    var worker = actor.worker();
    return worker == null ? null : people.byWorker(worker);
  }

  /**
   * Whether the actor may ask for somebody under an offer, as far as it matters who they are. That
   * something is needed no more, everybody may say for themselves and for those who report to them,
   * however it was given.
   */
  static boolean mayAsk(AskKind kind, Offer offer, PersonRow subject, Facts facts, Actor actor) {
    var own = WorkerNumber.keyOrNone(actor.worker());
    var themselves = !own.isEmpty() && own.equals(WorkerNumber.key(subject.workerNumber()));
    var manager = !own.isEmpty() && own.equals(WorkerNumber.key(facts.text(Facts.MANAGER)));
    if (!kind.gives() && (themselves || manager)) {
      return true;
    }
    return !offer.askedBy().isEmpty()
        && (offer.askedBy().contains(Asker.ANYONE) && !own.isEmpty()
            || offer.askedBy().contains(Asker.PERSON) && themselves
            || offer.askedBy().contains(Asker.MANAGER) && manager
            || actor.may(Permission.ASK_FOR_ANYBODY));
  }

  /** Whether nothing but a permission lets the actor ask for somebody. */
  private static boolean byPermission(
      AskKind kind, Offer offer, PersonRow subject, Facts facts, Actor actor) {
    return !mayAsk(kind, offer, subject, facts, actor.limitedTo(Set.of()));
  }

  /**
   * Checks a line all the way.
   *
   * @throws Unaskable with where it is wrong; it tells of nobody whom the actor may not ask for
   */
  Checked check(Wanted wanted, Actor actor, Catalogue catalogue, Instant now) {
    var offer = catalogue.defined().all(OfferKind.class).get(wanted.offer());
    var subject = people.byWorker(wanted.worker());
    var facts = subject == null ? null : FactsJson.read(subject.facts(), catalogue.facts());
    if (offer == null
        || subject == null
        || facts == null
        || !mayAsk(wanted.kind(), offer, subject, facts, actor)) {
      throw new Unaskable(
          "offer",
          "You cannot ask for “%s” for %s."
              .formatted(offer == null ? wanted.offer() : offer.name(), wanted.worker()));
    }
    if (wanted.reason().isBlank() && byPermission(wanted.kind(), offer, subject, facts, actor)) {
      throw new Unaskable(
          "reason", "Whoever asks for somebody else in this way says why: it is kept.");
    }
    var person = FactsJson.person(subject, catalogue.facts());
    var about = about(wanted, offer, subject, now);
    var ask =
        Ask.of(
            new Ask.Draft(
                wanted.kind(),
                wanted.startDay(),
                wanted.lastDay(),
                wanted.answers(),
                wanted.reason()),
            offer,
            person,
            about == null ? null : had(about),
            catalogue,
            now);
    if (wanted.kind() == AskKind.NEW || wanted.kind() == AskKind.RESUME) {
      notHeld(ask, subject, catalogue, now);
    }
    return new Checked(wanted, ask, subject, person, about);
  }

  /** The grant that a line is about; null for something new. */
  private @Nullable GrantRow about(Wanted wanted, Offer offer, PersonRow subject, Instant now) {
    var id = wanted.grant();
    if (!wanted.kind().aboutGrant()) {
      return null;
    }
    var resumes = wanted.kind() == AskKind.RESUME;
    return Optional.ofNullable(id == null ? null : grants.byId(id))
        .filter(grant -> grant.personId().equals(subject.id()) && byOffer(grant, offer))
        .filter(grant -> resumes == isOver(grant, now))
        .orElseThrow(() ->
            new Unaskable(
                "grant",
                resumes
                    ? "There is nothing of “%s” that is over and could be had again."
                        .formatted(offer.name())
                    : "There is nothing of “%s” to %s."
                        .formatted(offer.name(), wanted.kind().word())));
  }

  private static boolean byOffer(GrantRow grant, Offer offer) {
    return BY_OFFER.contains(grant.basis())
        && grant.targetKind().equals("package")
        && grant.targetKey().equals(offer.rolePackage())
        && GrantedBy.of(grant.basisKey()).filter(by -> by.offer().equals(offer.key())).isPresent();
  }

  private static boolean isOver(GrantRow grant, Instant now) {
    var endsAt = grant.endsAt();
    return endsAt != null && !endsAt.isAfter(now);
  }

  /** What somebody has by a grant, with the answers of the line that it came of. */
  Ask.About had(GrantRow grant) {
    var line =
        grant.basis().equals(Basis.REQUEST.word())
            ? GrantedBy.of(grant.basisKey()).map(by -> requests.line(by.line())).orElse(null)
            : null;
    return new Ask.About(
        grant.endsAt(),
        line == null ? Map.of() : LineRuns.answers(line),
        grants.alike(grant.personId(), grant.basis(), grant.basisKey()).stream()
            .filter(each -> each.targetKind().equals("entitlement"))
            .map(GrantRow::targetKey)
            .distinct()
            .toList());
  }

  /**
   * What was carved out of what they have can be asked for again: agreed to anew, it is given.
   *
   * @throws Unaskable if somebody has all of it already
   */
  void notHeld(Ask ask, PersonRow subject, Catalogue catalogue, Instant now) {
    var lasting = revoking.held(List.of(subject.id()), now).getOrDefault(subject.id(), List.of());
    var whole =
        lasting.stream()
            .filter(grant -> grant.without().isEmpty())
            .map(grant -> grant.target().key())
            .collect(Collectors.toSet());
    var rights =
        lasting.stream()
            .flatMap(catalogue::given)
            .map(Entitlement::key)
            .collect(Collectors.toSet());
    if (whole.contains(ask.rolePackage().key())
        && ask.selected().stream().allMatch(rights::contains)) {
      throw new Unaskable(
          "offer", "%s has “%s” already.".formatted(subject.name(), ask.rolePackage().name()));
    }
  }
}
