package glenmoor.core.partners;

import com.google.auto.service.AutoService;
import glenmoor.core.definitions.Concern;
import glenmoor.core.definitions.Defined;
import glenmoor.core.definitions.DefinitionKind;
import glenmoor.core.definitions.Reading;
import java.util.Optional;
import java.util.Set;

/** {@code terms: partner-terms}: what somebody accepts before they ask. */
@AutoService(DefinitionKind.class)
public final class TermsOfUseKind implements DefinitionKind<TermsOfUse> {
  @Override
  public String word() {
    return "terms";
  }

  @Override
  public KeyRule keys() {
    return PLAIN_KEY;
  }

  @Override
  public Set<String> refersTo() {
    return Set.of();
  }

  @Override
  public Concern concern(String key) {
    return Concern.NOBODY;
  }

  @Override
  public Optional<TermsOfUse> read(String key, Reading reading, Defined known) {
    var version = reading.number("version", 1);
    if (version < 1) {
      reading.problem(reading.place("version"), "version is a number from 1.");
    }
    return Optional.of(
        new TermsOfUse(
            key,
            reading.text("name", key),
            version,
            reading.needed("text", "what has to be accepted").strip()));
  }
}
