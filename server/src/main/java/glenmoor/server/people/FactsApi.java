package glenmoor.server.people;

import glenmoor.engine.people.PeopleService;
import glenmoor.engine.people.PeopleService.Fact;
import glenmoor.server.Lists;
import glenmoor.server.authorization.ForEverybody;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;

/** The facts that people have here. */
@RestController
@RequestMapping("/api/v1/facts")
class FactsApi {
  private final PeopleService people;

  FactsApi(PeopleService people) {
    this.people = people;
  }

  @ForEverybody
  @GetMapping
  Lists.Page<Fact> list() {
    return new Lists.Page<>(people.facts(), null);
  }
}
