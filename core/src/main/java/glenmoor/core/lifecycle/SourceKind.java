package glenmoor.core.lifecycle;

import com.google.auto.service.AutoService;
import glenmoor.core.agenda.Schedule;
import glenmoor.core.definitions.Defined;
import glenmoor.core.definitions.Definition;
import glenmoor.core.definitions.DefinitionKind;
import glenmoor.core.definitions.Problems;
import glenmoor.core.definitions.Reading;
import glenmoor.core.definitions.Tree;
import glenmoor.core.people.FactKind;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Pattern;

/** {@code source: hr}: where worker records come from, and which column holds what. */
@AutoService(DefinitionKind.class)
public final class SourceKind implements DefinitionKind<Source> {
  private static final Pattern ONLY_READS =
      Pattern.compile("(?is)(select|with)\\b(?!.*\\binto\\s+(outfile|dumpfile)\\b).*");

  @Override
  public String word() {
    return "source";
  }

  @Override
  public Set<String> refersTo() {
    return Set.of("fact");
  }

  @Override
  public Optional<Source> read(String key, Reading reading, Defined known) {
    var columns = new ArrayList<Source.Column>();
    reading
        .map("columns")
        .forEach((name, tree) -> {
          var column = column(name, tree, reading);
          var facts = known.all(FactKind.class).keySet();
          if (!facts.contains(column.fact())) {
            reading.problem(
                tree.place(),
                "The column “%s” is mapped to “%s”, which is no fact; the facts are %s."
                    .formatted(name, column.fact(), String.join(", ", facts)));
          }
          columns.add(column);
        });
    var form = reading.yesNo("form");
    if (form && !reading.has("columns")) {
      // A form asks for the facts themselves.
      known
          .all(FactKind.class)
          .keySet()
          .forEach(fact -> columns.add(new Source.Column(fact, fact, Map.of(), false)));
    }
    var separator = reading.text("separator", ",");
    if (separator.length() != 1) {
      reading.problem(reading.place("separator"), "separator must be one character.");
      separator = ",";
    }
    var mode = reading.choice("mode", Source.Mode.FULL, Source.Mode::word);
    return Optional.of(
        new Source(
            key,
            reading.text("name", key),
            mode,
            separator.charAt(0),
            form
                ? reading.text("worker", "worker")
                : reading.needed("worker", "which column holds the worker number"),
            List.copyOf(columns),
            missingAfter(mode, reading),
            drop(reading),
            view(mode, reading),
            push(mode, reading),
            form(mode, reading),
            numbers(reading),
            ofForm("counts-by", reading),
            byManagers(reading)));
  }

  private static boolean byManagers(Reading reading) {
    var managers = reading.yesNo("by-managers");
    if (managers && !reading.has("counts-by")) {
      reading.problem(
          reading.place("by-managers"),
          "What managers write counts once somebody agreed: say counts-by, with the offer that is asked for.");
    }
    return managers;
  }

  private static Optional<String> numbers(Reading reading) {
    var numbers = ofForm("numbers", reading);
    if (numbers.filter(each -> !each.matches("[A-Za-z][A-Za-z0-9-]{0,19}")).isPresent()) {
      reading.problem(
          reading.place("numbers"),
          "numbers is “%s”; say what the worker numbers begin with that are made up here, such as P-."
              .formatted(numbers.get()));
    }
    return numbers;
  }

  private static Optional<String> ofForm(String key, Reading reading) {
    var text = reading.text(key);
    if (text.isPresent() && !reading.yesNo("form")) {
      reading.problem(
          reading.place(key),
          "%s goes with form: yes, where records are written here.".formatted(key));
    }
    return text;
  }

  private static boolean form(Source.Mode mode, Reading reading) {
    var form = reading.yesNo("form");
    if (form && (reading.has("drop") || reading.has("view") || reading.has("push"))) {
      reading.problem(
          reading.place("form"), "Its records come from one place: say form, push, drop or view.");
    }
    if (form && mode != Source.Mode.CHANGES) {
      reading.problem(
          reading.place("form"),
          "A form is about one person, and never names everybody: say mode: changes.");
    }
    return form;
  }

  private static Optional<String> push(Source.Mode mode, Reading reading) {
    var push = reading.text("push");
    if (push.isPresent() && (reading.has("drop") || reading.has("view"))) {
      reading.problem(
          reading.place("push"), "Its records come from one place: say push, drop or view.");
    }
    if (push.isPresent() && mode != Source.Mode.CHANGES) {
      reading.problem(
          reading.place("push"),
          "What is pushed tells what changed, and never names everybody: say mode: changes.");
    }
    return push;
  }

