package glenmoor.engine.definitions;

import glenmoor.core.access.Catalogue;
import glenmoor.core.access.Entitlement;
import glenmoor.core.definitions.Concern;
import glenmoor.engine.time.Clock;
import glenmoor.engine.time.Transactions;
import glenmoor.store.Ids;
import glenmoor.store.people.DueMarkMapper;
import glenmoor.store.people.DueMarkMapper.DueMark;
import glenmoor.store.people.PersonMapper;
import jakarta.inject.Named;
import java.util.List;
import java.util.TreeSet;
import java.util.function.Consumer;
import java.util.function.IntConsumer;
import tools.jackson.databind.json.JsonMapper;

/**
 * Makes the planning of those due whom a change of definitions concerns: noted in the transaction
 * of the change, and carried out a stretch of people at a time, each in a transaction of its own,
 * by whichever replica comes first.
 */
@Named
public final class DueMarks {
  private static final JsonMapper JSON = JsonMapper.shared();
  private static final int STRETCH = 5_000;
  private static final int BATCH = 200;

  private final DueMarkMapper mapper;
  private final PersonMapper people;
  private final Transactions transactions;
  private final Ids ids;
  private final Clock clock;

  public DueMarks(
      DueMarkMapper mapper, PersonMapper people, Transactions transactions, Ids ids, Clock clock) {
    this.mapper = mapper;
    this.people = people;
    this.transactions = transactions;
    this.ids = ids;
    this.clock = clock;
  }

  /**
   * Notes whom a change concerns, inside the caller's transaction.
   *
   * @param before the definitions that were in force, and
   * @param after those that are from now on: packages of either may hold what was changed
   */
  public void add(String cause, Concern concern, Catalogue before, Catalogue after) {
    if (!concern.nobody()) {
      mapper.insert(mark(ids.next(), cause, concern, before, after));
    }
  }

  private static DueMark mark(
      long id, String cause, Concern concern, Catalogue before, Catalogue after) {
    var applications = new TreeSet<String>();
    var targets = new TreeSet<String>();
    var entitlements = new TreeSet<String>();
    for (var name : concern.holders()) {
      switch (name.kind()) {
        case "application" -> applications.add(name.key());
        case "entitlement" -> entitlements.add(name.key());
        case "package" -> targets.add(name.key());
        default -> throw new IllegalArgumentException("Nobody holds a " + name);
      }
    }
    for (var catalogue : List.of(before, after)) {
      catalogue.entitlements().values().stream()
          .filter(each -> applications.contains(each.application()))
          .map(Entitlement::key)
          .forEach(entitlements::add);
    }
    entitlements.forEach(key -> applications.add(key.substring(0, Math.max(0, key.indexOf('/')))));
    for (var catalogue : List.of(before, after)) {
      catalogue.packages().values().stream()
          .filter(each -> each.entitlements().stream().anyMatch(entitlements::contains))
          .forEach(each -> targets.add(each.key()));
    }
    targets.addAll(entitlements);
    return new DueMark(
        id,
        cause,
        JSON.writeValueAsString(applications),
        JSON.writeValueAsString(targets),
        JSON.writeValueAsString(concern.workers()),
        concern.everybody(),
        Long.MIN_VALUE);
  }

  /**
   * Marks all that is noted.
   *
   * @param told after each stretch: how many people were looked at so far
   */
  public void carryOut(IntConsumer told) {
    var looked = 0;
    while (true) {
      var stretch = transactions.run(this::markStretch);
      if (stretch < 0) {
        return;
      }
      looked += stretch;
      told.accept(looked);
    }
  }

  /** The same, telling nobody; costs one query where nothing is noted. */
  public void carryOut() {
    if (mapper.first() != null) {
      carryOut(looked -> {});
    }
  }

  /** Gives how many people were looked at; -1 where nothing is left to mark. */
  private int markStretch() {
    var mark = mapper.take();
    if (mark == null) {
      return -1;
    }
    var stretch = mapper.stretch(mark.afterId(), STRETCH);
    var last = stretch.last();
    if (last == null) {
      mapper.drop(mark.id());
      return 0;
    }
    mapper.markDue(mark, last, clock.instant());
    mapper.reached(mark.id(), last);
    return stretch.people();
  }

  /** How many people are known in all. */
  public int everybody() {
    return people.countAll();
  }

  /**
   * Goes over those whom a change would concern, in batches of their identities.
   *
   * @return how many they are
   */
  public int each(Concern concern, Catalogue before, Catalogue after, Consumer<List<Long>> batch) {
    var concerned = 0;
    var mark = mark(0, "", concern, before, after);
    while (!concern.nobody()) {
      var last = mapper.stretch(mark.afterId(), STRETCH).last();
      if (last == null) {
        break;
      }
      var found = mapper.concerned(mark, last, clock.instant());
      for (var i = 0; i < found.size(); i += BATCH) {
        batch.accept(found.subList(i, Math.min(found.size(), i + BATCH)));
      }
      concerned += found.size();
      mark = mark.after(last);
    }
    return concerned;
  }
}
