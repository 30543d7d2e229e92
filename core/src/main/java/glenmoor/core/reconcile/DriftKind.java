package glenmoor.core.reconcile;

import java.util.Arrays;
import java.util.Collections;
import java.util.EnumSet;
import java.util.Optional;
import java.util.Set;

/** How an application can differ from what Glenmoor expects of it. */
public enum DriftKind {
  /** An account that is nobody's. */
  STRAY_ACCOUNT("stray-account", "nobody's account", EnumSet.of(Response.ADOPT)),
  /** An account that is open, or there at all, although nobody needs it any more. */
  GHOST_ACCOUNT("ghost-account", "account of somebody who needs none", EnumSet.of(Response.REPAIR)),
  /** An account that is gone. */
  MISSING_ACCOUNT("missing-account", "account that is gone", EnumSet.of(Response.REPAIR)),
  EXTRA_ENTITLEMENT(
      "extra-entitlement",
      "right that nothing explains",
      EnumSet.of(Response.REPAIR, Response.ADOPT)),
  MISSING_ENTITLEMENT(
      "missing-entitlement", "right that was taken away", EnumSet.of(Response.REPAIR)),
  /** The name, the place, an attribute, or whether the account is open. */
  ALTERED_ATTRIBUTE("altered-attribute", "account changed by hand", EnumSet.of(Response.REPAIR));

  private final String word;
  private final String sentence;
  private final Set<Response> responses;

  DriftKind(String word, String sentence, Set<Response> besides) {
    this.word = word;
    this.sentence = sentence;
    var all = EnumSet.of(Response.REPORT, Response.ASK);
    all.addAll(besides);
    responses = Collections.unmodifiableSet(all);
  }

  public String word() {
    return word;
  }

  /** What it is, in plain words and in the singular. */
  public String sentence() {
    return sentence;
  }

  /** What may be done about it. */
  public Set<Response> responses() {
    return responses;
  }

  public static Optional<DriftKind> ofWord(String word) {
    return Arrays.stream(values()).filter(each -> each.word.equals(word)).findFirst();
  }
}
