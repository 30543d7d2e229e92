package glenmoor.engine.definitions;

import glenmoor.core.access.Catalogue;
import glenmoor.core.definitions.Definition;
import glenmoor.core.definitions.DefinitionKinds;
import glenmoor.core.definitions.Tree;
import glenmoor.core.definitions.Tree.Place;
import glenmoor.store.definitions.DefinitionMapper;
import glenmoor.store.definitions.DefinitionMapper.DefinitionRow;
import jakarta.inject.Named;
import java.time.Instant;
import java.time.ZoneId;
import java.util.List;
import org.jspecify.annotations.Nullable;
import tools.jackson.databind.json.JsonMapper;

/** The definitions in force, compiled once for each revision of them. */
@Named
public final class Catalogues {
  private static final JsonMapper JSON = JsonMapper.shared();
  private final DefinitionMapper mapper;
  private final ZoneId zone;
  private volatile @Nullable Catalogue last;

  public Catalogues(DefinitionMapper mapper, ZoneId zone) {
    this.mapper = mapper;
    this.zone = zone;
  }

  /** The catalogue as of the last load, by whichever replica. */
  public Catalogue current() {
    var revision = mapper.revision();
    var known = last;
    if (known != null && known.revision() == revision) {
      return known;
    }
    var read = Catalogue.read(definitions(), revision, zone);
    var fresh =
        read.catalogue()
            .orElseThrow(() ->
                new IllegalStateException(
                    "The definitions in the database cannot be read by this version: "
                        + read.problems()));
    last = fresh;
    return fresh;
  }

  /** The catalogue as it was at a moment; the one of now where that one cannot be read any more. */
  public Catalogue asOf(Instant at) {
    var rows = mapper.allAsOf(at).stream().map(Catalogues::definition).toList();
    return Catalogue.read(rows, 0, zone).catalogue().orElseGet(this::current);
  }

  public ZoneId zone() {
    return zone;
  }

  /** All definitions in force, as they were loaded. */
  List<Definition> definitions() {
    return mapper.all().stream().map(Catalogues::definition).toList();
  }

  static Definition definition(DefinitionRow row) {
    var kind =
        DefinitionKinds.ofWord(row.kind())
            .orElseThrow(() ->
                new IllegalStateException(
                    "This version does not know definitions of the kind " + row.kind()));
    var place = new Place("database: " + row.kind() + ": " + row.definitionKey(), 0);
    var body = (Tree.Fields) Tree.of(JSON.readValue(row.body(), Object.class), place);
    return new Definition(kind, row.definitionKey(), body);
  }
}
