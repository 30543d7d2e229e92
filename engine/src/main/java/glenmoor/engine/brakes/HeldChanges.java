package glenmoor.engine.brakes;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.brakes.Brakes.Measure;
import glenmoor.core.brakes.Brakes.Measured;
import glenmoor.core.brakes.KeptChange;
import glenmoor.core.ledger.CanonicalJson;
import glenmoor.core.ledger.LedgerEntry;
import glenmoor.engine.ApiJson;
import glenmoor.engine.Authorization;
import glenmoor.engine.Refused;
import glenmoor.engine.StatedReason;
import glenmoor.engine.jobs.Jobs;
import glenmoor.engine.jobs.LongWork;
import glenmoor.engine.jobs.WorkProgress;
import glenmoor.engine.ledger.Ledger;
import glenmoor.engine.time.Clock;
import glenmoor.engine.time.Transactions;
import glenmoor.store.Ids;
import glenmoor.store.brakes.HeldMapper;
import jakarta.inject.Named;
import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.util.Arrays;
import java.util.EnumMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import java.util.stream.Collectors;
import java.util.zip.GZIPInputStream;
import java.util.zip.GZIPOutputStream;
import org.jspecify.annotations.Nullable;
import tools.jackson.databind.json.JsonMapper;

/**
 * Changes that a brake holds: kept whole, with their forecast, until somebody other than who
 * brought them releases or drops them.
 */
@Named
public final class HeldChanges {
  private static final JsonMapper JSON = ApiJson.mapper();
  private static final int PART = 4 << 20;
  private static final int LONGEST_SENTENCE = 2_000;

  /** A change to hold. */
  public record Holding(
      String kind,
      String what,
      String sentence,
      Measured measured,
      Object forecast,
      Map<String, Object> details) {}

  /** Carries a released change out, under no brake but what it came to when it was held. */
  public interface Releasing {
    /** What somebody must be allowed besides: the same as to bring such a change. */
    Permission needs();

    /**
     * Asked before anything is decided.
     *
     * @throws Refused if the change cannot be carried out any more
     */
    void check(Map<String, Object> details);

    Object release(Released released, Actor actor, WorkProgress progress);

    /** What the forecast of such a change is. */
    Class<?> forecast();

    /** What carrying out such a change may come to. */
    List<Class<?>> results();

    /** Told when somebody drops such a change, in the transaction that notes it. */
    default void dropped(Map<String, Object> details, String note, Actor actor) {}

    /**
     * Told when the work that carried it out ended without having done so.
     *
     * @param sentence how it ended
     */
    default void ended(long work, String sentence) {}
  }

  /**
   * A change on its way.
   *
   * @param allowed what it came to when it was held: more than that is held again
   */
  public record Released(
      long id,
      String what,
      String broughtBy,
      Map<String, Object> details,
      Map<Measure, Integer> allowed,
      InputStream content) {}

  private final HeldMapper mapper;
  private final Transactions transactions;
  private final Jobs jobs;
  private final Ledger ledger;
  private final Ids ids;
  private final Clock clock;
  private final Carrying carrying = new Carrying();
  private final Map<String, Releasing> kinds = new ConcurrentHashMap<>();

  public HeldChanges(
      HeldMapper mapper,
      Transactions transactions,
      Jobs jobs,
      Ledger ledger,
      Ids ids,
      Clock clock) {
    this.mapper = mapper;
    this.transactions = transactions;
    this.jobs = jobs;
    this.ledger = ledger;
    this.ids = ids;
    this.clock = clock;
    jobs.doneBy(carrying);
  }

  /** What the forecast of a held change may be. */
  public List<Class<?>> forecasts() {
    return kinds.values().stream().<Class<?>>map(Releasing::forecast).distinct().toList();
  }

  /** Says who carries out released changes of a kind. */
  public void carriedOutBy(String kind, Releasing releasing) {
    kinds.put(kind, releasing);
  }

