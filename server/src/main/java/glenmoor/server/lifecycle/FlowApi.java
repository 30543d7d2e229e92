package glenmoor.server.lifecycle;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.engine.Authorization;
import glenmoor.engine.Refused;
import glenmoor.engine.ledger.Ledger;
import glenmoor.server.authorization.Needs;
import glenmoor.server.identity.SignedOut;
import glenmoor.server.identity.Who;
import jakarta.servlet.http.HttpServletRequest;
import java.io.IOException;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Objects;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicBoolean;
import java.util.concurrent.atomic.AtomicReference;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.beans.factory.DisposableBean;
import org.springframework.context.event.EventListener;
import org.springframework.http.MediaType;
import org.springframework.security.core.Authentication;
import org.springframework.security.core.context.SecurityContextHolder;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;
import org.springframework.web.servlet.mvc.method.annotation.SseEmitter;

/**
 * Tells open pages that something happened (server-sent events, WHATWG HTML section 9.2).
 * Everything that happens is in the ledger, whichever replica did it, so one cheap question a
 * moment to the ledger is enough for any number of pages. A stream ends with the session that
 * opened it.
 */
@RestController
@RequestMapping("/api/v1/flow")
class FlowApi implements DisposableBean {
  private static final Logger LOG = LoggerFactory.getLogger(FlowApi.class);
  private static final long LOOK_MILLIS = 500;
  private static final long STILL_MILLIS = 10_000;
  private static final Duration LONGEST = Duration.ofMinutes(30);
  private static final int MOST_EACH = 20;
  private static final int MOST = 1_000;

  /** One open page. */
  private static final class Page {
    private final SseEmitter emitter = new SseEmitter(LONGEST.toMillis());
    private final String login;
    private final @Nullable String session;
    private final @Nullable Authentication found;
    private final AtomicReference<@Nullable String> untold = new AtomicReference<>();
    private final AtomicBoolean telling = new AtomicBoolean();

    Page(String login, @Nullable String session, @Nullable Authentication found) {
      this.login = login;
      this.session = session;
      this.found = found;
    }
  }

  private final List<Page> open = new CopyOnWriteArrayList<>();
  private final Ledger ledger;
  private final Who who;
  private final ScheduledExecutorService looking =
      Executors.newSingleThreadScheduledExecutor(Thread.ofVirtual().factory());
  private @Nullable Instant last;

  FlowApi(Ledger ledger, Who who) {
    this.ledger = ledger;
    this.who = who;
    looking.scheduleWithFixedDelay(this::look, LOOK_MILLIS, LOOK_MILLIS, TimeUnit.MILLISECONDS);
    looking.scheduleWithFixedDelay(
        this::closeOver, STILL_MILLIS, STILL_MILLIS, TimeUnit.MILLISECONDS);
  }

  /** Sends {@code changed} each time something happened; pages then ask for what they show. */
  @Needs(Permission.SEE_FEEDS)
  @GetMapping(value = "/changes", produces = MediaType.TEXT_EVENT_STREAM_VALUE)
  SseEmitter changes(Actor actor, HttpServletRequest request) throws IOException {
    Authorization.need(actor, Permission.SEE_FEEDS);
    room(actor.login());
    var session = request.getSession(false);
    var page =
        new Page(
            actor.login(),
            session == null ? null : session.getId(),
            SecurityContextHolder.getContext().getAuthentication());
    page.emitter.onCompletion(() -> open.remove(page));
    page.emitter.onTimeout(page.emitter::complete);
    page.emitter.onError(failed -> open.remove(page));
    open.add(page);
    page.emitter.send(SseEmitter.event().name("open").data(""));
    return page.emitter;
  }

  private void room(String login) {
    if (open.size() >= MOST
        || open.stream().filter(page -> page.login.equals(login)).count() >= MOST_EACH) {
      throw new Refused(
          Refused.Reason.TOO_MANY,
          "Too many pages follow what happens already; close some, or look again later.");
    }
  }

  @EventListener
  void signedOut(SignedOut out) {
    open.stream()
        .filter(page -> out.session().equals(page.session))
        .forEach(page -> page.emitter.complete());
  }

  /** Ends what is open for those whose sign-in or session is over meanwhile. */
  private void closeOver() {
    try {
      open.stream()
          .filter(page -> !who.isStill(page.found))
          .forEach(page -> page.emitter.complete());
    } catch (RuntimeException away) {
      LOG.debug("Cannot look who is still signed in: {}", away.getMessage());
    }
  }

  private void look() {
    if (open.isEmpty()) {
      return;
    }
    try {
      var latest = ledger.latest();
      if (!Objects.equals(latest, last)) {
        last = latest;
        open.forEach(page -> tell(page, String.valueOf(latest)));
      }
    } catch (RuntimeException away) {
      LOG.debug("Cannot look for changes: {}", away.getMessage());
    }
  }

  /** One page that does not read must not keep the others waiting. */
  private void tell(Page page, String latest) {
    page.untold.set(latest);
    if (page.telling.compareAndSet(false, true)) {
      Thread.ofVirtual().start(() -> tellAll(page));
    }
  }

  private void tellAll(Page page) {
    try {
      for (var next = page.untold.getAndSet(null);
          next != null;
          next = page.untold.getAndSet(null)) {
        page.emitter.send(SseEmitter.event().name("changed").data(next));
      }
    } catch (IOException | IllegalStateException gone) {
      open.remove(page);
    } finally {
      page.telling.set(false);
    }
    // What came between the last look and the flag is told by whoever comes next; look once more.
    var late = page.untold.get();
    if (late != null && open.contains(page)) {
      tell(page, late);
    }
  }

  @Override
  public void destroy() {
    looking.shutdownNow();
    open.forEach(page -> page.emitter.complete());
  }
}
