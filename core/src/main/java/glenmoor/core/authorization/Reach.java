package glenmoor.core.authorization;

import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * How far somebody's permission reaches among things of one kind.
 *
 * @param keys of those it reaches, sorted; null where it reaches all of them
 */
public record Reach(@Nullable List<String> keys) {
  public static final Reach EVERYTHING = new Reach(null);

  public boolean isNothing() {
    return keys != null && keys.isEmpty();
  }

  public boolean covers(String key) {
    return keys == null || keys.contains(key);
  }
}
