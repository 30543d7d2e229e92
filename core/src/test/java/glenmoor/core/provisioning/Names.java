package glenmoor.core.provisioning;

import java.util.HashMap;
import java.util.Map;

/** Account names as a test knows them: how far each base name was given, and whose each name is. */
public final class Names implements AccountNames.Register {
  private final int highest;
  private final Map<String, Long> holders = new HashMap<>();

  private Names(int highest) {
    this.highest = highest;
  }

  public static AccountNames free() {
    return new AccountNames(new Names(0));
  }

  public static AccountNames upTo(int highest) {
    return new AccountNames(new Names(highest));
  }

  /** Names of which one belongs to an account. */
  public static AccountNames with(String name, long account) {
    var names = new Names(0);
    names.holders.put(AccountNames.key(name), account);
    return new AccountNames(names);
  }

  @Override
  public int highest(String application, String baseName) {
    return highest;
  }

  @Override
  public long holder(String application, String key) {
    return holders.getOrDefault(key, NOBODY);
  }
}
