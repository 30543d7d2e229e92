package glenmoor.cli;

import glenmoor.cli.agenda.ClockCommand;
import glenmoor.cli.agenda.JobsCommand;
import glenmoor.cli.applications.ApplicationsCommand;
import glenmoor.cli.brakes.HeldCommand;
import glenmoor.cli.definitions.DefineCommand;
import glenmoor.cli.ledger.LedgerCommand;
import glenmoor.cli.lifecycle.EventsCommand;
import glenmoor.cli.lifecycle.FeedsCommand;
import glenmoor.cli.people.PeopleCommand;
import glenmoor.cli.people.SignInsCommand;
import glenmoor.cli.provisioning.OperationsCommand;
import java.io.FileDescriptor;
import java.io.FileOutputStream;
import java.io.PrintStream;
import java.nio.charset.StandardCharsets;
import picocli.CommandLine;
import picocli.CommandLine.Command;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Spec;

/** The command {@code glenmoor}. Exit 0: done; 1: refused or failed; 2: the words are wrong. */
@Command(
    name = "glenmoor",
    description = {
      "Identity governance: from HR events to accounts, with the why, the forecast and the record.",
      ""
    },
    subcommands = {
      FeedsCommand.class,
      PeopleCommand.class,
      EventsCommand.class,
      ApplicationsCommand.class,
      OperationsCommand.class,
      DefineCommand.class,
      LedgerCommand.class,
      ClockCommand.class,
      SignInsCommand.class,
      HeldCommand.class,
      JobsCommand.class,
      CommandLine.HelpCommand.class
    },
    mixinStandardHelpOptions = true,
    version = "glenmoor 0.1.0",
    footer = {
      "",
      "GLENMOOR_URL says where the service is, GLENMOOR_TOKEN_FILE names a file with a token for it.",
      "With the demo, ./glenmoor sets both: try ./glenmoor people list"
    })
public final class Glenmoor implements Runnable {
  @Spec private CommandSpec spec = CommandSpec.create();

  @Override
  public void run() {
    spec.commandLine().usage(System.out);
  }

  public static void main(String[] arguments) {
    System.setOut(
        new PrintStream(new FileOutputStream(FileDescriptor.out), true, StandardCharsets.UTF_8));
    System.setErr(
        new PrintStream(new FileOutputStream(FileDescriptor.err), true, StandardCharsets.UTF_8));
    System.exit(commandLine().execute(arguments));
  }

  /** The command with all below it, ready to run. */
  static CommandLine commandLine() {
    return new CommandLine(new Glenmoor())
        .setCaseInsensitiveEnumValuesAllowed(true)
        .setExecutionExceptionHandler((failed, command, parsed) -> {
          if (failed instanceof Client.Failed refused) {
            System.err.println(refused.getMessage());
            return refused.exit();
          }
          throw failed;
        });
  }
}
