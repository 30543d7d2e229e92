package glenmoor.core.provisioning;

import java.util.HashMap;
import java.util.Map;
import java.util.function.BiFunction;

/**
 * Gives each new account name its number: the first holder of a name has none, the next 2, then 3.
 * A number is never given again, not even after its account is deleted.
 */
public final class NameNumbers {
  private record Base(String application, String name) {}

  private final Map<Base, Integer> highest = new HashMap<>();
  private final BiFunction<String, String, Integer> known;

  /**
   * @param known the highest number in use for an application and base name, 0 if none
   */
  public NameNumbers(BiFunction<String, String, Integer> known) {
    this.known = known;
  }

  /** The next free number for a base name. */
  public int next(String application, String baseName) {
    var base = new Base(application, baseName);
    var before = highest.computeIfAbsent(base, b -> known.apply(application, baseName));
    highest.put(base, before + 1);
    return before + 1;
  }

  /** Tells what is known already, so that it need not be asked for one by one. */
  public void tell(String application, String baseName, int number) {
    highest.merge(new Base(application, baseName), number, Math::max);
  }
}
