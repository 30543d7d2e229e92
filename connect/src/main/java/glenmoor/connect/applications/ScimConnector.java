package glenmoor.connect.applications;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.BooleanNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import com.fasterxml.jackson.databind.node.TextNode;
import com.unboundid.scim2.common.Path;
import com.unboundid.scim2.common.exceptions.ScimException;
import com.unboundid.scim2.common.messages.PatchOperation;
import com.unboundid.scim2.common.utils.JsonUtils;
import glenmoor.connect.applications.ScimHttp.Failed;
import glenmoor.connect.applications.ScimService.Ambiguous;
import glenmoor.core.access.Entitlement;
import glenmoor.core.applications.AccountState;
import glenmoor.core.applications.Application;
import glenmoor.core.provisioning.Outcome;
import glenmoor.core.provisioning.ProvisioningCommand;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Consumer;
import java.util.function.UnaryOperator;
import java.util.regex.Pattern;

/**
 * Accounts as SCIM 2.0 users (RFC 7643, RFC 7644), entitlements as groups or as values of the
 * user's {@code roles}. The worker number is the {@code externalId}, or where an application keeps
 * none ({@code join: userName}) the account's name is what it is found by.
 */
final class ScimConnector implements Connector {
  /** All settings there are. */
  static final Set<String> SETTINGS = Set.of("url", "token-file", "join", "make", "last-used");

  private static final Pattern WEB = Pattern.compile("(?i)https?://[^?#]+");

  private final Application application;
  private final ScimService service;
  private final ScimMembers members;
  private final ScimListing listing;
  private final ScimStrays strays;
  private final boolean joinsByName;

  /** Something that cannot be, for a reason that only people can mend. */
  static final class Stopped extends Exception {
    private static final long serialVersionUID = 1;

    Stopped(String sentence) {
      super(sentence);
    }
  }

  ScimConnector(Application application, Settings settings) {
    this.application = application;
    service = new ScimService(new ScimHttp(address(settings), settings.secretFrom("token-file")));
    members = new ScimMembers(service, settings.text("make", "no").equals("yes"));
    listing =
        new ScimListing(service, application.attributes().keySet(), settings.text("last-used", ""));
    joinsByName = settings.text("join", "externalId").equals("userName");
    strays = new ScimStrays(service, joinsByName);
  }

  private static String address(Settings settings) {
    var url = settings.address("url");
    if (!WEB.matcher(url).matches()) {
      throw new Settings.BadSetting(
          "The setting url of the %s is %s; say https://HOST/PATH, without a question or a fragment."
              .formatted(settings.whose(), url));
    }
    return url;
  }

  @Override
  public Outcome carryOut(ProvisioningCommand command, Target target, UnaryOperator<String> open) {
    try {
      return switch (command) {
        case ProvisioningCommand.Create create -> create(create, target);
        case ProvisioningCommand.Update update -> update(update, target);
        case ProvisioningCommand.Enable e -> activate(target, true);
        case ProvisioningCommand.Disable d -> activate(target, false);
        case ProvisioningCommand.Add add ->
            add.kind().equals("role")
                ? role(add.technicalName(), target, true)
                : member(add.technicalName(), target, true);
        case ProvisioningCommand.Remove remove ->
            remove.kind().equals("role")
                ? role(remove.technicalName(), target, false)
                : member(remove.technicalName(), target, false);
        case ProvisioningCommand.SetPassword set -> setPassword(open.apply(set.sealed()), target);
        case ProvisioningCommand.HandOver h -> Connector.ownsNothing();
        case ProvisioningCommand.Delete d -> delete(target);
      };
    } catch (Failed failed) {
      return outcome(failed);
    } catch (Ambiguous | Stopped stopped) {
      return new Outcome.Refused(String.valueOf(stopped.getMessage()));
    } catch (ScimAttributes.BadPath bad) {
      return new Outcome.WrongSettings(bad.getMessage() + "; correct the definition.");
    }
  }

