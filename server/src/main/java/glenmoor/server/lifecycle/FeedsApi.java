package glenmoor.server.lifecycle;

import de.siegmar.fastcsv.writer.CsvWriter;
import glenmoor.core.agenda.Schedule;
import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.lifecycle.KeptFeed;
import glenmoor.core.lifecycle.RejectedRow;
import glenmoor.core.lifecycle.Source;
import glenmoor.engine.Spreadsheets;
import glenmoor.engine.lifecycle.Collected;
import glenmoor.engine.lifecycle.FeedService;
import glenmoor.engine.lifecycle.SourceViews;
import glenmoor.server.Lists;
import glenmoor.server.authorization.Needs;
import glenmoor.server.jobs.ProgressApi;
import glenmoor.server.jobs.ProgressApi.Work;
import io.swagger.v3.oas.annotations.media.Content;
import io.swagger.v3.oas.annotations.media.Schema;
import io.swagger.v3.oas.annotations.parameters.RequestBody;
import jakarta.servlet.http.HttpServletRequest;
import java.io.IOException;
import java.io.OutputStreamWriter;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;
import org.springframework.web.servlet.mvc.method.annotation.StreamingResponseBody;
import tools.jackson.databind.json.JsonMapper;

/** Feeds: loading them, forecasting them, and what was rejected. */
@RestController
@RequestMapping("/api/v1")
class FeedsApi {
  /** One delivery, with its events counted by kind. */
  record Feed(
      long id,
      String source,
      String fileName,
      String state,
      String sentence,
      int rowsRead,
      int rowsRejected,
      Map<String, Integer> events,
      Instant startedAt,
      @Nullable Instant endedAt,
      String loadedBy,
      @Nullable Long heldChange) {}

  /**
   * A source, as far as choosing one needs.
   *
   * @param drop the directory into which its files are dropped; null without one
   * @param view whether it is read from a database; where it has neither, somebody brings files
   * @param at when either is looked into by itself
   * @param missingAfter after how many full feeds in a row without them somebody has left
   */
  record SourceShown(
      String key,
      String name,
      String mode,
      @Nullable String drop,
      boolean view,
      @Nullable String push,
      boolean form,
      @Nullable String at,
      int missingAfter) {}

  private final FeedService feeds;
  private final SourceViews views;
  private final ProgressApi progress;

  FeedsApi(FeedService feeds, SourceViews views, ProgressApi progress) {
    this.views = views;
    this.feeds = feeds;
    this.progress = progress;
  }

  static Feed feed(KeptFeed row) {
    var events = new TreeMap<String, Integer>();
    JsonMapper.shared()
        .readTree(row.counts())
        .properties()
        .forEach(entry -> events.put(entry.getKey(), entry.getValue().asInt()));
    return new Feed(
        row.id(),
        row.source(),
        row.fileName(),
        row.state(),
        row.sentence(),
        row.rowsRead(),
        row.rowsRejected(),
        events,
        row.startedAt(),
        row.endedAt(),
        row.loadedBy(),
        row.heldChange() == 0 ? null : row.heldChange());
  }

  /** The body is the file itself; with {@code forecast} nothing is kept. */
  @Needs(Permission.LOAD_FEEDS)
  @PostMapping(
      value = "/feeds",
      consumes = {"text/csv", "application/octet-stream"})
  @RequestBody(
      content = @Content(mediaType = "text/csv", schema = @Schema(type = "string")),
      description = "The file, as the source delivered it")
  ResponseEntity<Work> load(
      @RequestParam(defaultValue = "") String source,
      @RequestParam(defaultValue = "feed.csv") String fileName,
      @RequestParam(defaultValue = "false") boolean forecast,
      HttpServletRequest request,
      Actor actor)
      throws IOException {
    var file = request.getInputStream();
    return progress.accepted(
        forecast
            ? feeds.forecast(source, fileName, file, actor)
            : feeds.load(source, fileName, file, actor),
        actor);
  }

