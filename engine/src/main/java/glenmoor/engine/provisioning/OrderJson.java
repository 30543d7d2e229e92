package glenmoor.engine.provisioning;

import glenmoor.core.applications.AccountState;
import glenmoor.core.ledger.CanonicalJson;
import glenmoor.core.provisioning.Order;
import java.util.Map;
import java.util.TreeMap;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** Orders as JSON, the way the outbox keeps them. */
public final class OrderJson {
  private static final JsonMapper JSON = JsonMapper.shared();

  private OrderJson() {}

  public static String write(Order order) {
    return CanonicalJson.write(plain(order));
  }

  private static Map<String, Object> plain(Order order) {
    return switch (order) {
      case Order.Create c ->
          Map.of(
              "name", c.name(),
              "container", c.container(),
              "attributes", c.attributes(),
              "state", c.state().word());
      case Order.Update u ->
          Map.of("name", u.name(), "container", u.container(), "attributes", u.attributes());
      case Order.Add a ->
          Map.of("entitlement", a.entitlement(), "technical", a.technicalName(), "kind", a.kind());
      case Order.Remove r ->
          Map.of("entitlement", r.entitlement(), "technical", r.technicalName(), "kind", r.kind());
      case Order.SetPassword s -> Map.of("sealed", s.sealed());
      case Order.Enable e -> Map.of();
      case Order.Disable d -> Map.of();
      case Order.Delete d -> Map.of();
    };
  }

  public static Order read(String kind, String json) {
    var node = JSON.readTree(json);
    return switch (kind) {
      case "create" ->
          new Order.Create(
              text(node, "name"),
              text(node, "container"),
              attributes(json),
              AccountState.ofWord(text(node, "state")));
      case "update" ->
          new Order.Update(text(node, "name"), text(node, "container"), attributes(json));
      case "add" ->
          new Order.Add(text(node, "entitlement"), text(node, "technical"), text(node, "kind"));
      case "remove" ->
          new Order.Remove(text(node, "entitlement"), text(node, "technical"), text(node, "kind"));
      case "set-password" -> new Order.SetPassword(text(node, "sealed"));
      case "enable" -> new Order.Enable();
      case "disable" -> new Order.Disable();
      case "delete" -> new Order.Delete();
      default -> throw new IllegalArgumentException("There is no operation " + kind);
    };
  }

  private static String text(JsonNode node, String key) {
    return node.path(key).asString("");
  }

  private static Map<String, String> attributes(String json) {
    return attributes(JSON.readTree(json).path("attributes"));
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
