package glenmoor.core.letters;

import com.google.auto.service.AutoService;
import glenmoor.core.conditions.Compiling;
import glenmoor.core.definitions.Concern;
import glenmoor.core.definitions.Defined;
import glenmoor.core.definitions.Definition;
import glenmoor.core.definitions.DefinitionKind;
import glenmoor.core.definitions.Problems;
import glenmoor.core.definitions.Reading;
import glenmoor.core.definitions.Tree;
import java.util.Collection;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Pattern;

/** {@code letters: skerry-line}: the sender of all letters, and how an address is made. */
@AutoService(DefinitionKind.class)
public final class PostageKind implements DefinitionKind<Postage> {
  /** With or without a name before the address; what SMTP is handed is checked again there. */
  private static final Pattern SENDER =
      Pattern.compile("[^<>\\p{Cntrl}]*<[^\\s<>@]+@[^\\s<>@]+>|[^\\s<>@]+@[^\\s<>@]+");

  @Override
  public String word() {
    return "letters";
  }

  @Override
  public Set<String> refersTo() {
    return Set.of("fact", "application");
  }

  @Override
  public Optional<Postage> read(String key, Reading reading, Defined known) {
    var from = reading.needed("from", "the sender of all letters");
    if (!from.isEmpty() && !SENDER.matcher(from).matches()) {
      reading.problem(
          reading.place("from"),
          "from is “%s”; say an address, such as Skerry Line <glenmoor@skerryline.example>."
              .formatted(from));
    }
    return new Compiling(reading, known)
        .mapping("address")
        .map(address -> new Postage(from, address));
  }

  @Override
  public void check(Collection<Definition> all, Defined known, Problems problems) {
    all.stream()
        .skip(1)
        .forEach(more ->
            problems.add(
                more.body().place(),
                "There is one sender of letters; letters: %s stands already."
                    .formatted(all.iterator().next().key())));
  }

  /** The one there is. */
  public static Optional<Postage> of(Defined known) {
    return known.all(PostageKind.class).values().stream().findFirst();
  }

  @Override
  public Concern concern(String key) {
    return Concern.NOBODY;
  }

  /** Who writes letters changes nobody's access. */
  @Override
  public boolean plansLike(Tree.Fields before, Tree.Fields after) {
    return true;
  }
}
