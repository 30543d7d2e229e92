package glenmoor.engine.conflicts;

import glenmoor.core.access.Catalogue;
import glenmoor.core.conflicts.ConflictRule;
import glenmoor.core.conflicts.ConflictRuleKind;
import glenmoor.core.forecast.Forecast;
import glenmoor.engine.definitions.ForecastWarnings;
import jakarta.inject.Named;
import java.util.List;
import java.util.Optional;

/** Says for how many people definitions would break a conflict rule. */
@Named
final class ConflictsForecast implements ForecastWarnings {
  @Override
  public List<String> of(Forecast.Sum forecast, Catalogue after) {
    var rules = after.defined().all(ConflictRuleKind.class);
    return forecast.conflicts().entrySet().stream()
        .map(each ->
            "%s would break “%s”."
                .formatted(
                    each.getValue() == 1 ? "1 person" : "%,d people".formatted(each.getValue()),
                    Optional.ofNullable(rules.get(each.getKey()))
                        .map(ConflictRule::name)
                        .orElse(each.getKey())))
        .toList();
  }
}
