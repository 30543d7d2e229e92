package glenmoor.engine.provisioning;

import glenmoor.core.applications.AccountState;
import glenmoor.core.ledger.CanonicalJson;
import glenmoor.core.provisioning.ProvisioningCommand;
import java.util.Map;
import java.util.TreeMap;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** Provisioning commands as JSON, the way the outbox and the ledger keep them. */
public final class CommandJson {
  private static final JsonMapper JSON = JsonMapper.shared();

  private CommandJson() {}

  public static String write(ProvisioningCommand command) {
    return CanonicalJson.write(plain(command));
  }

  /** The same as maps and texts. */
  static Map<String, Object> plain(ProvisioningCommand command) {
    return switch (command) {
      case ProvisioningCommand.Create c ->
          Map.of(
              "name", c.name(),
              "container", c.container(),
              "attributes", c.attributes(),
              "state", c.state().word());
      case ProvisioningCommand.Update u ->
          Map.of("name", u.name(), "container", u.container(), "attributes", u.attributes());
      case ProvisioningCommand.Add a ->
          Map.of("entitlement", a.entitlement(), "technical", a.technicalName(), "kind", a.kind());
      case ProvisioningCommand.Remove r ->
          Map.of("entitlement", r.entitlement(), "technical", r.technicalName(), "kind", r.kind());
      case ProvisioningCommand.SetPassword s ->
          s.unless().isEmpty()
              ? Map.of("sealed", s.sealed())
              : Map.of("sealed", s.sealed(), "unless", s.unless());
      case ProvisioningCommand.HandOver h -> Map.of("to", h.toWorker());
      case ProvisioningCommand.Enable e -> Map.of();
      case ProvisioningCommand.Disable d -> Map.of();
      case ProvisioningCommand.Delete d -> Map.of();
    };
  }

  public static ProvisioningCommand read(String kind, String json) {
    var node = JSON.readTree(json);
    return switch (kind) {
      case "create" ->
          new ProvisioningCommand.Create(
              text(node, "name"),
              text(node, "container"),
              attributes(node.path("attributes")),
              AccountState.ofWord(text(node, "state")));
      case "update" ->
          new ProvisioningCommand.Update(
              text(node, "name"), text(node, "container"), attributes(node.path("attributes")));
      case "add" ->
          new ProvisioningCommand.Add(
              text(node, "entitlement"), text(node, "technical"), text(node, "kind"));
      case "remove" ->
          new ProvisioningCommand.Remove(
              text(node, "entitlement"), text(node, "technical"), text(node, "kind"));
      case "set-password" ->
          new ProvisioningCommand.SetPassword(text(node, "sealed"), text(node, "unless"));
      case "hand-over" -> new ProvisioningCommand.HandOver(text(node, "to"));
      case "enable" -> new ProvisioningCommand.Enable();
      case "disable" -> new ProvisioningCommand.Disable();
      case "delete" -> new ProvisioningCommand.Delete();
      default -> throw new IllegalArgumentException("There is no operation " + kind);
    };
  }

  private static String text(JsonNode node, String key) {
    return node.path(key).asString("");
  }

  /** A JSON object of texts. */
  static TreeMap<String, String> attributes(JsonNode node) {
    var attributes = new TreeMap<String, String>();
    node.properties().forEach(entry -> attributes.put(entry.getKey(), entry.getValue().asString()));
    return attributes;
  }

  /** The attributes of an account as they are kept. */
  public static TreeMap<String, String> attributesOf(String json) {
    return attributes(JSON.readTree(json));
  }
}
