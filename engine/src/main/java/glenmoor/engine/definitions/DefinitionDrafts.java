package glenmoor.engine.definitions;

import glenmoor.core.access.Catalogue;
import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.definitions.Definition;
import glenmoor.engine.Refused;
import glenmoor.store.definitions.DefinitionMapper;
import glenmoor.store.definitions.DefinitionMapper.DefinitionRow;
import glenmoor.store.definitions.DefinitionMapper.VersionRow;
import jakarta.inject.Named;
import java.time.Instant;
import java.util.List;
import java.util.Optional;

/** Definitions that somebody is writing: looked at as often as a key is pressed, and never kept. */
@Named
public final class DefinitionDrafts {
  private static final String HERE = "here";

  /**
   * What there is to say of a draft.
   *
   * @param mistakes each with its place, {@code here line 3}; empty where it could be loaded
   * @param changes what loading it would change; empty if nothing, or if it has mistakes
   */
  public record Drafted(List<Refused.Mistake> mistakes, List<Difference> changes) {}

  /**
   * A definition as it stood from a load on, until the next.
   *
   * @param by who loaded it
   * @param why what they said; empty where they said nothing
   */
  public record DefinitionVersion(Instant since, String by, String why, String text) {}

  private final Catalogues catalogues;
  private final Preparing preparing;
  private final DefinitionMapper mapper;

  DefinitionDrafts(Catalogues catalogues, Preparing preparing, DefinitionMapper mapper) {
    this.catalogues = catalogues;
    this.preparing = preparing;
    this.mapper = mapper;
  }

  /**
   * One definition in force, as it would stand in a file.
   *
   * @throws Refused if there is none of that name
   */
  public String text(String kind, String key, Actor actor) {
    WhoLoads.any(actor, Permission.SEE_DEFINITIONS);
    var name = new Definition.Name(kind, key);
    return catalogues.definitions().stream()
        .filter(each -> each.name().equals(name))
        .filter(each -> actor.may(Permission.SEE_DEFINITIONS) || WhoLoads.may(each, actor))
        .findFirst()
        .map(each -> DefinitionFiles.write(List.of(each)))
        .orElseThrow(() -> Refused.notThere("There is no definition %s: %s.".formatted(kind, key)));
  }

  /**
   * All that one definition has been, the last first, as far as the actor may see it as it stood.
   *
   * @throws Refused if there is none of that name that they may see
   */
  public List<DefinitionVersion> versions(String kind, String key, Actor actor) {
    // Whoever may not see it as it stands learns nothing of what it was.
    text(kind, key, actor);
    return mapper.versions(kind, key).stream()
        .map(row -> version(new DefinitionRow(kind, key, row.body()), row, actor))
        .flatMap(Optional::stream)
        .toList();
  }

  private static Optional<DefinitionVersion> version(
      DefinitionRow row, VersionRow version, Actor actor) {
    var definition = Catalogues.definition(row);
    return actor.may(Permission.SEE_DEFINITIONS) || WhoLoads.may(definition, actor)
        ? Optional.of(
            new DefinitionVersion(
                version.loadedAt(),
                version.loadedBy(),
                version.why(),
                DefinitionFiles.write(List.of(definition))))
        : Optional.empty();
  }

  /** What is wrong with a draft, and what it would change beside all that is in force. */
  public Drafted check(String text, Actor actor) {
    try {
      var prepared =
          preparing.prepare(
              List.of(new DefinitionFile(HERE, text)), false, Permission.SEE_DEFINITIONS, actor);
      return new Drafted(
          List.of(),
          prepared.differences().stream()
              .filter(each -> !each.change().equals("unchanged"))
              .toList());
    } catch (Refused refused) {
      if (refused.mistakes().isEmpty()) {
        throw refused;
      }
      return new Drafted(own(refused.mistakes()), List.of());
    }
  }

  /** The draft's own mistakes; what they lead to elsewhere is said only where there are none. */
  private static List<Refused.Mistake> own(List<Refused.Mistake> all) {
    var own = all.stream().filter(each -> each.pointer().startsWith(HERE)).toList();
    return own.isEmpty() ? all : own;
  }

  /**
   * What would be in force with a draft.
   *
   * @throws Refused with every mistake in it, if there is any
   */
  public Catalogue with(String text, Actor actor) {
    return preparing
        .prepare(List.of(new DefinitionFile(HERE, text)), false, Permission.SEE_DEFINITIONS, actor)
        .catalogue();
  }
}
