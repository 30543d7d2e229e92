package glenmoor.connect.lifecycle;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.unboundid.scim2.common.messages.SearchRequest;
import com.unboundid.scim2.common.messages.SortOrder;
import com.unboundid.scim2.common.utils.JsonUtils;
import java.util.Set;
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
  private static final String SEARCH = "urn:ietf:params:scim:api:messages:2.0:SearchRequest";

  /** What is below the least is the least (RFC 7644, section 3.4.2.4). */
  public ScimQuery {
    start = Math.max(1, start);
    count = Math.clamp(count, 0, MOST);
  }

  /**
   * As it is said in an address.
   *
   * @throws ScimPerson.Unusable if it cannot be understood
   */
  public static ScimQuery of(
      @Nullable String filter,
      @Nullable String sortBy,
      @Nullable String sortOrder,
      @Nullable Integer start,
      @Nullable Integer count,
      ScimParts parts) {
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
    var body = ScimPerson.object(json);
    if (body.path("schemas").valueStream().noneMatch(each -> SEARCH.equals(each.asText()))) {
      throw new ScimPerson.Unusable("invalidValue", "schemas must name %s.".formatted(SEARCH));
    }
    try {
      var said = JsonUtils.nodeToValue(body, SearchRequest.class);
      return of(
          said.getFilter(),
          said.getSortBy(),
          said.getSortOrder() == SortOrder.DESCENDING ? "descending" : null,
          said.getStartIndex(),
          said.getCount(),
          ScimParts.of(orNone(said.getAttributes()), orNone(said.getExcludedAttributes())));
    } catch (JsonProcessingException bad) {
      throw new ScimPerson.Unusable("invalidSyntax", "The body is no SearchRequest of SCIM.");
    }
  }

  private static Set<String> orNone(@Nullable Set<String> names) {
    return names == null ? Set.of() : names;
  }
}
