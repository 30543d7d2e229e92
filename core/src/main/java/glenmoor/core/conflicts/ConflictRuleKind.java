package glenmoor.core.conflicts;

import com.google.auto.service.AutoService;
import glenmoor.core.access.EntitlementKind;
import glenmoor.core.access.RolePackageKind;
import glenmoor.core.definitions.Concern;
import glenmoor.core.definitions.Defined;
import glenmoor.core.definitions.DefinitionKind;
import glenmoor.core.definitions.Reading;
import glenmoor.core.definitions.Tree;
import java.time.DateTimeException;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.regex.Pattern;
import java.util.stream.Collectors;

/** {@code conflict-rule: buy-and-pay}: what one person must not hold together. */
@AutoService(DefinitionKind.class)
public final class ConflictRuleKind implements DefinitionKind<ConflictRule> {
  private static final int USUAL_LONGEST = 90;
  private static final int MOST_LONGEST = 366;
  private static final Pattern PACKAGES = Pattern.compile("(package|tag) (.+)");

  @Override
  public String word() {
    return "conflict-rule";
  }

  @Override
  public KeyRule keys() {
    return PLAIN_KEY;
  }

  @Override
  public Set<String> refersTo() {
    return Set.of("entitlement", "package");
  }

  @Override
  public Concern concern(String key) {
    return Concern.NOBODY;
  }

  @Override
  public Optional<ConflictRule> read(String key, Reading reading, Defined known) {
    var sides = sides(reading, known);
    var of = keys(reading.texts("of"), reading, known);
    var most = reading.number("most", 1);
    if (sides.isEmpty() == of.isEmpty()) {
      reading.problem(
          reading.place("sides"),
          "A rule has either sides, of which nobody may hold something of each, or of with most: of how many of a set nobody may hold more.");
    }
    for (var i = 0; i < sides.size(); i++) {
      for (var j = 0; j < i; j++) {
        var both = new TreeSet<>(sides.get(i));
        both.retainAll(sides.get(j));
        if (!both.isEmpty()) {
          reading.problem(
              reading.place("sides"),
              "%s stands on two sides: whoever holds it would break the rule by it alone."
                  .formatted(String.join(", ", both)));
        }
      }
    }
    if (sides.size() == 1) {
      reading.problem(reading.place("sides"), "A rule has two sides or more; this one has one.");
    }
    if (!of.isEmpty() && (most < 1 || most >= of.size())) {
      reading.problem(
          reading.place("most"),
          "most is %d; of %d entitlements it is from 1 to %d."
              .formatted(most, of.size(), of.size() - 1));
    }
    var longest = reading.days("exempt", USUAL_LONGEST);
    if (longest < 1 || longest > MOST_LONGEST) {
      reading.problem(
          reading.place("exempt"),
          "exempt is %d days; an exemption lasts from 1 to %d.".formatted(longest, MOST_LONGEST));
    }
    return Optional.of(
        new ConflictRule(
            key,
            reading.text("name", key),
            reading.needed("risk", "what could happen, in plain words"),
            sides,
            of,
            most,
            reading.texts("controls").stream().map(Tree.Text::value).toList(),
            Math.clamp(longest, 1, MOST_LONGEST),
            from(reading)));
  }

  private static Optional<LocalDate> from(Reading reading) {
    var text = reading.text("from");
    try {
      return text.map(LocalDate::parse);
    } catch (DateTimeException noDay) {
      reading.problem(
          reading.place("from"), "from is “%s”; write a day as 2027-06-01.".formatted(text.get()));
      return Optional.empty();
    }
  }

  private static List<Set<String>> sides(Reading reading, Defined known) {
    var sides = new ArrayList<Set<String>>();
    for (var item : reading.items("sides")) {
      switch (item) {
        case Tree.Text one -> sides.add(keys(List.of(one), reading, known));
        case Tree.Items some ->
            sides.add(
                keys(
                    some.items().stream()
                        .filter(Tree.Text.class::isInstance)
                        .map(Tree.Text.class::cast)
                        .toList(),
                    reading,
                    known));
        case Tree.Fields fields ->
            reading.problem(fields.place(), "A side is an entitlement, or a list of such.");
      }
    }
    return sides;
  }

  /** What a package gives, or all packages with a tag; nothing where the text names neither. */
  private static Optional<Set<String>> packages(String text, Defined known) {
    var named = PACKAGES.matcher(text);
    if (!named.matches()) {
      return Optional.empty();
    }
    var ofTag = named.group(1).equals("tag");
    return Optional.of(
        known.all(RolePackageKind.class).values().stream()
            .filter(each ->
                ofTag ? each.tags().contains(named.group(2)) : each.key().equals(named.group(2)))
            .flatMap(each -> each.entitlements().stream())
            .collect(Collectors.toCollection(TreeSet::new)));
  }

  private static Set<String> keys(List<Tree.Text> texts, Reading reading, Defined known) {
    var keys = new TreeSet<String>();
    for (var text : texts) {
      var packages = packages(text.value(), known);
      if (packages.isPresent()) {
        if (packages.get().isEmpty()) {
          reading.problem(
              text.place(), "There is no %s that gives something.".formatted(text.value()));
        }
        keys.addAll(packages.get());
        continue;
      }
      if (!known.all(EntitlementKind.class).containsKey(text.value())) {
        reading.problem(text.place(), "There is no entitlement “%s”.".formatted(text.value()));
      }
      keys.add(text.value());
    }
    return keys;
  }
}
