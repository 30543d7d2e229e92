package glenmoor.engine.requests;

import glenmoor.core.access.Catalogue;
import glenmoor.core.access.RolePackage;
import glenmoor.core.letters.Letter;
import glenmoor.core.letters.LetterKind;
import glenmoor.core.people.PersonId;
import glenmoor.core.requests.Happening;
import glenmoor.core.requests.Route;
import glenmoor.core.requests.RouteKind;
import glenmoor.core.requests.RouteRun;
import glenmoor.engine.letters.Outbox;
import glenmoor.engine.letters.Outbox.Unwritten;
import glenmoor.engine.requests.LineMoves.Loaded;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.people.PersonRow;
import jakarta.inject.Named;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Objects;
import java.util.Optional;
import java.util.stream.Stream;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Tells people by letter that they are asked, that they still are, and how it ended, as far as the
 * route names letters for that. Whoever has no address is not told, and that stops nothing.
 */
@Named
final class RequestLetters {
  private static final Logger LOG = LoggerFactory.getLogger(RequestLetters.class);

  private final Outbox outbox;
  private final PersonMapper people;

  RequestLetters(Outbox outbox, PersonMapper people) {
    this.outbox = outbox;
    this.people = people;
  }

  /** Writes what follows from a move, inside the transaction that made it. */
  void tell(Loaded loaded, RouteRun.Moved moved, Catalogue catalogue, Instant now) {
    Optional<Route> route =
        Optional.ofNullable(catalogue.defined().all(RouteKind.class).get(loaded.line().route()));
    if (route.isEmpty()) {
      return;
    }
    var asked = letter(route.get().askedLetter(), catalogue);
    var settled = letter(route.get().settledLetter(), catalogue);
    for (var each : moved.happened()) {
      switch (each) {
        case Happening.Asked who ->
            asked.ifPresent(letter ->
                write(
                    letter,
                    rows(who.who()),
                    ask(loaded, catalogue),
                    loaded,
                    who.stage(),
                    now,
                    catalogue));
        case Happening.Nudged who ->
            asked.ifPresent(letter ->
                write(
                    letter,
                    rows(who.who()),
                    "Still waits: " + ask(loaded, catalogue),
                    loaded,
                    who.stage(),
                    now,
                    catalogue));
        case Happening.StageSettled stage -> {}
        case Happening.LineEnded ended ->
            settled.ifPresent(letter ->
                write(
                    letter,
                    concerned(loaded),
                    outcome(loaded, ended, catalogue),
                    loaded,
                    -1,
                    now,
                    catalogue));
      }
    }
  }

  private static Optional<Letter> letter(String key, Catalogue catalogue) {
    return key.isEmpty()
        ? Optional.empty()
        : Optional.ofNullable(catalogue.defined().all(LetterKind.class).get(key));
  }

  private List<PersonRow> rows(Collection<PersonId> who) {
    return who.isEmpty() ? List.of() : people.byIds(who.stream().map(PersonId::value).toList());
  }

  /** Whoever gets it, and whoever asked. */
  private List<PersonRow> concerned(Loaded loaded) {
    var rows = new ArrayList<>(List.of(loaded.subject()));
    var asker = loaded.request().askerId();
    if (asker != null && !asker.equals(loaded.subject().id())) {
      rows.addAll(people.byIds(List.of(asker)));
    }
    return rows;
  }

  private static String name(Loaded loaded, Catalogue catalogue) {
    return Optional.ofNullable(catalogue.packages().get(loaded.line().packageKey()))
        .map(RolePackage::name)
        .orElse(loaded.line().packageKey());
  }

  private static String ask(Loaded loaded, Catalogue catalogue) {
    return "“%s” for %s%s"
        .formatted(
            name(loaded, catalogue),
            loaded.subject().name(),
            loaded.line().reason().isBlank() ? "." : ", because: " + loaded.line().reason());
  }

  private static String outcome(Loaded loaded, Happening.LineEnded ended, Catalogue catalogue) {
    var how = ended.how();
    return "“%s” for %s was %s%s"
        .formatted(
            name(loaded, catalogue),
            loaded.subject().name(),
            how.outcome().word(),
            how.reason().isBlank() ? "." : ": " + how.reason());
  }

  private void write(
      Letter letter,
      List<PersonRow> recipients,
      String work,
      Loaded loaded,
      int stage,
      Instant now,
      Catalogue catalogue) {
    var today = now.atZone(catalogue.zone()).toLocalDate();
    var line = loaded.line().id();
    Stream.of(recipients)
        .flatMap(List::stream)
        .filter(Objects::nonNull)
        .forEach(recipient -> {
          try {
            outbox.remind(
                letter,
                recipient,
                work,
                today,
                new Outbox.Cause(
                    null,
                    "request:%d:%d:%s".formatted(line, stage, now.getEpochSecond()),
                    "request:" + loaded.request().id()));
          } catch (Unwritten unwritten) {
            LOG.warn("Nobody can be told of request {}: {}", line, unwritten.getMessage());
          }
        });
  }
}
