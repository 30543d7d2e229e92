package glenmoor.cli.identity;

import glenmoor.cli.Client;
import glenmoor.cli.Group;
import glenmoor.cli.Output;
import glenmoor.cli.Output.Column;
import glenmoor.cli.authorization.DutiesCommand;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** {@code glenmoor sign-ins}. */
@Command(name = "sign-ins", description = "Who can sign in to Glenmoor, and with which duties.")
public final class SignInsCommand extends Group {

  @Command(name = "list", mixinStandardHelpOptions = true, description = "Lists who can sign in.")
  void list(@Mixin Output output) {
    var all = client.get("/api/v1/sign-ins");
    output.list(
        all,
        all.path("items"),
        List.of(
            Column.of("SIGN-IN", "login"),
            Column.of("NAME", "name"),
            Column.of("WORKER", "worker"),
            new Column("STATE", SignInsCommand::state),
            new Column(
                "DUTIES",
                row ->
                    row.path("duties")
                        .valueStream()
                        .map(DutiesCommand::words)
                        .collect(Collectors.joining(", ")))),
        "Nobody can sign in.");
  }

  private static String state(JsonNode row) {
    var reason = row.path("endReason").asString("");
    if (!reason.isEmpty()) {
      return "ended: " + reason;
    }
    return row.path("mustChange").asBoolean() ? "must change password" : "in force";
  }

  @Command(
      name = "take-away",
      mixinStandardHelpOptions = true,
      description = "Takes a sign-in away; its sessions and tokens end with it.")
  void takeAway(
      @Parameters(paramLabel = "SIGN-IN") String login,
      @Option(names = "--reason", required = true, description = "Why; it is kept") String reason,
      @Mixin Output output) {
    var ended =
        client.post(
            "/api/v1/sign-ins/" + Client.encoded(login) + "/take-away",
            Client.object("reason", reason));
    output.one(ended, List.of("%s can no longer sign in.".formatted(login)));
  }

  @Command(
      name = "tokens",
      mixinStandardHelpOptions = true,
      description = "Lists tokens: yours, or everybody's if you may see them.")
  void tokens(@Mixin Output output) {
    var all = client.get("/api/v1/tokens");
    output.list(
        all,
        all.path("items"),
        List.of(
            Column.of("TOKEN", "key"),
            Column.of("SIGN-IN", "login"),
            Column.of("NOTE", "note"),
            new Column("MAY", SignInsCommand::carries),
            new Column("STATE", row -> row.path("state").asString().replace("-", " ")),
            new Column("MADE", row -> Output.moment(row.path("createdAt"), "UTC")),
            new Column("GOOD UNTIL", row -> Output.moment(row.path("expiresAt"), "UTC"))),
        "There are no tokens.");
  }

  private static String carries(JsonNode row) {
    var permissions = row.path("permissions");
    return permissions.isEmpty()
        ? "all of its owner's"
        : permissions.valueStream().map(JsonNode::asString).collect(Collectors.joining(", "));
  }

  @Command(
      name = "revoke",
      mixinStandardHelpOptions = true,
      description = "Revokes a token, as sign-ins tokens shows it.")
  void revoke(@Parameters(paramLabel = "TOKEN") String key, @Mixin Output output) {
    output.noCsv();
    client.delete("/api/v1/tokens/" + Client.encoded(key));
    output.line("The token %s is revoked.".formatted(key));
  }

  @Command(
      name = "set",
      mixinStandardHelpOptions = true,
      description = "Makes a sign-in, or changes one.")
  void set(
      @Parameters(paramLabel = "SIGN-IN") String login,
      @Option(names = "--worker", description = "The person who signs in") @Nullable String worker,
      @Option(names = "--name", description = "A name, for somebody who is no person here")
          @Nullable String name,
      @Option(names = "--password-file", required = true, description = "A file with the password")
          Path passwordFile,
      @Option(
              names = "--duty",
              description =
                  "Such as auditor, or fixer:KEY for one application; may be given again. Those not given end")
          @Nullable List<String> duties,
      @Option(
              names = "--password-stays",
              description = "The password need not be changed at the first sign-in")
          boolean stays,
      @Mixin Output output) {
    var body = body(password(passwordFile), stays, duties == null ? List.of() : duties);
    if (worker != null) {
      body.put("worker", worker);
    }
    if (name != null) {
      body.put("name", name);
    }
    var made = put(login, body);
    output.one(made, List.of(made.path("name").asString() + " signs in as " + login + "."));
  }

