package glenmoor.engine.requests;

import glenmoor.core.access.Catalogue;
import glenmoor.core.access.Entitlement;
import glenmoor.core.access.GrantedBy;
import glenmoor.core.letters.Channel;
import glenmoor.core.letters.ChannelKind;
import glenmoor.core.requests.Ask;
import glenmoor.core.requests.Offer;
import glenmoor.core.requests.OfferKind;
import glenmoor.core.requests.Telling;
import glenmoor.core.requests.Telling.Turn;
import glenmoor.engine.agenda.FallsDue;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.definitions.Tables;
import glenmoor.engine.jobs.RecurringJob;
import glenmoor.engine.letters.Outbox;
import glenmoor.engine.time.Clock;
import glenmoor.engine.time.Transactions;
import glenmoor.store.access.GrantMapper;
import glenmoor.store.access.GrantMapper.GrantRow;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.people.PersonRow;
import glenmoor.store.requests.GrantToldMapper;
import glenmoor.store.requests.GrantToldMapper.FaultRow;
import jakarta.inject.Named;
import java.time.Duration;
import java.time.Instant;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/**
 * Tells channels of what becomes of what offers gave, where they say so: that it began, that it is
 * over, that an application refuses it. Of each turn once, in the transaction that notes it.
 */
@Named
final class GrantsTold implements RecurringJob.Owner, FallsDue, Tables {
  /** Whoever was not told for so long is not told any more. */
  private static final Duration LATEST = Duration.ofDays(7);

  private static final Duration LOOK = Duration.ofSeconds(5);
  private static final int BATCH = 200;

  private final GrantToldMapper told;
  private final GrantMapper grants;
  private final PersonMapper people;
  private final Outbox outbox;
  private final Catalogues catalogues;
  private final Transactions transactions;
  private final Clock clock;

  GrantsTold(
      GrantToldMapper told,
      GrantMapper grants,
      PersonMapper people,
      Outbox outbox,
      Catalogues catalogues,
      Transactions transactions,
      Clock clock) {
    this.told = told;
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
            "grants-told",
            "tells channels what becomes of what offers gave",
            LOOK,
            this::carryOut));
  }

  private static List<String> offers(Turn turn, Catalogue catalogue) {
    return catalogue.defined().all(OfferKind.class).values().stream()
        .filter(offer -> offer.tells().stream().anyMatch(each -> each.on().contains(turn)))
        .map(Offer::key)
        .toList();
  }

  /** Where no offer told of faults, those there are until now are nobody's news. */
  @Override
  public void follow(Catalogue before, Catalogue after) {
    if (offers(Turn.FAILED, before).isEmpty() && !offers(Turn.FAILED, after).isEmpty()) {
      told.noFaults(clock.instant());
    }
  }

  @Override
  public @Nullable Instant next() {
    return null;
  }

  @Override
  public boolean busy() {
    return false;
  }

  @Override
  public int carryOut() {
    var catalogue = catalogues.current();
    return turned(Turn.GRANTED, catalogue) + turned(Turn.ENDED, catalogue) + failed(catalogue);
  }

  private int turned(Turn turn, Catalogue catalogue) {
    var offers = offers(turn, catalogue);
    if (offers.isEmpty()) {
      return 0;
    }
    return transactions.run(() -> {
      var now = clock.instant();
      var turned =
          told.untold(turn == Turn.GRANTED, turn.word(), offers, now.minus(LATEST), now, BATCH);
      for (var grant : turned) {
        told.told(grant.id(), turn.word(), 0, now);
        tell(grant, turn, "", catalogue, grant.id() + ":" + turn.word());
      }
      return turned.size();
    });
  }

  private int failed(Catalogue catalogue) {
    if (offers(Turn.FAILED, catalogue).isEmpty()) {
      return 0;
    }
    return transactions.run(() -> {
      var now = clock.instant();
      var faults = told.faults(BATCH);
      for (var fault : faults) {
        told.told(0, Turn.FAILED.word(), fault.id(), now);
        for (var grant : grants.lasting(List.of(fault.personId()), now)) {
          if (concerns(fault, grant, catalogue)) {
            told.told(grant.id(), Turn.FAILED.word(), fault.id(), now);
            tell(grant, Turn.FAILED, fault.reason(), catalogue, "fault:" + fault.id());
          }
        }
      }
      return faults.size();
    });
  }

  /** Whether a fault is in an application in which a grant gives something. */
  private static boolean concerns(FaultRow fault, GrantRow grant, Catalogue catalogue) {
    return grant.targetKind().equals("package")
        && Ask.gives(grant.targetKey(), List.of(), catalogue)
            .map(Entitlement::application)
            .anyMatch(fault.application()::equals);
  }

  private void tell(GrantRow grant, Turn turn, String reason, Catalogue catalogue, String onceKey) {
    Optional<Offer> offer =
        GrantedBy.of(grant.basisKey())
            .flatMap(by ->
                Optional.ofNullable(catalogue.defined().all(OfferKind.class).get(by.offer())));
    if (offer.isEmpty()) {
      return;
    }
    var person = people.byIds(List.of(grant.personId())).getFirst();
    var channels = catalogue.defined().all(ChannelKind.class);
    for (var telling : offer.get().tells()) {
      var channel = channels.get(telling.channel());
      if (channel != null && telling.on().contains(turn)) {
        tell(channel, telling, grant, person, turn, reason, catalogue, onceKey);
      }
    }
  }

  private void tell(
      Channel channel,
      Telling telling,
      GrantRow grant,
      PersonRow person,
      Turn turn,
      String reason,
      Catalogue catalogue,
      String onceKey) {
    var name = catalogue.name(grant.target());
    var words =
        switch (turn) {
          case GRANTED -> "%s has “%s” now.".formatted(person.name(), name);
          case ENDED -> "%s has “%s” no more.".formatted(person.name(), name);
          case FAILED -> "“%s” for %s is stuck: %s".formatted(name, person.name(), reason);
        };
    outbox.tell(
        channel.kind().word(),
        channel.key(),
        outbox.about(person),
        words,
        data(channel, grant, person, turn, words),
        new Outbox.Cause(
            null,
            "%s:%s:%d".formatted(onceKey, telling.channel(), grant.id()),
            "grant:" + grant.id()));
  }

  private static Map<String, Object> data(
      Channel channel, GrantRow grant, PersonRow person, Turn turn, String words) {
    var data = new LinkedHashMap<String, Object>();
    data.put("event", "grant-" + turn.word());
    data.put("text", words);
    if (channel.kind() == Channel.Kind.TICKETS) {
      data.put("do", "open");
    }
    data.put("grant", String.valueOf(grant.id()));
    data.put("package", grant.targetKey());
    data.put("offer", GrantedBy.of(grant.basisKey()).map(GrantedBy::offer).orElse(""));
    data.put("worker", person.workerNumber());
    data.put("name", person.name());
    data.put("from", grant.startsAt().toString());
    var until = grant.endsAt();
    if (until != null) {
      data.put("until", until.toString());
    }
    return data;
  }
}
