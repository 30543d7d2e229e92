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
import glenmoor.engine.jobs.LongWork;
import glenmoor.engine.jobs.WorkProgress;
import glenmoor.engine.time.Transactions;
import glenmoor.store.lifecycle.FeedMapper;
import jakarta.inject.Named;
import java.io.IOException;
import java.io.InputStream;
import java.util.List;
import java.util.function.Consumer;
import java.util.function.LongUnaryOperator;

/** Where files of people are brought to, and what became of those that were brought. */
@Named
public final class FeedService {
  private static final int PAGE = 500;

  private final FeedMapper feeds;
  private final Catalogues catalogues;
  private final Jobs jobs;
  private final FeedRecord record;
  private final Transactions transactions;
  private final LoadWork loadWork = new LoadWork();
  private final ForecastWork forecastWork = new ForecastWork();
  private final FeedLoading loading;
  private final FeedForecasting forecasting;

  public FeedService(
      FeedMapper feeds,
      Catalogues catalogues,
      Jobs jobs,
      FeedRecord record,
      FeedLoading loading,
      FeedForecasting forecasting,
      Transactions transactions) {
    this.record = record;
    this.transactions = transactions;
    this.feeds = feeds;
    this.catalogues = catalogues;
    this.jobs = jobs;
    this.loading = loading;
    this.forecasting = forecasting;
    jobs.doneBy(loadWork);
    jobs.doneBy(forecastWork);
  }

  /**
   * Begins to load a file.
   *
   * @param content the file as the source delivered it: nothing of it is read before the actor is
   *     known to be allowed to bring it
   * @return the identity of the work; its result is {@link FeedLoading.Loaded}
   * @throws IOException if the file breaks off
   */
  public long load(String sourceKey, String fileName, InputStream content, Actor actor)
      throws IOException {
    var source = source(sourceKey, actor);
    if (source.countsBy().isPresent()) {
      throw Refused.badInput(
          "Whoever is new in %s counts only once that was agreed to, so its records are written one by one, in its form."
              .formatted(source.name()));
    }
    return loadRecord(source, fileName, content, actor);
  }

  /** Begins to load one record that was written here. */
  long loadRecord(Source source, String fileName, InputStream content, Actor actor)
      throws IOException {
    return bring(content, work -> beginLoad(work, new FeedWork(source.key(), fileName), actor));
  }

  private long beginLoad(long work, FeedWork input, Actor actor) {
    return transactions.run(() -> {
      record.bring(input.source(), input.fileName(), actor.login(), work);
      return jobs.begin(work, loadWork, "loading " + input.fileName(), input, actor);
    });
  }

  /**
   * Begins to load the very file that was forecast, without bringing it again.
   *
   * @param forecast the work that forecast it, the actor's own and some hours old at most
   * @return the identity of the work; its result is {@link FeedLoading.Loaded}
   */
  public long loadForecasted(long forecast, Actor actor) {
    Authorization.need(actor, Permission.LOAD_FEEDS);
    return transactions.run(() -> {
      var work = jobs.next();
      jobs.handOn(forecast, forecastWork, work, actor);
      var input = jobs.input(forecast, forecastWork);
      source(input.source(), actor);
      return beginLoad(work, input, actor);
    });
  }

  /**
   * Begins to forecast a file, as {@link #load} would load it. Nothing is kept.
   *
   * @return the identity of the work; its result is {@link FeedForecasting.Forecasted}
   */
  public long forecast(String sourceKey, String fileName, InputStream content, Actor actor)
      throws IOException {
    var source = source(sourceKey, actor);
    return bring(
        content,
        work ->
            jobs.begin(
                work,
                forecastWork,
                "forecasting " + fileName,
                new FeedWork(source.key(), fileName),
                actor));
  }

  private long bring(InputStream content, LongUnaryOperator begin) throws IOException {
    var work = jobs.next();
    jobs.keep(work, content);
    try {
      return begin.applyAsLong(work);
    } catch (RuntimeException failed) {
      jobs.forget(work);
      throw failed;
    }
  }

  /** What the work on a file is given besides the file. */
  public record FeedWork(String source, String fileName) {}

  private final class LoadWork implements LongWork<FeedWork> {
    @Override
    public String kind() {
      return "feed-load";
    }

    @Override
    public Class<FeedWork> input() {
      return FeedWork.class;
    }

    @Override
    public List<Class<?>> results() {
      return List.of(FeedLoading.Loaded.class);
    }

    @Override
    public Object run(FeedWork input, Actor actor, WorkProgress progress) {
      Authorization.need(actor, Permission.LOAD_FEEDS);
      var source = source(input.source(), actor);
      return loading.load(Delivery.of(source, input.fileName(), progress.file(), actor), progress);
    }

    @Override
    public void ended(FeedWork input, long work, boolean done, String sentence) {
      if (!done) {
        record.refuseUnread(work, sentence);
      }
    }
  }

  private final class ForecastWork implements LongWork<FeedWork> {
    @Override
    public String kind() {
      return "feed-forecast";
    }

    @Override
    public Class<FeedWork> input() {
      return FeedWork.class;
    }

    @Override
    public List<Class<?>> results() {
      return List.of(FeedForecasting.Forecasted.class);
    }

    @Override
    public boolean keepsContent() {
      return true;
    }

    @Override
    public Object run(FeedWork input, Actor actor, WorkProgress progress) {
      return forecasting.forecast(source(input.source(), actor), progress.file(), progress);
    }
  }

  private Source source(String key, Actor actor) {
    Authorization.need(actor, Permission.LOAD_FEEDS);
    var sources = catalogues.current().sources();
    var inFiles = sources.values().stream().filter(Source::inFiles).toList();
    if (key.isEmpty() && inFiles.size() == 1) {
      return inFiles.getFirst();
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
