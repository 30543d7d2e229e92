package glenmoor.server.people;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.people.WorkListEntry;
import glenmoor.engine.people.PeopleService;
import glenmoor.server.Lists;
import glenmoor.server.authorization.Needs;
import java.time.Instant;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;

/**
 * People about whom something could not be computed: they keep what they have until it is mended.
 */
@RestController
@RequestMapping("/api/v1/work-list")
public class WorkListApi {
  /** One of them; {@code place} is empty where nothing at all could be planned. */
  public record Trouble(String worker, String name, String place, String sentence, Instant since) {}

  private final PeopleService people;

  WorkListApi(PeopleService people) {
    this.people = people;
  }

  /** The row as people see it. */
  public static Trouble trouble(WorkListEntry row) {
    return new Trouble(
        row.workerNumber(), row.personName(), row.place(), row.sentence(), row.since());
  }

  @Needs(Permission.SEE_WORK_LIST)
  @GetMapping
  Lists.Page<Trouble> list(Actor actor) {
    return new Lists.Page<>(
        people.troubles(actor).stream().map(WorkListApi::trouble).toList(), null);
  }
}
