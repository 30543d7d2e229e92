package glenmoor.connect.applications;

import com.fasterxml.jackson.databind.node.ObjectNode;
import glenmoor.connect.applications.Connector.CannotRead;
import glenmoor.connect.applications.Connector.Membership;
import glenmoor.connect.applications.Connector.Seen;
import glenmoor.connect.applications.ScimHttp.Failed;
import java.time.Instant;
import java.time.OffsetDateTime;
import java.time.format.DateTimeParseException;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.TreeMap;
import java.util.function.Consumer;
import org.jspecify.annotations.Nullable;

/** Lists what a SCIM service has: users with their roles, and groups with their members. */
final class ScimListing {
  private final ScimService service;
  private final Collection<String> mapped;
  private final String lastUsed;

  /**
   * @param mapped the attributes to read
   * @param lastUsed the attribute that tells of the last use; empty for none
   */
  ScimListing(ScimService service, Collection<String> mapped, String lastUsed) {
    this.service = service;
    this.mapped = mapped;
    this.lastUsed = lastUsed;
  }

  void accounts(Consumer<Seen> each) {
    try {
      service.each("Users", "", user -> each.accept(seen(user)));
    } catch (Failed failed) {
      throw new CannotRead(String.valueOf(failed.getMessage()));
    }
  }

  private Seen seen(ObjectNode user) {
    var attributes = new TreeMap<String, String>();
    for (var path : mapped) {
      var value = ScimAttributes.get(user, path);
      if (!value.isEmpty()) {
        attributes.put(path, value);
      }
    }
    var id = user.path("id").asText("");
    return new Seen(
        id,
        id,
        user.path("userName").asText(""),
        "",
        user.path("externalId").asText(""),
        user.path("active").asBoolean(true),
        attributes,
        lastUsed.isEmpty() ? null : moment(ScimAttributes.get(user, lastUsed)));
  }

  /** A moment (RFC 7643, section 2.3.5); what is none tells nothing. */
  private static @Nullable Instant moment(String value) {
    try {
      return OffsetDateTime.parse(value).toInstant();
    } catch (DateTimeParseException unreadable) {
      return null;
    }
  }

  /**
   * A group in a list may come without its members (RFC 7643, section 7: returned on request), so
   * one that seems to be empty is asked for by itself.
   */
  void memberships(Consumer<Membership> each) {
    try {
      service.each(
          "Users",
          "&attributes=id,roles",
          user ->
              user.path("roles")
                  .forEach(role ->
                      each.accept(
                          new Membership(
                              user.path("id").asText(""), "role", role.path("value").asText("")))));
      var silent = new ArrayList<String>();
      service.each(
          "Groups",
          "",
          group -> {
            if (group.path("members").isEmpty()) {
              silent.add(group.path("id").asText(""));
            } else {
              members(group, each);
            }
          });
      members(silent, each);
    } catch (Failed failed) {
      throw new CannotRead(String.valueOf(failed.getMessage()));
    }
  }

  private void members(List<String> groups, Consumer<Membership> each) throws Failed {
    for (var id : groups) {
      var group = service.byId("Groups", id, ScimHttp.GROUP);
      if (group.isPresent()) {
        members(group.get().body(), each);
      }
    }
  }

  private static void members(ObjectNode group, Consumer<Membership> each) {
    var name = group.path("displayName").asText("");
    group
        .path("members")
        .forEach(
            member -> each.accept(new Membership(member.path("value").asText(""), "group", name)));
  }
}
