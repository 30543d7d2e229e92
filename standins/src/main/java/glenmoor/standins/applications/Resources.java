package glenmoor.standins.applications;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.node.ObjectNode;
import com.unboundid.scim2.common.exceptions.ScimException;
import com.unboundid.scim2.common.filters.Filter;
import com.unboundid.scim2.common.filters.FilterType;
import com.unboundid.scim2.common.utils.FilterEvaluator;
import java.io.BufferedWriter;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import org.jspecify.annotations.Nullable;

/**
 * The resources of one type, kept in memory and in a journal from which a restart reads them back.
 * Attributes that are looked up by value often have an index.
 */
final class Resources {
  private static final ObjectMapper JSON = new ObjectMapper();
  private final Map<String, ObjectNode> byId = new LinkedHashMap<>();
  private final Map<String, Map<String, String>> indexes = new ConcurrentHashMap<>();
  private final BufferedWriter journal;

  Resources(Path file, Set<String> indexed) {
    indexed.forEach(attribute -> indexes.put(attribute, new ConcurrentHashMap<>()));
    try {
      if (Files.exists(file)) {
        for (var line : Files.readAllLines(file)) {
          replay(line);
        }
      }
      journal = Files.newBufferedWriter(file, StandardOpenOption.CREATE, StandardOpenOption.APPEND);
    } catch (IOException failed) {
      throw new UncheckedIOException(failed);
    }
  }

  private void replay(String line) throws IOException {
    var resource = (ObjectNode) JSON.readTree(line);
    if (resource.has("deleted")) {
      forget(resource.get("deleted").asText());
    } else {
      remember(resource);
    }
  }

  private void remember(ObjectNode resource) {
    var id = resource.path("id").asText();
    forget(id);
    byId.put(id, resource);
    indexes.forEach((attribute, index) -> {
      var value = resource.path(attribute).asText("");
      if (!value.isEmpty()) {
        index.put(value.toLowerCase(Locale.ROOT), id);
      }
    });
  }

  /** The id of any resource but this one; the same where there is no other. */
  synchronized String otherThan(String id) {
    return byId.keySet().stream().filter(each -> !each.equals(id)).findFirst().orElse(id);
  }

  private void forget(String id) {
    var before = byId.remove(id);
    if (before != null) {
      indexes.forEach((attribute, index) ->
          index.remove(before.path(attribute).asText("").toLowerCase(Locale.ROOT), id));
    }
  }

  private void write(String line) {
    try {
      journal.write(line);
      journal.newLine();
      journal.flush();
    } catch (IOException failed) {
      throw new UncheckedIOException(failed);
    }
  }

  synchronized Optional<ObjectNode> get(String id) {
    return Optional.ofNullable(byId.get(id)).map(ObjectNode::deepCopy);
  }

  /** Keeps a resource; what was kept under its id is replaced. */
  synchronized void put(ObjectNode resource) {
    remember(resource.deepCopy());
    write(resource.toString());
  }

  synchronized boolean delete(String id) {
    if (!byId.containsKey(id)) {
      return false;
    }
    forget(id);
    write("{\"deleted\":\"" + id + "\"}");
    return true;
  }

  synchronized int size() {
    return byId.size();
  }

  /** How many have an attribute with this value. */
  synchronized long count(String attribute, boolean value) {
    return byId.values().stream()
        .filter(each -> each.path(attribute).asBoolean(!value) == value)
        .count();
  }

  /** The resources a filter matches (RFC 7644, section 3.4.2.2), all of them without one. */
  synchronized List<ObjectNode> matching(@Nullable Filter filter) throws ScimException {
    if (filter == null) {
      return new ArrayList<>(byId.values());
    }
    var indexed = indexed(filter);
    if (indexed.isPresent()) {
      return indexed.get();
    }
    var found = new ArrayList<ObjectNode>();
    for (var resource : byId.values()) {
      if (FilterEvaluator.evaluate(filter, resource)) {
        found.add(resource.deepCopy());
      }
    }
    return found;
  }

  private Optional<List<ObjectNode>> indexed(Filter filter) {
    if (filter.getFilterType() != FilterType.EQUAL) {
      return Optional.empty();
    }
    var index = indexes.get(String.valueOf(filter.getAttributePath()));
    if (index == null) {
      return Optional.empty();
    }
    JsonNode value = filter.getComparisonValue();
    var id = index.get(value.asText().toLowerCase(Locale.ROOT));
    var found = id == null ? null : byId.get(id);
    return Optional.of(found == null ? List.of() : List.of(found.deepCopy()));
  }
}
