package glenmoor.engine.requests;

import glenmoor.core.access.Catalogue;
import glenmoor.core.access.Entitlement;
import glenmoor.core.access.Grant.Basis;
import glenmoor.core.access.GrantedBy;
import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.authorization.Scope;
import glenmoor.core.conflicts.ConflictRule;
import glenmoor.core.people.Person;
import glenmoor.core.requests.Ask;
import glenmoor.core.requests.AskKind;
import glenmoor.core.requests.Offer;
import glenmoor.core.requests.OfferKind;
import glenmoor.core.requests.Unaskable;
import glenmoor.engine.Refused;
import glenmoor.engine.StatedReason;
import glenmoor.engine.access.Granting;
import glenmoor.engine.conflicts.Prevention;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.time.Clock;
import glenmoor.engine.time.Transactions;
import glenmoor.store.Ids;
import glenmoor.store.access.GrantMapper;
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
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/**
 * Giving somebody what an offer is for without an ask, where the offer allows that: by the stewards
 * of its portfolio, on the offer's terms, and never to themselves or against a conflict rule.
 */
@Named
public final class DirectGrants {
  /**
   * What is to be given.
   *
   * @param startDay null for at once
   * @param lastDay null for what the offer says
   */
  public record Giving(
      String offer,
      String worker,
      @Nullable LocalDate startDay,
      @Nullable LocalDate lastDay,
      Map<String, String> answers,
      String reason) {}

  /**
   * What is given, or would be.
   *
   * @param grant null while it is only asked what would be
   */
  public record DirectlyGiven(
      @Nullable Long grant,
      Who subject,
      String rolePackage,
      String name,
      Instant startsAt,
      @Nullable Instant endsAt,
      List<Gives> gives) {}

  private record Checked(PersonRow subject, Ask ask) {}

  private final PersonMapper people;
  private final GrantMapper grants;
  private final RequestMapper requests;
  private final Asking asking;
  private final Granting granting;
  private final Prevention prevention;
  private final Catalogues catalogues;
  private final Transactions transactions;
  private final Ids ids;
  private final Clock clock;

  DirectGrants(
      PersonMapper people,
      GrantMapper grants,
      RequestMapper requests,
      Asking asking,
      Granting granting,
      Prevention prevention,
      Catalogues catalogues,
      Transactions transactions,
      Ids ids,
      Clock clock) {
    this.people = people;
    this.grants = grants;
    this.requests = requests;
    this.asking = asking;
    this.granting = granting;
    this.prevention = prevention;
    this.catalogues = catalogues;
    this.transactions = transactions;
    this.ids = ids;
    this.clock = clock;
  }

  /**
   * What would come of giving; nothing is kept.
   *
   * @throws Refused if it cannot be given like this, with the field that is wrong
   */
  public DirectlyGiven preview(Giving giving, Actor actor) {
    var catalogue = catalogues.current();
    return shown(null, check(giving, actor, catalogue, clock.instant()), catalogue);
  }

  /**
   * Gives.
   *
   * @throws Refused if it cannot be given like this, with the field that is wrong
   */
  public DirectlyGiven give(Giving giving, Actor actor) {
    return transactions.run(() -> {
      var catalogue = catalogues.current();
      var now = clock.instant();
      var row = people.byWorker(giving.worker());
      if (row != null) {
        // Of two who give the same at the same moment, one finds that it is given.
        people.lock(List.of(row.id()));
      }
      var checked = check(giving, actor, catalogue, now);
      var ask = checked.ask();
      var key = new GrantedBy(giving.offer(), ids.next()).key();
      granting.give(
          new Granting.Given(
              checked.subject(),
              ask.rolePackage().key(),
              ask.selected(),
              Map.of(),
              Basis.DIRECT,
              key,
              ask.startsAt(),
              ask.endsAt(),
              giving.reason().strip()),
          actor.login(),
          "offer:" + giving.offer(),
          now);
      var begun = grants.alike(checked.subject().id(), Basis.DIRECT.word(), key).getFirst();
      return shown(begun.id(), checked, catalogue);
    });
  }

