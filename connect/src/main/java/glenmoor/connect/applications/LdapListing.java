package glenmoor.connect.applications;

import com.unboundid.ldap.sdk.Filter;
import com.unboundid.ldap.sdk.SearchResultEntry;
import com.unboundid.ldap.sdk.SearchScope;
import com.unboundid.util.StaticUtils;
import glenmoor.connect.applications.Connector.CannotRead;
import glenmoor.connect.applications.Connector.Membership;
import glenmoor.connect.applications.Connector.Seen;
import java.text.ParseException;
import java.time.Instant;
import java.util.Collection;
import java.util.List;
import java.util.Objects;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.function.Consumer;
import org.jspecify.annotations.Nullable;

/** Lists what a directory has: accounts and, group by group, who is in them. */
final class LdapListing {
  private final LdapDirectory directory;
  private final LdapGroups groups;
  private final String objectClass;
  private final Collection<String> mapped;
  private final String lastUsed;

  /**
   * @param objectClass what an entry is that is an account although it carries no worker number
   * @param mapped the attributes to read
   * @param lastUsed the attribute that tells of the last use; empty for none
   */
  LdapListing(
      LdapDirectory directory,
      LdapGroups groups,
      String objectClass,
      Collection<String> mapped,
      String lastUsed) {
    this.directory = directory;
    this.groups = groups;
    this.objectClass = objectClass;
    this.mapped = mapped;
    this.lastUsed = lastUsed;
  }

  void accounts(Consumer<Seen> each) {
    var read = new TreeSet<>(mapped);
    read.addAll(
        List.of(
            directory.nameAttribute(),
            directory.keyAttribute(),
            directory.lockAttribute(),
            LdapDirectory.UUID));
    if (!lastUsed.isEmpty()) {
      read.add(lastUsed);
    }
    var base = LdapNames.of(directory.base());
    directory.pages(
        directory.base(),
        SearchScope.SUB,
        Filter.createORFilter(
            Filter.createPresenceFilter(directory.keyAttribute()),
            Filter.createEqualityFilter("objectClass", objectClass)),
        entry -> each.accept(seen(entry, base)),
        read.toArray(String[]::new));
  }

  private Seen seen(SearchResultEntry entry, LdapNames base) {
    var name = base.below(entry.getDN());
    var attributes = new TreeMap<String, String>();
    for (var attribute : mapped) {
      var value = entry.getAttributeValue(attribute);
      if (value != null && !value.isEmpty()) {
        attributes.put(attribute, value);
      }
    }
    return new Seen(
        name.normal(),
        LdapDirectory.nativeId(entry),
        Objects.requireNonNullElse(entry.getAttributeValue(directory.nameAttribute()), ""),
        name.container(),
        Objects.requireNonNullElse(entry.getAttributeValue(directory.keyAttribute()), ""),
        !entry.hasAttribute(directory.lockAttribute()),
        attributes,
        lastUsed.isEmpty() ? null : moment(entry.getAttributeValue(lastUsed)));
  }

  /** Generalized time (RFC 4517, section 3.3.13); what is none tells nothing. */
  private static @Nullable Instant moment(@Nullable String value) {
    try {
      return value == null ? null : StaticUtils.decodeGeneralizedTime(value).toInstant();
    } catch (ParseException unreadable) {
      return null;
    }
  }

  /**
   * @throws CannotRead also where a group comes with a part of its members only
   */
  void memberships(Consumer<Membership> each) {
    directory.pages(
        groups.base(),
        SearchScope.ONE,
        Filter.createPresenceFilter(groups.memberAttribute()),
        group -> members(group, each),
        "cn",
        groups.memberAttribute());
  }

  private void members(SearchResultEntry group, Consumer<Membership> each) {
    var name = group.getAttributeValue("cn");
    var members = group.getAttributeValues(groups.memberAttribute());
    if (name == null || members == null) {
      throw new CannotRead(
          "The members of %s came in part or not at all; a whole answer is needed to compare."
              .formatted(group.getDN()));
    }
    for (var member : members) {
      each.accept(new Membership(LdapNames.normal(member), "group", name));
    }
  }
}
