package glenmoor.engine.applications;

import glenmoor.core.access.Catalogue;
import glenmoor.core.applications.Application;
import glenmoor.core.forecast.Forecast;
import glenmoor.core.people.ValueCount;
import glenmoor.engine.definitions.ForecastWarnings;
import glenmoor.store.provisioning.AccountMapper;
import jakarta.inject.Named;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;

/**
 * How many seats of applications are taken: one by each account that is enabled there, or is about
 * to be.
 */
@Named
public final class Seats implements ForecastWarnings {
  /** Of one application that counts them. */
  public record SeatsTaken(String application, String name, int seats, int taken) {
    /** How many are free; none where more are taken than there are. */
    public int free() {
      return Math.max(0, seats - taken);
    }
  }

  private final AccountMapper accounts;

  Seats(AccountMapper accounts) {
    this.accounts = accounts;
  }

  /** Of those among some applications that count seats, by their keys. */
  public List<SeatsTaken> of(Collection<String> applications, Catalogue catalogue) {
    var counted =
        catalogue.applications().stream()
            .filter(each -> applications.contains(each.key()) && each.seats().isPresent())
            .toList();
    if (counted.isEmpty()) {
      return List.of();
    }
    var taken = taken(counted);
    return counted.stream()
        .map(each ->
            new SeatsTaken(
                each.key(),
                each.name(),
                each.seats().orElseThrow(),
                taken.getOrDefault(each.key(), 0)))
        .toList();
  }

  private Map<String, Integer> taken(List<Application> applications) {
    return accounts.countEnabled(applications.stream().map(Application::key).toList()).stream()
        .collect(Collectors.toMap(ValueCount::value, ValueCount::people));
  }

  /** Says where more would be taken than there are, and were not before. */
  @Override
  public List<String> of(Forecast.Sum forecast, Catalogue after) {
    var said = new ArrayList<String>();
    for (var each : of(forecast.accounts().keySet(), after)) {
      var balance = forecast.accounts().get(each.application());
      var would = balance == null ? 0 : each.taken() + balance.gains() - balance.losses();
      if (balance != null && balance.gains() > balance.losses() && would > each.seats()) {
        said.add(
            "%s would need %,d seats and has %,d.".formatted(each.name(), would, each.seats()));
      }
    }
    return said;
  }
}
