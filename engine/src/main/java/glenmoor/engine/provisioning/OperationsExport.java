package glenmoor.engine.provisioning;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.provisioning.OperationSearch;
import glenmoor.engine.Authorization;
import glenmoor.engine.jobs.ExportedList;
import jakarta.inject.Named;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Consumer;
import org.jspecify.annotations.Nullable;

/** Operations as a file, the newest first. */
@Named
final class OperationsExport implements ExportedList {
  private static final int PAGE = 500;

  private final OperationService operations;

  OperationsExport(OperationService operations) {
    this.operations = operations;
  }

  @Override
  public String name() {
    return "operations";
  }

  @Override
  public Optional<Permission> needs() {
    return Optional.empty();
  }

  @Override
  public List<String> filters() {
    return List.of("state", "kind", "application", "worker");
  }

  @Override
  public void each(Map<String, String> filters, Actor actor, Consumer<List<String>> line) {
    Authorization.applications(actor, Permission.SEE_APPLICATIONS);
    line.accept(
        List.of(
            "operation",
            "created",
            "application",
            "account",
            "worker",
            "name",
            "kind",
            "state",
            "attempts",
            "cause",
            "sent",
            "settled",
            "settled by",
            "reason"));
    @Nullable Long before = null;
    while (true) {
      var page =
          operations.search(
              new OperationSearch(
                  OperationSearch.states(filters.get("state")),
                  filters.get("kind"),
                  filters.get("application"),
                  filters.get("worker"),
                  null,
                  before,
                  PAGE),
              actor);
      for (var each : page) {
        line.accept(
            List.of(
                String.valueOf(each.id()),
                each.createdAt().toString(),
                each.application(),
                each.accountName(),
                each.workerNumber(),
                each.personName(),
                each.kind(),
                each.state(),
                String.valueOf(each.attempts()),
                each.cause(),
                text(each.sentAt()),
                text(each.settledAt()),
                each.settledBy(),
                each.reason()));
      }
      if (page.size() < PAGE) {
        return;
      }
      before = page.getLast().id();
    }
  }

  private static String text(@Nullable Instant at) {
    return at == null ? "" : at.toString();
  }
}