  /**
   * Holds a change, inside a transaction.
   *
   * @param content all that is needed to carry it out later
   */
  public long hold(Holding holding, InputStream content, Actor actor) {
    var id = ids.next();
    var now = clock.instant();
    var measured = new LinkedHashMap<String, Object>();
    holding.measured().counts().forEach((measure, count) -> measured.put(measure.word(), count));
    measured.put("people", holding.measured().people());
    var sentence = cut(holding.sentence(), LONGEST_SENTENCE);
    mapper.insert(
        new KeptChange(
            id,
            holding.kind(),
            holding.what(),
            "held",
            sentence,
            CanonicalJson.write(measured),
            JSON.writeValueAsString(holding.forecast()),
            CanonicalJson.write(holding.details()),
            actor.login(),
            now,
            "",
            null,
            ""));
    keep(id, content);
    ledger.append(
        entry(
            id, actor.login(), "change-held", Map.of("what", holding.what(), "reason", sentence)));
    return id;
  }

  private LedgerEntry entry(long id, String login, String what, Map<String, Object> after) {
    return new LedgerEntry(clock.instant(), login, "", "held:" + id, what, Map.of(), after);
  }

  private void keep(long id, InputStream content) {
    var packed = new ByteArrayOutputStream();
    try (var zip = new GZIPOutputStream(packed)) {
      content.transferTo(zip);
    } catch (IOException failed) {
      throw new UncheckedIOException(failed);
    }
    var bytes = packed.toByteArray();
    for (var number = 0; number * PART < bytes.length; number++) {
      var to = Math.min(bytes.length, (number + 1) * PART);
      mapper.addPart(id, number, Arrays.copyOfRange(bytes, number * PART, to));
    }
  }

  /** A change of a kind, about the same thing, that waits already: it need not be held twice. */
  public Optional<Long> waiting(String kind, String what) {
    return Optional.ofNullable(mapper.waiting(kind, what));
  }

  /** What waits of a kind: by what it is about, the change that it waits in. */
  public Map<String, Long> waiting(String kind) {
    return mapper.waitingOf(kind).stream()
        .collect(Collectors.toMap(HeldMapper.WaitingChange::what, HeldMapper.WaitingChange::id));
  }

  /** How many changes wait for somebody to release or drop them. */
  public int waiting(Actor actor) {
    Authorization.need(actor, Permission.SEE_HELD_CHANGES);
    return mapper.countHeld();
  }

  public List<KeptChange> list(@Nullable String state, long before, int limit, Actor actor) {
    Authorization.need(actor, Permission.SEE_HELD_CHANGES);
    return mapper.list(state, before, limit);
  }

  public KeptChange show(long id, Actor actor) {
    Authorization.need(actor, Permission.SEE_HELD_CHANGES);
    var row = mapper.byId(id);
    if (row == null) {
      throw noSuch(id);
    }
    return row;
  }

  private static Refused noSuch(long id) {
    return Refused.notThere(
        "There is no held change " + id + "; glenmoor held list shows those there are.");
  }

  /**
   * Begins to carry a held change out, as the world is now.
   *
   * @return the identity of the work
   */
  public long release(long id, String note, Actor actor) {
    Authorization.need(actor, Permission.DECIDE_HELD_CHANGES);
    var known = show(id, actor);
    var releasing = carrier(known);
    Authorization.need(actor, releasing.needs());
    if (known.state().equals("held")) {
      releasing.check(details(known));
    }
    return transactions.run(() -> {
      var row = decide(id, "released", note, actor);
      var work = jobs.begin(carrying, "carrying out " + row.what(), new Change(id), actor);
      mapper.carriedOutIn(id, work);
      return work;
    });
  }

  /** Which change work carries out. */
  public record Change(long id) {}

  private final class Carrying implements LongWork<Change> {
    @Override
    public String kind() {
      return "held-change-release";
    }

    @Override
    public Class<Change> input() {
      return Change.class;
    }

    @Override
    public List<Class<?>> results() {
      return kinds.values().stream().flatMap(each -> each.results().stream()).distinct().toList();
    }

