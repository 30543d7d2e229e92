package glenmoor.connect.lifecycle;

import com.fasterxml.jackson.databind.JsonNode;
import com.unboundid.scim2.common.exceptions.ScimException;
import com.unboundid.scim2.common.filters.Filter;
import com.unboundid.scim2.common.filters.FilterType;
import com.unboundid.scim2.common.utils.FilterEvaluator;
import java.util.Optional;

/** What a client asks for of a list (RFC 7644, section 3.4.2.2). */
public final class ScimFilter {
  private final Filter filter;

  private ScimFilter(Filter filter) {
    this.filter = filter;
  }

  /**
   * @throws ScimPerson.Unusable if it is no filter
   */
  public static ScimFilter of(String text) {
    try {
      return new ScimFilter(Filter.fromString(text));
    } catch (ScimException bad) {
      throw new ScimPerson.Unusable(
          "invalidFilter", "“%s” is no filter: %s".formatted(text, bad.getMessage()));
    }
  }

  /** The value that one attribute must have, where the filter says no more than that. */
  public Optional<String> exactly(String attribute) {
    return filter.getFilterType() == FilterType.EQUAL
            && filter.getAttributePath().toString().equalsIgnoreCase(attribute)
        ? Optional.of(filter.getComparisonValue().asText())
        : Optional.empty();
  }

  /**
   * Whether it covers a resource as a client reads it.
   *
   * @throws ScimPerson.Unusable if it cannot be applied to it
   */
  boolean covers(JsonNode resource) {
    try {
      return FilterEvaluator.evaluate(filter, resource);
    } catch (ScimException bad) {
      throw new ScimPerson.Unusable("invalidFilter", String.valueOf(bad.getMessage()));
    }
  }
}
