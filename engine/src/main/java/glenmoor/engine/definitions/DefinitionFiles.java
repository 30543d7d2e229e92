package glenmoor.engine.definitions;

import glenmoor.core.definitions.Definition;
import glenmoor.core.definitions.Definitions;
import glenmoor.core.definitions.Problem;
import glenmoor.core.definitions.Tree;
import glenmoor.core.definitions.Tree.Place;
import java.io.StringReader;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.yaml.snakeyaml.DumperOptions;
import org.yaml.snakeyaml.LoaderOptions;
import org.yaml.snakeyaml.Yaml;
import org.yaml.snakeyaml.constructor.SafeConstructor;
import org.yaml.snakeyaml.error.MarkedYAMLException;
import org.yaml.snakeyaml.error.YAMLException;
import org.yaml.snakeyaml.events.AliasEvent;
import org.yaml.snakeyaml.events.CollectionEndEvent;
import org.yaml.snakeyaml.events.CollectionStartEvent;
import org.yaml.snakeyaml.events.DocumentStartEvent;
import org.yaml.snakeyaml.events.Event;
import org.yaml.snakeyaml.events.NodeEvent;
import org.yaml.snakeyaml.events.ScalarEvent;
import org.yaml.snakeyaml.nodes.MappingNode;
import org.yaml.snakeyaml.nodes.Node;
import org.yaml.snakeyaml.nodes.ScalarNode;
import org.yaml.snakeyaml.nodes.SequenceNode;
import org.yaml.snakeyaml.representer.Representer;

/** Definition files: YAML 1.1 documents, read with the line each value stands on, and written. */
final class DefinitionFiles {
  private DefinitionFiles() {}

  private static final int DEEPEST = 20;
  private static final int LARGEST = 4 << 20;
  private static final int LONGEST_TEXT = 20_000;
  private static final int MOST_DOCUMENTS = 20_000;

  /** A limit was passed; the sentence names the file, the line and the limit. */
  private static final class Beyond extends RuntimeException {
    private static final long serialVersionUID = 1;
    private final transient Problem problem;

    Beyond(Problem problem) {
      this.problem = problem;
    }
  }

  /**
   * Reads the documents of one file, adding what is wrong to the problems. What is beyond a limit
   * is found by looking at the file's marks one by one, before anything is built of them.
   */
  static List<Definition> read(String file, String text, List<Problem> problems) {
    var read = new ArrayList<Definition>();
    try {
      bounded(file, text);
      for (var node : new Yaml(options()).composeAll(new StringReader(text))) {
        if (tree(file, node, problems) instanceof Tree.Fields body && !body.fields().isEmpty()) {
          Definitions.document(body, problems).ifPresent(read::add);
        } else if (!(node instanceof ScalarNode scalar && scalar.getValue().isEmpty())) {
          problems.add(
              new Problem(
                  place(file, node),
                  "A document is made of keys with values, such as package: bridge-officer."));
        }
      }
    } catch (Beyond beyond) {
      problems.add(beyond.problem);
    } catch (MarkedYAMLException broken) {
      var mark = broken.getProblemMark();
      problems.add(
          new Problem(
              new Place(file, mark == null ? 0 : mark.getLine() + 1),
              "This is no YAML: " + broken.getProblem() + "."));
    } catch (YAMLException broken) {
      problems.add(new Problem(new Place(file, 0), "This is no YAML that can be read here."));
    }
    return read;
  }

  private static LoaderOptions options() {
    var options = new LoaderOptions();
    options.setCodePointLimit(LARGEST);
    options.setNestingDepthLimit(DEEPEST);
    options.setMaxAliasesForCollections(0);
    return options;
  }

  private static void bounded(String file, String text) {
    if (text.length() > LARGEST) {
      throw beyond(
          file,
          null,
          "The file has %,d characters; it may have %,d.".formatted(text.length(), LARGEST));
    }
    var depth = 0;
    var documents = 0;
    for (var event : new Yaml(options()).parse(new StringReader(text))) {
      if (event instanceof AliasEvent
          || event instanceof NodeEvent node && node.getAnchor() != null) {
        throw beyond(
            file,
            event,
            "Anchors and aliases (& and *) are not taken in definitions: write the value out.");
      }
      depth +=
          event instanceof CollectionStartEvent ? 1 : event instanceof CollectionEndEvent ? -1 : 0;
      documents += event instanceof DocumentStartEvent ? 1 : 0;
      if (depth > DEEPEST) {
        throw beyond(file, event, "Values may stand %d deep inside each other.".formatted(DEEPEST));
      }
      if (documents > MOST_DOCUMENTS) {
        throw beyond(
            file, event, "A file may have %,d documents; divide it.".formatted(MOST_DOCUMENTS));
      }
      if (event instanceof ScalarEvent scalar && scalar.getValue().length() > LONGEST_TEXT) {
        throw beyond(file, event, "A text may have %,d characters.".formatted(LONGEST_TEXT));
      }
    }
  }

  private static Beyond beyond(String file, @Nullable Event event, String sentence) {
    var line = event == null ? 0 : event.getStartMark().getLine() + 1;
    return new Beyond(new Problem(new Place(file, line), sentence));
  }

  private static Place place(String file, Node node) {
    return new Place(file, node.getStartMark().getLine() + 1);
  }

  private static Tree tree(String file, Node node, List<Problem> problems) {
    var place = place(file, node);
    return switch (node) {
      case ScalarNode scalar -> new Tree.Text(place, scalar.getValue());
      case SequenceNode items ->
          new Tree.Items(
              place, items.getValue().stream().map(item -> tree(file, item, problems)).toList());
      case MappingNode mapping -> {
        var fields = new LinkedHashMap<String, Tree>();
        for (var tuple : mapping.getValue()) {
          var key = tuple.getKeyNode() instanceof ScalarNode scalar ? scalar.getValue() : "";
          if (fields.put(key, tree(file, tuple.getValueNode(), problems)) != null) {
            problems.add(
                new Problem(place(file, tuple.getKeyNode()), key + " is given twice; keep one."));
          }
        }
        yield new Tree.Fields(place, fields);
      }
      default -> new Tree.Text(place, "");
    };
  }

  /** Writes definitions as one file that gives the same definitions when read. */
  static String write(List<Definition> definitions) {
    var options = new DumperOptions();
    options.setDefaultFlowStyle(DumperOptions.FlowStyle.BLOCK);
    options.setWidth(120);
    options.setAllowUnicode(true);
    options.setSplitLines(false);
    var yaml =
        new Yaml(new SafeConstructor(new LoaderOptions()), new Representer(options), options);
    var out = new StringBuilder();
    for (var definition : definitions) {
      if (!out.isEmpty()) {
        out.append("---\n");
      }
      out.append(yaml.dump(definition.body().plain()));
    }
    return out.toString();
  }
}
