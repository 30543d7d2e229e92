package glenmoor.core.campaigns;

import com.google.auto.service.AutoService;
import glenmoor.core.definitions.Concern;
import glenmoor.core.definitions.Defined;
import glenmoor.core.definitions.DefinitionKind;
import glenmoor.core.definitions.Reading;
import glenmoor.core.definitions.Tree;
import java.util.Optional;
import java.util.Set;

/** {@code campaign: privileged}: what is looked through, by whom, and how often. */
@AutoService(DefinitionKind.class)
public final class CampaignKind implements DefinitionKind<Campaign> {
  @Override
  public String word() {
    return "campaign";
  }

  @Override
  public KeyRule keys() {
    return PLAIN_KEY;
  }

  @Override
  public Set<String> refersTo() {
    return Set.of("application", "entitlement", "fact", "letter", "package", "team");
  }

  @Override
  public Concern concern(String key) {
    return Concern.NOBODY;
  }

  /** A campaign changes nobody's access until somebody has judged. */
  @Override
  public boolean plansLike(Tree.Fields before, Tree.Fields after) {
    return true;
  }

  @Override
  public Optional<Campaign> read(String key, Reading reading, Defined known) {
    return CampaignReading.of(key, reading, known);
  }
}
