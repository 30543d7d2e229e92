package glenmoor.engine.installation;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.installation.Installation;
import glenmoor.core.ledger.LedgerEntry;
import glenmoor.engine.Authorization;
import glenmoor.engine.Refused;
import glenmoor.engine.StatedReason;
import glenmoor.engine.jobs.RecurringJob;
import glenmoor.engine.ledger.Ledger;
import glenmoor.engine.time.Clock;
import glenmoor.engine.time.Transactions;
import glenmoor.store.installation.InstallationMapper;
import glenmoor.store.installation.InstallationMapper.InstallationRow;
import glenmoor.store.installation.InstallationMapper.WaitingMessages;
import glenmoor.store.installation.InstallationMapper.WaitingOperations;
import jakarta.inject.Named;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Knows which installation this database belongs to, and keeps a copy or a restored database from
 * acting in the place of the original. While it is quiet, it plans and shows; nothing is sent to an
 * application, over a channel or by mail, and no dropped file is taken, until an administrator
 * releases it.
 *
 * <p>A service remembers the newest entry of the record that it has seen, in memory and in a file:
 * once the database lacks that entry, it was set back, and is quiet.
 */
@Named
public final class Installations implements RecurringJob.Owner {
  private static final Logger LOG = LoggerFactory.getLogger(Installations.class);
  private static final Duration LOOK = Duration.ofSeconds(2);
  private static final String SUBJECT = "installation";

  /**
   * What the settings say.
   *
   * @param identity which installation this is
   * @param quiet whether it shall start quiet
   * @param state the file that remembers how far the record went; nothing to remember it in memory
   *     only
   */
  public record Place(String identity, boolean quiet, Optional<Path> state) {}

  /** Something that waits while it is quiet, and may be given up when it is released. */
  public interface Backlog {
    /** Gives up what waits, in the caller's transaction; how much it was. */
    int drop(String reason, Instant now);
  }

  /**
   * How it is, and what waits.
   *
   * @param here the identity of this service's settings
   * @param messages how many wait, by kind; empty to whoever may not release it
   */
  public record Shown(
      String identity,
      String here,
      boolean quiet,
      @Nullable Instant since,
      String reason,
      List<WaitingOperations> operations,
      List<WaitingMessages> messages) {}

  /** What becomes of messages that wait when it is released. */
  public enum Messages {
    SEND,
    DROP
  }

  private final InstallationMapper mapper;
  private final InstallationState state;
  private final Place place;
  private final List<Backlog> backlog;
  private final Transactions transactions;
  private final Ledger ledger;
  private final Clock clock;

  /** The newest entry that was seen; null for none. */
  private volatile @Nullable Long mark;

  Installations(
      InstallationMapper mapper,
      InstallationState state,
      Place place,
      List<Backlog> backlog,
      Transactions transactions,
      Ledger ledger,
      Clock clock) {
    this.mapper = mapper;
    this.state = state;
    this.place = place;
    this.backlog = backlog;
    this.transactions = transactions;
    this.ledger = ledger;
    this.clock = clock;
  }

  /** Looks where it is; called once, before anything may act. */
  public void begin() {
    transactions.run(() -> {
      var row = mapper.show();
      var seen = remembered();
      var used = mapper.used();
      var found =
          new Installation.Found(
              place.identity(), place.quiet(), used, seen != null && !mapper.hasEntry(seen));
      var reason = Installation.quietReason(row == null ? null : installation(row), found);
      var now = clock.instant();
      if (row == null) {
        mapper.begin(place.identity(), reason.isPresent() ? now : null, reason.orElse(""));
      }
      if (reason.isPresent() && (row == null || row.quietSince() == null)) {
        mapper.quiet(reason.get(), now);
        note(Actor.SERVICE.login(), "quiet", reason.get(), now);
      }
      reason.ifPresent(why -> LOG.warn("Quiet: nothing is sent. {}", why));
      mark = mapper.newestEntry();
      if (reason.isEmpty()) {
        remember(mark);
      }
    });
    state.proven(true);
  }

  private static Installation installation(InstallationRow row) {
    return new Installation(row.identity(), row.quietSince(), row.quietReason());
  }

