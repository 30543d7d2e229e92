package glenmoor.engine.partners;

import glenmoor.core.access.Catalogue;
import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.partners.PartnerOrganisation;
import glenmoor.core.partners.PartnerOrganisationKind;
import glenmoor.core.people.WorkerNumber;
import glenmoor.engine.Authorization;
import glenmoor.engine.Refused;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.letters.PublicAddress;
import glenmoor.engine.requests.Who;
import glenmoor.engine.time.Clock;
import glenmoor.store.partners.PartnerMapper;
import glenmoor.store.partners.PartnerMapper.AskRow;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.people.PersonRow;
import jakarta.inject.Named;
import java.time.Instant;
import java.time.LocalDate;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/** Partner organisations and who asked by their links, for those who see everybody. */
@Named
public final class PartnerViews {
  /**
   * A partner organisation.
   *
   * @param open whether its people may still be here
   * @param link to be sent to its people; empty where the service does not know its address
   * @param unconfirmed how many have not confirmed their address yet
   */
  public record PartnerListed(
      String key,
      String name,
      List<String> mailDomains,
      LocalDate until,
      boolean open,
      @Nullable Who sponsor,
      List<String> offers,
      String link,
      int unconfirmed) {}

  /**
   * Somebody who asked by a link and confirmed their address.
   *
   * @param state waits, counts, does-not, or here for who was here before
   */
  public record PartnerPerson(
      long id,
      String worker,
      String name,
      String mail,
      String terms,
      int termsVersion,
      Instant acceptedAt,
      @Nullable Instant confirmedAt,
      @Nullable Long request,
      String state) {}

  private final PartnerMapper partners;
  private final PersonMapper people;
  private final PublicAddress address;
  private final Catalogues catalogues;
  private final Clock clock;

  PartnerViews(
      PartnerMapper partners,
      PersonMapper people,
      PublicAddress address,
      Catalogues catalogues,
      Clock clock) {
    this.partners = partners;
    this.people = people;
    this.address = address;
    this.catalogues = catalogues;
    this.clock = clock;
  }

  /** All partner organisations there are. */
  public List<PartnerListed> list(Actor actor) {
    Authorization.need(actor, Permission.SEE_EVERYBODY);
    var catalogue = catalogues.current();
    var all = catalogue.defined().all(PartnerOrganisationKind.class).values();
    return all.stream().map(each -> listed(each, catalogue)).toList();
  }

  private PartnerListed listed(PartnerOrganisation each, Catalogue catalogue) {
    var now = clock.instant();
    var sponsor = people.byWorker(each.sponsor());
    var page = address.page("/partners/");
    return new PartnerListed(
        each.key(),
        each.name(),
        each.mailDomains().stream().sorted().toList(),
        each.until(),
        each.open(now.atZone(catalogue.zone()).toLocalDate()),
        sponsor == null ? null : new Who(sponsor.workerNumber(), sponsor.name()),
        each.offers(),
        page.isEmpty() ? "" : page + each.key(),
        partners.countUnconfirmed(each.key(), now));
  }

  /**
   * Who asked by an organisation's link and confirmed their address, the last first.
   *
   * @throws Refused where there is no such organisation
   */
  public List<PartnerPerson> people(String key, long before, int limit, Actor actor) {
    Authorization.need(actor, Permission.SEE_EVERYBODY);
    if (!catalogues.current().defined().all(PartnerOrganisationKind.class).containsKey(key)) {
      throw Refused.notThere("There is no partner organisation “%s”.".formatted(key));
    }
    var asks = partners.asks(key, before, limit);
    var workers =
        asks.stream().map(AskRow::workerNumber).filter(Objects::nonNull).distinct().toList();
    Map<String, PersonRow> rows =
        workers.isEmpty()
            ? Map.of()
            : people.byWorkers(workers.stream().map(WorkerNumber::key).toList()).stream()
                .collect(Collectors.toMap(PersonRow::workerNumber, row -> row));
    return asks.stream().map(ask -> person(ask, rows)).toList();
  }

  private PartnerPerson person(AskRow ask, Map<String, PersonRow> rows) {
    var worker = Objects.requireNonNullElse(ask.workerNumber(), "");
    var row = rows.get(worker);
    return new PartnerPerson(
        ask.id(),
        worker,
        row == null ? "" : row.name(),
        ask.mail(),
        ask.terms(),
        ask.termsVersion(),
        ask.acceptedAt(),
        ask.confirmedAt(),
        ask.requestId(),
        Optional.ofNullable(row)
            .map(each -> partners.newcomer(each.id()))
            .map(PartnerMapper.NewcomerRow::state)
            .orElse("here"));
  }
}
