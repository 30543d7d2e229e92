package glenmoor.core.access;

import com.google.auto.service.AutoService;
import glenmoor.core.applications.Ability;
import glenmoor.core.applications.ApplicationKind;
import glenmoor.core.applications.ConnectorKind;
import glenmoor.core.definitions.Concern;
import glenmoor.core.definitions.Defined;
import glenmoor.core.definitions.DefinitionKind;
import glenmoor.core.definitions.Reading;
import glenmoor.core.people.TeamKind;
import glenmoor.core.people.WorkerNumber;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Pattern;
import org.jspecify.annotations.NullMarked;

/** {@code entitlement: directory/crew}: one right in an application. */
@NullMarked
@AutoService(DefinitionKind.class)
public final class EntitlementKind implements DefinitionKind<Entitlement> {
  @Override
  public String word() {
    return "entitlement";
  }

  @Override
  public Set<String> refersTo() {
    return Set.of("application", "team");
  }

  @Override
  public Concern concern(String key) {
    return Concern.holders(word(), key);
  }

  private static final Pattern OWNER = Pattern.compile("(team|person) (\\S+)");

  private static String owner(Reading reading, Defined known) {
    var text = reading.text("owner", "");
    var named = OWNER.matcher(text);
    if (text.isEmpty()) {
      return text;
    }
    var good =
        named.matches()
            && (named.group(1).equals("team")
                ? known.all(TeamKind.class).containsKey(named.group(2))
                : WorkerNumber.read(named.group(2)).isPresent());
    if (!good) {
      reading.problem(
          reading.place("owner"),
          "owner is “%s”; say person with a worker number, or team with one of %s."
              .formatted(text, String.join(", ", known.all(TeamKind.class).keySet())));
    }
    return text;
  }

  @Override
  public Optional<Entitlement> read(String key, Reading reading, Defined known) {
    var application = key.contains("/") ? key.substring(0, key.indexOf('/')) : "";
    if (!known.all(ApplicationKind.class).containsKey(application)) {
      reading.problem(
          reading.place("entitlement"),
          "An entitlement's key begins with its application's, such as directory/crew; “%s” does not, or there is no such application."
              .formatted(key));
    }
    var kind = reading.oneOf("kind", "group", List.of("group", "role"));
    var needed = kind.equals("role") ? Ability.ROLES : Ability.GROUPS;
    Optional.ofNullable(known.all(ApplicationKind.class).get(application))
        .flatMap(where -> ConnectorKind.ofWord(where.connector()))
        .filter(connector -> !connector.can(needed))
        .ifPresent(connector ->
            reading.problem(
                reading.place("kind"),
                "The connector %s of %s cannot %s."
                    .formatted(connector.word(), application, needed.sentence())));
    return Optional.of(
        new Entitlement(
            key,
            application,
            reading.text("technical", key.substring(key.indexOf('/') + 1)),
            reading.text("name", key),
            kind,
            reading.choice("risk", Entitlement.Risk.USUAL, Entitlement.Risk::word),
            owner(reading, known)));
  }
}
