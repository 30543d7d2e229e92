package glenmoor.core.requests;

import glenmoor.core.access.Catalogue;
import glenmoor.core.access.Entitlement;
import glenmoor.core.access.Entitlement.Risk;
import glenmoor.core.access.Grant;
import glenmoor.core.access.RolePackage;
import glenmoor.core.agenda.CalendarDays;
import glenmoor.core.conditions.Expressions;
import glenmoor.core.conditions.Unanswerable;
import glenmoor.core.people.Person;
import glenmoor.core.people.Standing;
import glenmoor.core.people.WorkerNumber;
import java.time.DateTimeException;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/**
 * One line as it is asked for, checked against its offer.
 *
 * @param answers by question, of those that are asked
 * @param selected the entitlements that the answers select beside the package's own
 * @param startsAt not before this; it may be approved later
 * @param endsAt when it would end if it began at {@code startsAt}; null while open-ended
 */
public record Ask(
    AskKind kind,
    Offer offer,
    RolePackage rolePackage,
    Map<String, String> answers,
    List<String> selected,
    Instant startsAt,
    @Nullable Instant endsAt) {
  private static final int LONGEST_ANSWER = 400;

  /** What conditions of routes see as the kind of what a playbook asks. */
  private static final String QUESTION = "question";

  /**
   * A line as somebody says it.
   *
   * @param startDay its first day; null for at once
   * @param lastDay its last day; null for what the offer says
   */
  public record Draft(
      AskKind kind,
      @Nullable LocalDate startDay,
      @Nullable LocalDate lastDay,
      Map<String, String> answers,
      String reason) {}

  /**
   * What somebody has, or had, by an offer.
   *
   * @param endsAt null while open-ended
   * @param answers what was answered when it was asked for; empty where it was given directly
   * @param selected the entitlements that came with it by those
   */
  public record About(
      @Nullable Instant endsAt, Map<String, String> answers, List<String> selected) {}

  /**
   * Checks a line.
   *
   * @param about what it is about; null for something new
   * @throws Unaskable with the first thing that is wrong, and where
   */
  public static Ask of(
      Draft draft,
      Offer offer,
      Person subject,
      @Nullable About about,
      Catalogue catalogue,
      Instant now) {
    var kind = draft.kind();
    var rolePackage = catalogue.packages().get(offer.rolePackage());
    if (rolePackage == null || kind.gives() && !offer.open()) {
      throw new Unaskable("offer", "“%s” takes no asks at the moment.".formatted(offer.name()));
    }
    if (kind.gives() && rolePackage.retired().isPresent()) {
      throw new Unaskable(
          "offer", "“%s” is retired: nobody is given it any more.".formatted(rolePackage.name()));
    }
    if (kind.gives()) {
      meets(offer, subject, catalogue, now);
    }
    if ((offer.reasonNeeded() || !kind.gives()) && draft.reason().isBlank()) {
      throw new Unaskable(
          "reason",
          kind.gives()
              ? "Say what it is needed for: whoever decides reads it."
              : "Say why it is needed no more: whoever decides reads it.");
    }
    if (kind.aboutGrant() == (about == null)) {
      throw new Unaskable("grant", "Say which grant this is about.");
    }
    var had = about == null ? new About(null, Map.of(), List.of()) : about;
    return switch (kind) {
      case NEW -> {
        var answers = answers(draft.answers(), offer, subject, catalogue);
        yield given(draft, offer, rolePackage, answers, catalogue, now);
      }
      case RESUME -> {
        unanswered(draft);
        var answers = answers(had.answers(), offer, subject, catalogue);
        yield given(draft, offer, rolePackage, answers, catalogue, now);
      }
      case EXTEND -> {
        unanswered(draft);
        atOnce(draft, "It goes on from when it would end; say only until when.");
        var until = had.endsAt();
        if (until == null || !offer.extendable()) {
          throw new Unaskable("kind", "“%s” cannot be extended.".formatted(offer.name()));
        }
        var end = offer.term().end(until, draft.lastDay(), catalogue.zone());
        yield new Ask(kind, offer, rolePackage, had.answers(), had.selected(), until, end);
      }
      case CHANGE -> {
        atOnce(draft, "It changes once it is agreed to; leave out from when.");
        if (draft.lastDay() != null) {
          throw new Unaskable(
              "lastDay", "It ends when it would have; ask for more time by itself.");
        }
        var answers = answers(draft.answers(), offer, subject, catalogue);
        if (answers.equals(had.answers())) {
          throw new Unaskable("answers", "Nothing would change: those are the answers it has.");
        }
        yield new Ask(
            kind, offer, rolePackage, answers, selected(offer, answers), now, had.endsAt());
      }
      case REMOVE -> {
        unanswered(draft);
        atOnce(draft, "Say the last day on which it is needed, or nothing for at once.");
        yield new Ask(
            kind,
            offer,
            rolePackage,
            had.answers(),
            had.selected(),
            now,
            removed(draft.lastDay(), had.endsAt(), catalogue, now));
      }
    };
  }

  /**
   * When something ends that is to be removed after a day, or at once.
   *
   * @param endsAt when it would end anyhow; null for never
   * @throws Unaskable if it is over by then
   */
  public static Instant removed(
      @Nullable LocalDate lastDay, @Nullable Instant endsAt, Catalogue catalogue, Instant now) {
    var day =
        lastDay == null ? now : lastDay.plusDays(1).atStartOfDay(catalogue.zone()).toInstant();
    var end = day.isBefore(now) ? now : day;
    if (endsAt != null && !end.isBefore(endsAt)) {
      throw new Unaskable("lastDay", "It is over by then as it is.");
    }
    return end;
  }

  private static Ask given(
      Draft draft,
      Offer offer,
      RolePackage rolePackage,
      Map<String, String> answers,
      Catalogue catalogue,
      Instant now) {
    var start = start(draft, offer, catalogue, now);
    return new Ask(
        draft.kind(),
        offer,
        rolePackage,
        answers,
        selected(offer, answers),
        start,
        offer.term().end(start, draft.lastDay(), catalogue.zone()));
  }

  private static void atOnce(Draft draft, String sentence) {
    if (draft.startDay() != null) {
      throw new Unaskable("startDay", sentence);
    }
  }

  private static void unanswered(Draft draft) {
    if (draft.answers().values().stream().anyMatch(each -> !each.isBlank())) {
      throw new Unaskable("answers", "It keeps the answers it has; to change them, say change.");
    }
  }

  /**
   * @throws Unaskable unless the person is here, or expected, and the offer is for them
   */
  public static void meets(Offer offer, Person subject, Catalogue catalogue, Instant now) {
    var standing = Standing.of(subject, now.atZone(catalogue.zone()).toLocalDate());
    if (standing.isGone()) {
      throw new Unaskable(
          "worker", "%s has left, and can be given nothing.".formatted(subject.facts().fullName()));
    }
    if (!isFor(offer, subject, catalogue)) {
      throw new Unaskable(
          "worker",
          "“%s” is not offered to %s.".formatted(offer.name(), subject.facts().fullName()));
    }
  }

  /** Whether somebody is in an offer's audience; not where that cannot be answered. */
  public static boolean isFor(Offer offer, Person subject, Catalogue catalogue) {
    try {
      return offer.audience().isEmpty()
          || offer.audience().get().holds(catalogue.expressions().view(subject));
    } catch (Unanswerable failed) {
      return false;
    }
  }

  private static Instant start(Draft draft, Offer offer, Catalogue catalogue, Instant now) {
    var day = draft.startDay();
    if (day == null) {
      return now;
    }
    var today = now.atZone(catalogue.zone()).toLocalDate();
    if (day.isBefore(today) || day.isAfter(today.plusDays(offer.startsAhead()))) {
      throw new Unaskable(
          "startDay",
          "It cannot begin on %s: say a day from today to %s."
              .formatted(day, today.plusDays(offer.startsAhead())));
    }
    return day.equals(today) ? now : day.atStartOfDay(catalogue.zone()).toInstant();
  }

  private static Map<String, String> answers(
      Map<String, String> said, Offer offer, Person subject, Catalogue catalogue) {
    var answers = new LinkedHashMap<String, String>();
    var asked = new ArrayList<String>();
    for (var question : offer.questions()) {
      var given = said.getOrDefault(question.key(), "").strip();
      if (!isAsked(question, subject, answers, catalogue)) {
        continue;
      }
      asked.add(question.key());
      if (given.isEmpty()) {
        if (question.required()) {
          throw new Unaskable("answers/" + question.key(), "Answer this: " + question.text());
        }
        continue;
      }
      check(question, given);
      answers.put(question.key(), given);
    }
    said.forEach((key, value) -> {
      if (!value.isBlank() && !asked.contains(key)) {
        throw new Unaskable(
            "answers/" + key, "Nothing asks “%s” here; leave it out.".formatted(key));
      }
    });
    return answers;
  }

  /** Whether a question is asked, with the answers before it. */
  public static boolean isAsked(
      Question question, Person subject, Map<String, String> answers, Catalogue catalogue) {
    var where = question.where();
    if (where.isEmpty()) {
      return true;
    }
    try {
      return where.get().holds(view(subject, AskKind.NEW, null, Risk.LOW, 0, answers, catalogue));
    } catch (Unanswerable failed) {
      return true;
    }
  }

  private static void check(Question question, String given) {
    var at = "answers/" + question.key();
    if (given.length() > LONGEST_ANSWER) {
      throw new Unaskable(at, "An answer has at most %d characters.".formatted(LONGEST_ANSWER));
    }
    switch (question.kind()) {
      case TEXT -> {}
      case CHOICE -> {
        if (!question.choices().contains(given)) {
          throw new Unaskable(
              at,
              "“%s” is none of the answers; choose one of %s."
                  .formatted(given, String.join(", ", question.choices())));
        }
      }
      case NUMBER -> {
        if (!given.matches("-?\\d{1,15}")) {
          throw new Unaskable(at, "“%s” is no whole number.".formatted(given));
        }
      }
      case DATE -> {
        try {
          LocalDate.parse(given);
        } catch (DateTimeException noDate) {
          throw new Unaskable(at, "“%s” is no date; write it as 2027-03-14.".formatted(given));
        }
      }
      case PERSON -> {
        if (WorkerNumber.read(given).isEmpty()) {
          throw new Unaskable(at, "“%s” is not %s.".formatted(given, WorkerNumber.EXPECTED));
        }
      }
    }
  }

  private static List<String> selected(Offer offer, Map<String, String> answers) {
    return offer.questions().stream()
        .flatMap(question ->
            question
                .gives()
                .getOrDefault(answers.getOrDefault(question.key(), ""), List.of())
                .stream())
        .distinct()
        .toList();
  }

  /** Everything it would give, as defined now. */
  public Stream<Entitlement> gives(Catalogue catalogue) {
    return gives(rolePackage.key(), selected, catalogue);
  }

  /** Everything that a package gives with what answers select, as defined now. */
  public static Stream<Entitlement> gives(
      String rolePackage, List<String> selected, Catalogue catalogue) {
    return Stream.concat(
            catalogue.given(new Grant.Target.OfPackage(rolePackage)),
            selected.stream()
                .filter(catalogue.entitlements()::containsKey)
                .map(catalogue.entitlements()::get))
        .distinct();
  }

  /** The highest risk of some rights. */
  public static Risk risk(Stream<Entitlement> gives) {
    return gives.map(Entitlement::risk).max(Comparator.naturalOrder()).orElse(Risk.LOW);
  }

  /** What the conditions of its route see. */
  public Map<String, Object> view(Person subject, int conflicts, Catalogue catalogue) {
    return view(
        subject,
        kind,
        days(startsAt, endsAt, catalogue.zone()),
        risk(gives(catalogue)),
        conflicts,
        answers,
        catalogue);
  }

  /**
   * How many days of the zone something lasts, one that is begun counted as a whole one; null where
   * it is open-ended.
   */
  public static @Nullable Long days(Instant start, @Nullable Instant end, ZoneId zone) {
    return end == null ? null : CalendarDays.between(start, end, zone);
  }

  /**
   * What conditions about an ask see.
   *
   * @param days how long it is for; null where it is open-ended
   * @param conflicts how many rules it would break
   */
  public static Map<String, Object> view(
      Person subject,
      AskKind kind,
      @Nullable Long days,
      Risk risk,
      int conflicts,
      Map<String, String> answers,
      Catalogue catalogue) {
    return view(subject, kind.word(), days, risk, conflicts, answers, catalogue);
  }

  /**
   * What conditions of a route see where a playbook asks something by it, about nothing to give.
   */
  public static Map<String, Object> questionView(Person subject, Catalogue catalogue) {
    return view(subject, QUESTION, 0L, Risk.LOW, 0, Map.of(), catalogue);
  }

  private static Map<String, Object> view(
      Person subject,
      String kind,
      @Nullable Long days,
      Risk risk,
      int conflicts,
      Map<String, String> answers,
      Catalogue catalogue) {
    var view = catalogue.expressions().view(subject);
    view.put("ask.kind", kind);
    view.put("ask.days", Expressions.days(days));
    view.put("ask.risk", risk.word());
    view.put("ask.conflicts", (long) conflicts);
    view.put("answers", answers);
    return view;
  }
}
