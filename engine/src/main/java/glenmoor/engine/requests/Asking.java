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
import glenmoor.store.access.GrantMapper;
import glenmoor.store.access.GrantMapper.GrantRow;
import glenmoor.store.people.FactsJson;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.people.PersonRow;
import jakarta.inject.Named;
import java.time.Instant;
import java.time.LocalDate;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/** Whether somebody may ask for something for somebody, and what that comes to. */
@Named
final class Asking {
  /**
   * A line as somebody sends it.
   *
   * @param worker for whom
   * @param kind {@code new} or {@code extend}
   * @param grant the one to extend; null for others
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

  private final PersonMapper people;
  private final GrantMapper grants;

  Asking(PersonMapper people, GrantMapper grants) {
    this.people = people;
    this.grants = grants;
  }

  /** The person that the actor is; null where they are none. */
  @Nullable PersonRow own(Actor actor) {
    var worker = actor.worker();
    return worker == null ? null : people.byWorker(worker);
  }

  /** Whether the actor may ask for somebody under an offer, as far as it matters who they are. */
  static boolean mayAsk(Offer offer, PersonRow subject, Facts facts, Actor actor) {
    var own = WorkerNumber.key(Objects.requireNonNullElse(actor.worker(), ""));
    var themselves = !own.isEmpty() && own.equals(WorkerNumber.key(subject.workerNumber()));
    var manager = !own.isEmpty() && own.equals(WorkerNumber.key(facts.text(Facts.MANAGER)));
    return !offer.askedBy().isEmpty()
        && (offer.askedBy().contains(Asker.ANYONE) && !own.isEmpty()
            || offer.askedBy().contains(Asker.PERSON) && themselves
            || offer.askedBy().contains(Asker.MANAGER) && manager
            || actor.may(Permission.ASK_FOR_ANYBODY));
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
        || !mayAsk(offer, subject, facts, actor)) {
      throw new Unaskable(
          "offer",
          "You cannot ask for “%s” for %s."
              .formatted(offer == null ? wanted.offer() : offer.name(), wanted.worker()));
    }
    var person = FactsJson.person(subject, catalogue.facts());
    var lasting = grants.lasting(List.of(subject.id()), now);
    var about = about(wanted, offer, lasting);
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
            about == null ? null : about.endsAt(),
            catalogue,
            now);
    if (wanted.kind() == AskKind.NEW) {
      notHeld(ask, subject, lasting, catalogue);
    }
    return new Checked(wanted, ask, subject, person, about);
  }

  private static @Nullable GrantRow about(Wanted wanted, Offer offer, List<GrantRow> lasting) {
    if (wanted.kind() != AskKind.EXTEND) {
      return null;
    }
    return lasting.stream()
        .filter(grant -> grant.id().equals(wanted.grant()))
        .filter(grant ->
            grant.basis().equals(Basis.REQUEST.word())
                && grant.targetKind().equals("package")
                && GrantedBy.of(grant.basisKey())
                    .filter(by -> by.offer().equals(offer.key()))
                    .isPresent())
        .findFirst()
        .orElseThrow(() ->
            new Unaskable("grant", "There is nothing of “%s” to extend.".formatted(offer.name())));
  }

  private static void notHeld(
      Ask ask, PersonRow subject, List<GrantRow> lasting, Catalogue catalogue) {
    var held = lasting.stream().map(GrantRow::targetKey).collect(Collectors.toSet());
    var byPackages =
        lasting.stream()
            .filter(grant -> grant.targetKind().equals("package"))
            .flatMap(grant -> Ask.gives(grant.targetKey(), List.of(), catalogue))
            .map(Entitlement::key)
            .collect(Collectors.toSet());
    if (held.contains(ask.rolePackage().key())
        && ask.selected().stream()
            .allMatch(key -> held.contains(key) || byPackages.contains(key))) {
      throw new Unaskable(
          "offer", "%s has “%s” already.".formatted(subject.name(), ask.rolePackage().name()));
    }
  }
}
