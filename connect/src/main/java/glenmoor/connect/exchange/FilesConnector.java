package glenmoor.connect.exchange;

import de.siegmar.fastcsv.writer.CsvWriter;
import glenmoor.connect.applications.Connector;
import glenmoor.connect.exchange.ExchangeFolder.Answer;
import glenmoor.connect.exchange.ExchangeFolder.CannotExchange;
import glenmoor.connect.exchange.Listing.NoListing;
import glenmoor.connect.exchange.Listing.Row;
import glenmoor.core.access.Entitlement;
import glenmoor.core.applications.Application;
import glenmoor.core.provisioning.Outcome;
import glenmoor.core.provisioning.ProvisioningCommand;
import java.time.Duration;
import java.time.Instant;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Consumer;
import java.util.function.UnaryOperator;
import org.jspecify.annotations.Nullable;

/**
 * Accounts of an application that takes files. Nothing is sent by an operation itself: all that
 * waits is written to the next file at once, and what the application's answer to that file, or to
 * a later one, says of the account is what came of it. An answer to an earlier file proves nothing,
 * not even if it shows things as they shall be.
 */
public final class FilesConnector implements Connector {
  private static final int UNANSWERED = 2;
  private static final Duration LOOK_AGAIN = Duration.ofMillis(200);

  private final Application application;
  private final ExchangeFolder folder;
  private @Nullable Known known;
  private long lookedAt;

  /** An answer, and what it says. */
  private record Known(Answer answer, Listing listing) {}

  /** The newest answer there is, and how many accounts and problems it names. */
  public record Answered(String order, Instant at, int accounts, int problems) {}

  FilesConnector(Application application, ExchangeFolder folder) {
    this.application = application;
    this.folder = folder;
  }

  /**
   * The newest answer of the application.
   *
   * @throws CannotRead if there is one that cannot be read
   */
  public Optional<Answered> answered() {
    try {
      return Optional.ofNullable(newest())
          .map(newest ->
              new Answered(
                  newest.answer().order(),
                  newest.answer().at(),
                  newest.listing().accounts(),
                  newest.listing().problems()));
    } catch (NoListing | CannotExchange bad) {
      throw new CannotRead(String.valueOf(bad.getMessage()));
    }
  }

  /** The columns of an order. */
  public List<String> headings() {
    return ExchangeFolder.headings(List.copyOf(application.attributes().keySet()));
  }

  /**
   * Writes an order.
   *
   * @throws CannotRead if it cannot be written
   */
  public void write(String name, Consumer<CsvWriter> rows) {
    try {
      folder.write(name, rows);
    } catch (CannotExchange failed) {
      throw new CannotRead(String.valueOf(failed.getMessage()));
    }
  }

  /** The newest answer; a directory that was looked at a moment ago is not looked at again. */
  private synchronized @Nullable Known newest() throws NoListing {
    if (lookedAt != 0 && System.nanoTime() - lookedAt < LOOK_AGAIN.toNanos()) {
      return known;
    }
    var newest = folder.newestAnswer(known == null ? null : known.answer()).orElse(null);
    if (newest == null) {
      known = null;
    } else if (known == null || !known.answer().equals(newest)) {
      known = new Known(newest, Listing.of(newest, application.attributes().keySet()));
    }
    lookedAt = System.nanoTime();
    return known;
  }

  @Override
  public Outcome carryOut(ProvisioningCommand command, Target target, UnaryOperator<String> open) {
    if (command instanceof ProvisioningCommand.SetPassword) {
      return new Outcome.Refused("Accounts there have no password that Glenmoor could set.");
    }
    if (command instanceof ProvisioningCommand.HandOver) {
      return Connector.ownsNothing();
    }
    try {
      var newest = newest();
      var handedOver = target.handedOverAt();
      if (handedOver == null) {
        return new Outcome.Pending("stands in the next file");
      }
      return newest == null || newest.answer().at().isBefore(handedOver)
          ? new Outcome.Pending(
              "handed over in %s, which is not answered yet"
                  .formatted(ExchangeFolder.name(application.key(), handedOver)))
          : shown(command, target, newest);
    } catch (NoListing bad) {
      return new Outcome.WrongSettings(
          "its answer %s. Have it answered anew".formatted(bad.getMessage()));
    } catch (CannotExchange away) {
      return new Outcome.Unreachable(String.valueOf(away.getMessage()));
    }
  }

