package glenmoor.connect.lifecycle;

import com.fasterxml.jackson.databind.node.ObjectNode;
import com.unboundid.scim2.common.utils.JsonUtils;
import java.util.List;

/**
 * A group as a client reads it (RFC 7643, section 4.2); it cannot be written.
 *
 * @param id its key
 */
public record ScimGroup(String id, String name, List<Member> members) {
  public static final String GROUP = "urn:ietf:params:scim:schemas:core:2.0:Group";

  /**
   * A User in it.
   *
   * @param id the identity that the client was given
   */
  public record Member(String id, String userName) {}

  /**
   * Whether a filter covers it.
   *
   * @throws ScimPerson.Unusable if the filter cannot be applied to it
   */
  public boolean isWanted(ScimFilter filter) {
    return filter.covers(whole(""));
  }

  /**
   * JSON, as the client reads it.
   *
   * @param base where the door is, without a slash at its end
   */
  public String shown(String base, ScimParts parts) {
    return parts.of(whole(base)).toString();
  }

  /**
   * The text at a path, as {@link ScimPerson#text} has it.
   *
   * @throws ScimPerson.Unusable if it is no path
   */
  public String text(String path) {
    return ScimPerson.text(whole(""), path);
  }

  private ObjectNode whole(String base) {
    var shown = JsonUtils.getJsonNodeFactory().objectNode();
    shown.putArray("schemas").add(GROUP);
    shown.put("id", id).put("displayName", name);
    var list = shown.putArray("members");
    members.forEach(member ->
        list.addObject()
            .put("value", member.id())
            .put("$ref", base + "/Users/" + member.id())
            .put("display", member.userName())
            .put("type", "User"));
    shown.putObject("meta").put("resourceType", "Group").put("location", base + "/Groups/" + id);
    return shown;
  }
}
