package glenmoor.core.access;

import java.util.Optional;

/**
 * What a grant by an offer rests on, as its basis key says it: {@code OFFER#LINE}.
 *
 * @param line of the request; where it was given directly, what its parts have in common
 */
@org.jspecify.annotations.NullMarked
public record GrantedBy(String offer, long line) {
  /** What such a key says; nothing where it says something else. */
  public static Optional<GrantedBy> of(String basisKey) {
    var mark = basisKey.indexOf('#');
    return mark > 0 && basisKey.substring(mark + 1).matches("\\d{1,18}")
        ? Optional.of(
            new GrantedBy(
                basisKey.substring(0, mark), Long.parseLong(basisKey.substring(mark + 1))))
        : Optional.empty();
  }

  public String key() {
    return offer + "#" + line;
  }
}
