package glenmoor.engine.requests;

import glenmoor.core.access.Catalogue;
import glenmoor.core.authorization.Actor;
import glenmoor.core.people.Facts;
import glenmoor.core.people.WorkerNumber;
import glenmoor.core.requests.AskKind;
import glenmoor.core.requests.Move;
import glenmoor.core.requests.Unaskable;
import glenmoor.engine.Refused;
import glenmoor.engine.StatedReason;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.requests.Asking.Checked;
import glenmoor.engine.requests.Asking.Wanted;
import glenmoor.engine.time.Clock;
import glenmoor.engine.time.Transactions;
import glenmoor.store.Ids;
import glenmoor.store.people.FactsJson;
import glenmoor.store.people.PersonRow;
import glenmoor.store.requests.RequestMapper;
import glenmoor.store.requests.RequestMapper.LineRow;
import glenmoor.store.requests.RequestMapper.RequestRow;
import jakarta.inject.Named;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/** Asking for access: in one go for one or several people and packages. */
@Named
public final class RequestService {
  private static final int MOST_LINES = 50;
  private static final int LONGEST_KEY = 80;

  /**
   * A line as it is sent.
   *
   * @param worker for whom; empty for the asker
   * @param kind a word of {@link AskKind}; empty for new
   * @param startDay null for at once
   * @param lastDay null for what the offer says
   * @param answers by question
   * @param grant the one that it is about; null for something new
   */
  public record NewLine(
      String offer,
      String worker,
      String kind,
      @Nullable LocalDate startDay,
      @Nullable LocalDate lastDay,
      Map<String, String> answers,
      String reason,
      @Nullable Long grant) {}

  private final RequestMapper requests;
  private final Asking asking;
  private final LineMoves moves;
  private final RequestPreviews previews;
  private final Concerned concerned;
  private final Catalogues catalogues;
  private final Transactions transactions;
  private final Ids ids;
  private final Clock clock;

  RequestService(
      RequestMapper requests,
      Asking asking,
      LineMoves moves,
      RequestPreviews previews,
      Concerned concerned,
      Catalogues catalogues,
      Transactions transactions,
      Ids ids,
      Clock clock) {
    this.requests = requests;
    this.asking = asking;
    this.moves = moves;
    this.previews = previews;
    this.concerned = concerned;
    this.catalogues = catalogues;
    this.transactions = transactions;
    this.ids = ids;
    this.clock = clock;
  }

  /**
   * What would come of asking: nothing is kept.
   *
   * @throws Refused with every mistake, each with the line and field it is in
   */
  public List<RequestPreviews.PreviewLine> preview(List<NewLine> lines, Actor actor) {
    var catalogue = catalogues.current();
    var now = clock.instant();
    var own = asking.own(actor);
    return check(lines, actor, own, catalogue, now).stream()
        .map(each -> previews.preview(each, own, catalogue, now))
        .toList();
  }

  /**
   * Asks. All lines are taken, or none.
   *
   * @param onceKey the same key from the same sign-in asks once, however often it is sent; empty
   *     for none
   * @return the request's identity
   * @throws Refused with every mistake, each with the line and field it is in
   */
  public long submit(List<NewLine> lines, String onceKey, Actor actor) {
    if (onceKey.length() > LONGEST_KEY) {
      throw Refused.badInput("A key has at most %d characters.".formatted(LONGEST_KEY));
    }
    return transactions.run(() -> {
      var key = onceKey.isEmpty() ? null : actor.login() + ":" + onceKey;
      var before = key == null ? null : requests.byOnceKey(key);
      return before != null ? before : insert(lines, key, actor);
    });
  }

  private long insert(List<NewLine> lines, @Nullable String onceKey, Actor actor) {
    var catalogue = catalogues.current();
    var now = clock.instant();
    var own = asking.own(actor);
    var checked = check(lines, actor, own, catalogue, now);
    var request =
        new RequestRow(ids.next(), actor.login(), own == null ? null : own.id(), now, onceKey);
    requests.insertRequest(request);
    for (var each : checked) {
      begin(request, each, catalogue, now, actor);
    }
    return request.id();
  }

  private void begin(
      RequestRow request, Checked checked, Catalogue catalogue, Instant now, Actor actor) {
    var line = row(request, checked, catalogue, now);
    moves.begin(request, line, checked.subject(), catalogue, new Mover(actor.login(), null));
  }

