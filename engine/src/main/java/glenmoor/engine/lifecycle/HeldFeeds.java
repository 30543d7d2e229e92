package glenmoor.engine.lifecycle;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.brakes.Brakes;
import glenmoor.engine.Refused;
import glenmoor.engine.brakes.HeldChanges;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.jobs.Jobs;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** Feeds that a brake held: how they are kept, and carried out once somebody releases them. */
final class HeldFeeds implements HeldChanges.Releasing {
  private static final Logger LOG = LoggerFactory.getLogger(HeldFeeds.class);
  private static final String KIND = "feed";
  private static final String FILE = "glenmoor-released-";
  private static final Path TEMPORARY = Path.of(System.getProperty("java.io.tmpdir"));

  /** Loads a delivery, under the brakes it has not been released from. */
  interface Loader {
    Object load(Delivery delivery, Jobs.ProgressReporter reporter);
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
    deleteLeft();
  }

  /** Deletes files of people that services left here which were killed meanwhile. */
  private static void deleteLeft() {
    try (var files = Files.newDirectoryStream(TEMPORARY, FILE + "*")) {
      for (var file : files) {
        var service = file.getFileName().toString().substring(FILE.length()).split("-", 2)[0];
        if (ProcessHandle.of(Long.parseLong(service)).isEmpty()) {
          delete(file);
        }
      }
    } catch (IOException | NumberFormatException left) {
      LOG.warn("Files of people may have been left in {}: {}", TEMPORARY, left.getMessage());
    }
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
  public Object release(
      HeldChanges.Released released, Actor actor, Jobs.ProgressReporter reporter) {
    var source =
        catalogues.current().sources().get(String.valueOf(released.details().get("source")));
    if (source == null) {
      throw Refused.badInput("Its source is no longer defined, so nothing was changed.");
    }
    Path file = null;
    try {
      file = Files.createTempFile(TEMPORARY, FILE + ProcessHandle.current().pid() + "-", ".csv");
      Files.copy(released.content(), file, StandardCopyOption.REPLACE_EXISTING);
      var delivery =
          new Delivery(
              source,
              String.valueOf(released.details().get("fileName")),
              file,
              actor,
              released.allowed(),
              "held:" + released.id());
      return loader.load(delivery, reporter);
    } catch (IOException failed) {
      throw new UncheckedIOException(failed);
    } finally {
      delete(file);
    }
  }

  private static void delete(@Nullable Path file) {
    try {
      if (file != null) {
        Files.deleteIfExists(file);
      }
    } catch (IOException left) {
      LOG.warn("A file of people could not be deleted: {}", file);
    }
  }
}
