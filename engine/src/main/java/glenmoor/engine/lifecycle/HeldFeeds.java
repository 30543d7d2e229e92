package glenmoor.engine.lifecycle;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.brakes.Brakes;
import glenmoor.engine.Refused;
import glenmoor.engine.brakes.HeldChanges;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.jobs.WorkContents;
import glenmoor.engine.jobs.WorkProgress;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.util.List;
import java.util.Map;

/** Feeds that a brake held: how they are kept, and carried out once somebody releases them. */
final class HeldFeeds implements HeldChanges.Releasing {
  private static final String KIND = "feed";

  /** Loads a delivery, under the brakes it has not been released from. */
  interface Loader {
    Object load(Delivery delivery, WorkProgress progress);
  }

  private final HeldChanges held;
  private final FeedRecord record;
  private final Catalogues catalogues;
  private final Loader loader;

  HeldFeeds(HeldChanges held, FeedRecord record, Catalogues catalogues, Loader loader) {
    this.held = held;
    this.record = record;
    this.catalogues = catalogues;
    this.loader = loader;
    held.carriedOutBy(KIND, this);
  }

  /**
   * Holds a feed, inside the caller's transaction.
   *
   * @param forecast what it would do
   * @return the identity of the held change
   */
  long hold(
      long feed,
      Delivery delivery,
      String sentence,
      Brakes.Measured measured,
      FeedForecasting.Forecasted forecast) {
    try (var content = Files.newInputStream(delivery.file())) {
      return held.hold(
          new HeldChanges.Holding(
              KIND,
              delivery.fileName() + " of " + delivery.source().name(),
              sentence,
              measured,
              forecast,
              Map.of(
                  "source", delivery.source().key(),
                  "fileName", delivery.fileName(),
                  "feed", feed)),
          content,
          delivery.actor());
    } catch (IOException failed) {
      throw new UncheckedIOException(failed);
    }
  }

  @Override
  public Permission needs() {
    return Permission.LOAD_FEEDS;
  }

  /** A held feed is out of date once a newer one of its source was taken. */
  @Override
  public void check(Map<String, Object> details) {
    var newest = record.newestLoaded(String.valueOf(details.get("source")));
    if (newest != null && newest > Long.parseLong(String.valueOf(details.get("feed")))) {
      throw new Refused(
          Refused.Reason.NOT_NOW,
          "A newer feed of this source was taken since (feed %d), so this one is out of date: drop it, and have the source deliver anew."
              .formatted(newest));
    }
  }

  @Override
  public Class<?> forecast() {
    return FeedForecasting.Forecasted.class;
  }

  @Override
  public List<Class<?>> results() {
    return List.of(FeedLoading.Loaded.class);
  }

  @Override
  public Object release(HeldChanges.Released released, Actor actor, WorkProgress progress) {
    var source =
        catalogues.current().sources().get(String.valueOf(released.details().get("source")));
    if (source == null) {
      throw Refused.badInput("Its source is no longer defined, so nothing was changed.");
    }
    var file = WorkContents.file(released.content());
    try {
      var delivery =
          new Delivery(
              source,
              String.valueOf(released.details().get("fileName")),
              file,
              actor,
              released.allowed(),
              "held:" + released.id());
      return loader.load(delivery, progress);
    } finally {
      WorkContents.delete(file);
    }
  }

  @Override
  public void ended(long work, String sentence) {
    record.refuseUnread(work, sentence);
  }
}
