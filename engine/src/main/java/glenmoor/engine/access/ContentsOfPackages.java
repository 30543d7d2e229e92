package glenmoor.engine.access;

import glenmoor.core.access.Catalogue;
import glenmoor.engine.definitions.Tables;
import glenmoor.store.Parts;
import glenmoor.store.access.ContentMapper;
import glenmoor.store.access.ContentMapper.Content;
import jakarta.inject.Named;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import org.jspecify.annotations.NullMarked;

/** The contents of packages as rows, through time. */
@Named
@NullMarked
final class ContentsOfPackages implements Tables {
  private static final int STATEMENT = 500;

  private final ContentMapper mapper;

  ContentsOfPackages(ContentMapper mapper) {
    this.mapper = mapper;
  }

  @Override
  public void follow(Catalogue before, Catalogue after) {
    var wanted = new HashSet<Content>();
    for (var each : after.packages().values()) {
      each.entitlements().forEach(key -> wanted.add(new Content(each.key(), key)));
    }
    var there = new HashSet<>(mapper.all());
    Parts.each(without(there, wanted), STATEMENT, mapper::drop);
    Parts.each(without(wanted, there), STATEMENT, mapper::add);
  }

  private static List<Content> without(HashSet<Content> all, HashSet<Content> less) {
    var rest = new ArrayList<>(all);
    rest.removeIf(less::contains);
    return rest;
  }
}
