package glenmoor.engine.letters;

import glenmoor.connect.letters.ChannelHttp;
import glenmoor.connect.letters.Smtp;
import glenmoor.core.jobs.GrowingPause;
import glenmoor.core.letters.ChannelKind;
import glenmoor.core.letters.Delivery;
import glenmoor.core.letters.LetterValues;
import glenmoor.core.letters.PostageKind;
import glenmoor.engine.agenda.FallsDue;
import glenmoor.engine.applications.ConnectorSettings;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.installation.InstallationState;
import glenmoor.engine.installation.Installations;
import glenmoor.engine.jobs.RecurringJob;
import glenmoor.engine.provisioning.Secrets;
import glenmoor.engine.time.Clock;
import glenmoor.engine.time.Transactions;
import glenmoor.store.Ids;
import glenmoor.store.letters.MessageMapper;
import glenmoor.store.letters.MessageMapper.Taken;
import jakarta.inject.Named;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.Executors;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Hands messages over, several side by side, each leased for a while: of two services one sends it.
 * A service that dies after handing one over and before noting it sends it again, under the same
 * identifier.
 */
@Named
public final class Sending implements RecurringJob.Owner, FallsDue, Installations.Backlog {
  private static final Logger LOG = LoggerFactory.getLogger(Sending.class);
  private static final int AT_ONCE = 16;
  private static final int LEASE_SECONDS = 120;
  private static final int MOST_TRIES = 18;
  private static final GrowingPause PAUSE =
      new GrowingPause(Duration.ofMinutes(1), Duration.ofHours(12));

  /** Whoever waits for a message of a run. */
  public interface Settled {
    /** Called in the transaction that notes what came of a message of the run. */
    void settled(long run);
  }

  private final MessageMapper messages;
  private final InstallationState installation;
  private final Catalogues catalogues;
  private final Secrets secrets;
  private final Smtp smtp;
  private final ChannelHttp channels;
  private final List<Settled> waiting;
  private final Transactions transactions;
  private final Ids ids;
  private final Clock clock;

  public Sending(
      MessageMapper messages,
      Catalogues catalogues,
      Secrets secrets,
      MailSettings mail,
      ConnectorSettings settings,
      InstallationState installation,
      List<Settled> waiting,
      Transactions transactions,
      Ids ids,
      Clock clock) {
    this.messages = messages;
    this.catalogues = catalogues;
    this.secrets = secrets;
    smtp = new Smtp(mail.server());
    channels = new ChannelHttp(settings.environment());
    this.installation = installation;
    this.waiting = waiting;
    this.transactions = transactions;
    this.ids = ids;
    this.clock = clock;
  }

  @Override
  public List<RecurringJob> recurring() {
    return List.of(
        new RecurringJob(
            "letters",
            "hands letters and other messages to the outside",
            Duration.ofSeconds(1),
            this::carryOut));
  }

  @Override
  public @Nullable Instant next() {
    // What is tried again later is overdue at the next stop anyway.
    return null;
  }

  @Override
  public boolean busy() {
    return !installation.quiet() && messages.ready(clock.instant(), 1) > 0;
  }

  /** Sends all that is due. */
  @Override
  public int carryOut() {
    if (installation.quiet()) {
      return 0;
    }
    var sent = 0;
    List<Taken> batch;
    do {
      var token = ids.next();
      batch =
          transactions.run(() -> {
            var due = messages.due(clock.instant(), AT_ONCE);
            if (!due.isEmpty()) {
              messages.lease(due.stream().map(Taken::id).toList(), token, LEASE_SECONDS);
            }
            return due;
          });
      try (var beside = Executors.newVirtualThreadPerTaskExecutor()) {
        batch.forEach(message -> beside.submit(() -> one(message, token)));
      }
      sent += batch.size();
    } while (batch.size() == AT_ONCE);
    return sent;
  }

  private void one(Taken message, long token) {
    Delivery delivery;
    try {
      delivery = deliver(message);
    } catch (RuntimeException failed) {
      LOG.error("Message {} could not be sent", message.id(), failed);
      delivery = new Delivery.NotNow("Sending failed; the service's log says why.");
    }
    settle(message, token, delivery);
  }

  private Delivery deliver(Taken message) {
    var defined = catalogues.current().defined();
    var passcode =
        message.sealed().isEmpty()
            ? Optional.<String>empty()
            : Optional.of(secrets.open(message.sealed()));
    if (!message.kind().equals("letter")) {
      var channel = defined.all(ChannelKind.class).get(message.channel());
      return channel == null
          ? new Delivery.NotNow("There is no channel “%s” any more.".formatted(message.channel()))
          : channels.deliver(
              channel, message.id(), told(message.body(), passcode), message.createdAt());
    }
    var postage = PostageKind.of(defined);
    if (postage.isEmpty()) {
      return new Delivery.NotNow("Nothing says who letters come from: define letters.");
    }
    return smtp.deliver(
        new Smtp.Mail(
            message.id(),
            postage.get().from(),
            message.address(),
            message.subject(),
            told(message.body(), passcode),
            told(message.html(), passcode),
            clock.instant()));
  }

  private static String told(String text, Optional<String> passcode) {
    return passcode.map(code -> text.replace(LetterValues.PASSCODE_PLACE, code)).orElse(text);
  }

  @Override
  public int drop(String reason, Instant now) {
    var runs = messages.waitingRuns();
    var dropped = messages.dropWaiting(reason, now);
    runs.forEach(run -> waiting.forEach(each -> each.settled(run)));
    return dropped;
  }

  private void settle(Taken message, long token, Delivery delivery) {
    transactions.run(() -> {
      var now = clock.instant();
      var noted =
          switch (delivery) {
            case Delivery.Taken taken ->
                messages.settle(message.id(), token, "sent", null, "", taken.answer(), now);
            case Delivery.Refused refused ->
                messages.settle(message.id(), token, "failed", null, refused.reason(), "", now);
            case Delivery.NotNow notNow ->
                message.tries() + 1 >= MOST_TRIES
                    ? messages.settle(
                        message.id(),
                        token,
                        "failed",
                        null,
                        "Tried %d times: %s".formatted(MOST_TRIES, notNow.reason()),
                        "",
                        now)
                    : messages.settle(
                        message.id(),
                        token,
                        "waiting",
                        now.plus(PAUSE.after(message.tries())),
                        notNow.reason(),
                        "",
                        now);
          };
      var run = message.runId();
      if (noted > 0 && run != null) {
        waiting.forEach(each -> each.settled(run));
      }
    });
  }
}
