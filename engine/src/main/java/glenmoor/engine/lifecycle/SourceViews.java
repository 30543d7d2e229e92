package glenmoor.engine.lifecycle;

import de.siegmar.fastcsv.writer.CsvWriter;
import glenmoor.connect.applications.Connector.CannotRead;
import glenmoor.connect.applications.Settings;
import glenmoor.connect.applications.SqlRows;
import glenmoor.core.agenda.Schedule;
import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.lifecycle.Source;
import glenmoor.engine.Authorization;
import glenmoor.engine.Refused;
import glenmoor.engine.applications.ConnectorSettings;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.jobs.Jobs;
import glenmoor.engine.jobs.RecurringJob;
import glenmoor.engine.jobs.Schedules;
import glenmoor.store.lifecycle.WatermarkMapper;
import jakarta.inject.Named;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import tools.jackson.databind.json.JsonMapper;

/**
 * Reads sources that are views of a database: what it gives is written as a file, and loaded like
 * any other, with all checks and brakes.
 *
 * <p>How far a view was read is kept only once all that was read has been taken: after rows were
 * rejected, or what was read was held, refused or lost on its way, it is read again from where it
 * was. Reading the same rows twice changes nothing.
 */
@Named
public final class SourceViews implements RecurringJob.Owner {
  private static final Logger LOG = LoggerFactory.getLogger(SourceViews.class);

  private final DropFolders drops;
  private final FeedService feeds;
  private final Catalogues catalogues;
  private final Schedules schedules;
  private final Jobs jobs;
  private final WatermarkMapper watermarks;
  private final ConnectorSettings settings;

  public SourceViews(
      DropFolders drops,
      FeedService feeds,
      Catalogues catalogues,
      Schedules schedules,
      Jobs jobs,
      WatermarkMapper watermarks,
      ConnectorSettings settings) {
    this.drops = drops;
    this.feeds = feeds;
    this.catalogues = catalogues;
    this.schedules = schedules;
    this.jobs = jobs;
    this.watermarks = watermarks;
    this.settings = settings;
  }

  @Override
  public List<RecurringJob> recurring() {
    return List.of(
        new RecurringJob(
            "views",
            "reads sources that are views of a database, when they are due",
            Duration.ofMinutes(1),
            this::scheduled));
  }

  /** Reads what is due. */
  void scheduled() {
    var wanted = new TreeMap<String, Schedule>();
    for (var source : catalogues.current().sources().values()) {
      source.view().flatMap(Source.View::at).ifPresent(at -> wanted.put(source.key(), at));
    }
    var due = new ArrayList<String>();
    schedules.due("view", wanted, due::add);
    for (var key : due) {
      try {
        collect(key, Actor.SERVICE);
      } catch (Refused refused) {
        LOG.warn("The view of {} was not read: {}", key, refused.getMessage());
      }
    }
  }

  /**
   * Begins to load what a source has now: the rows of its view, or the files in its drop directory.
   *
   * @throws Refused if it has neither, or it cannot be read
   */
  public Collected collect(String key, Actor actor) {
    Authorization.need(actor, Permission.LOAD_FEEDS);
    var source = catalogues.current().sources().get(key);
    var view = source == null ? null : source.view().orElse(null);
    return source == null || view == null ? drops.collect(key, actor) : read(source, view, actor);
  }

  private Collected read(Source source, Source.View view, Actor actor) {
    var taken = taken(source, view);
    Path file = null;
    try {
      file = Files.createTempFile("glenmoor-view-", ".csv");
      var read = write(source, view, taken, file);
      if (read.rows() == 0 && view.watermark().isPresent()) {
        return new Collected(source.key(), List.of());
      }
      var name = source.key() + "-view.csv";
      long work;
      try (var content = Files.newInputStream(file)) {
        work = feeds.load(source.key(), name, content, actor);
      }
      if (view.watermark().isPresent()) {
        watermarks.put(source.key(), taken, read.watermark(), work);
      }
      return new Collected(source.key(), List.of(new Collected.Begun(name, work)));
    } catch (Settings.BadSetting | CannotRead failed) {
      throw new Refused(
          Refused.Reason.NOT_NOW,
          "%s cannot be read. %s".formatted(source.name(), failed.getMessage()));
    } catch (IOException failed) {
      throw new UncheckedIOException(failed);
    } finally {
      forget(file);
    }
  }

  private static void forget(@Nullable Path file) {
    try {
      if (file != null) {
        Files.deleteIfExists(file);
      }
    } catch (IOException kept) {
      LOG.warn("{} could not be removed", file, kept);
    }
  }

  /** How far the view was taken; what was read the last time counts once it was loaded. */
  private String taken(Source source, Source.View view) {
    var known = watermarks.of(source.key());
    if (known == null || view.watermark().isEmpty()) {
      return view.since();
    }
    var pending = known.pending();
    var work = known.pendingWork();
    if (pending != null && work != null && isLoaded(source, work)) {
      watermarks.put(source.key(), pending, null, null);
      return pending;
    }
    return known.value();
  }

  private boolean isLoaded(Source source, long work) {
    try {
      var job = jobs.of(work, Actor.SERVICE);
      if (job.open()) {
        throw new Refused(
            Refused.Reason.NOT_NOW,
            "What was read of %s the last time is still being loaded; follow it with glenmoor work follow %d."
                .formatted(source.name(), work));
      }
      if (!job.state().equals("done")) {
        return false;
      }
      var loaded = JsonMapper.shared().readTree(job.result());
      return loaded.path("held").isNull() && loaded.path("rejected").asInt() == 0;
    } catch (Refused unknown) {
      if (unknown.reason() == Refused.Reason.NOT_NOW) {
        throw unknown;
      }
      return false;
    }
  }

  private record Read(int rows, String watermark) {}

  private Read write(Source source, Source.View view, String taken, Path file) throws IOException {
    try (var writer =
        CsvWriter.builder()
            .fieldSeparator(source.separator())
            .build(file, StandardCharsets.UTF_8)) {
      var rows = new Writing(writer, taken);
      SqlRows.read(
          source.key(),
          view.settings(),
          settings.environment(),
          view.select(),
          view.watermark().isPresent() ? Map.of(Source.View.WATERMARK, taken) : Map.of(),
          view.watermark().orElse(null),
          rows);
      return new Read(rows.number, rows.watermark());
    }
  }

  /** Writes rows as they come, and remembers the highest watermark. */
  private static final class Writing implements SqlRows.Rows {
    private final CsvWriter writer;
    private final String before;
    private int number;
    private @Nullable Comparable<?> highest;

    Writing(CsvWriter writer, String before) {
      this.writer = writer;
      this.before = before;
    }

    @Override
    public void heading(List<String> columns) {
      writer.writeRecord(columns);
    }

    @Override
    public void row(List<String> fields, @Nullable Comparable<?> watermark) {
      writer.writeRecord(fields);
      number++;
      if (watermark != null && (highest == null || isHigher(watermark, highest))) {
        highest = watermark;
      }
    }

    /** All values of one column are of one class. */
    @SuppressWarnings({"unchecked", "rawtypes"})
    private static boolean isHigher(Comparable one, Comparable other) {
      return one.compareTo(other) > 0;
    }

    String watermark() {
      return highest == null ? before : highest.toString();
    }
  }
}
