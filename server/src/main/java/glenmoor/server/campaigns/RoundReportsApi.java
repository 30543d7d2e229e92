package glenmoor.server.campaigns;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.engine.campaigns.RoundReports;
import glenmoor.engine.campaigns.RoundReports.RoundReport;
import glenmoor.server.authorization.Needs;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;
import org.springframework.web.servlet.mvc.method.annotation.StreamingResponseBody;

/** The evidence of rounds, for auditors. */
@RestController
@RequestMapping("/api/v1/rounds/{id}")
class RoundReportsApi {
  private final RoundReports reports;

  RoundReportsApi(RoundReports reports) {
    this.reports = reports;
  }

  /** What was looked through, who signed what, and what became of it; without its items. */
  @Needs(Permission.SEE_CAMPAIGNS)
  @GetMapping("/report")
  RoundReport report(@PathVariable long id, Actor actor) {
    return reports.of(id, actor);
  }

  /** All items, a line each. */
  @Needs(Permission.SEE_CAMPAIGNS)
  @GetMapping(value = "/report.csv", produces = "text/csv")
  ResponseEntity<StreamingResponseBody> csv(@PathVariable long id, Actor actor) {
    var files = files(id, actor);
    return written(id, "csv", "text/csv;charset=UTF-8", files::csv);
  }

  /** What it comes to, who signed what, and all items, a sheet each. */
  @Needs(Permission.SEE_CAMPAIGNS)
  @GetMapping(
      value = "/report.xlsx",
      produces = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet")
  ResponseEntity<StreamingResponseBody> xlsx(@PathVariable long id, Actor actor) {
    var files = files(id, actor);
    return written(
        id,
        "xlsx",
        "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
        files::xlsx);
  }

  /** The same to be read. */
  @Needs(Permission.SEE_CAMPAIGNS)
  @GetMapping(value = "/report.pdf", produces = "application/pdf")
  ResponseEntity<StreamingResponseBody> pdf(@PathVariable long id, Actor actor) {
    var files = files(id, actor);
    return written(id, "pdf", "application/pdf", files::pdf);
  }

  private ReportFiles files(long id, Actor actor) {
    return new ReportFiles(reports.of(id, actor), each -> reports.items(id, actor, each));
  }

  private static ResponseEntity<StreamingResponseBody> written(
      long id, String ending, String type, StreamingResponseBody body) {
    return ResponseEntity.ok()
        .header("Content-Disposition", "attachment; filename=\"round-%d.%s\"".formatted(id, ending))
        .contentType(MediaType.parseMediaType(type))
        .body(body);
  }
}
