package glenmoor.server.jobs;

import glenmoor.core.authorization.Actor;
import glenmoor.engine.jobs.Exports;
import glenmoor.engine.jobs.Jobs;
import glenmoor.server.authorization.ForEverybody;
import glenmoor.server.jobs.ProgressApi.Work;
import jakarta.validation.Valid;
import jakarta.validation.constraints.NotNull;
import java.nio.charset.StandardCharsets;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;
import org.springframework.web.servlet.mvc.method.annotation.StreamingResponseBody;

/** Whole lists as files: written as long work, and fetched once they are. */
@RestController
@RequestMapping("/api/v1")
class ExportsApi {
  /**
   * What to export.
   *
   * @param list {@code people}, {@code operations} or {@code ledger}
   * @param filters as the list itself takes them, by name
   */
  record Export(@NotNull String list, @Nullable Map<String, @NotNull String> filters) {}

  private final Exports exports;
  private final Jobs jobs;
  private final ProgressApi progress;

  ExportsApi(Exports exports, Jobs jobs, ProgressApi progress) {
    this.exports = exports;
    this.jobs = jobs;
    this.progress = progress;
  }

  /** Begins to write a list to a file; what is in it is what the asker may see. */
  @ForEverybody
  @PostMapping("/exports")
  ResponseEntity<Work> begin(@Valid @RequestBody Export export, Actor actor) {
    var filters = export.filters();
    var asked = new Exports.Export(export.list(), filters == null ? Map.of() : filters);
    return progress.accepted(exports.begin(asked, actor), actor);
  }

  /** The file that work came to (RFC 4180), for whoever asked for it. */
  @ForEverybody
  @GetMapping(value = "/progress/{id}/file", produces = "text/csv")
  ResponseEntity<StreamingResponseBody> file(@PathVariable long id, Actor actor) {
    var content = jobs.file(id, actor);
    return ResponseEntity.ok()
        .header("Content-Disposition", "attachment; filename=\"glenmoor-%d.csv\"".formatted(id))
        .contentType(new MediaType("text", "csv", StandardCharsets.UTF_8))
        .body(out -> {
          try (content) {
            content.transferTo(out);
          }
        });
  }
}
