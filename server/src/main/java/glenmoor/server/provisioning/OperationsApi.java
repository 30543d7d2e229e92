package glenmoor.server.provisioning;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.provisioning.OperationSearch;
import glenmoor.core.provisioning.OperationView;
import glenmoor.core.provisioning.RetrySearch;
import glenmoor.engine.provisioning.CauseTexts;
import glenmoor.engine.provisioning.FaultService;
import glenmoor.engine.provisioning.OperationService;
import glenmoor.engine.provisioning.RetryService;
import glenmoor.engine.provisioning.TaskService;
import glenmoor.server.Lists;
import glenmoor.server.authorization.Needs;
import jakarta.validation.Valid;
import jakarta.validation.constraints.NotNull;
import java.time.Instant;
import java.time.LocalDate;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** Operations: what waits, what was done, what failed and what to do about it. */
@RestController
@RequestMapping("/api/v1/operations")
public class OperationsApi {
  /**
   * One operation.
   *
   * @param cause what it follows from, as it is stored
   * @param because the same in a sentence; empty where only one application's faults are listed
   * @param command what it is to bring about, without secrets
   */
  public record Operation(
      long id,
      String application,
      String account,
      String worker,
      String name,
      @Nullable Long event,
      String cause,
      String because,
      int sequence,
      String kind,
      JsonNode command,
      String state,
      int attempts,
      Instant notBefore,
      String reason,
      Instant createdAt,
      @Nullable Instant sentAt,
      @Nullable Instant settledAt,
      String settledBy,
      @Nullable Long supersededBy) {}

  record Reason(@NotNull String reason) {}

  /**
   * Why something need not be done.
   *
   * @param until the last day on which that holds; the usual 90 days where none is given
   */
  record GivingUp(@NotNull String reason, @Nullable LocalDate until) {}

  /**
   * What is decided on several.
   *
   * @param decision {@code retry}, {@code by-hand} or {@code give-up}
   * @param reason not needed to try again
   * @param until with {@code give-up}: the last day on which that holds; the usual 90 days where
   *     none is given
   */
  record Deciding(
      @NotNull List<@NotNull Long> operations,
      @NotNull String decision,
      @Nullable String reason,
      @Nullable LocalDate until) {}

  private final OperationService operations;
  private final FaultService faults;
  private final RetryService retries;
  private final TaskService tasks;
  private final CauseTexts texts;

  OperationsApi(
      OperationService operations,
      FaultService faults,
      RetryService retries,
      TaskService tasks,
      CauseTexts texts) {
    this.tasks = tasks;
    this.texts = texts;
    this.operations = operations;
    this.faults = faults;
    this.retries = retries;
  }

  /** The operation as people may see it. */
  public static Operation operation(OperationView view) {
    return operation(view, Map.of());
  }

  private static Operation operation(OperationView view, Map<String, String> causes) {
    var json = JsonMapper.shared();
    return new Operation(
        view.id(),
        view.application(),
        view.accountName(),
        view.workerNumber(),
        view.personName(),
        view.eventId(),
        view.cause(),
        causes.getOrDefault(view.cause(), ""),
        view.sequence(),
        view.kind(),
        view.kind().equals("set-password")
            ? json.createObjectNode()
            : json.readTree(view.payload()),
        view.state(),
        view.attempts(),
        view.notBefore(),
        view.reason(),
        view.createdAt(),
        view.sentAt(),
        view.settledAt(),
        view.settledBy(),
        view.supersededBy() == 0 ? null : view.supersededBy());
  }

  /**
   * Operations, the newest first.
   *
   * @param state one, or several with commas between them
   */
  @Needs(Permission.SEE_APPLICATIONS)
  @GetMapping
  Lists.Page<Operation> list(
      @RequestParam @Nullable String state,
      @RequestParam @Nullable String kind,
      @RequestParam @Nullable String application,
      @RequestParam @Nullable String worker,
      @RequestParam @Nullable Long event,
      @RequestParam @Nullable String after,
      @RequestParam(defaultValue = Lists.USUAL_LIMIT) int limit,
      Actor actor) {
    var rows =
        operations.search(
            new OperationSearch(
                OperationSearch.states(state),
                kind,
                application,
                worker,
                event,
                Lists.number(after, Long.MAX_VALUE),
                Lists.limit(limit) + 1),
            actor);
    var causes = texts.of(rows.stream().map(OperationView::cause).toList());
    return Lists.page(rows, limit, row -> operation(row, causes), row -> String.valueOf(row.id()));
  }

  @Needs(Permission.SEE_APPLICATIONS)
  @GetMapping("/{id}")
  Operation show(@PathVariable long id, Actor actor) {
    var view = operations.show(id, actor);
    return operation(view, texts.of(List.of(view.cause())));
  }

  /** Tries again: the old operation is superseded, and its person is planned anew. */
  @Needs(Permission.DECIDE_OPERATIONS)
  @PostMapping("/{id}/retry")
  Operation retry(@PathVariable long id, Actor actor) {
    return operation(retries.retry(id, actor));
  }

  /** Says that somebody did it in the application by hand. */
  @Needs(Permission.DECIDE_OPERATIONS)
  @PostMapping("/{id}/by-hand")
  Operation byHand(@PathVariable long id, @Valid @RequestBody Reason body, Actor actor) {
    return operation(faults.byHand(id, body.reason(), actor));
  }

  /** Accepts that it is not done, until a day. */
  @Needs(Permission.DECIDE_OPERATIONS)
  @PostMapping("/{id}/give-up")
  Operation giveUp(@PathVariable long id, @Valid @RequestBody GivingUp body, Actor actor) {
    return operation(faults.giveUp(id, body.reason(), body.until(), actor));
  }

  /** Decides on several faults and tasks at once; each that cannot be decided says why. */
  @Needs(Permission.DECIDE_OPERATIONS)
  @PostMapping("/decide")
  TaskService.Decided decide(@Valid @RequestBody Deciding body, Actor actor) {
    return tasks.decide(
        body.operations(),
        body.decision(),
        body.reason() == null ? "" : body.reason(),
        body.until(),
        actor);
  }

  /**
   * Tries again all faults, and all that waits after a try.
   *
   * @param application only in this one
   * @param kind only of this kind, such as {@code add}
   * @param reason only those of whose reason this is a part
   * @param forecast whether nothing is done and only said what would be
   */
  @Needs(Permission.DECIDE_OPERATIONS)
  @PostMapping("/retry")
  RetryService.Retried retryAll(
      @RequestParam @Nullable String application,
      @RequestParam @Nullable String kind,
      @RequestParam @Nullable String reason,
      @RequestParam(defaultValue = "false") boolean forecast,
      Actor actor) {
    var search = new RetrySearch(application, kind, reason, 0, 0);
    return forecast ? retries.forecastRetry(search, actor) : retries.retryAll(search, actor);
  }
}
