package glenmoor.core.exchange;

import com.google.auto.service.AutoService;
import glenmoor.core.agenda.Schedule;
import glenmoor.core.applications.Ability;
import glenmoor.core.applications.Application;
import glenmoor.core.applications.ApplicationKind;
import glenmoor.core.definitions.Defined;
import glenmoor.core.definitions.DefinitionKind;
import glenmoor.core.definitions.Reading;
import glenmoor.core.definitions.Tree;
import java.util.Optional;
import java.util.Set;

/** {@code exchange: mishap-book}: which files are written for an application, and when. */
@AutoService(DefinitionKind.class)
public final class ExchangeKind implements DefinitionKind<Exchange> {
  @Override
  public String word() {
    return "exchange";
  }

  @Override
  public Set<String> refersTo() {
    return Set.of("application");
  }

  /** How files are exchanged with an application: as defined, or changes on demand only. */
  public static Exchange of(String application, Defined known) {
    return known
        .all(ExchangeKind.class)
        .getOrDefault(
            application, new Exchange(application, Exchange.Rows.CHANGES, Optional.empty()));
  }

  @Override
  public Optional<Exchange> read(String key, Reading reading, Defined known) {
    var rows = reading.choice("rows", Exchange.Rows.CHANGES, Exchange.Rows::word);
    var at = Schedule.read(reading, "at");
    var application = known.all(ApplicationKind.class).get(key);
    if (application == null) {
      reading.problem(
          reading.place("exchange"),
          "“%s” is no application; there are %s."
              .formatted(key, String.join(", ", known.all(ApplicationKind.class).keySet())));
    } else if (!takesFiles(application)) {
      reading.problem(
          reading.place("exchange"),
          "The connector %s of %s cannot %s; say connector: files."
              .formatted(application.connector(), key, Ability.FILES.sentence()));
    }
    return Optional.of(new Exchange(key, rows, at));
  }

  /** Whether changes for an application are written to files. */
  public static boolean takesFiles(Application application) {
    return application.can(Ability.FILES);
  }

  /** When files are written changes nobody's access by itself. */
  @Override
  public boolean plansLike(Tree.Fields before, Tree.Fields after) {
    return true;
  }
}
