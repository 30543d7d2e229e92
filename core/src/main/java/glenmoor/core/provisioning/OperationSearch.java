package glenmoor.core.provisioning;

import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * Which operations a list asks for; newest first.
 *
 * @param states any of these; null for all
 */
public record OperationSearch(
    @Nullable List<String> states,
    @Nullable String kind,
    @Nullable String application,
    @Nullable String worker,
    @Nullable Long event,
    @Nullable Long before,
    int limit) {
  /** The states in a text with commas between them; null where it names none. */
  public static @Nullable List<String> states(@Nullable String words) {
    return words == null || words.isEmpty() ? null : List.of(words.split(","));
  }
}
