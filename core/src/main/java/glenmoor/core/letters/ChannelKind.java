package glenmoor.core.letters;

import com.google.auto.service.AutoService;
import glenmoor.core.definitions.Concern;
import glenmoor.core.definitions.Defined;
import glenmoor.core.definitions.DefinitionKind;
import glenmoor.core.definitions.Reading;
import glenmoor.core.definitions.Tree;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/** {@code channel: help-desk}: a ticket desk, a chat or a webhook that may be told things. */
@AutoService(DefinitionKind.class)
public final class ChannelKind implements DefinitionKind<Channel> {
  @Override
  public String word() {
    return "channel";
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
  public Optional<Channel> read(String key, Reading reading, Defined known) {
    return Optional.of(
        new Channel(
            key,
            reading.text("name", key),
            reading.choice("kind", Channel.Kind.WEBHOOK, Channel.Kind::word),
            Map.of(
                "url", reading.needed("url", "where what is sent goes"),
                "secret-file", reading.needed("secret-file", "which file has its secret"))));
  }

  @Override
  public Concern concern(String key) {
    return Concern.NOBODY;
  }

  /** Where something is told changes nobody's access. */
  @Override
  public boolean plansLike(Tree.Fields before, Tree.Fields after) {
    return true;
  }
}
