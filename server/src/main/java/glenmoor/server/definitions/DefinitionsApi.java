package glenmoor.server.definitions;

import glenmoor.engine.definitions.DefinitionDesk;
import glenmoor.engine.definitions.DefinitionDesk.File;
import glenmoor.engine.people.Actor;
import java.util.List;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;

/** Definitions as files: check, compare, load, dump. */
@RestController
@RequestMapping("/api/v1/definitions")
class DefinitionsApi {
  /**
   * Files to check or load.
   *
   * @param replace whether what is not in them is dropped
   */
  record Files(List<File> files, boolean replace) {}

  private final DefinitionDesk definitions;

  DefinitionsApi(DefinitionDesk definitions) {
    this.definitions = definitions;
  }

  /** What loading would change, and what that would do; nothing is loaded. */
  @PostMapping("/forecast")
  DefinitionDesk.Outcome forecast(@RequestBody Files files, Actor actor) {
    return definitions.forecast(files.files(), files.replace(), actor);
  }

  @PostMapping
  DefinitionDesk.Outcome load(@RequestBody Files files, Actor actor) {
    return definitions.load(files.files(), files.replace(), actor);
  }

  /** All definitions in force, as one YAML file. */
  @GetMapping(produces = "application/yaml")
  String dump(Actor actor) {
    return definitions.dump(actor);
  }
}
