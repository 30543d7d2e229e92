package glenmoor.core.requests;

import glenmoor.core.access.Catalogue;
import glenmoor.core.access.Entitlement;
import glenmoor.core.access.Entitlement.Risk;
import glenmoor.core.access.Grant;
import glenmoor.core.access.RolePackage;
import glenmoor.core.conditions.Expressions;
import glenmoor.core.conditions.Unanswerable;
import glenmoor.core.people.Person;
import glenmoor.core.people.Standing;
import glenmoor.core.people.WorkerNumber;
import java.time.DateTimeException;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
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
   * Checks a line.
   *
   * @param extended when what is extended ends now; null for other kinds
   * @throws Unaskable with the first thing that is wrong, and where
   */
  public static Ask of(
      Draft draft,
      Offer offer,
      Person subject,
      @Nullable Instant extended,
      Catalogue catalogue,
      Instant now) {
    var rolePackage = catalogue.packages().get(offer.rolePackage());
    if (rolePackage == null || !offer.open()) {
      throw new Unaskable("offer", "“%s” takes no asks at the moment.".formatted(offer.name()));
    }
    meets(offer, subject, catalogue, now);
    if (offer.reasonNeeded() && draft.reason().isBlank()) {
      throw new Unaskable("reason", "Say what it is needed for: whoever decides reads it.");
    }
    var answers = answers(draft, offer, subject, catalogue);
    var start = start(draft, offer, extended, catalogue, now);
    return new Ask(
        draft.kind(),
        offer,
        rolePackage,
        answers,
        selected(offer, answers),
        start,
        offer.term().end(start, draft.lastDay(), catalogue.zone()));
  }

  /**
   * @throws Unaskable unless the person is here, or expected, and the offer is for them
   */
  public static void meets(Offer offer, Person subject, Catalogue catalogue, Instant now) {
    var standing = Standing.of(subject, now.atZone(catalogue.zone()).toLocalDate());
    if (standing == Standing.LEFT || standing == Standing.ERASED) {
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

  private static Instant start(
      Draft draft, Offer offer, @Nullable Instant extended, Catalogue catalogue, Instant now) {
    if (draft.kind() == AskKind.EXTEND) {
      if (draft.startDay() != null) {
        throw new Unaskable("startDay", "It goes on from when it would end; say only until when.");
      }
      if (extended == null || !offer.extendable()) {
        throw new Unaskable("kind", "“%s” cannot be extended.".formatted(offer.name()));
      }
      return extended;
    }
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
      Draft draft, Offer offer, Person subject, Catalogue catalogue) {
    var answers = new LinkedHashMap<String, String>();
    var asked = new ArrayList<String>();
    for (var question : offer.questions()) {
      var given = draft.answers().getOrDefault(question.key(), "").strip();
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
    draft
        .answers()
        .forEach((key, value) -> {
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
        days(startsAt, endsAt),
        risk(gives(catalogue)),
        conflicts,
        answers,
        catalogue);
  }

  /** How many days something lasts; null where it is open-ended. */
  public static @Nullable Long days(Instant start, @Nullable Instant end) {
    return end == null ? null : Duration.between(start, end).toDays();
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
    var view = catalogue.expressions().view(subject);
    view.put("ask.kind", kind.word());
    view.put("ask.days", Expressions.days(days));
    view.put("ask.risk", risk.word());
    view.put("ask.conflicts", (long) conflicts);
    view.put("answers", answers);
    return view;
  }
}
