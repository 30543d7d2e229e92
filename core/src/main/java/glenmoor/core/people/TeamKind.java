package glenmoor.core.people;

import com.google.auto.service.AutoService;
import glenmoor.core.definitions.Concern;
import glenmoor.core.definitions.Defined;
import glenmoor.core.definitions.DefinitionKind;
import glenmoor.core.definitions.Reading;
import glenmoor.core.definitions.Tree;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;

/** {@code team: yard-office}: people who approve or carry out tasks together. */
@AutoService(DefinitionKind.class)
public final class TeamKind implements DefinitionKind<Team> {
  @Override
  public String word() {
    return "team";
  }

  @Override
  public KeyRule keys() {
    return PLAIN_KEY;
  }

  @Override
  public Set<String> refersTo() {
    return Set.of();
  }

  /** Conditions can name the teams that somebody is in, so its members' plans follow it. */
  @Override
  public Concern concern(String key, Tree.Fields body) {
    return Concern.workers(members(body));
  }

  /** Only who is in it takes part in planning, not how it is called. */
  @Override
  public boolean plansLike(Tree.Fields before, Tree.Fields after) {
    return members(before).equals(members(after));
  }

  private static Set<String> members(Tree.Fields body) {
    return body.texts("members").stream().map(WorkerNumber::key).collect(Collectors.toSet());
  }

  @Override
  public Optional<Team> read(String key, Reading reading, Defined known) {
    var members = reading.texts("members");
    if (members.isEmpty()) {
      reading.problem(
          reading.place("members"), "members is empty: say the worker numbers of who is in it.");
    }
    for (var member : members) {
      if (WorkerNumber.read(member.value()).isEmpty()) {
        reading.problem(
            member.place(), "“%s” is not %s.".formatted(member.value(), WorkerNumber.EXPECTED));
      }
    }
    return Optional.of(
        new Team(
            key,
            reading.text("name", key),
            members.stream().map(Tree.Text::value).map(WorkerNumber::key).distinct().toList()));
  }
}
