package glenmoor.engine.requests;

import glenmoor.core.access.Catalogue;
import glenmoor.core.access.GrantedBy;
import glenmoor.core.letters.Letter;
import glenmoor.core.letters.LetterKind;
import glenmoor.core.requests.Offer;
import glenmoor.core.requests.OfferKind;
import glenmoor.engine.agenda.FallsDue;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.jobs.RecurringJob;
import glenmoor.engine.letters.Outbox;
import glenmoor.engine.letters.Outbox.Unwritten;
import glenmoor.engine.time.Clock;
import glenmoor.engine.time.Transactions;
import glenmoor.store.access.GrantMapper;
import glenmoor.store.access.GrantMapper.GrantRow;
import glenmoor.store.people.PersonMapper;
import jakarta.inject.Named;
import java.time.Duration;
import java.time.Instant;
import java.time.format.DateTimeFormatter;
import java.util.List;
import java.util.Locale;
import java.util.Objects;
import java.util.Optional;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Tells people a week ahead that something they asked for ends, where its offer names a letter for
 * that; once for each end, so again where it was extended.
 */
@Named
final class GrantEnds implements RecurringJob.Owner, FallsDue {
  private static final Logger LOG = LoggerFactory.getLogger(GrantEnds.class);
  private static final DateTimeFormatter DAY =
      DateTimeFormatter.ofPattern("d MMM yyyy, HH:mm", Locale.ENGLISH);
  private static final Duration AHEAD = Duration.ofDays(7);
  private static final int BATCH = 200;

  private final GrantMapper grants;
  private final PersonMapper people;
  private final Outbox outbox;
  private final Catalogues catalogues;
  private final Transactions transactions;
  private final Clock clock;

  GrantEnds(
      GrantMapper grants,
      PersonMapper people,
      Outbox outbox,
      Catalogues catalogues,
      Transactions transactions,
      Clock clock) {
    this.grants = grants;
    this.people = people;
    this.outbox = outbox;
    this.catalogues = catalogues;
    this.transactions = transactions;
    this.clock = clock;
  }

  @Override
  public List<RecurringJob> recurring() {
    return List.of(
        new RecurringJob(
            "grant-ends",
            "tells people that something they asked for ends soon",
            Duration.ofMinutes(1),
            this::carryOut));
  }

  private static List<String> offers(Catalogue catalogue) {
    return catalogue.defined().all(OfferKind.class).values().stream()
        .filter(offer -> !offer.endingLetter().isEmpty())
        .map(Offer::key)
        .collect(Collectors.toList());
  }

  @Override
  public @Nullable Instant next() {
    if (offers(catalogues.current()).isEmpty()) {
      return null;
    }
    // What ends sooner than that was told of, or is told of now.
    var end = grants.nextEnd(clock.instant().plus(AHEAD));
    return end == null ? null : end.minus(AHEAD);
  }

  @Override
  public boolean busy() {
    return false;
  }

  @Override
  public int carryOut() {
    var catalogue = catalogues.current();
    var offers = offers(catalogue);
    if (offers.isEmpty()) {
      return 0;
    }
    return transactions.run(() -> {
      var now = clock.instant();
      var ending = grants.endingUntold(now, now.plus(AHEAD), offers, BATCH);
      ending.forEach(grant -> tell(grant, catalogue, now));
      return ending.size();
    });
  }

  private void tell(GrantRow grant, Catalogue catalogue, Instant now) {
    var endsAt = Objects.requireNonNull(grant.endsAt());
    grants.noteTold(grant.id(), endsAt, now);
    Optional<Letter> letter =
        GrantedBy.of(grant.basisKey())
            .map(by -> catalogue.defined().all(OfferKind.class).get(by.offer()))
            .map(offer -> catalogue.defined().all(LetterKind.class).get(offer.endingLetter()));
    if (letter.isEmpty()) {
      return;
    }
    var name = catalogue.name(grant.target());
    try {
      outbox.remind(
          letter.get(),
          people.byIds(List.of(grant.personId())).getFirst(),
          "“%s” ends on %s.".formatted(name, DAY.format(endsAt.atZone(catalogue.zone()))),
          now.atZone(catalogue.zone()).toLocalDate(),
          new Outbox.Cause(
              null, "ends:%d:%s".formatted(grant.id(), endsAt), "grant:" + grant.id()));
    } catch (Unwritten unwritten) {
      LOG.warn("Nobody can be told that {} ends: {}", grant.id(), unwritten.getMessage());
    }
  }
}