  private LineRow row(RequestRow request, Checked checked, Catalogue catalogue, Instant now) {
    var ask = checked.ask();
    var about = checked.about();
    var facts = FactsJson.read(checked.subject().facts(), catalogue.facts());
    return new LineRow(
        ids.next(),
        request.id(),
        ask.kind().word(),
        checked.subject().id(),
        ask.offer().key(),
        ask.rolePackage().key(),
        ask.offer().route(),
        checked.wanted().reason().strip(),
        LineRuns.write(ask.answers()),
        LineRuns.write(ask.selected()),
        checked.wanted().startDay(),
        checked.wanted().lastDay(),
        ask.offer().term().written(),
        "[]",
        "",
        null,
        "",
        about == null ? null : about.id(),
        "open",
        null,
        "",
        null,
        WorkerNumber.key(facts.text(Facts.MANAGER)),
        catalogue.revision(),
        now,
        1,
        openKey(checked));
  }

  private static String openKey(Checked checked) {
    return checked.subject().id() + ":" + checked.ask().rolePackage().key();
  }

  private List<Checked> check(
      List<NewLine> lines, Actor actor, @Nullable PersonRow own, Catalogue catalogue, Instant now) {
    if (lines.isEmpty() || lines.size() > MOST_LINES) {
      throw Refused.badInput(
          "A request has from 1 to %d lines; this one has %d.".formatted(MOST_LINES, lines.size()));
    }
    var mistakes = new ArrayList<Refused.Mistake>();
    var checked = new ArrayList<Checked>();
    var once = new HashSet<String>();
    for (var i = 0; i < lines.size(); i++) {
      try {
        var each = asking.check(wanted(lines.get(i), own), actor, catalogue, now);
        if (!once.add(openKey(each)) || requests.isOpen(openKey(each))) {
          throw new Unaskable(
              "offer",
              "“%s” is asked for already for %s."
                  .formatted(each.ask().rolePackage().name(), each.subject().name()));
        }
        checked.add(each);
      } catch (Unaskable unaskable) {
        mistakes.add(
            new Refused.Mistake(
                "/lines/%d/%s".formatted(i, unaskable.field()),
                String.valueOf(unaskable.getMessage())));
      }
    }
    if (!mistakes.isEmpty()) {
      throw new Refused(
          Refused.Reason.BAD_INPUT,
          mistakes.size() == 1
              ? mistakes.getFirst().sentence()
              : "%d lines cannot be asked for like this.".formatted(mistakes.size()),
          mistakes);
    }
    return checked;
  }

  private static Wanted wanted(NewLine line, @Nullable PersonRow own) {
    var worker = line.worker().isBlank() && own != null ? own.workerNumber() : line.worker();
    if (line.reason().length() > StatedReason.LONGEST) {
      throw new Unaskable(
          "reason",
          "A reason has at most %,d characters; this has %,d."
              .formatted(StatedReason.LONGEST, line.reason().length()));
    }
    return new Wanted(
        line.offer(),
        worker,
        line.kind().isEmpty()
            ? AskKind.NEW
            : AskKind.ofWord(line.kind())
                .orElseThrow(() ->
                    new Unaskable(
                        "kind",
                        "“%s” cannot be asked; say one of %s."
                            .formatted(line.kind(), AskKind.words()))),
        line.startDay(),
        line.lastDay(),
        line.answers(),
        line.reason(),
        line.grant());
  }

  /** Takes back what is still open of a request; only whoever asked, or would get it, can. */
  public void withdraw(long request, String reason, Actor actor) {
    var said = Optional.of(reason.strip()).filter(each -> !each.isEmpty());
    said.ifPresent(StatedReason::new);
    transactions.run(() -> {
      var lines = requests.linesOf(request);
      var asked = requests.request(request);
      if (asked == null || !concerned.mayWithdraw(asked, lines, actor)) {
        throw LineMoves.noSuch(request);
      }
      var own = asking.own(actor);
      var open =
          lines.stream()
              .filter(line -> line.state().equals("open"))
              .filter(line ->
                  asked.askedBy().equals(actor.login())
                      || own != null && own.id().equals(line.personId()))
              .toList();
      if (open.isEmpty()) {
        throw new Refused(Refused.Reason.NOT_NOW, "Nothing of it is open any more.");
      }
      for (var line : open) {
        var loaded = moves.lock(line.id());
        if (loaded.run().open()) {
          moves.make(
              loaded,
              new Move.Withdraw(said.orElse("")),
              List.of(),
              new Mover(actor.login(), null));
        }
      }
    });
  }

  /** Says something about a request, for all to read whom it concerns. */
  public void comment(long request, String text, Actor actor) {
    var said = new StatedReason(text).text().strip();
    transactions.run(() -> {
      var asked = requests.request(request);
      var lines = requests.linesOf(request);
      if (asked == null || !concerned.concerns(asked, lines, actor)) {
        throw LineMoves.noSuch(request);
      }
      requests.note(
          new RequestMapper.NoteRow(
              ids.next(), request, null, null, clock.instant(), actor.login(), null, "said", said));
    });
  }
}
