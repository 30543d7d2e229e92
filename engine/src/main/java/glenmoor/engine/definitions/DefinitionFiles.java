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
import org.yaml.snakeyaml.DumperOptions;
import org.yaml.snakeyaml.LoaderOptions;
import org.yaml.snakeyaml.Yaml;
import org.yaml.snakeyaml.constructor.SafeConstructor;
import org.yaml.snakeyaml.error.MarkedYAMLException;
import org.yaml.snakeyaml.nodes.MappingNode;
import org.yaml.snakeyaml.nodes.Node;
import org.yaml.snakeyaml.nodes.ScalarNode;
import org.yaml.snakeyaml.nodes.SequenceNode;
import org.yaml.snakeyaml.representer.Representer;

/** Definition files: YAML 1.1 documents, read with the line each value stands on, and written. */
final class DefinitionFiles {
  private DefinitionFiles() {}

  /** Reads the documents of one file, adding what is wrong to the problems. */
  static List<Definition> read(String file, String text, List<Problem> problems) {
    var read = new ArrayList<Definition>();
    try {
      for (var node : new Yaml(new LoaderOptions()).composeAll(new StringReader(text))) {
        if (tree(file, node, problems) instanceof Tree.Fields body && !body.fields().isEmpty()) {
          Definitions.document(body, problems).ifPresent(read::add);
        } else if (!(node instanceof ScalarNode scalar && scalar.getValue().isEmpty())) {
          problems.add(
              new Problem(
                  place(file, node),
                  "A document is made of keys with values, such as package: bridge-officer."));
        }
      }
    } catch (MarkedYAMLException broken) {
      var mark = broken.getProblemMark();
      problems.add(
          new Problem(
              new Place(file, mark == null ? 0 : mark.getLine() + 1),
              "This is no YAML: " + broken.getProblem() + "."));
    }
    return read;
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
