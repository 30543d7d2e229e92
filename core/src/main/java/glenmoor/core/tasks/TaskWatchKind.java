package glenmoor.core.tasks;

import com.google.auto.service.AutoService;
import glenmoor.core.applications.ApplicationKind;
import glenmoor.core.definitions.Defined;
import glenmoor.core.definitions.DefinitionKind;
import glenmoor.core.definitions.Reading;
import glenmoor.core.definitions.Tree;
import glenmoor.core.letters.LetterKind;
import java.time.Duration;
import java.util.Optional;
import java.util.Set;

/** {@code tasks: radio-room}: who is told when an application's tasks and faults wait long. */
@AutoService(DefinitionKind.class)
public final class TaskWatchKind implements DefinitionKind<TaskWatch> {
  private static final int USUAL = 2;
  private static final int MOST = 365;

  @Override
  public String word() {
    return "tasks";
  }

  @Override
  public Set<String> refersTo() {
    return Set.of("application", "letter");
  }

  @Override
  public Optional<TaskWatch> read(String key, Reading reading, Defined known) {
    var applications = known.all(ApplicationKind.class).keySet();
    if (!applications.contains(key)) {
      reading.problem(
          reading.place("tasks"),
          "“%s” is no application; there are %s.".formatted(key, String.join(", ", applications)));
    }
    var letter = reading.needed("letter", "which letter tells that tasks wait");
    if (!letter.isBlank() && !known.all(LetterKind.class).containsKey(letter)) {
      reading.problem(
          reading.place("letter"),
          "There is no letter “%s”; there are %s."
              .formatted(letter, String.join(", ", known.all(LetterKind.class).keySet())));
    }
    var remind = days(reading, "remind", USUAL);
    var escalate =
        reading.has("escalate")
            ? Optional.of(days(reading, "escalate", USUAL))
            : Optional.<Duration>empty();
    if (escalate.isPresent() && escalate.get().compareTo(remind) <= 0) {
      reading.problem(
          reading.place("escalate"),
          "Whoever answers for it is told after those who mend it: escalate must be longer than remind.");
    }
    return Optional.of(new TaskWatch(key, remind, escalate, letter));
  }

  private static Duration days(Reading reading, String key, int otherwise) {
    var days = reading.days(key, otherwise);
    if (days < 1 || days > MOST) {
      reading.problem(
          reading.place(key), "%s is %d days; say from 1 to %d.".formatted(key, days, MOST));
    }
    return Duration.ofDays(Math.clamp(days, 1, MOST));
  }

  /** Who is told of work changes nobody's access. */
  @Override
  public boolean plansLike(Tree.Fields before, Tree.Fields after) {
    return true;
  }
}
