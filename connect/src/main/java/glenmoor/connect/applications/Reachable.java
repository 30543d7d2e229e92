package glenmoor.connect.applications;

import java.net.URI;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import java.util.regex.Pattern;
import java.util.stream.Collectors;

/**
 * Where applications may be: addresses such as {@code https://*.skerryline.example} or {@code
 * ldap://10.7.0.5:389}, in which {@code *} stands for any part of a host. Without any, what is
 * encrypted may be anywhere, and what is not only on this machine.
 */
public final class Reachable {
  private static final Set<String> LOOPBACK = Set.of("127.0.0.1", "localhost", "[::1]");
  private static final Set<String> ENCRYPTED = Set.of("https", "ldaps");

  private final List<String> words;
  private final List<Pattern> allowed;

  private Reachable(List<String> words) {
    this.words = words;
    allowed = words.stream().map(Reachable::pattern).toList();
  }

  /**
   * Reads addresses with commas between them.
   *
   * @throws IllegalArgumentException with a sentence, if one is none
   */
  public static Reachable of(String addresses) {
    var words = Arrays.stream(addresses.split(",")).map(String::strip).toList();
    return new Reachable(words.stream().filter(word -> !word.isEmpty()).toList());
  }

  private static Pattern pattern(String word) {
    if (!word.matches("(https?|ldaps?|mariadb)://[a-zA-Z0-9.*\\[\\]:-]+")) {
      throw new IllegalArgumentException(
          "“%s” is no address such as https://*.skerryline.example".formatted(word));
    }
    var quoted =
        Arrays.stream(word.toLowerCase(Locale.ROOT).split("\\*", -1))
            .map(Pattern::quote)
            .collect(Collectors.joining("[a-z0-9.-]*"));
    // Without a port, any will do.
    return Pattern.compile(quoted + (word.matches(".*:\\d+") ? "" : "(:\\d+)?"));
  }

  /**
   * @param whose whose address it is, such as {@code application directory}
   * @throws Settings.BadSetting if that may not be there
   */
  void check(String whose, String url) {
    if (!covers(url)) {
      throw new Settings.BadSetting(
          "The %s may not be at %s: %s. GLENMOOR_REACHABLE says where applications may be."
              .formatted(
                  whose,
                  url,
                  words.isEmpty()
                      ? "what is not encrypted has to be on this machine"
                      : "there are " + String.join(", ", words)));
    }
  }

  private boolean covers(String url) {
    try {
      var address = URI.create(url);
      var scheme = String.valueOf(address.getScheme()).toLowerCase(Locale.ROOT);
      var host = String.valueOf(address.getHost()).toLowerCase(Locale.ROOT);
      if (address.getHost() == null || address.getUserInfo() != null) {
        return false;
      }
      if (words.isEmpty()) {
        return ENCRYPTED.contains(scheme) || LOOPBACK.contains(host);
      }
      var plain = scheme + "://" + host + (address.getPort() < 0 ? "" : ":" + address.getPort());
      return allowed.stream().anyMatch(each -> each.matcher(plain).matches());
    } catch (IllegalArgumentException noAddress) {
      return false;
    }
  }
}
