package glenmoor.engine.tasks;

import glenmoor.core.authorization.Duty;
import glenmoor.core.letters.Letter;
import glenmoor.core.letters.LetterKind;
import glenmoor.core.tasks.TaskWatch;
import glenmoor.core.tasks.TaskWatch.Tell;
import glenmoor.core.tasks.TaskWatchKind;
import glenmoor.engine.agenda.FallsDue;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.jobs.RecurringJob;
import glenmoor.engine.letters.Outbox;
import glenmoor.engine.letters.Outbox.Unwritten;
import glenmoor.engine.time.Clock;
import glenmoor.engine.time.Transactions;
import glenmoor.store.authorization.DutyMapper;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.people.PersonRow;
import glenmoor.store.tasks.TaskReminderMapper;
import jakarta.inject.Named;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.format.DateTimeFormatter;
import java.util.Arrays;
import java.util.Collection;
import java.util.List;
import java.util.Locale;
import java.util.Objects;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Tells those who mend an application that its tasks and faults wait, and later those who answer
 * for it: one letter each, about all of them. Where there is nobody, the administrators are told.
 */
@Named
public final class TaskReminders implements RecurringJob.Owner, FallsDue {
  private static final Logger LOG = LoggerFactory.getLogger(TaskReminders.class);
  private static final DateTimeFormatter DAY =
      DateTimeFormatter.ofPattern("d MMM yyyy", Locale.ENGLISH);

  /** What waits nearly as long is told of in the same letter, and not in one of its own. */
  private static final Duration TOGETHER = Duration.ofDays(1);

  private static final int NAMED = 5;
  private static final int LONGEST = 160;

  private final TaskReminderMapper reminders;
  private final DutyMapper duties;
  private final PersonMapper people;
  private final Outbox outbox;
  private final Catalogues catalogues;
  private final Transactions transactions;
  private final Clock clock;

  TaskReminders(
      TaskReminderMapper reminders,
      DutyMapper duties,
      PersonMapper people,
      Outbox outbox,
      Catalogues catalogues,
      Transactions transactions,
      Clock clock) {
    this.reminders = reminders;
    this.duties = duties;
    this.people = people;
    this.outbox = outbox;
    this.catalogues = catalogues;
    this.transactions = transactions;
    this.clock = clock;
  }

  /** Somebody to be told about one application, and after how long. */
  private record Watch(TaskWatch rule, Tell tell, Duration after) {}

  private Stream<Watch> watches() {
    Collection<TaskWatch> rules = catalogues.current().defined().all(TaskWatchKind.class).values();
    return rules.stream()
        .flatMap(rule ->
            Arrays.stream(Tell.values())
                .flatMap(
                    tell -> rule.after(tell).stream().map(after -> new Watch(rule, tell, after))));
  }

  @Override
  public List<RecurringJob> recurring() {
    return List.of(
        new RecurringJob(
            "task-reminders",
            "tells who has to that tasks wait",
            Duration.ofMinutes(1),
            this::carryOut));
  }

  @Override
  public int carryOut() {
    return watches().mapToInt(watch -> transactions.run(() -> told(watch))).sum();
  }

  @Override
  public @Nullable Instant next() {
    return watches()
        .flatMap(watch -> Stream.ofNullable(next(watch)))
        .min(Instant::compareTo)
        .orElse(null);
  }

  @Override
  public boolean busy() {
    return false;
  }

  /** When they are to be told next; null while nothing waits. */
  private @Nullable Instant next(Watch watch) {
    var application = watch.rule().application();
    var oldest = reminders.oldest(application, null);
    if (oldest == null) {
      return null;
    }
    var told = reminders.told(application, watch.tell().word());
    var untold =
        told == null
            ? null
            : reminders.oldest(application, told.minus(watch.after()).plus(TOGETHER));
    return TaskWatch.next(watch.after(), oldest, untold, told);
  }

  private int told(Watch watch) {
    var now = clock.instant();
    var due = next(watch);
    if (due == null || due.isAfter(now)) {
      return 0;
    }
    var application = watch.rule().application();
    reminders.note(application, watch.tell().word(), now);
    var work = work(application, now.minus(watch.after()).plus(TOGETHER));
    var letter = letter(watch.rule().letter());
    var today = now.atZone(catalogues.zone()).toLocalDate();
    var cause =
        new Outbox.Cause(
            null,
            "tasks:%s:%s:%s".formatted(application, watch.tell().word(), now),
            "tasks:" + application);
    var written = 0;
    for (var recipient : recipients(watch.tell(), application, today)) {
      try {
        outbox.remind(letter, recipient, work, today, cause);
        written++;
      } catch (Unwritten unwritten) {
        // The others are told all the same.
        LOG.warn("Nobody can be told that tasks wait: {}", unwritten.getMessage());
      }
    }
    return written;
  }

  private Letter letter(String key) {
    return Objects.requireNonNull(catalogues.current().defined().all(LetterKind.class).get(key));
  }

  private List<PersonRow> recipients(Tell tell, String application, LocalDate today) {
    for (var duty : List.of(tell.duty(), Duty.APPLICATION_OWNER, Duty.ADMINISTRATOR)) {
      var ids = duties.holders(duty.word(), "application", application, today);
      if (!ids.isEmpty()) {
        return people.byIds(ids);
      }
    }
    return List.of();
  }

  /** What waits, in a line. */
  private String work(String application, Instant until) {
    var number = reminders.count(application, until);
    var oldest = Objects.requireNonNull(reminders.oldest(application, null));
    var words =
        reminders.words(application, until, NAMED).stream()
            .map(each -> each.length() <= LONGEST ? each : each.substring(0, LONGEST - 1) + "…")
            .toList();
    return "%s in %s, the oldest since %s: %s%s"
        .formatted(
            number == 1 ? "1 task waits" : number + " tasks wait",
            catalogues.current().application(application).name(),
            DAY.format(oldest.atZone(catalogues.zone())),
            String.join(" ", words),
            number > words.size() ? " And %d more.".formatted(number - words.size()) : "");
  }
}
