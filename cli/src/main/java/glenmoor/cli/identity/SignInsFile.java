package glenmoor.cli.identity;

import glenmoor.cli.Client;
import glenmoor.cli.CsvFile;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.stream.Stream;

/**
 * A CSV file of sign-ins: {@code sign-in,worker,duties}, the duties with spaces between them. All
 * of it is checked before any of it is sent.
 */
final class SignInsFile {
  private static final String SIGN_IN = "sign-in";
  private static final String WORKER = "worker";
  private static final String DUTIES = "duties";

  /** What stands for the sign-in in the name of the file with its password. */
  private static final String EACH = "{}";

  /** One sign-in, as a line of the file says it. */
  record SignIn(long line, String login, String worker, List<String> duties, String password) {}

  private final Path file;
  private final String passwordFile;
  private final List<String> problems = new ArrayList<>();

  private SignInsFile(Path file, String passwordFile) {
    this.file = file;
    this.passwordFile = passwordFile;
  }

  /**
   * Reads a file.
   *
   * @param passwordFile where each password is, with {@code {}} in the place of the sign-in
   */
  static List<SignIn> read(Path file, String passwordFile) {
    if (!passwordFile.contains(EACH)) {
      throw Client.Failed.wrongWords(
          "--password-file needs {} in the place of the sign-in, such as secrets/{}, so that each has a password of its own.");
    }
    return new SignInsFile(file, passwordFile).read();
  }

  private List<SignIn> read() {
    var rows = CsvFile.rows(file);
    if (rows.isEmpty()) {
      throw Client.Failed.wrongWords(
          "%s has no sign-ins; its first line is sign-in,worker,duties.".formatted(file));
    }
    for (var column : List.of(SIGN_IN, WORKER, DUTIES)) {
      if (!rows.getFirst().cells().containsKey(column)) {
        throw Client.Failed.wrongWords(
            "%s has no column %s; its first line is sign-in,worker,duties."
                .formatted(file, column));
      }
    }
    var seen = new HashSet<String>();
    var signIns = rows.stream().map(row -> signIn(row, seen)).toList();
    if (!problems.isEmpty()) {
      throw Client.Failed.wrongWords(
          String.join("\n", problems) + "\nNothing was sent: mend this, then load it again.");
    }
    return signIns;
  }

  private SignIn signIn(CsvFile.Row row, HashSet<String> seen) {
    var login = row.cell(SIGN_IN);
    if (login.isEmpty() || row.cell(WORKER).isEmpty()) {
      problem(row, "needs a sign-in and the worker number of the person who signs in.");
    } else if (!seen.add(login)) {
      problem(row, "has the sign-in " + login + " for a second time.");
    }
    return new SignIn(
        row.line(),
        login,
        row.cell(WORKER),
        Stream.of(row.cell(DUTIES).split(" ")).filter(duty -> !duty.isBlank()).toList(),
        login.isEmpty() ? "" : password(row, login));
  }

  private String password(CsvFile.Row row, String login) {
    var from = passwordFile.replace(EACH, login);
    try {
      return Files.readString(Path.of(from)).strip();
    } catch (IOException unreadable) {
      problem(row, "needs the password of " + login + ": the file " + from + " cannot be read.");
      return "";
    }
  }

  private void problem(CsvFile.Row row, String what) {
    problems.add("%s, line %d: %s".formatted(file, row.line(), what));
  }
}
