package glenmoor.engine.lifecycle;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.brakes.BrakeKind;
import glenmoor.core.brakes.Brakes;
import glenmoor.core.brakes.Brakes.Limit;
import glenmoor.core.brakes.Brakes.Measure;
import glenmoor.core.brakes.Brakes.Measured;
import glenmoor.core.ledger.CanonicalJson;
import glenmoor.engine.Authorization;
import glenmoor.engine.Refused;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.time.Clock;
import glenmoor.store.lifecycle.FeedMapper;
import glenmoor.store.lifecycle.FeedMapper.MeasuredFeed;
import jakarta.inject.Named;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import tools.jackson.databind.json.JsonMapper;

/**
 * Tries other limits of the brake on feeds against the feeds of the last year: nothing is changed.
 */
@Named
public final class BrakeTrial {
  private static final JsonMapper JSON = JsonMapper.shared();
  private static final Duration YEAR = Duration.ofDays(366);
  private static final int MOST = 5_000;
  private static final String PEOPLE = "people";

  /**
   * A feed that these limits would have held.
   *
   * @param wasHeld whether the limits of that day held it
   */
  public record Held(
      long feed,
      String source,
      String fileName,
      Instant startedAt,
      boolean wasHeld,
      List<String> sentences) {}

  /**
   * What the limits would have done.
   *
   * @param tried how many feeds were looked at
   * @param more whether there were more than are looked at
   */
  public record Tried(int tried, boolean more, Map<String, String> limits, List<Held> held) {}

  private final FeedMapper feeds;
  private final Catalogues catalogues;
  private final Clock clock;

  BrakeTrial(FeedMapper feeds, Catalogues catalogues, Clock clock) {
    this.feeds = feeds;
    this.catalogues = catalogues;
    this.clock = clock;
  }

  static String write(Measured measured) {
    var plain = new TreeMap<String, Object>();
    measured.counts().forEach((measure, count) -> plain.put(measure.word(), count));
    plain.put(PEOPLE, measured.people());
    return CanonicalJson.write(plain);
  }

  private static Measured read(String json) {
    var counts = new EnumMap<Measure, Integer>(Measure.class);
    var node = JSON.readTree(json);
    node.properties()
        .forEach(each ->
            Measure.ofWord(each.getKey())
                .ifPresent(measure -> counts.put(measure, each.getValue().asInt())));
    return new Measured(counts, node.path(PEOPLE).asInt());
  }

  /**
   * Tries limits.
   *
   * @param said by measure, such as {@code leavers: 10 or 3 %}; what is not said is as it is in
   *     force
   * @throws Refused if one is no limit
   */
  public Tried feeds(Map<String, String> said, Actor actor) {
    Authorization.need(actor, Permission.SEE_HELD_CHANGES);
    var inForce = catalogues.current().feedBrakes();
    var changed = new EnumMap<Measure, Limit>(Measure.class);
    said.forEach((word, text) -> {
      var measure =
          Measure.ofWord(word)
              .filter(inForce.limits()::containsKey)
              .orElseThrow(() ->
                  Refused.badInput(
                      "The brake on feeds has no limit “%s”; it has %s."
                          .formatted(
                              word,
                              String.join(
                                  ", ",
                                  inForce.limits().keySet().stream()
                                      .map(Measure::word)
                                      .toList()))));
      changed.put(
          measure,
          BrakeKind.limit(text)
              .orElseThrow(() ->
                  Refused.badInput(
                      "%s is “%s”; say a number and a share, such as 200 or 5 %%."
                          .formatted(word, text))));
    });
    return against(inForce.with(changed));
  }

  private Tried against(Brakes limits) {
    var all = feeds.measuredSince(clock.instant().minus(YEAR), MOST + 1);
    var held = new ArrayList<Held>();
    for (var feed : all.stream().limit(MOST).toList()) {
      var sentences = limits.hold(read(feed.measured()), Map.of());
      if (!sentences.isEmpty()) {
        held.add(held(feed, sentences));
      }
    }
    var written = new TreeMap<String, String>();
    limits.limits().forEach((measure, limit) -> written.put(measure.word(), limit.toString()));
    return new Tried(Math.min(all.size(), MOST), all.size() > MOST, written, held);
  }

  private static Held held(MeasuredFeed feed, List<String> sentences) {
    return new Held(
        feed.id(),
        feed.source(),
        feed.fileName(),
        feed.startedAt(),
        feed.state().equals("held"),
        sentences);
  }
}
