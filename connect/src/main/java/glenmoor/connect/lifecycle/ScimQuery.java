package glenmoor.connect.lifecycle;

import com.fasterxml.jackson.databind.JsonNode;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;

/**
 * What a client asks for of a list (RFC 7644, sections 3.4.2 and 3.4.3).
 *
 * @param filter null for all
 * @param sortBy the path of an attribute; null for the order of the identities
 * @param start the number of the first one, from 1
 * @param count how many at most
 * @param parts what of each
 */
public record ScimQuery(
    @Nullable ScimFilter filter,
    @Nullable String sortBy,
    boolean descending,
    int start,
    int count,
    ScimParts parts) {
  /** So many of a list are given at once. */
  public static final int MOST = 500;

  private static final int USUAL = 100;
  private static final Set<String> ORDERS = Set.of("ascending", "descending");
  private static final String SEARCH = "urn:ietf:params:scim:api:messages:2.0:SearchRequest";

  /** What is below the least is the least (RFC 7644, section 3.4.2.4). */
  public ScimQuery {
    start = Math.max(1, start);
    count = Math.clamp(count, 0, MOST);
  }

  /**
   * As it is said in an address.
   *
   * @param said gives a parameter by its name, or null
   * @throws ScimPerson.Unusable if it cannot be understood
   */
  public static ScimQuery of(Function<String, @Nullable String> said) {
    return of(
        said.apply("filter"),
        said.apply("sortBy"),
        said.apply("sortOrder"),
        number("startIndex", said.apply("startIndex")),
        number("count", said.apply("count")),
        ScimParts.of(said.apply("attributes"), said.apply("excludedAttributes")));
  }

  private static ScimQuery of(
      @Nullable String filter,
      @Nullable String sortBy,
      @Nullable String sortOrder,
      @Nullable Integer start,
      @Nullable Integer count,
      ScimParts parts) {
    if (sortOrder != null && !ORDERS.contains(sortOrder.toLowerCase(Locale.ROOT))) {
      throw new ScimPerson.Unusable(
          "invalidValue", "sortOrder is ascending or descending, not “%s”.".formatted(sortOrder));
    }
    return new ScimQuery(
        filter == null ? null : ScimFilter.of(filter),
        sortBy,
        "descending".equalsIgnoreCase(sortOrder),
        start == null ? 1 : start,
        count == null ? USUAL : count,
        parts);
  }

  /**
   * As it is said in the body of a search: what may stand in no log of addresses.
   *
   * @throws ScimPerson.Unusable if it is no SearchRequest, or cannot be understood
   */
  public static ScimQuery search(String json) {
    var said = new TreeMap<String, JsonNode>(String.CASE_INSENSITIVE_ORDER);
    ScimPerson.object(json)
        .properties()
        .forEach(each -> {
          if (!each.getValue().isNull()) {
            said.put(each.getKey(), each.getValue());
          }
        });
    if (!names(said.get("schemas")).contains(SEARCH)) {
      throw new ScimPerson.Unusable("invalidValue", "schemas must name %s.".formatted(SEARCH));
    }
    return of(
        text(said.get("filter")),
        text(said.get("sortBy")),
        text(said.get("sortOrder")),
        number("startIndex", text(said.get("startIndex"))),
        number("count", text(said.get("count"))),
        ScimParts.of(names(said.get("attributes")), names(said.get("excludedAttributes"))));
  }

  private static @Nullable String text(@Nullable JsonNode value) {
    return value == null ? null : value.asText();
  }

  private static @Nullable Integer number(String name, @Nullable String text) {
    try {
      return text == null ? null : Integer.valueOf(text.strip());
    } catch (NumberFormatException none) {
      throw new ScimPerson.Unusable(
          "invalidValue", "%s is “%s”, which is no number.".formatted(name, text));
    }
  }

  /** A list of names; there are clients that write it as one text, as in an address. */
  private static List<String> names(@Nullable JsonNode value) {
    if (value == null) {
      return List.of();
    }
    return value.isArray()
        ? value.valueStream().map(JsonNode::asText).toList()
        : ScimParts.names(value.asText());
  }
}
