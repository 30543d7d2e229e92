package glenmoor.core.requests;

import glenmoor.core.conditions.Expressions.AskCondition;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * What an offer asks beside the reason.
 *
 * @param key under which the answer is kept
 * @param text the question in words
 * @param kind what an answer looks like
 * @param choices of which one is the answer; empty for other kinds
 * @param where whether it is asked at all; nothing for always
 * @param gives further entitlements by answer
 */
public record Question(
    String key,
    String text,
    Kind kind,
    List<String> choices,
    boolean required,
    Optional<AskCondition> where,
    Map<String, List<String>> gives) {
  /** What an answer looks like. */
  public enum Kind {
    TEXT("text"),
    CHOICE("choice"),
    NUMBER("number"),
    DATE("date"),
    PERSON("person");

    private final String word;

    Kind(String word) {
      this.word = word;
    }

    public String word() {
      return word;
    }
  }
}
