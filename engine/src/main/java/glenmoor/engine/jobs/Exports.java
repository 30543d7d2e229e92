package glenmoor.engine.jobs;

import de.siegmar.fastcsv.writer.CsvWriter;
import glenmoor.core.authorization.Actor;
import glenmoor.engine.Authorization;
import glenmoor.engine.Refused;
import glenmoor.engine.Spreadsheets;
import jakarta.inject.Named;
import java.io.IOException;
import java.io.OutputStreamWriter;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.function.Function;
import java.util.stream.Collectors;

/** Whole lists as CSV files (RFC 4180), written as long work and kept for some hours. */
@Named
public final class Exports {
  private static final int TELL = 5_000;

  /** Which list, and what of it. */
  public record Export(String list, Map<String, String> filters) {}

  /** A file that was written; it lies with the work. */
  public record Exported(String fileName, int rows) {}

  private final Map<String, ExportedList> lists;
  private final Jobs jobs;
  private final Exporting exporting = new Exporting();

  public Exports(List<ExportedList> lists, Jobs jobs) {
    this.lists =
        new TreeMap<>(
            lists.stream().collect(Collectors.toMap(ExportedList::name, Function.identity())));
    this.jobs = jobs;
    jobs.doneBy(exporting);
  }

  /**
   * Begins to export a list.
   *
   * @return the identity of the work; its result is {@link Exported}
   * @throws Refused if there is no such list or filter
   */
  public long begin(Export export, Actor actor) {
    var list = list(export.list());
    list.needs().ifPresent(permission -> Authorization.need(actor, permission));
    for (var filter : export.filters().keySet()) {
      if (!list.filters().contains(filter)) {
        throw Refused.badInput(
            "The list of %s has no filter “%s”; there are %s."
                .formatted(list.name(), filter, String.join(", ", list.filters())));
      }
    }
    return jobs.begin(exporting, "exporting " + list.name(), export, actor);
  }

  private ExportedList list(String name) {
    var list = lists.get(name);
    if (list == null) {
      throw Refused.badInput(
          "There is no list “%s” to export; there are %s."
              .formatted(name, String.join(", ", lists.keySet())));
    }
    return list;
  }

  private final class Exporting implements LongWork<Export> {
    @Override
    public String kind() {
      return "export";
    }

    @Override
    public Class<Export> input() {
      return Export.class;
    }

    @Override
    public List<Class<?>> results() {
      return List.of(Exported.class);
    }

    @Override
    public boolean keepsContent() {
      return true;
    }

    @Override
    public String whenCancelled() {
      return "It was cancelled, and no file was kept.";
    }

    @Override
    public Object run(Export export, Actor actor, WorkProgress progress) {
      var written = new AtomicInteger(-1);
      try (var out = new OutputStreamWriter(progress.output(), StandardCharsets.UTF_8);
          var csv = CsvWriter.builder().build(out)) {
        list(export.list())
            .each(
                export.filters(),
                actor,
                line -> {
                  csv.writeRecord(line.stream().map(Spreadsheets::harmless).toList());
                  if (written.incrementAndGet() % TELL == 0) {
                    progress.at(0, 0, "%,d rows written".formatted(written.get()));
                  }
                });
      } catch (IOException failed) {
        throw new UncheckedIOException(failed);
      }
      return new Exported(export.list() + ".csv", written.get());
    }
  }
}
