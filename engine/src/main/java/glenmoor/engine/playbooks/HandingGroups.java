package glenmoor.engine.playbooks;

import glenmoor.core.applications.Ability;
import glenmoor.core.applications.Application;
import glenmoor.core.playbooks.RunState.Outcome;
import glenmoor.core.provisioning.ProvisioningCommand;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.letters.Occasion;
import glenmoor.engine.provisioning.SingleOrders;
import glenmoor.store.provisioning.OperationMapper;
import jakarta.inject.Named;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.stream.Collectors;

/**
 * Groups in a directory that somebody looks after: where the definition says by which attribute a
 * group names its owner, they go to the manager's account there.
 */
@Named
final class HandingGroups {
  private static final String OWNER_ATTRIBUTE = "owner-attribute";
  private static final List<String> WAITING = List.of("waiting", "task", "fault");
  private static final List<String> DONE = List.of("confirmed", "by-hand");

  /** So many operations are remembered with a step. */
  private static final int MOST = 5;

  private final SingleOrders orders;
  private final OperationMapper operations;
  private final Catalogues catalogues;

  HandingGroups(SingleOrders orders, OperationMapper operations, Catalogues catalogues) {
    this.orders = orders;
    this.operations = operations;
    this.catalogues = catalogues;
  }

  /** Where groups have owners, and the person and their manager have accounts. */
  private List<Application> where(Occasion about) {
    return about.manager().isEmpty()
        ? List.of()
        : catalogues.current().applications().stream()
            .filter(each -> each.can(Ability.OWNED_GROUPS))
            .filter(each -> each.settings().containsKey(OWNER_ATTRIBUTE))
            .filter(each -> orders.hasAccount(about.row(), each.key()))
            .filter(each -> orders.hasAccount(about.manager().get(), each.key()))
            .limit(MOST)
            .toList();
  }

  /**
   * Has the groups handed over, after what is looked after here was.
   *
   * @param here what was done here
   */
  Did handOver(Outcome.Done here, StepContext context) {
    var about = context.about();
    var queued = new ArrayList<String>();
    for (var application : where(about)) {
      orders
          .queue(
              about.row(),
              application.key(),
              new ProvisioningCommand.HandOver(about.manager().orElseThrow().workerNumber()),
              context.cause())
          .ifPresent(found -> queued.add(String.valueOf(found.operation())));
    }
    return queued.isEmpty()
        ? Did.of(here)
        : new Did(new Outcome.NotYet(context.again(), here.what()), String.join(" ", queued), null);
  }

  /** What has come of it. */
  Did followed(StepContext context) {
    var all =
        Arrays.stream(context.step().reference().split(" "))
            .map(each -> operations.view(Long.parseLong(each)))
            .toList();
    var here = context.step().what();
    if (all.stream().anyMatch(each -> each != null && WAITING.contains(each.state()))) {
      return Did.of(new Outcome.NotYet(context.again(), here));
    }
    var failed =
        all.stream()
            .filter(each -> each == null || !DONE.contains(each.state()))
            .map(each -> each == null ? "an operation that is not there" : each.application())
            .collect(Collectors.joining(", "));
    return failed.isEmpty()
        ? Did.done(
            here
                + all.stream()
                    .filter(each -> !each.reason().isBlank())
                    .map(each -> "; in %s %s".formatted(each.application(), each.reason()))
                    .collect(Collectors.joining()))
        : Did.failed("%s; groups were not handed over in %s.".formatted(here, failed));
  }

  /** A sentence about what it would do, with a blank before it; empty for nothing. */
  String would(Occasion about) {
    var where = where(about);
    return where.isEmpty()
        ? ""
        : " Groups in %s that they look after go to %s."
            .formatted(
                where.stream().map(Application::name).collect(Collectors.joining(", ")),
                about.manager().orElseThrow().name());
  }
}
