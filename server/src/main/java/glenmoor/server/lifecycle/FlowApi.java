package glenmoor.server.lifecycle;

import glenmoor.engine.people.Actor;
import glenmoor.engine.people.Allow;
import glenmoor.store.ledger.LedgerMapper;
import java.io.IOException;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Objects;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.beans.factory.DisposableBean;
import org.springframework.http.MediaType;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;
import org.springframework.web.servlet.mvc.method.annotation.SseEmitter;

/**
 * Tells open pages that something happened (server-sent events, WHATWG HTML section 9.2).
 * Everything that happens is in the ledger, whichever replica did it, so one cheap question a
 * moment to the ledger is enough for any number of pages.
 */
@RestController
@RequestMapping("/api/v1/flow")
class FlowApi implements DisposableBean {
  private static final Logger LOG = LoggerFactory.getLogger(FlowApi.class);
  private static final long LOOK_MILLIS = 500;
  private static final Duration LONGEST = Duration.ofMinutes(30);

  private final List<SseEmitter> open = new CopyOnWriteArrayList<>();
  private final LedgerMapper ledger;
  private final ScheduledExecutorService looking =
      Executors.newSingleThreadScheduledExecutor(Thread.ofVirtual().factory());
  private @Nullable Instant last;

  FlowApi(LedgerMapper ledger) {
    this.ledger = ledger;
    looking.scheduleWithFixedDelay(this::look, LOOK_MILLIS, LOOK_MILLIS, TimeUnit.MILLISECONDS);
  }

  /** Sends {@code changed} each time something happened; pages then ask for what they show. */
  @GetMapping(value = "/changes", produces = MediaType.TEXT_EVENT_STREAM_VALUE)
  SseEmitter changes(Actor actor) throws IOException {
    Allow.seeingFeeds(actor);
    var emitter = new SseEmitter(LONGEST.toMillis());
    emitter.onCompletion(() -> open.remove(emitter));
    emitter.onTimeout(emitter::complete);
    emitter.onError(failed -> open.remove(emitter));
    open.add(emitter);
    emitter.send(SseEmitter.event().name("open").data(""));
    return emitter;
  }

  private void look() {
    if (open.isEmpty()) {
      return;
    }
    try {
      var latest = ledger.latest();
      if (!Objects.equals(latest, last)) {
        last = latest;
        open.forEach(this::tell);
      }
    } catch (RuntimeException away) {
      LOG.debug("Cannot look for changes: {}", away.getMessage());
    }
  }

  private void tell(SseEmitter emitter) {
    try {
      emitter.send(SseEmitter.event().name("changed").data(String.valueOf(last)));
    } catch (IOException | IllegalStateException gone) {
      open.remove(emitter);
    }
  }

  @Override
  public void destroy() {
    looking.shutdownNow();
    open.forEach(SseEmitter::complete);
  }
}
