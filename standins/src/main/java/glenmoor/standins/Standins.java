package glenmoor.standins;

import glenmoor.standins.applications.FileApplication;
import glenmoor.standins.applications.ScimApplication;
import glenmoor.standins.letters.Desk;
import glenmoor.standins.letters.PostOffice;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.concurrent.CountDownLatch;

/**
 * Starts the stand-ins and goes on until stopped.
 *
 * <p>Arguments: a directory for what they keep, then {@code key:port:tokenFile:seats:group,group}
 * for each application, {@code files=key=exchangeDirectory=port=tokenFile} for each that takes
 * files, {@code post-office=smtpPort=httpPort=tokenFile} for the mail server, and {@code
 * key=port=secretFile} for each desk. Once all answer, a file {@code ready} appears in the
 * directory.
 */
public final class Standins {
  private Standins() {}

  public static void main(String[] arguments) throws IOException, InterruptedException {
    var directory = Files.createDirectories(Path.of(arguments[0]));
    for (var i = 1; i < arguments.length; i++) {
      if (arguments[i].contains("=")) {
        hearing(arguments[i].split("=", -1), directory);
        continue;
      }
      var parts = arguments[i].split(":", -1);
      var groups = parts[4].isEmpty() ? List.<String>of() : List.of(parts[4].split(","));
      var application =
          new ScimApplication(
              parts[0],
              directory,
              Integer.parseInt(parts[1]),
              Files.readString(Path.of(parts[2])).strip(),
              Integer.parseInt(parts[3]),
              groups);
      System.out.println(parts[0] + " listens on port " + application.port());
    }
    Files.writeString(directory.resolve("ready"), "ready\n");
    new CountDownLatch(1).await();
  }

  private static void hearing(String[] parts, Path directory) throws IOException {
    var secret = Files.readString(Path.of(parts[parts.length - 1])).strip();
    if (parts[0].equals("files")) {
      var port = Integer.parseInt(parts[3]);
      new FileApplication(parts[1], Path.of(parts[2]), directory, port, secret);
      System.out.println(parts[1] + " takes files, and is told on port " + port);
    } else if (parts[0].equals("post-office")) {
      var post =
          new PostOffice(Integer.parseInt(parts[1]), Integer.parseInt(parts[2]), directory, secret);
      System.out.println("The post office takes letters on port " + post.port());
    } else {
      var desk = new Desk(parts[0], directory, Integer.parseInt(parts[1]), secret);
      System.out.println(parts[0] + " hears on port " + desk.port());
    }
  }
}