  /**
   * Loads the very file that was forecast.
   *
   * @param id the work that forecast it
   */
  @Needs(Permission.LOAD_FEEDS)
  @PostMapping("/feeds/forecasts/{id}/load")
  ResponseEntity<Work> loadForecasted(@PathVariable long id, Actor actor) {
    return progress.accepted(feeds.loadForecasted(id, actor), actor);
  }

  @Needs(Permission.SEE_FEEDS)
  @GetMapping("/feeds")
  Lists.Page<Feed> list(
      @RequestParam @Nullable String after,
      @RequestParam(defaultValue = Lists.USUAL_LIMIT) int limit,
      Actor actor) {
    var rows = feeds.list(Lists.number(after, Long.MAX_VALUE), Lists.limit(limit) + 1, actor);
    return Lists.page(rows, limit, FeedsApi::feed, row -> String.valueOf(row.id()));
  }

  @Needs(Permission.SEE_FEEDS)
  @GetMapping("/feeds/{id}")
  Feed show(@PathVariable long id, Actor actor) {
    return feed(feeds.show(id, actor));
  }

  @Needs(Permission.SEE_FEEDS)
  @GetMapping(value = "/feeds/{id}/rejects", produces = MediaType.APPLICATION_JSON_VALUE)
  Lists.Page<RejectedRow> rejects(
      @PathVariable long id,
      @RequestParam @Nullable String after,
      @RequestParam(defaultValue = Lists.USUAL_LIMIT) int limit,
      Actor actor) {
    var rows = feeds.rejects(id, (int) Lists.number(after, 0), Lists.limit(limit) + 1, actor);
    return Lists.page(rows, limit, row -> row, row -> String.valueOf(row.number()));
  }

  /** All rejected rows, as a file (RFC 4180). */
  @Needs(Permission.SEE_FEEDS)
  @GetMapping(value = "/feeds/{id}/rejects.csv", produces = "text/csv")
  ResponseEntity<StreamingResponseBody> rejectsFile(@PathVariable long id, Actor actor) {
    feeds.show(id, actor);
    return ResponseEntity.ok()
        .header("Content-Disposition", "attachment; filename=\"feed-%d-rejects.csv\"".formatted(id))
        .contentType(new MediaType("text", "csv", StandardCharsets.UTF_8))
        .body(out -> {
          try (var writer =
              CsvWriter.builder().build(new OutputStreamWriter(out, StandardCharsets.UTF_8))) {
            writer.writeRecord("line", "worker", "column", "found", "expected");
            feeds.eachReject(
                id,
                actor,
                row ->
                    writer.writeRecord(
                        String.valueOf(row.line()),
                        Spreadsheets.harmless(row.worker()),
                        Spreadsheets.harmless(row.columnName()),
                        Spreadsheets.harmless(row.found()),
                        Spreadsheets.harmless(row.expected())));
          }
        });
  }

  @Needs(Permission.SEE_FEEDS)
  @GetMapping("/sources")
  List<SourceShown> sources(Actor actor) {
    return feeds.sources(actor).stream()
        .map(each ->
            new SourceShown(
                each.key(),
                each.name(),
                each.mode().word(),
                each.drop().map(Source.Drop::directory).orElse(null),
                each.view().isPresent(),
                each.push().orElse(null),
                each.form(),
                each.drop()
                    .flatMap(Source.Drop::at)
                    .or(() -> each.view().flatMap(Source.View::at))
                    .map(Schedule::toString)
                    .orElse(null),
                each.missingAfter()))
        .toList();
  }

  /**
   * Begins to load what a source has now: the rows of its view, or what lies in its drop directory.
   */
  @Needs(Permission.LOAD_FEEDS)
  @PostMapping("/sources/{key}/collect")
  Collected collect(@PathVariable String key, Actor actor) {
    return views.collect(key, actor);
  }
}
