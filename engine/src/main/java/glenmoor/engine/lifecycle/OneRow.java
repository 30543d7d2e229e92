package glenmoor.engine.lifecycle;

import glenmoor.core.authorization.Actor;
import glenmoor.core.jobs.Job;
import glenmoor.core.lifecycle.Source;
import glenmoor.engine.ApiJson;
import glenmoor.engine.Refused;
import glenmoor.engine.jobs.Jobs;
import glenmoor.engine.time.Clock;
import glenmoor.store.lifecycle.FeedMapper;
import jakarta.inject.Named;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.util.List;
import java.util.stream.Collectors;

/** Loads a feed of one row, and waits until it was taken. */
@Named
final class OneRow {
  private static final Duration PATIENCE = Duration.ofSeconds(25);
  private static final Duration LOOK = Duration.ofMillis(15);
  private static final int MOST_REJECTS = 10;

  private final FeedService feeds;
  private final FeedMapper rejects;
  private final Jobs jobs;
  private final Clock clock;

  OneRow(FeedService feeds, FeedMapper rejects, Jobs jobs, Clock clock) {
    this.feeds = feeds;
    this.rejects = rejects;
    this.jobs = jobs;
    this.clock = clock;
  }

  /** Lines of a file as RFC 4180 has them, for a source. */
  static String text(Source source, List<List<String>> lines) {
    return lines.stream()
        .map(cells ->
            cells.stream()
                .map(cell -> "\"" + cell.replace("\"", "\"\"") + "\"")
                .collect(Collectors.joining(String.valueOf(source.separator()), "", "\r\n")))
        .collect(Collectors.joining());
  }

  /**
   * Loads it.
   *
   * @param how it came, a word for the feed's name
   * @throws Refused if it is rejected or held, or others are before it
   */
  FeedLoading.Loaded load(Source source, String how, String text, Actor actor) {
    var name = "%s-%s.csv".formatted(how, clock.instant().toString().replace(':', '-'));
    try {
      var content = new ByteArrayInputStream(text.getBytes(StandardCharsets.UTF_8));
      return taken(awaited(feeds.loadRecord(source, name, content, actor)));
    } catch (IOException impossible) {
      throw new UncheckedIOException(impossible);
    }
  }

  private Job awaited(long work) {
    var until = System.nanoTime() + PATIENCE.toNanos();
    var job = jobs.of(work, Actor.SERVICE);
    while (job.open() && System.nanoTime() < until) {
      try {
        Thread.sleep(LOOK);
      } catch (InterruptedException stopped) {
        Thread.currentThread().interrupt();
        break;
      }
      job = jobs.of(work, Actor.SERVICE);
    }
    return job;
  }

  private FeedLoading.Loaded taken(Job job) {
    if (job.open()) {
      throw new Refused(
          Refused.Reason.TOO_MANY,
          "It is being loaded, and others are before it; send it again in a moment.");
    }
    if (!job.state().equals("done")) {
      throw Refused.badInput(job.sentence());
    }
    var loaded = ApiJson.mapper().readValue(job.result(), FeedLoading.Loaded.class);
    if (loaded.held() != null) {
      throw new Refused(Refused.Reason.NOT_NOW, loaded.sentence());
    }
    if (loaded.rejected() > 0) {
      throw Refused.badInput(
          rejects.rejects(loaded.feed(), 0, MOST_REJECTS).stream()
              .map(reject ->
                  "%s is “%s”; expected is %s"
                      .formatted(reject.columnName(), reject.found(), reject.expected()))
              .collect(Collectors.joining("; ", "", ".")));
    }
    return loaded;
  }
}