  private static Map<String, Object> body(String password, boolean stays, List<String> duties) {
    return Client.object("password", password, "passwordStays", stays, "duties", duties);
  }

  private JsonNode put(String login, Map<String, Object> body) {
    return client.put("/api/v1/sign-ins/" + Client.encoded(login), body);
  }

  @Command(
      name = "load",
      mixinStandardHelpOptions = true,
      description =
          "Makes or changes the sign-ins of a CSV file: sign-in,worker,duties, with spaces between duties. Others stay as they are.")
  void load(
      @Parameters(paramLabel = "FILE", description = "The CSV file") Path file,
      @Option(
              names = "--password-file",
              required = true,
              description = "A file with the password for each; {} stands for the sign-in")
          String passwordFile,
      @Option(
              names = "--password-stays",
              description = "Passwords need not be changed at the first sign-in")
          boolean stays,
      @Mixin Output output) {
    output.noCsv();
    var made = new ArrayList<JsonNode>();
    var refused = new ArrayList<String>();
    for (var each : SignInsFile.read(file, passwordFile)) {
      var body = body(each.password(), stays, each.duties());
      body.put("worker", each.worker());
      try {
        made.add(put(each.login(), body));
      } catch (Client.Failed failed) {
        refused.add(
            "%s, line %d: %s: %s".formatted(file, each.line(), each.login(), failed.getMessage()));
        if (failed.isAway()) {
          refused.add(
              "This line and those after it were not sent: load them again, without those before.");
          break;
        }
      }
    }
    output.one(
        JsonMapper.shared().valueToTree(Map.of("items", made)),
        List.of(made.size() == 1 ? "1 person can sign in." : made.size() + " people can sign in."));
    if (!refused.isEmpty()) {
      throw new Client.Failed(String.join("\n", refused));
    }
  }

  @Command(
      name = "token",
      mixinStandardHelpOptions = true,
      description = "Signs in with a password and writes a token for GLENMOOR_TOKEN_FILE.")
  void token(
      @Parameters(paramLabel = "SIGN-IN") String login,
      @Parameters(paramLabel = "FILE", description = "Where to write the token") Path to,
      @Option(names = "--password-file", required = true, description = "A file with the password")
          Path passwordFile,
      @Option(
              names = "--days",
              defaultValue = "30",
              description = "How long it is good for. Default: 30")
          int days,
      @Option(
              names = "--note",
              defaultValue = "command line",
              description = "What it is for. Default: command line")
          String note,
      @Option(
              names = "--only",
              paramLabel = "PERMISSION",
              description =
                  "All that it may, such as see-feeds; may be given again. Default: all that you may")
          @Nullable List<String> only,
      @Mixin Output output) {
    output.noCsv();
    var token =
        client.post(
            "/api/v1/tokens",
            Client.object(
                "login",
                login,
                "password",
                password(passwordFile),
                "days",
                days,
                "note",
                note,
                "permissions",
                only == null ? List.of() : only));
    keep(to, token.path("token").asString());
    output.line("Written to %s; good until %s.".formatted(to, token.path("expiresAt").asString()));
  }

  @Command(
      name = "password",
      mixinStandardHelpOptions = true,
      description = "Changes your own password; what was open with the old one ends.")
  void password(
      @Parameters(paramLabel = "SIGN-IN") String login,
      @Option(names = "--password-file", required = true, description = "A file with the old one")
          Path before,
      @Option(
              names = "--new-password-file",
              required = true,
              description = "A file with the new one")
          Path after,
      @Mixin Output output) {
    output.noCsv();
    client.post(
        "/api/v1/session/password",
        Client.object(
            "login", login, "password", password(before), "newPassword", password(after)));
    output.line(
        "%s has a new password; sessions and tokens from before have ended.".formatted(login));
  }

  /** A token is as good as a password: nobody else may read the file. */
  private static void keep(Path file, String token) {
    try {
      Files.deleteIfExists(file);
      Files.createFile(
          file, PosixFilePermissions.asFileAttribute(PosixFilePermissions.fromString("rw-------")));
      Files.writeString(file, token + "\n");
    } catch (IOException failed) {
      throw new Client.Failed("The file %s cannot be written.".formatted(file));
    }
  }

  private static String password(Path file) {
    try {
      return Files.readString(file).strip();
    } catch (IOException unreadable) {
      throw new Client.Failed("The file %s cannot be read.".formatted(file));
    }
  }
}
