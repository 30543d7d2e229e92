package glenmoor.engine.requests;

import glenmoor.core.access.Catalogue;
import glenmoor.core.access.Entitlement;
import glenmoor.core.applications.AccountState;
import glenmoor.engine.applications.Seats;
import glenmoor.store.provisioning.AccountMapper;
import jakarta.inject.Named;
import java.util.Collection;
import java.util.List;
import java.util.stream.Collectors;

/** What seats somebody would take with something that is asked for. */
@Named
public final class AskedSeats {
  /**
   * The seats of one application.
   *
   * @param free how many are left
   * @param takes whether this would take one: nobody takes a second
   */
  public record SeatsLeft(String application, String name, int seats, int free, boolean takes) {}

  private final Seats seats;
  private final AccountMapper accounts;

  AskedSeats(Seats seats, AccountMapper accounts) {
    this.seats = seats;
    this.accounts = accounts;
  }

  /** Of the applications that count seats, among those in which something is given. */
  List<SeatsLeft> of(long person, Collection<Entitlement> gives, Catalogue catalogue) {
    var counted =
        seats.of(
            gives.stream().map(Entitlement::application).collect(Collectors.toSet()), catalogue);
    if (counted.isEmpty()) {
      return List.of();
    }
    var sits =
        accounts.of(List.of(person)).stream()
            .filter(row ->
                row.state().equals(AccountState.ENABLED.word())
                    || row.seenState().equals(AccountState.ENABLED.word()))
            .map(AccountMapper.AccountRow::application)
            .collect(Collectors.toSet());
    return counted.stream()
        .map(each ->
            new SeatsLeft(
                each.application(),
                each.name(),
                each.seats(),
                each.free(),
                !sits.contains(each.application())))
        .toList();
  }
}
