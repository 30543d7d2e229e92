package glenmoor.engine.requests;

import glenmoor.core.access.Catalogue;
import glenmoor.core.access.RolePackage;
import glenmoor.core.letters.Channel;
import glenmoor.core.letters.ChannelKind;
import glenmoor.core.letters.Letter;
import glenmoor.core.letters.LetterKind;
import glenmoor.core.letters.LetterValues;
import glenmoor.core.people.PersonId;
import glenmoor.core.requests.Happening;
import glenmoor.core.requests.Route;
import glenmoor.core.requests.RouteKind;
import glenmoor.core.requests.RouteRun;
import glenmoor.core.requests.StageState;
import glenmoor.engine.letters.Outbox;
import glenmoor.engine.letters.Outbox.Unwritten;
import glenmoor.engine.letters.PublicAddress;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.people.PersonRow;
import jakarta.inject.Named;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Optional;
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
  private final KeyMaking keys;
  private final PublicAddress address;

  RequestLetters(Outbox outbox, PersonMapper people, KeyMaking keys, PublicAddress address) {
    this.outbox = outbox;
    this.people = people;
    this.keys = keys;
    this.address = address;
  }

  /** Writes what follows from a move, inside the transaction that made it. */
  void tell(LoadedLine loaded, RouteRun.Moved moved, Catalogue catalogue, Instant now) {
    Optional<Route> route =
        Optional.ofNullable(catalogue.defined().all(RouteKind.class).get(loaded.line().route()));
    if (route.isEmpty()) {
      return;
    }
    var asked = letter(route.get().askedLetter(), catalogue);
    var settled = letter(route.get().settledLetter(), catalogue);
    for (var each : moved.happened()) {
      switch (each) {
        case Happening.Asked who -> {
          var telling =
              new Telling(loaded, moved, who.stage(), ask(loaded, catalogue), now, catalogue);
          asked.ifPresent(letter -> rows(who.who()).forEach(row -> telling.ask(letter, row)));
          chat(route.get(), catalogue)
              .ifPresent(channel -> rows(who.who()).forEach(row -> telling.chat(channel, row)));
        }
        case Happening.Nudged who -> {
          var telling =
              new Telling(
                  loaded,
                  moved,
                  who.stage(),
                  "Still waits: " + ask(loaded, catalogue),
                  now,
                  catalogue);
          asked.ifPresent(letter -> rows(who.who()).forEach(row -> telling.ask(letter, row)));
        }
        case Happening.StageSettled stage -> {}
        case Happening.LineEnded ended -> {
          var telling =
              new Telling(loaded, moved, -1, outcome(loaded, ended, catalogue), now, catalogue);
          settled.ifPresent(letter -> concerned(loaded).forEach(row -> telling.write(letter, row)));
        }
      }
    }
  }

  private static Optional<Channel> chat(Route route, Catalogue catalogue) {
    return route.askedChat().isEmpty()
        ? Optional.empty()
        : Optional.ofNullable(catalogue.defined().all(ChannelKind.class).get(route.askedChat()));
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
  private List<PersonRow> concerned(LoadedLine loaded) {
    var rows = new ArrayList<>(List.of(loaded.subject()));
    var asker = loaded.request().askerId();
    if (asker != null && !asker.equals(loaded.subject().id())) {
      rows.addAll(people.byIds(List.of(asker)));
    }
    return rows;
  }

  private static String name(LoadedLine loaded, Catalogue catalogue) {
    return Optional.ofNullable(catalogue.packages().get(loaded.line().packageKey()))
        .map(RolePackage::name)
        .orElse(loaded.line().packageKey());
  }

  private static String ask(LoadedLine loaded, Catalogue catalogue) {
    return "“%s” for %s%s"
        .formatted(
            name(loaded, catalogue),
            loaded.subject().name(),
            loaded.line().reason().isBlank() ? "." : ", because: " + loaded.line().reason());
  }

  private static String outcome(LoadedLine loaded, Happening.LineEnded ended, Catalogue catalogue) {
    var how = ended.how();
    return "“%s” for %s was %s%s"
        .formatted(
            name(loaded, catalogue),
            loaded.subject().name(),
            how.outcome().word(),
            how.reason().isBlank() ? "." : ": " + how.reason());
  }

  /** What is told of one happening. */
  private final class Telling {
    private final LoadedLine loaded;
    private final RouteRun.Moved moved;
    private final int stage;
    private final String words;
    private final Instant now;
    private final LocalDate today;

    Telling(
        LoadedLine loaded,
        RouteRun.Moved moved,
        int stage,
        String words,
        Instant now,
        Catalogue catalogue) {
      this.loaded = loaded;
      this.moved = moved;
      this.stage = stage;
      this.words = words;
      this.now = now;
      today = now.atZone(catalogue.zone()).toLocalDate();
    }

    private Outbox.Cause cause(String how) {
      return new Outbox.Cause(
          null,
          "%s:%d:%d:%s".formatted(how, loaded.line().id(), stage, now),
          "request:" + loaded.request().id());
    }

    /** Good as long as the stage is open, and not a moment longer. */
    private String key(PersonRow row) {
      var state = moved.run().stages().get(stage).state();
      var lapse =
          state instanceof StageState.Open open
              ? open.times().lapse(moved.run().stages().get(stage).rule().clock())
              : now.plus(Duration.ofDays(1));
      return keys.make(loaded.line().id(), row.id(), now, lapse);
    }

    void ask(Letter letter, PersonRow row) {
      var page = address.page("/decide#");
      if (page.isEmpty() || !letter.leadsToDecision()) {
        write(letter, row);
        return;
      }
      attempt(() ->
          outbox.remind(
              letter, row, words, today, new Outbox.Leading(page, key(row)), cause("asked")));
    }

    void write(Letter letter, PersonRow row) {
      attempt(() -> outbox.remind(letter, row, words, today, cause("told")));
    }

    /** With buttons; whoever presses one is told by the chat who they are. */
    void chat(Channel channel, PersonRow row) {
      attempt(() -> {
        var data = new LinkedHashMap<String, Object>();
        data.put("text", "You are asked to decide: " + words);
        data.put("to", row.workerNumber());
        data.put("actions", List.of("approve", "decline"));
        data.put("reply", address.page("/api/v1/chats/" + channel.key() + "/decisions"));
        data.put("key", LetterValues.PASSCODE_PLACE);
        outbox.tell(
            channel.kind().word(),
            channel.key(),
            outbox.about(row),
            words,
            data,
            key(row),
            new Outbox.Cause(
                null,
                "chat:%d:%d:%s:%d".formatted(loaded.line().id(), stage, now, row.id()),
                "request:" + loaded.request().id()));
      });
    }

    private void attempt(Runnable told) {
      try {
        told.run();
      } catch (Unwritten unwritten) {
        LOG.warn(
            "Nobody can be told of the line {}: {}", loaded.line().id(), unwritten.getMessage());
      }
    }
  }
}