  private Outcome create(ProvisioningCommand.Create create, Target target)
      throws Failed, Ambiguous, Stopped {
    if (target.triedBefore()) {
      var there = find(target);
      if (there.isPresent()) {
        return adopt(there.get(), create, target, "");
      }
    }
    var user = JsonUtils.getJsonNodeFactory().objectNode();
    user.putArray("schemas").add(ScimHttp.USER);
    user.put("externalId", target.worker());
    user.put("userName", create.name());
    user.put("active", create.state() == AccountState.ENABLED);
    ScimAttributes.put(user, create.attributes());
    extensions(user);
    try {
      var id = service.http().post("/Users", user, ScimHttp.USER).body().path("id").asText("");
      if (joinsByName || id.isEmpty()) {
        notOthers(id, target);
      }
      // Else what is read back carries this worker number: it is nobody else's.
      return readBack(id, create, target);
    } catch (Failed failed) {
      if (failed.status() != 409) {
        throw failed;
      }
      var own = find(target);
      if (own.isPresent()) {
        return adopt(own.get(), create, target, "adopted the user that was there");
      }
      return new Outcome.Refused(
          "The name %s is taken by a user that carries no worker number %s. Give that user the worker number as externalId to have it adopted, or rename it, then try again."
              .formatted(create.name(), target.worker()));
    }
  }

  /** An extension's attributes count only where the resource names its schema. */
  private static void extensions(ObjectNode user) {
    var schemas = user.withArray("schemas");
    user.fieldNames()
        .forEachRemaining(name -> {
          if (name.startsWith("urn:")) {
            schemas.add(name);
          }
        });
  }

  private Outcome readBack(String id, ProvisioningCommand.Create create, Target target)
      throws Failed {
    var found = service.byId("Users", id, ScimHttp.USER);
    if (found.isEmpty()) {
      return new Outcome.Unproven("The user was created, but is not there");
    }
    var user = found.get().body();
    if (!joinsByName && !user.path("externalId").asText("").equals(target.worker())) {
      return new Outcome.Unproven(
          "The user was created, but its externalId reads back as “%s”. If the application keeps none, say join: userName in its settings"
              .formatted(user.path("externalId").asText("")));
    }
    var same =
        user.path("userName").asText("").equalsIgnoreCase(create.name())
            && user.path("active").asBoolean(true) == (create.state() == AccountState.ENABLED);
    return same ? new Outcome.Confirmed(id, "") : unchanged("user");
  }

  private Outcome adopt(
      ObjectNode user, ProvisioningCommand.Create create, Target target, String note)
      throws Failed, Ambiguous, Stopped {
    var id = user.path("id").asText("");
    notOthers(id, target);
    var shaped = shaped(id, create.name(), create.attributes(), target);
    if (!(shaped instanceof Outcome.Confirmed)) {
      return shaped;
    }
    var outcome = activate(with(target, id), create.state() == AccountState.ENABLED);
    return outcome instanceof Outcome.Confirmed ? new Outcome.Confirmed(id, note) : outcome;
  }

  private static void notOthers(String id, Target target) throws Stopped {
    if (id.isEmpty()) {
      throw new Stopped("The application gave a user without an id.");
    }
    if (!id.equals(target.nativeId()) && target.owners().isOthers(id)) {
      throw new Stopped(
          "The user %s belongs to somebody else's account already; one user serves one person. Give the two different worker numbers in the application, then try again."
              .formatted(id));
    }
  }

  private static Target with(Target target, String id) {
    return new Target(
        target.worker(),
        target.name(),
        target.seenName(),
        target.seenContainer(),
        id,
        target.triedBefore(),
        true,
        target.handedOverAt(),
        target.owners());
  }

  private Outcome update(ProvisioningCommand.Update update, Target target)
      throws Failed, Ambiguous, Stopped {
    var user = user(target);
    return user.isEmpty()
        ? gone(target)
        : shaped(id(user.get()), update.name(), update.attributes(), target);
  }

