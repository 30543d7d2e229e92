package glenmoor.core.provisioning;

import glenmoor.core.applications.Application;
import glenmoor.core.applications.NameKey;
import java.util.HashMap;
import java.util.HashSet;
import java.util.Map;
import java.util.Set;

/**
 * Gives each new account its final name: the plain one to its first holder, then with 2, 3 and so
 * on. What is compared is the final name, not the name and the number apart, so that the second
 * "Row Name" and the first "Row Name2" never end as one; and it is compared as applications compare
 * names, without regard to case or to the width of letters.
 *
 * <p>A name belongs to its account until it is given up, and for the configured time after that:
 * {@link Register} says whose it is.
 */
public final class AccountNames {
  /** A name that was given. */
  public record Allotted(String baseName, int number, String name) {}

  /** Which names are taken already. */
  public interface Register {
    long NOBODY = 0;

    /** The highest number in use with a base name, 0 if none is. */
    int highest(String application, String baseName);

    /** The account that a name belongs to, or {@link #NOBODY}. */
    long holder(String application, String key);
  }

  private record Place(String application, String name) {}

  private final Map<Place, Integer> highest = new HashMap<>();
  private final Set<Place> given = new HashSet<>();
  private final Register register;

  public AccountNames(Register register) {
    this.register = register;
  }

  /** The next name for a base name that nobody has and nobody was given here. */
  public Allotted next(Application application, String baseName) {
    var base = new Place(application.key(), baseName);
    var number = highest.computeIfAbsent(base, b -> register.highest(b.application(), baseName));
    while (true) {
      number++;
      var name = numbered(baseName, number, application.longestName());
      var place = new Place(application.key(), key(name));
      if (!isReserved(application, name)
          && !given.contains(place)
          && register.holder(application.key(), place.name()) == Register.NOBODY) {
        highest.put(base, number);
        given.add(place);
        return new Allotted(baseName, number, name);
      }
    }
  }

  /** Whether nobody is given this name there: as a whole, or by what stands before an at sign. */
  private static boolean isReserved(Application application, String name) {
    var key = key(name);
    var at = key.indexOf('@');
    return application.reservedNames().contains(key)
        || at > 0 && application.reservedNames().contains(key.substring(0, at));
  }

  /** Whether a name is still, or again, an account's own. */
  public boolean isFor(Application application, String name, long account) {
    var place = new Place(application.key(), key(name));
    var holder = register.holder(application.key(), place.name());
    return (holder == account || holder == Register.NOBODY) && given.add(place);
  }

  /** What of a name is compared: no case, no width of letters, no spaces around. */
  public static String key(String name) {
    return NameKey.of(name);
  }

  /**
   * A base name with its number, cut so that it has at most so many characters; the number stands
   * before an at sign, and what follows an at sign is never cut.
   */
  public static String numbered(String baseName, int number, int longest) {
    var at = baseName.indexOf('@');
    var local = at < 0 ? baseName : baseName.substring(0, at);
    var domain = at < 0 ? "" : baseName.substring(at);
    var digits = number == 1 ? "" : String.valueOf(number);
    var room = Math.max(1, longest - digits.length() - domain.length());
    return (local.length() > room ? local.substring(0, room) : local) + digits + domain;
  }
}
