package glenmoor.core.provisioning;

import java.util.Collection;
import java.util.Map;
import java.util.Objects;
import java.util.stream.Collectors;
import java.util.stream.Stream;

/** What commands do to one account, in words. */
public final class CommandWords {
  private static final Map<String, String> TO_THE_ACCOUNT =
      Map.of(
          "create", "made",
          "update", "changed",
          "enable", "opened",
          "disable", "shut",
          "delete", "deleted");

  private CommandWords() {}

  /**
   * Such as {@code shut, 3 rights taken}: the account first, then what it holds.
   *
   * @param kinds as {@link ProvisioningCommand#word} names them
   */
  public static String of(Collection<String> kinds) {
    var account =
        kinds.stream().map(TO_THE_ACCOUNT::get).filter(Objects::nonNull).distinct().toList();
    return Stream.of(
            account.stream(), rights(kinds, "remove", "taken"), rights(kinds, "add", "given"))
        .flatMap(words -> words)
        .collect(Collectors.joining(", "));
  }

  private static Stream<String> rights(Collection<String> kinds, String kind, String done) {
    var number = kinds.stream().filter(kind::equals).count();
    return number == 0
        ? Stream.of()
        : Stream.of("%d %s %s".formatted(number, number == 1 ? "right" : "rights", done));
  }
}