  /** Gives a user its name and content: by PATCH, and if that had another effect, as a whole. */
  private Outcome shaped(String id, String name, Map<String, String> attributes, Target target)
      throws Failed {
    var path = "/Users/" + ScimHttp.encoded(id);
    for (var putting : List.of(target.triedBefore(), true)) {
      var seen = service.http().get(path, ScimHttp.USER);
      var operations = differences(seen.body(), name, attributes);
      if (operations.isEmpty()) {
        return new Outcome.Confirmed(id, "");
      }
      service.change(
          path,
          ScimHttp.USER,
          operations,
          whole -> {
            whole.put("userName", name);
            for (var attribute : application.attributes().keySet()) {
              ScimAttributes.put(whole, attribute, attributes.getOrDefault(attribute, ""));
            }
          },
          putting,
          seen.etag());
    }
    var after = service.http().get(path, ScimHttp.USER).body();
    var left = differences(after, name, attributes);
    return left.isEmpty()
        ? new Outcome.Confirmed(id, "")
        : new Outcome.Unproven(
            "The user was changed, but its %s read back otherwise"
                .formatted(
                    String.join(
                        ", ", left.stream().map(each -> String.valueOf(each.getPath())).toList())));
  }

  private List<PatchOperation> differences(
      ObjectNode seen, String name, Map<String, String> attributes) {
    var operations = new ArrayList<PatchOperation>();
    if (!seen.path("userName").asText("").equals(name)) {
      operations.add(replace("userName", new TextNode(name)));
    }
    for (var path : application.attributes().keySet()) {
      ScimAttributes.difference(seen, path, attributes.getOrDefault(path, ""))
          .ifPresent(operations::add);
    }
    return operations;
  }

  static PatchOperation replace(String path, JsonNode value) {
    try {
      return PatchOperation.replace(Path.fromString(path), value);
    } catch (ScimException impossible) {
      throw new IllegalStateException(impossible);
    }
  }

  private Outcome activate(Target target, boolean active) throws Failed, Ambiguous, Stopped {
    var id = knownId(target);
    if (id.isEmpty()) {
      return gone(target);
    }
    var path = "/Users/" + ScimHttp.encoded(id.get());
    for (var putting : List.of(target.triedBefore(), true)) {
      try {
        service.change(
            path,
            ScimHttp.USER,
            List.of(replace("active", BooleanNode.valueOf(active))),
            whole -> whole.put("active", active),
            putting,
            "");
      } catch (Failed failed) {
        if (failed.status() == 404) {
          return lost(target, again -> activate(again, active));
        }
        throw failed;
      }
      var user = service.byId("Users", id.get(), ScimHttp.USER);
      if (user.isEmpty()) {
        return gone(target);
      }
      checkOwn(user.get().body(), target);
      if (user.get().body().path("active").asBoolean(!active) == active) {
        return new Outcome.Confirmed(id.get(), "");
      }
    }
    return unchanged("user");
  }

  private interface Again {
    Outcome with(Target target) throws Failed, Ambiguous, Stopped;
  }

  /** The id no longer leads anywhere: the worker number may, to one that was made anew. */
  private Outcome lost(Target target, Again again) throws Failed, Ambiguous, Stopped {
    var found = find(target);
    if (found.isEmpty() || id(found.get()).equals(target.nativeId())) {
      return gone(target);
    }
    notOthers(id(found.get()), target);
    return again.with(with(target, id(found.get())));
  }

  private Outcome member(String group, Target target, boolean adding)
      throws Failed, Ambiguous, Stopped {
    var id = adding && !target.justSeen() ? user(target).map(ScimConnector::id) : knownId(target);
    return id.isEmpty() ? gone(target) : members.set(group, id.get(), adding);
  }

  private Outcome role(String role, Target target, boolean adding)
      throws Failed, Ambiguous, Stopped {
    // Its roles are read there: whoever was seen a moment ago need not be looked at once more.
    var id = adding && target.justSeen() ? knownId(target) : user(target).map(ScimConnector::id);
    return id.isEmpty()
        ? gone(target)
        : ScimRoles.set(service, role, id.get(), adding, target.triedBefore());
  }

  private Outcome setPassword(String secret, Target target) throws Failed, Ambiguous, Stopped {
    var user = user(target);
    if (user.isEmpty()) {
      return gone(target);
    }
    service.change(
        "/Users/" + ScimHttp.encoded(id(user.get())),
        ScimHttp.USER,
        List.of(replace("password", new TextNode(secret))),
        whole -> whole.put("password", secret),
        false,
        "");
    return new Outcome.Confirmed(id(user.get()), "a password cannot be read back over SCIM");
  }