  @Override
  public List<RecurringJob> recurring() {
    return List.of(
        new RecurringJob(
            "installation",
            "checks that the record was not set back, and remembers how far it goes",
            LOOK,
            LOOK,
            this::look));
  }

  /** Compares the record with what was seen of it. */
  void look() {
    var seen = mark;
    if (seen != null && !mapper.hasEntry(seen)) {
      state.proven(false);
      transactions.run(() -> {
        var now = clock.instant();
        if (mapper.quiet(Installation.OLDER, now) > 0) {
          note(Actor.SERVICE.login(), "quiet", Installation.OLDER, now);
        }
      });
      LOG.warn("Quiet: nothing is sent. {}", Installation.OLDER);
      return;
    }
    var newest = mapper.newestEntry();
    if (newest != null && !newest.equals(seen)) {
      mark = newest;
      // Until it is released, the file says what this service saw before.
      if (!state.quiet()) {
        remember(newest);
      }
    }
  }

  private @Nullable Long remembered() {
    try {
      return place.state().isPresent() && Files.exists(place.state().get())
          ? (Long) Long.parseLong(Files.readString(place.state().get()).strip())
          : null;
    } catch (IOException | NumberFormatException unreadable) {
      LOG.warn("{} cannot be read", place.state().get(), unreadable);
      return null;
    }
  }

  private void remember(@Nullable Long newest) {
    if (newest == null) {
      return;
    }
    place
        .state()
        .ifPresent(file -> {
          try {
            var fresh = file.resolveSibling(file.getFileName() + ".new");
            Files.writeString(fresh, newest + "\n");
            Files.move(fresh, file, StandardCopyOption.ATOMIC_MOVE);
          } catch (IOException failed) {
            throw new UncheckedIOException(failed);
          }
        });
  }

  /** How it is; what waits is shown to whoever may release it. */
  public Shown show(Actor actor) {
    var row = mapper.show();
    var releases = actor.may(Permission.RELEASE_INSTALLATION);
    return new Shown(
        row == null ? "" : row.identity(),
        place.identity(),
        state.quiet(),
        row == null ? null : row.quietSince(),
        row == null ? "" : row.quietReason(),
        releases ? mapper.waitingOperations() : List.of(),
        releases ? mapper.waitingMessages() : List.of());
  }

  /**
   * Makes it quiet by hand.
   *
   * @throws Refused if the actor may not, or it is quiet
   */
  public void silence(String reason, Actor actor) {
    Authorization.need(actor, Permission.RELEASE_INSTALLATION);
    var said = new StatedReason(reason).text().strip();
    transactions.run(() -> {
      var now = clock.instant();
      if (mapper.quiet(said, now) == 0) {
        throw new Refused(Refused.Reason.NOT_NOW, "It is quiet already.");
      }
      note(actor.login(), "quiet", said, now);
    });
    state.forget();
  }

  /**
   * Lets it act, as the installation that this service's settings name.
   *
   * @throws Refused if the actor may not, or it is not quiet
   */
  public void release(Messages messages, String reason, Actor actor) {
    Authorization.need(actor, Permission.RELEASE_INSTALLATION);
    var said = new StatedReason(reason).text().strip();
    transactions.run(() -> {
      var now = clock.instant();
      if (mapper.release(place.identity(), actor.login(), said, now) == 0) {
        throw new Refused(Refused.Reason.NOT_NOW, "It is not quiet.");
      }
      var dropped =
          messages == Messages.DROP
              ? backlog.stream().mapToInt(each -> each.drop("dropped when released", now)).sum()
              : 0;
      ledger.append(
          new LedgerEntry(
              now,
              actor.login(),
              "",
              SUBJECT,
              "released",
              Map.of(),
              Map.of("reason", said, "identity", place.identity(), "messagesDropped", dropped)));
      mark = mapper.newestEntry();
    });
    state.proven(true);
    remember(mark);
  }

  private void note(String by, String what, String reason, Instant now) {
    ledger.append(new LedgerEntry(now, by, "", SUBJECT, what, Map.of(), Map.of("reason", reason)));
  }
}
