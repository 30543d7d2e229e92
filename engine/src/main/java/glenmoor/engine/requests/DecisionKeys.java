package glenmoor.engine.requests;

import glenmoor.core.authorization.Actor;
import glenmoor.core.people.WorkerNumber;
import glenmoor.engine.Refused;
import glenmoor.engine.identity.SignIns;
import glenmoor.engine.jobs.RecurringJob;
import glenmoor.engine.letters.LetterKeys;
import glenmoor.engine.requests.ApprovalService.Decision;
import glenmoor.engine.time.Clock;
import glenmoor.engine.time.Transactions;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.people.PersonRow;
import glenmoor.store.requests.DecisionKeyMapper;
import glenmoor.store.requests.DecisionKeyMapper.KeyRow;
import jakarta.inject.Named;
import java.time.Duration;
import java.util.List;
import java.util.Set;

/**
 * Leads approvers from a letter or a chat to one decision, without signing in. A key is 192 random
 * bits of which only the SHA-256 is kept; it is good once, for one person and one line, and not for
 * longer than its stage. Whoever holds it can agree or decline, and nothing else: what its person
 * may not decide any more, cannot be decided with it either.
 */
@Named
public final class DecisionKeys implements RecurringJob.Owner {
  private static final Set<String> DECISIONS = Set.of("approve", "decline");

  /**
   * What a key leads to.
   *
   * @param approver the one who decides with it
   * @param needsSignIn whether it allows a conflict, which takes more than a yes
   */
  public record Leads(String approver, RequestViews.LineShown line, boolean needsSignIn) {}

  private final DecisionKeyMapper keys;
  private final PersonMapper people;
  private final RequestViews views;
  private final ApprovalService approvals;
  private final SignIns signIns;
  private final Transactions transactions;
  private final Clock clock;

  DecisionKeys(
      DecisionKeyMapper keys,
      PersonMapper people,
      RequestViews views,
      ApprovalService approvals,
      SignIns signIns,
      Transactions transactions,
      Clock clock) {
    this.keys = keys;
    this.people = people;
    this.views = views;
    this.approvals = approvals;
    this.signIns = signIns;
    this.transactions = transactions;
    this.clock = clock;
  }

  private static Refused unknown() {
    return Refused.notThere(
        "This leads nowhere any more: it was used, or its time is over, or it never was. Sign in to see what waits for you.");
  }

  private KeyRow locked(String key) {
    var row =
        key.isEmpty() || key.length() > LetterKeys.LONGEST ? null : keys.lock(LetterKeys.hash(key));
    if (row == null || row.usedAt() != null || !row.expiresAt().isAfter(clock.instant())) {
      throw unknown();
    }
    return row;
  }

  /** Whoever decides with a key: their sign-in where they have one. */
  private Actor actor(PersonRow row) {
    var login = signIns.inForceOf(row.id()).stream().findFirst().orElse("by letter");
    return new Actor(login, row.name(), row.workerNumber(), List.of());
  }

  private PersonRow person(KeyRow row) {
    return people.byIds(List.of(row.personId())).getFirst();
  }

  /**
   * What a key leads to; looking does not use it.
   *
   * @throws Refused if it leads nowhere
   */
  public Leads look(String key) {
    return transactions.run(() -> {
      var row = locked(key);
      var approver = person(row);
      var line = views.line(row.lineId(), actor(approver)).orElseThrow(DecisionKeys::unknown);
      if (!line.yours()) {
        throw unknown();
      }
      return new Leads(
          approver.name(), line, line.conflicts().stream().anyMatch(Conflicting::needsTerms));
    });
  }

  /**
   * Decides with a key, which is used by that.
   *
   * @param decision approve or decline
   * @throws Refused if it leads nowhere, or the decision cannot be taken; then it is not used
   */
  public ApprovalService.LineDecided decide(String key, String decision, String reason) {
    return decide(key, decision, reason, "");
  }

  /**
   * The same, where somebody else says who decides, such as a chat.
   *
   * @param worker of whoever pressed the button; the key has to be theirs
   */
  public ApprovalService.LineDecided decideAs(
      String key, String decision, String reason, String worker) {
    if (worker.isBlank()) {
      throw unknown();
    }
    return decide(key, decision, reason, worker);
  }

  private ApprovalService.LineDecided decide(
      String key, String decision, String reason, String worker) {
    if (!DECISIONS.contains(decision)) {
      throw Refused.badInput("This agrees or declines: say approve or decline.");
    }
    return transactions.run(() -> {
      var row = locked(key);
      var approver = person(row);
      if (!worker.isEmpty()
          && !WorkerNumber.key(worker).equals(WorkerNumber.key(approver.workerNumber()))) {
        throw unknown();
      }
      var decided =
          approvals.decideOne(
              row.lineId(),
              new Decision(decision, reason, null, "", "", null, ""),
              actor(approver));
      keys.use(row.keyHash(), clock.instant());
      return decided;
    });
  }

  @Override
  public List<RecurringJob> recurring() {
    return List.of(
        new RecurringJob(
            "decision-keys",
            "forgets the keys to decisions whose time is over",
            Duration.ofHours(1),
            this::forget));
  }

  /** A few thousand at a time, so that nobody who decides waits for it. */
  private void forget() {
    var now = clock.instant();
    int forgotten;
    do {
      forgotten = transactions.run(() -> keys.forget(now));
    } while (forgotten > 0);
  }
}
