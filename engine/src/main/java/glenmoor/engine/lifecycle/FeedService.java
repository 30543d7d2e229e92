package glenmoor.engine.lifecycle;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.lifecycle.KeptFeed;
import glenmoor.core.lifecycle.RejectedRow;
import glenmoor.core.lifecycle.Source;
import glenmoor.engine.Authorization;
import glenmoor.engine.Refused;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.jobs.Jobs;
import glenmoor.store.lifecycle.FeedMapper;
import jakarta.inject.Named;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.function.Consumer;
import java.util.function.Function;

/** Where files of people are brought to, and what became of those that were brought. */
@Named
public final class FeedService {
  private static final int PAGE = 500;

  private final FeedMapper feeds;
  private final Catalogues catalogues;
  private final Jobs jobs;
  private final FeedLoading loading;
  private final FeedForecasting forecasting;

  public FeedService(
      FeedMapper feeds,
      Catalogues catalogues,
      Jobs jobs,
      FeedLoading loading,
      FeedForecasting forecasting) {
    this.feeds = feeds;
    this.catalogues = catalogues;
    this.jobs = jobs;
    this.loading = loading;
    this.forecasting = forecasting;
  }

  /** Asked before the first byte of a file is kept. */
  public void mayBring(Actor actor) {
    Authorization.need(actor, Permission.LOAD_FEEDS);
  }

  /**
   * Begins to load a file, which is deleted in the end.
   *
   * @return the identity of the work; its result is {@link FeedLoading.Loaded}
   */
  public long load(String sourceKey, String fileName, Path file, Actor actor) {
    Authorization.need(actor, Permission.LOAD_FEEDS);
    var source = source(sourceKey);
    return jobs.start(
        "loading " + fileName,
        actor,
        reporter ->
            andDelete(
                file, path -> loading.load(Delivery.of(source, fileName, path, actor), reporter)));
  }

  /**
   * Begins to forecast a file, which is deleted in the end. Nothing is kept.
   *
   * @return the identity of the work; its result is {@link FeedForecasting.Forecasted}
   */
  public long forecast(String sourceKey, String fileName, Path file, Actor actor) {
    Authorization.need(actor, Permission.LOAD_FEEDS);
    var source = source(sourceKey);
    return jobs.start(
        "forecasting " + fileName,
        actor,
        reporter -> andDelete(file, path -> forecasting.forecast(source, path, reporter)));
  }

  private Source source(String key) {
    var sources = catalogues.current().sources();
    if (key.isEmpty() && sources.size() == 1) {
      return sources.values().iterator().next();
    }
    var source = sources.get(key);
    if (source == null) {
      throw Refused.badInput(
          sources.isEmpty()
              ? "No source is defined yet; load a definition of one first."
              : "There is no source “%s”; say one of %s."
                  .formatted(key, String.join(", ", sources.keySet())));
    }
    return source;
  }

  private static Object andDelete(Path file, Function<Path, Object> work) {
    try {
      return work.apply(file);
    } finally {
      try {
        Files.deleteIfExists(file);
      } catch (IOException failed) {
        throw new UncheckedIOException(failed);
      }
    }
  }

  public List<KeptFeed> list(long before, int limit, Actor actor) {
    Authorization.need(actor, Permission.SEE_FEEDS);
    return feeds.before(before, limit);
  }

  public KeptFeed show(long id, Actor actor) {
    Authorization.need(actor, Permission.SEE_FEEDS);
    var row = feeds.byId(id);
    if (row == null) {
      throw Refused.notThere(
          "There is no feed " + id + "; glenmoor feeds list shows those there are.");
    }
    return row;
  }

  public List<RejectedRow> rejects(long feed, int after, int limit, Actor actor) {
    show(feed, actor);
    return feeds.rejects(feed, after, limit);
  }

  /** Goes over all rejects of a feed, for a file of them. */
  public void eachReject(long feed, Actor actor, Consumer<RejectedRow> each) {
    var after = 0;
    while (true) {
      var page = rejects(feed, after, PAGE, actor);
      if (page.isEmpty()) {
        return;
      }
      page.forEach(each);
      after = page.getLast().number();
    }
  }

  /** The keys of the sources there are. */
  public List<Source> sources(Actor actor) {
    Authorization.need(actor, Permission.SEE_FEEDS);
    return List.copyOf(catalogues.current().sources().values());
  }
}