  /** What an answer says of an order that was handed over in the file it answers, or before. */
  private Outcome shown(ProvisioningCommand command, Target target, Known newest) {
    var row = newest.listing().of(target.worker());
    var order = newest.answer().order();
    if (newest.listing().isTwice(target.worker())) {
      return new Outcome.Refused(
          "Its answer to %s names two accounts of %s. Leave the worker number to one of them, then try again."
              .formatted(order, target.worker()));
    }
    if (row.isThere() && target.owners().isOthers(row.worker())) {
      return new Outcome.Refused(
          "The account %s belongs to somebody else's account already; one account serves one person."
              .formatted(row.account()));
    }
    if (isAsOrdered(command, row)) {
      return new Outcome.Confirmed(row.isThere() ? row.worker() : "", "");
    }
    if (!row.problem().isEmpty()) {
      return new Outcome.Refused("It answers %s with: %s".formatted(order, bounded(row.problem())));
    }
    if (!row.isThere() && !(command instanceof ProvisioningCommand.Create)) {
      return new Outcome.Gone(
          "its answer to %s names no account of %s".formatted(order, target.worker()));
    }
    return new Outcome.Refused(
        row.isThere()
            ? "It took %s, and its answer shows the account otherwise than ordered."
                .formatted(order)
            : "It took %s, and its answer names no account of %s."
                .formatted(order, target.worker()));
  }

  private static boolean isAsOrdered(ProvisioningCommand command, Row row) {
    return switch (command) {
      case ProvisioningCommand.Create create ->
          row.state().equals(create.state().word())
              && isShaped(row, create.name(), create.attributes());
      case ProvisioningCommand.Update update ->
          row.isThere() && isShaped(row, update.name(), update.attributes());
      case ProvisioningCommand.Enable e -> row.state().equals("enabled");
      case ProvisioningCommand.Disable d -> row.state().equals("disabled");
      case ProvisioningCommand.Add add -> row.rights().contains(add.technicalName());
      case ProvisioningCommand.Remove remove ->
          row.isThere() && !row.rights().contains(remove.technicalName());
      case ProvisioningCommand.Delete d -> !row.isThere();
      case ProvisioningCommand.SetPassword s -> false;
      case ProvisioningCommand.HandOver h -> false;
    };
  }

  private static boolean isShaped(Row row, String name, Map<String, String> attributes) {
    return row.account().equals(name)
        && attributes.entrySet().stream()
            .allMatch(
                each -> row.attributes().getOrDefault(each.getKey(), "").equals(each.getValue()));
  }

  private static String bounded(String text) {
    var plain = text.replaceAll("\\p{Cntrl}", " ");
    return plain.length() > 300 ? plain.substring(0, 299) + "…" : plain;
  }

  @Override
  public Health test() {
    var before = System.nanoTime();
    try {
      folder.test();
      var newest = newest();
      var after = newest == null ? Instant.MIN : newest.answer().at();
      var unanswered = folder.ordersAfter(after);
      var millis = (System.nanoTime() - before) / 1_000_000;
      return unanswered < UNANSWERED
          ? new Health(true, "takes files", millis)
          : new Health(false, "the last %d files are not answered".formatted(unanswered), millis);
    } catch (NoListing bad) {
      return new Health(false, "its answer " + bad.getMessage(), 0);
    } catch (CannotExchange away) {
      return new Health(false, String.valueOf(away.getMessage()), 0);
    }
  }

  @Override
  public Findings examine(Collection<Entitlement> entitlements) {
    var missing =
        entitlements.stream()
            .map(Entitlement::technicalName)
            .filter(name -> name.contains(";"))
            .map(name ->
                "the right %s has a semicolon in its name, which stands between rights in files"
                    .formatted(name))
            .toList();
    try {
      folder.test();
    } catch (CannotExchange away) {
      throw new CannotRead(String.valueOf(away.getMessage()));
    }
    return new Findings(List.of("takes files, and answers with files"), missing);
  }

  private Listing listing() {
    try {
      var newest = newest();
      if (newest == null) {
        throw new CannotRead("It has not answered any file yet.");
      }
      return newest.listing();
    } catch (NoListing | CannotExchange bad) {
      throw new CannotRead(String.valueOf(bad.getMessage()));
    }
  }

  @Override
  public void list(Consumer<Seen> each) {
    for (var row : listing().rows()) {
      if (row.isThere()) {
        each.accept(
            new Seen(
                reference(row),
                reference(row),
                row.account(),
                "",
                row.worker(),
                row.state().equals("enabled"),
                row.attributes(),
                null));
      }
    }
  }

  /** What an account is told by: its worker number, or without one its name. */
  private static String reference(Row row) {
    return row.worker().isEmpty() ? "account " + row.account() : row.worker();
  }

  @Override
  public void memberships(Consumer<Membership> each) {
    for (var row : listing().rows()) {
      if (row.isThere()) {
        row.rights().forEach(right -> each.accept(new Membership(reference(row), "role", right)));
      }
    }
  }

  @Override
  public Outcome claim(String nativeId, String worker) {
    return new Outcome.Refused(
        "It takes files about accounts with a worker number only: have %s given it there."
            .formatted(worker));
  }

  @Override
  public Outcome deleteStray(String nativeId) {
    return new Outcome.Refused(
        "It takes files about accounts with a worker number only: have it deleted there.");
  }

  @Override
  public void close() {}
}
