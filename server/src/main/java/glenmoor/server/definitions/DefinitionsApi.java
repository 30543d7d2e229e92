package glenmoor.server.definitions;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.engine.definitions.DefinitionDrafts;
import glenmoor.engine.definitions.DefinitionFile;
import glenmoor.engine.definitions.DefinitionService;
import glenmoor.engine.definitions.NameTrials;
import glenmoor.server.authorization.Needs;
import glenmoor.server.jobs.ProgressApi;
import glenmoor.server.jobs.ProgressApi.Work;
import jakarta.validation.Valid;
import jakarta.validation.constraints.NotNull;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import org.jspecify.annotations.Nullable;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
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
   * @param online whether the applications are asked for what must be there beforehand
   * @param why it is kept; needed to load a package that is another one then
   */
  record Files(
      @NotNull List<@NotNull @Valid DefinitionFile> files,
      boolean replace,
      @Nullable Boolean online,
      @Nullable String why) {}

  /**
   * People whose account names are tried.
   *
   * @param files definitions to try; none for those in force
   * @param people facts by key, and {@code worker}
   */
  record Trying(
      @Nullable List<@NotNull DefinitionFile> files,
      @NotNull List<@NotNull Map<String, @NotNull String>> people) {}

  private final DefinitionService definitions;

  /** A definition as YAML. */
  record DefinitionText(@NotNull String text) {}

  private final DefinitionDrafts drafts;
  private final NameTrials names;
  private final ProgressApi progress;

  DefinitionsApi(
      DefinitionService definitions,
      DefinitionDrafts drafts,
      NameTrials names,
      ProgressApi progress) {
    this.drafts = drafts;
    this.names = names;
    this.progress = progress;
    this.definitions = definitions;
  }

  /** What loading would change, and what that would do; nothing is loaded. */
  @Needs({Permission.SEE_DEFINITIONS, Permission.BUNDLE, Permission.TEND_PORTFOLIOS})
  @PostMapping("/forecast")
  ResponseEntity<Work> forecast(@Valid @RequestBody Files files, Actor actor) {
    return progress.accepted(
        definitions.beginForecast(
            files.files(), files.replace(), Boolean.TRUE.equals(files.online()), actor),
        actor);
  }

  /** Loads all of them, or holds them where a brake says so. */
  @Needs({Permission.LOAD_DEFINITIONS, Permission.BUNDLE, Permission.TEND_PORTFOLIOS})
  @PostMapping
  ResponseEntity<Work> load(@Valid @RequestBody Files files, Actor actor) {
    return progress.accepted(
        definitions.beginLoad(
            files.files(), files.replace(), Objects.requireNonNullElse(files.why(), ""), actor),
        actor);
  }

  /** One definition in force, as it would stand in a file. */
  @Needs({Permission.SEE_DEFINITIONS, Permission.BUNDLE, Permission.TEND_PORTFOLIOS})
  @GetMapping("/{kind}/{key}")
  DefinitionText text(@PathVariable String kind, @PathVariable String key, Actor actor) {
    return new DefinitionText(drafts.text(kind, key, actor));
  }

  /** All that one definition has been, the last first, and why it became so. */
  @Needs({Permission.SEE_DEFINITIONS, Permission.BUNDLE, Permission.TEND_PORTFOLIOS})
  @GetMapping("/{kind}/{key}/versions")
  List<DefinitionDrafts.DefinitionVersion> versions(
      @PathVariable String kind, @PathVariable String key, Actor actor) {
    return drafts.versions(kind, key, actor);
  }

  /** What is wrong with a text that is being written, line by line; nothing is kept. */
  @Needs({Permission.SEE_DEFINITIONS, Permission.BUNDLE, Permission.TEND_PORTFOLIOS})
  @PostMapping("/check")
  DefinitionDrafts.Drafted check(@Valid @RequestBody DefinitionText draft, Actor actor) {
    return drafts.check(draft.text(), actor);
  }

  /** How the accounts of people would be called; nothing is kept. */
  @Needs(Permission.SEE_DEFINITIONS)
  @PostMapping("/names")
  List<NameTrials.Named> names(@Valid @RequestBody Trying trying, Actor actor) {
    var files = trying.files();
    return names.names(files == null ? List.of() : files, trying.people(), actor);
  }

  /** All definitions in force, as one YAML file. */
  @Needs(Permission.SEE_DEFINITIONS)
  @GetMapping(produces = "application/yaml")
  String dump(Actor actor) {
    return definitions.dump(actor);
  }
}
