package glenmoor.core.definitions;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/** A value read from a definition file, with the place it was read from. */
public sealed interface Tree {
  Place place();

  /** A file's name and the line in it, from 1. */
  record Place(String file, int line) {
    @Override
    public String toString() {
      return line == 0 ? file : file + " line " + line;
    }
  }

  record Text(Place place, String value) implements Tree {}

  record Items(Place place, List<Tree> items) implements Tree {}

  /** Keys in the order of the file. */
  record Fields(Place place, Map<String, Tree> fields) implements Tree {
    /** The text at a key; nothing where something else stands there, or nothing does. */
    public Optional<String> text(String key) {
      return fields.get(key) instanceof Text text ? Optional.of(text.value()) : Optional.empty();
    }

    /** The texts of the list at a key, or the one text there. */
    public List<String> texts(String key) {
      return switch (fields.get(key)) {
        case Text text -> List.of(text.value());
        case Items list ->
            list.items().stream()
                .filter(Text.class::isInstance)
                .map(item -> ((Text) item).value())
                .toList();
        case null, default -> List.of();
      };
    }

    /** What it says besides some keys, as plain values. */
    public Map<String, Object> without(Set<String> keys) {
      var said = new LinkedHashMap<String, Object>();
      fields.forEach((key, value) -> {
        if (!keys.contains(key)) {
          said.put(key, value.plain());
        }
      });
      return said;
    }
  }

  /** The same as plain maps, lists and strings, for keeping. */
  default Object plain() {
    return switch (this) {
      case Text text -> text.value();
      case Items items -> items.items().stream().map(Tree::plain).toList();
      case Fields fields -> {
        var plain = new LinkedHashMap<String, Object>();
        fields.fields().forEach((key, value) -> plain.put(key, value.plain()));
        yield plain;
      }
    };
  }

  /** Makes a tree of plain maps, lists and strings that were kept. */
  static Tree of(Object plain, Place place) {
    return switch (plain) {
      case Map<?, ?> map -> {
        var fields = new LinkedHashMap<String, Tree>();
        map.forEach((key, value) -> fields.put(key.toString(), of(value, place)));
        yield new Fields(place, fields);
      }
      case List<?> list -> new Items(place, list.stream().map(item -> of(item, place)).toList());
      default -> new Text(place, plain.toString());
    };
  }
}
