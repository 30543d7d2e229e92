package glenmoor.server.playbooks;

import java.util.Map;
import java.util.stream.Collectors;

/**
 * A step as its playbook says it.
 *
 * @param does what it does, the word it begins with
 * @param what to what, such as the key of a letter
 * @param at when, as seen from the day the run is about; empty as soon as the step before is done
 * @param more the rest of it
 */
record StepSaid(String does, String what, String at, Map<String, String> more) {
  static StepSaid of(Map<String, Object> said) {
    var first = said.entrySet().iterator().next();
    return new StepSaid(
        first.getKey(),
        String.valueOf(first.getValue()),
        String.valueOf(said.getOrDefault("at", "")),
        said.entrySet().stream()
            .filter(each -> !each.getKey().equals(first.getKey()) && !each.getKey().equals("at"))
            .collect(Collectors.toMap(Map.Entry::getKey, each -> String.valueOf(each.getValue()))));
  }
}
