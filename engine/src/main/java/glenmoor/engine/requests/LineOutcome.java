package glenmoor.engine.requests;

import glenmoor.core.access.Entitlement;
import glenmoor.core.access.Grant.Basis;
import glenmoor.core.access.GrantedBy;
import glenmoor.core.provisioning.OperationSearch;
import glenmoor.core.provisioning.OperationView;
import glenmoor.core.requests.AskKind;
import glenmoor.store.access.GrantMapper;
import glenmoor.store.people.PersonRow;
import glenmoor.store.provisioning.AccountMapper;
import glenmoor.store.provisioning.AccountMapper.AccountRow;
import glenmoor.store.provisioning.AccountMapper.HoldingRow;
import glenmoor.store.provisioning.OperationMapper;
import glenmoor.store.requests.RequestMapper.LineRow;
import jakarta.inject.Named;
import java.time.Instant;
import java.util.HashMap;
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/** What a line of a request came to: the grant, and what was seen of it in the applications. */
@Named
public final class LineOutcome {
  /**
   * What has become of one thing that a line gave.
   *
   * @param state confirmed, on its way, by hand while it is somebody's task, fault, or gone
   * @param since when it was seen in the application; null while it was not
   */
  public record Became(String entitlement, String state, @Nullable Instant since) {}

  private final GrantMapper grants;
  private final AccountMapper accounts;
  private final OperationMapper operations;

  LineOutcome(GrantMapper grants, AccountMapper accounts, OperationMapper operations) {
    this.grants = grants;
    this.accounts = accounts;
    this.operations = operations;
  }

  /** The grant that a line came to, or that it has end sooner or later. */
  Optional<GrantMapper.GrantRow> given(LineRow line) {
    var kind = LineEffects.kind(line);
    var about = line.aboutGrant();
    if (!line.state().equals("approved")) {
      return Optional.empty();
    }
    return kind == AskKind.EXTEND || kind == AskKind.REMOVE
        ? Optional.ofNullable(about == null ? null : grants.byId(about))
        : grants
            .alike(
                line.personId(), Basis.REQUEST.word(), new GrantedBy(line.offer(), line.id()).key())
            .stream()
            .findFirst();
  }

  /** What was seen of it in the applications, and where it is stuck. */
  List<Became> became(PersonRow subject, List<Entitlement> gives) {
    var owned = accounts.of(List.of(subject.id()));
    var applications =
        owned.stream().collect(Collectors.toMap(AccountRow::id, AccountRow::application));
    var seen = new HashMap<String, HoldingRow>();
    if (!owned.isEmpty()) {
      accounts
          .holdings(List.copyOf(applications.keySet()))
          .forEach(row -> seen.put(row.entitlement(), row));
    }
    var stuck =
        operations
            .search(
                new OperationSearch(
                    List.of("fault", "task"), null, null, subject.workerNumber(), null, null, 50),
                null)
            .stream()
            .collect(
                Collectors.toMap(
                    OperationView::application, OperationView::state, (one, other) -> one));
    return gives.stream()
        .map(each -> {
          var row = seen.get(each.key());
          if (row != null && row.observed()) {
            return new Became(
                each.key(), row.desired() ? "confirmed" : "on its way out", row.observedSince());
          }
          var at = stuck.get(each.application());
          return new Became(
              each.key(),
              row == null || !row.desired()
                  ? at == null && row != null ? "gone" : at == null ? "on its way" : word(at)
                  : at == null ? "on its way" : word(at),
              null);
        })
        .toList();
  }

  private static String word(String state) {
    return state.equals("task") ? "by hand" : state;
  }
}
