package glenmoor.engine.playbooks;

import glenmoor.core.access.Catalogue;
import glenmoor.core.access.RolePackageKind;
import glenmoor.core.applications.ApplicationKind;
import glenmoor.core.definitions.Definition.Name;
import glenmoor.core.letters.ChannelKind;
import glenmoor.core.letters.LetterKind;
import glenmoor.core.playbooks.PlaybookKind;
import glenmoor.engine.definitions.InUse;
import glenmoor.engine.definitions.Tables;
import glenmoor.engine.time.Clock;
import glenmoor.store.playbooks.PlaybookRunMapper;
import jakarta.inject.Named;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Set;
import java.util.TreeSet;

/**
 * What follows from the definitions of playbooks, and what has to stay defined while runs go on.
 */
@Named
final class PlaybooksDefined implements Tables, InUse {
  private final PlaybookRunMapper runs;
  private final Clock clock;

  PlaybooksDefined(PlaybookRunMapper runs, Clock clock) {
    this.runs = runs;
    this.clock = clock;
  }

  /** Where there were no playbooks, what happened until now begins no run of the first one. */
  @Override
  public void follow(Catalogue before, Catalogue after) {
    if (before.defined().all(PlaybookKind.class).isEmpty()
        && !after.defined().all(PlaybookKind.class).isEmpty()) {
      runs.nonePlayed(clock.instant());
    }
  }

  @Override
  public List<Use> uses(Catalogue before, Catalogue after) {
    var uses = new ArrayList<Use>();
    gone(
        "letter",
        before.defined().all(LetterKind.class).keySet(),
        after.defined().all(LetterKind.class).keySet(),
        List.of("letter"),
        uses);
    gone(
        "channel",
        before.defined().all(ChannelKind.class).keySet(),
        after.defined().all(ChannelKind.class).keySet(),
        List.of("in", "chat", "webhook"),
        uses);
    gone(
        "package",
        before.defined().all(RolePackageKind.class).keySet(),
        after.defined().all(RolePackageKind.class).keySet(),
        List.of("give", "end"),
        uses);
    gone(
        "application",
        before.defined().all(ApplicationKind.class).keySet(),
        after.defined().all(ApplicationKind.class).keySet(),
        List.of("passcode", "account", "disable", "enable", "delete", "reset"),
        uses);
    return uses;
  }

  private void gone(
      String kind,
      Set<String> before,
      Collection<String> after,
      List<String> words,
      List<Use> uses) {
    var dropped = new TreeSet<>(before);
    dropped.removeAll(after);
    if (dropped.isEmpty()) {
      return;
    }
    var named = new TreeSet<String>();
    words.forEach(word -> named.addAll(runs.namedBySteps(word)));
    dropped.retainAll(named);
    for (var key : dropped) {
      var name = new Name(kind, key);
      uses.add(
          new Use(
              name,
              "%s cannot be dropped while steps of runs that go on still need it; end those runs first (glenmoor runs list --state unfinished)."
                  .formatted(name)));
    }
  }
}