  private Checked check(Giving giving, Actor actor, Catalogue catalogue, Instant now) {
    new StatedReason(giving.reason());
    var offer = offer(giving.offer(), actor, catalogue);
    var own = asking.own(actor);
    var subject = people.byWorker(giving.worker());
    if (subject == null) {
      throw nobody(giving, offer);
    }
    if (own != null && own.id().equals(subject.id())) {
      throw new Refused(
          Refused.Reason.NOT_ALLOWED,
          "Nobody gives themselves anything: ask for it, and somebody else decides.");
    }
    var person = FactsJson.person(subject, catalogue.facts());
    var ask = ask(giving, offer, person, catalogue, now);
    try {
      asking.notHeld(ask, subject, catalogue, now);
    } catch (Unaskable held) {
      throw Refused.mistake(held.field(), String.valueOf(held.getMessage()));
    }
    if (requests.isOpen(subject.id() + ":" + ask.rolePackage().key())) {
      throw Refused.mistake(
          "worker",
          "%s has asked for “%s”, and that is not decided yet."
              .formatted(subject.name(), ask.rolePackage().name()));
    }
    var conflicts =
        prevention.caused(
            subject.id(),
            "",
            ask.gives(catalogue).map(Entitlement::key).collect(Collectors.toSet()),
            ask.endsAt(),
            catalogue,
            now);
    if (!conflicts.isEmpty()) {
      throw Refused.mistake(
          "offer",
          "%s would break “%s” with it: it has to be asked for, so that whoever answers for that is asked."
              .formatted(subject.name(), names(conflicts)));
    }
    return new Checked(subject, ask);
  }

  private static String names(List<ConflictRule> rules) {
    return rules.stream().map(ConflictRule::name).collect(Collectors.joining("”, “"));
  }

  /** An offer of a portfolio that the actor looks after; of another one nobody learns. */
  private static Offer offer(String key, Actor actor, Catalogue catalogue) {
    Optional<Offer> found =
        Optional.ofNullable(catalogue.defined().all(OfferKind.class).get(key))
            .filter(each ->
                actor.may(
                    Permission.GIVE_DIRECTLY,
                    Scope.portfolio(LineMoves.portfolio(each.rolePackage(), catalogue))));
    var offer =
        found.orElseThrow(
            () -> Refused.notThere("There is no offer “%s” that you may give.".formatted(key)));
    if (!offer.direct()) {
      throw Refused.mistake(
          "offer",
          "“%s” is not given directly: it has to be asked for. To allow it, its offer says direct: yes."
              .formatted(offer.name()));
    }
    return offer;
  }

  private static Ask ask(
      Giving giving, Offer offer, Person person, Catalogue catalogue, Instant now) {
    try {
      return Ask.of(
          new Ask.Draft(
              AskKind.NEW, giving.startDay(), giving.lastDay(), giving.answers(), giving.reason()),
          offer,
          person,
          null,
          catalogue,
          now);
    } catch (Unaskable unaskable) {
      // Who is no part of the audience is told apart from nobody at all by no word.
      throw unaskable.field().equals("worker")
          ? nobody(giving, offer)
          : Refused.mistake(unaskable.field(), String.valueOf(unaskable.getMessage()));
    }
  }

  private static Refused nobody(Giving giving, Offer offer) {
    return Refused.mistake(
        "worker",
        "There is nobody with the worker number %s to whom “%s” could be given."
            .formatted(giving.worker(), offer.name()));
  }

  private static DirectlyGiven shown(@Nullable Long grant, Checked checked, Catalogue catalogue) {
    var ask = checked.ask();
    return new DirectlyGiven(
        grant,
        Who.of(checked.subject()),
        ask.rolePackage().key(),
        ask.rolePackage().name(),
        ask.startsAt(),
        ask.endsAt(),
        ask.gives(catalogue).map(each -> Gives.of(each, catalogue)).toList());
  }
}
