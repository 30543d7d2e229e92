package glenmoor.server.today;

import glenmoor.core.authorization.Actor;
import glenmoor.engine.applications.HealthChecks;
import glenmoor.engine.reconcile.DriftService;
import glenmoor.engine.today.Today;
import glenmoor.engine.today.Today.Found;
import glenmoor.server.authorization.ForEverybody;
import glenmoor.server.brakes.HeldChangesApi;
import glenmoor.server.brakes.HeldChangesApi.HeldChange;
import glenmoor.server.people.WorkListApi;
import glenmoor.server.people.WorkListApi.Trouble;
import glenmoor.server.provisioning.OperationsApi;
import glenmoor.server.provisioning.OperationsApi.Operation;
import java.time.Instant;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/** The first page, and the finder. */
@RestController
@RequestMapping("/api/v1")
class TodayApi {
  /** A feed of the last day, as far as the first page needs. */
  record FeedSeen(long id, String fileName, String state, String sentence, int rowsRejected) {}

  /** What needs whoever asks, what moved since yesterday, and what is due this week. */
  record TodayShown(
      Instant now,
      String zone,
      List<Operation> faults,
      List<HealthChecks.Unwell> unwell,
      List<FeedSeen> feeds,
      List<Today.Moved> moved,
      List<Today.Upcoming> upcoming,
      int people,
      List<HeldChange> held,
      List<DriftService.OpenDrift> drift,
      int tasks,
      List<Trouble> troubles,
      int troubled,
      @Nullable Instant planningLateSince) {}

  private final Today today;

  TodayApi(Today today) {
    this.today = today;
  }

  @ForEverybody
  @GetMapping("/today")
  TodayShown page(Actor actor) {
    var page = today.page(actor);
    return new TodayShown(
        page.now(),
        page.zone(),
        page.faults().stream().map(OperationsApi::operation).toList(),
        page.unwell(),
        page.feeds().stream()
            .map(feed ->
                new FeedSeen(
                    feed.id(), feed.fileName(), feed.state(), feed.sentence(), feed.rowsRejected()))
            .toList(),
        page.moved(),
        page.upcoming(),
        page.people(),
        page.held().stream().map(HeldChangesApi::change).toList(),
        page.drift(),
        page.tasks(),
        page.troubles().stream().map(WorkListApi::trouble).toList(),
        page.troubled(),
        page.planningLateSince());
  }

  /** How many things wait for whoever asks. */
  record Waiting(int waiting) {}

  @ForEverybody
  @GetMapping("/today/waiting")
  Waiting waiting(Actor actor) {
    return new Waiting(today.waiting(actor));
  }

  /** Things whose name contains the text. */
  @ForEverybody
  @GetMapping("/find")
  List<Found> find(@RequestParam String text, Actor actor) {
    return text.isBlank() ? List.of() : today.find(text.strip(), actor);
  }
}
