package glenmoor.server.provisioning;

import glenmoor.engine.people.Actor;
import glenmoor.engine.provisioning.OperationDesk;
import glenmoor.server.Lists;
import glenmoor.store.provisioning.OperationMapper.OperationSearch;
import glenmoor.store.provisioning.OperationMapper.OperationView;
import java.time.Instant;
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
  /** One operation; {@code order} is what it is to bring about, without secrets. */
  public record Operation(
      long id,
      String application,
      String account,
      String worker,
      String name,
      @Nullable Long event,
      String cause,
      int sequence,
      String kind,
      JsonNode order,
      String state,
      int attempts,
      Instant notBefore,
      String reason,
      Instant createdAt,
      @Nullable Instant sentAt,
      @Nullable Instant settledAt,
      String settledBy) {}

  record Reason(String reason) {}

  /** How many faults are tried again. */
  record Retried(int operations) {}

  private final OperationDesk operations;

  OperationsApi(OperationDesk operations) {
    this.operations = operations;
  }

  /** The operation as people may see it. */
  public static Operation operation(OperationView view) {
    var json = JsonMapper.shared();
    return new Operation(
        view.id(),
        view.application(),
        view.accountName(),
        view.workerNumber(),
        view.personName(),
        view.eventId(),
        view.cause(),
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
        view.settledBy());
  }

  @GetMapping
  Lists.Page<Operation> list(
      @RequestParam @Nullable String state,
      @RequestParam @Nullable String application,
      @RequestParam @Nullable String worker,
      @RequestParam @Nullable Long event,
      @RequestParam @Nullable String after,
      @RequestParam(defaultValue = Lists.USUAL_LIMIT) int limit,
      Actor actor) {
    var rows =
        operations.search(
            new OperationSearch(
                state,
                application,
                worker,
                event,
                Lists.number(after, Long.MAX_VALUE),
                Lists.limit(limit) + 1),
            actor);
    return Lists.page(rows, limit, OperationsApi::operation, row -> String.valueOf(row.id()));
  }

  @GetMapping("/{id}")
  Operation show(@PathVariable long id, Actor actor) {
    return operation(operations.show(id, actor));
  }

  /** Tries a fault again. */
  @PostMapping("/{id}/retry")
  Operation retry(@PathVariable long id, Actor actor) {
    return operation(operations.retry(id, actor));
  }

  /** Says that somebody did it in the application by hand. */
  @PostMapping("/{id}/by-hand")
  Operation byHand(@PathVariable long id, @RequestBody Reason body, Actor actor) {
    return operation(operations.byHand(id, body.reason(), actor));
  }

  /** Says that it need not be done. */
  @PostMapping("/{id}/give-up")
  Operation giveUp(@PathVariable long id, @RequestBody Reason body, Actor actor) {
    return operation(operations.giveUp(id, body.reason(), actor));
  }

  /** Tries all faults again, of one application or of all. */
  @PostMapping("/retry")
  Retried retryAll(@RequestParam @Nullable String application, Actor actor) {
    return new Retried(operations.retryAll(application, actor));
  }
}