  /** Two sources that one client pushes could not be told apart. */
  @Override
  public void check(Collection<Definition> all, Defined known, Problems problems) {
    var clients = new HashSet<String>();
    for (var definition : all) {
      var source = known.all(SourceKind.class).get(definition.key());
      if (source != null && source.push().filter(client -> !clients.add(client)).isPresent()) {
        problems.add(
            definition.body().place(),
            "The sign-in %s pushes another source already; each needs one of its own."
                .formatted(source.push().get()));
      }
    }
  }

  private static Optional<Source.View> view(Source.Mode mode, Reading reading) {
    if (!reading.has("view")) {
      return Optional.empty();
    }
    var view = reading.inside("view");
    var settings = new LinkedHashMap<String, Object>();
    for (var key : List.of("url", "user", "password-file")) {
      settings.put(key, view.needed(key, "what " + key + " of the database is"));
    }
    view.text("trust-file").ifPresent(file -> settings.put("trust-file", file));
    var select = view.needed("select", "the statement that reads the records");
    var watermark = view.text("watermark");
    var since = view.text("since");
    var at = Schedule.read(view, "at");
    if (!select.isEmpty() && !ONLY_READS.matcher(select.strip()).matches()) {
      view.problem(
          view.place("select"),
          "select only reads: it begins with select, or with with, and writes no file.");
    }
    if (select.contains(":" + Source.View.WATERMARK) != watermark.isPresent()
        || watermark.isPresent() != since.isPresent()) {
      view.problem(
          view.place("select"),
          "To read only what changed, say all three: watermark (the column that rises with each change), since (its value to begin with), and :watermark in the select, such as where changed_at >= :watermark.");
    } else if (watermark.isPresent() != (mode == Source.Mode.CHANGES)) {
      view.problem(
          view.place("watermark"),
          "A watermark goes with mode: changes, and changes are told by a watermark: with mode: full everybody is read each time.");
    }
    if (reading.has("drop")) {
      reading.problem(
          reading.place("view"), "Its records come from one place: say drop or view, not both.");
    }
    view.finish();
    return Optional.of(
        new Source.View(Map.copyOf(settings), select, watermark, since.orElse(""), at));
  }

  private static int missingAfter(Source.Mode mode, Reading reading) {
    var said = reading.number("missing-after", 1);
    if (said < 1 || said > Source.MOST_MISSING) {
      reading.problem(
          reading.place("missing-after"),
          "missing-after is %d; say after how many full feeds in a row without them somebody has left, from 1 to %d."
              .formatted(said, Source.MOST_MISSING));
    }
    if (mode == Source.Mode.CHANGES && said > 1) {
      reading.problem(
          reading.place("missing-after"),
          "missing-after counts full feeds, and this source brings changes only: nobody is missing from them.");
    }
    return Math.clamp(said, 1, Source.MOST_MISSING);
  }

  private static Optional<Source.Drop> drop(Reading reading) {
    var at = Schedule.read(reading, "at");
    var directory = reading.text("drop");
    if (directory.isEmpty() && at.isPresent()) {
      reading.problem(
          reading.place("at"),
          "at says when the drop directory is looked into, and there is none: add drop with its name.");
    }
    if (directory.isPresent() && !directory.get().matches("[A-Za-z0-9][A-Za-z0-9._-]{0,63}")) {
      reading.problem(
          reading.place("drop"),
          "drop is “%s”; say the name of one directory, such as people-office: it lies where the service keeps all drop directories."
              .formatted(directory.get()));
      return Optional.empty();
    }
    return directory.map(name -> new Source.Drop(name, at));
  }

  private static Source.Column column(String name, Tree tree, Reading reading) {
    return switch (tree) {
      case Tree.Text text -> new Source.Column(name, text.value(), Map.of(), false);
      case Tree.Items items -> new Source.Column(name, "", Map.of(), false);
      case Tree.Fields fields -> {
        var inside = reading.of(fields);
        var values = new LinkedHashMap<String, String>();
        inside.map("values").forEach((from, to) -> values.put(from, String.valueOf(to.plain())));
        var keeps = inside.oneOf("else", "reject", List.of("reject", "keep")).equals("keep");
        var fact = inside.needed("fact", "which fact the column holds");
        inside.finish();
        yield new Source.Column(name, fact, Map.copyOf(values), keeps);
      }
    };
  }

  /** How files are read changes nobody's access by itself. */
  @Override
  public boolean plansLike(Tree.Fields before, Tree.Fields after) {
    return true;
  }
}
