package glenmoor.core.access;

import org.jspecify.annotations.NullMarked;

/**
 * One right in an application.
 *
 * @param key Glenmoor's key for it, unique over all applications
 * @param technicalName what the application calls it, such as a group's name
 * @param plainName what people call it
 * @param kind what it is there: {@code group} or {@code role}
 * @param risk how much harm it can do
 * @param owner who answers for it, as a definition says it: {@code person NUMBER} or {@code team
 *     KEY}; empty for nobody by themselves
 */
@NullMarked
public record Entitlement(
    String key,
    String application,
    String technicalName,
    String plainName,
    String kind,
    Risk risk,
    String owner) {
  /** How much harm a right can do, the least first. */
  public enum Risk {
    LOW("low"),
    USUAL("usual"),
    HIGH("high"),
    CRITICAL("critical");

    private final String word;

    Risk(String word) {
      this.word = word;
    }

    public String word() {
      return word;
    }
  }

  /** Privileged is what is of high or critical risk. */
  public boolean privileged() {
    return risk.compareTo(Risk.HIGH) >= 0;
  }

  /** One of usual risk. */
  public Entitlement(
      String key, String application, String technicalName, String plainName, String kind) {
    this(key, application, technicalName, plainName, kind, Risk.USUAL, "");
  }
}
