package glenmoor.cli;

import java.util.Arrays;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Option;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** How much of a list is asked for; the service gives lists in pages, and this joins them. */
public final class Paging {
  private static final int LARGEST_PAGE = 500;

  @Option(names = "--limit", defaultValue = "50", description = "At most so many. Default: 50")
  int limit = 50;

  @Option(names = "--all", description = "All there are, however many")
  boolean all;

  @Option(
      names = "--after",
      paramLabel = "NEXT",
      description = "Go on after this, which the list before gave at its end")
  @Nullable String after;

  /**
   * Gets a list.
   *
   * @param query names and values, as {@link Client#query} takes them
   * @return {@code items}, and {@code next} if there are more; the rest as the first page has it
   */
  public JsonNode of(Client client, String path, @Nullable Object... query) {
    var joined = JsonMapper.shared().createObjectNode();
    var items = JsonMapper.shared().createArrayNode();
    var next = after;
    var left = all ? Integer.MAX_VALUE : limit;
    do {
      var page = client.get(path + page(query, next, Math.min(left, LARGEST_PAGE)));
      page.properties().stream()
          .filter(each -> !joined.has(each.getKey()))
          .forEach(each -> joined.set(each.getKey(), each.getValue()));
      page.path("items").forEach(items::add);
      left -= page.path("items").size();
      next = page.path("next").isNull() ? null : page.path("next").asString(null);
    } while (next != null && left > 0);
    joined.set("items", items);
    joined.put("next", next);
    return joined;
  }

  private static String page(@Nullable Object[] query, @Nullable String after, int limit) {
    var whole = Arrays.copyOf(query, query.length + 4);
    whole[query.length] = "after";
    whole[query.length + 1] = after;
    whole[query.length + 2] = "limit";
    whole[query.length + 3] = limit;
    return Client.query(whole);
  }
}