    @Override
    public Object run(Change input, Actor actor, WorkProgress progress) {
      var row = show(input.id(), actor);
      return carrier(row).release(released(row), actor, progress);
    }

    @Override
    public void ended(Change input, long work, boolean done, String sentence) {
      if (done) {
        mapper.dropParts(input.id());
        return;
      }
      var row = mapper.byId(input.id());
      if (row != null) {
        carrier(row).ended(work, sentence);
        holdAgain(row, row.decidedBy(), "It was not carried out: " + sentence);
      }
    }
  }

  private void holdAgain(KeptChange row, String login, String reason) {
    if (mapper.holdAgain(row.id()) > 0) {
      ledger.append(
          entry(
              row.id(), login, "change-held-again", Map.of("what", row.what(), "reason", reason)));
    }
  }

  private Releasing carrier(KeptChange row) {
    var releasing = kinds.get(row.kind());
    if (releasing == null) {
      throw new IllegalStateException("Nobody carries out changes of " + row.kind());
    }
    return releasing;
  }

  /** Forgets a held change: nothing of it is carried out. */
  public KeptChange drop(long id, String note, Actor actor) {
    transactions.run(() -> {
      var row = decide(id, "dropped", note, actor);
      carrier(row).dropped(details(row), note, actor);
      mapper.dropParts(id);
    });
    return show(id, actor);
  }

  /** Notes that what a change is about was let go in another way, and that it waits no more. */
  public void settled(String kind, String what, String reason, Actor actor) {
    transactions.run(() ->
        waiting(kind, what)
            .filter(id -> mapper.decide(id, "released", actor.login(), clock.instant(), reason) > 0)
            .ifPresent(id -> {
              mapper.dropParts(id);
              ledger.append(
                  entry(
                      id,
                      actor.login(),
                      "change-released",
                      Map.of("what", what, "reason", reason)));
            }));
  }

  private KeptChange decide(long id, String state, String note, Actor actor) {
    Authorization.need(actor, Permission.DECIDE_HELD_CHANGES);
    var why = new StatedReason(note).text();
    return transactions.run(() -> {
      var row = mapper.lock(id);
      if (row == null) {
        throw noSuch(id);
      }
      Authorization.need(actor, carrier(row).needs());
      if (row.broughtBy().equals(actor.login())) {
        throw new Refused(
            Refused.Reason.NOT_ALLOWED,
            "You brought this change, so somebody else has to look at it and release or drop it.");
      }
      if (mapper.decide(id, state, actor.login(), clock.instant(), why) == 0) {
        throw new Refused(
            Refused.Reason.NOT_NOW,
            "This change was %s by %s already.".formatted(row.state(), row.decidedBy()));
      }
      ledger.append(
          entry(id, actor.login(), "change-" + state, Map.of("what", row.what(), "reason", why)));
      return row;
    });
  }

  private Released released(KeptChange row) {
    var allowed = new EnumMap<Measure, Integer>(Measure.class);
    JSON.readTree(row.measured())
        .properties()
        .forEach(each ->
            Measure.ofWord(each.getKey())
                .ifPresent(measure -> allowed.put(measure, each.getValue().asInt())));
    return new Released(
        row.id(), row.what(), row.broughtBy(), details(row), allowed, content(row.id()));
  }

  private static Map<String, Object> details(KeptChange row) {
    var details = new LinkedHashMap<String, Object>();
    JSON.readTree(row.details())
        .properties()
        .forEach(each -> details.put(each.getKey(), each.getValue().asString()));
    return details;
  }

  private InputStream content(long id) {
    var packed = new ByteArrayOutputStream();
    for (var number = 0; ; number++) {
      var part = mapper.part(id, number);
      if (part == null) {
        break;
      }
      packed.writeBytes(part.bytes());
    }
    try {
      return new GZIPInputStream(new ByteArrayInputStream(packed.toByteArray()));
    } catch (IOException failed) {
      throw new UncheckedIOException(failed);
    }
  }

  private static String cut(String text, int longest) {
    return text.length() > longest ? text.substring(0, longest - 1) + "…" : text;
  }
}