  private Outcome delete(Target target) throws Failed, Ambiguous, Stopped {
    var user = user(target);
    if (user.isEmpty()) {
      return gone(target);
    }
    var id = id(user.get());
    try {
      service.http().delete("/Users/" + ScimHttp.encoded(id));
    } catch (Failed failed) {
      if (failed.status() != 404) {
        throw failed;
      }
    }
    return service.byId("Users", id, ScimHttp.USER).isEmpty()
        ? new Outcome.Confirmed("", "")
        : new Outcome.Unproven("The user was deleted, but is still there");
  }

  private static String id(ObjectNode user) {
    return user.path("id").asText("");
  }

  private Optional<String> knownId(Target target) throws Failed, Ambiguous, Stopped {
    return target.nativeId().isEmpty()
        ? user(target).map(ScimConnector::id)
        : Optional.of(target.nativeId());
  }

  /** The account's own user, looked at before anything is done with it. */
  private Optional<ObjectNode> user(Target target) throws Failed, Ambiguous, Stopped {
    if (!target.nativeId().isEmpty()) {
      var known = service.byId("Users", target.nativeId(), ScimHttp.USER);
      if (known.isPresent()) {
        checkOwn(known.get().body(), target);
        return known.map(ScimHttp.Answer::body);
      }
    }
    var found = find(target);
    if (found.isPresent()) {
      notOthers(id(found.get()), target);
    }
    return found;
  }

  private void checkOwn(ObjectNode user, Target target) throws Stopped {
    var carried = user.path("externalId").asText("");
    if (!joinsByName && !carried.isEmpty() && !carried.equals(target.worker())) {
      throw new Stopped(
          "The user %s carries another worker number by now, so nothing was done with it. Correct the externalId in the application, then try again."
              .formatted(id(user)));
    }
  }

  private Optional<ObjectNode> find(Target target) throws Failed, Ambiguous {
    return joinsByName
        ? service.find("Users", "userName", target.name())
        : service.find("Users", "externalId", target.worker());
  }

  private Outcome gone(Target target) {
    return new Outcome.Gone("no user carries " + (joinsByName ? target.name() : target.worker()));
  }

  static Outcome unchanged(String what) {
    return new Outcome.Unproven("The %s was changed, but read back unchanged".formatted(what));
  }

  static Outcome outcome(Failed failed) {
    var sentence = String.valueOf(failed.getMessage());
    return switch (failed.status()) {
      case Failed.AWAY -> new Outcome.Unreachable(sentence);
      case 401, 403 ->
          new Outcome.WrongCredentials(
              "the application does not let Glenmoor do this: %s (status %d)"
                  .formatted(sentence, failed.status()));
      case Failed.NO_SCIM, 408, 412, 425, 429, 500, 502, 503, 504 ->
          new Outcome.NotNow(sentence, failed.after());
      default -> new Outcome.Refused(sentence);
    };
  }

  @Override
  public Health test() {
    var before = System.nanoTime();
    try {
      service.list("/Users?count=1&attributes=id");
      var millis = (System.nanoTime() - before) / 1_000_000;
      return new Health(true, "answers in " + millis + " ms", millis);
    } catch (Failed failed) {
      return new Health(false, String.valueOf(failed.getMessage()), 0);
    }
  }

  @Override
  public Findings examine(Collection<Entitlement> entitlements) {
    try {
      var missing = new ArrayList<String>();
      var abilities = service.abilities();
      for (var entitlement : entitlements) {
        if (entitlement.kind().equals("group")
            && service.find("Groups", "displayName", entitlement.technicalName()).isEmpty()
            && !members.makes()) {
          missing.add(
              "There is no group “%s” for %s. Make it in the application, or say make: yes in the settings."
                  .formatted(entitlement.technicalName(), entitlement.key()));
        }
      }
      return new Findings(abilities, missing);
    } catch (Failed | Ambiguous failed) {
      throw new CannotRead(String.valueOf(failed.getMessage()));
    }
  }

  @Override
  public void list(Consumer<Seen> each) {
    listing.accounts(each);
  }

  @Override
  public void memberships(Consumer<Membership> each) {
    listing.memberships(each);
  }

  @Override
  public Outcome claim(String nativeId, String worker) {
    return strays.claim(nativeId, worker);
  }

  @Override
  public Outcome deleteStray(String nativeId) {
    return strays.delete(nativeId);
  }

  @Override
  public void close() {
    service.http().close();
  }
}
