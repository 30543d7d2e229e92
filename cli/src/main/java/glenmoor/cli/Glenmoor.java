package glenmoor.cli;

import glenmoor.cli.agenda.ClockCommand;
import glenmoor.cli.applications.ApplicationsCommand;
import glenmoor.cli.authorization.DutiesCommand;
import glenmoor.cli.brakes.HeldCommand;
import glenmoor.cli.campaigns.CampaignsCommand;
import glenmoor.cli.campaigns.ReviewsCommand;
import glenmoor.cli.conflicts.ConflictsCommand;
import glenmoor.cli.definitions.DefineCommand;
import glenmoor.cli.exchange.ExchangeCommand;
import glenmoor.cli.identity.SignInsCommand;
import glenmoor.cli.installation.InstallationCommand;
import glenmoor.cli.jobs.ExportCommand;
import glenmoor.cli.jobs.JobsCommand;
import glenmoor.cli.jobs.WorkCommand;
import glenmoor.cli.ledger.LedgerCommand;
import glenmoor.cli.letters.LettersCommand;
import glenmoor.cli.lifecycle.CutOffCommand;
import glenmoor.cli.lifecycle.EventsCommand;
import glenmoor.cli.lifecycle.FeedsCommand;
import glenmoor.cli.partners.PartnersCommand;
import glenmoor.cli.people.PeopleCommand;
import glenmoor.cli.playbooks.AsksCommand;
import glenmoor.cli.playbooks.PlaybooksCommand;
import glenmoor.cli.playbooks.RunsCommand;
import glenmoor.cli.provisioning.OperationsCommand;
import glenmoor.cli.provisioning.TasksCommand;
import glenmoor.cli.reconcile.DriftCommand;
import glenmoor.cli.reconcile.ReconcilesCommand;
import glenmoor.cli.requests.ApprovalsCommand;
import glenmoor.cli.requests.AwayCommand;
import glenmoor.cli.requests.GrantsCommand;
import glenmoor.cli.requests.OffersCommand;
import glenmoor.cli.requests.PackagesCommand;
import glenmoor.cli.requests.PortfoliosCommand;
import glenmoor.cli.requests.RequestsCommand;
import glenmoor.cli.requests.RoutesCommand;
import glenmoor.cli.usage.UsageCommand;
import java.io.FileDescriptor;
import java.io.FileOutputStream;
import java.io.PrintStream;
import java.nio.charset.StandardCharsets;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.function.Supplier;
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
    mixinStandardHelpOptions = true,
    version = "glenmoor 0.1.0",
    footer = {
      "",
      "GLENMOOR_URL says where the service is, GLENMOOR_TOKEN_FILE names a file with a token for it.",
      "With the demo, ./glenmoor sets both: try ./glenmoor people list"
    })
public final class Glenmoor implements Runnable {
  /** The nouns, in the order of the help. */
  private static final Map<String, Supplier<Object>> NOUNS = nouns();

  @Spec private CommandSpec spec = CommandSpec.create();

  private static Map<String, Supplier<Object>> nouns() {
    var nouns = new LinkedHashMap<String, Supplier<Object>>();
    nouns.put("feeds", FeedsCommand::new);
    nouns.put("people", PeopleCommand::new);
    nouns.put("events", EventsCommand::new);
    nouns.put("offers", OffersCommand::new);
    nouns.put("requests", RequestsCommand::new);
    nouns.put("approvals", ApprovalsCommand::new);
    nouns.put("grants", GrantsCommand::new);
    nouns.put("packages", PackagesCommand::new);
    nouns.put("portfolios", PortfoliosCommand::new);
    nouns.put("routes", RoutesCommand::new);
    nouns.put("away", AwayCommand::new);
    nouns.put("conflicts", ConflictsCommand::new);
    nouns.put("campaigns", CampaignsCommand::new);
    nouns.put("reviews", ReviewsCommand::new);
    nouns.put("partners", PartnersCommand::new);
    nouns.put("cut-off", CutOffCommand::new);
    nouns.put("applications", ApplicationsCommand::new);
    nouns.put("exchange", ExchangeCommand::new);
    nouns.put("usage", UsageCommand::new);
    nouns.put("operations", OperationsCommand::new);
    nouns.put("tasks", TasksCommand::new);
    nouns.put("reconciles", ReconcilesCommand::new);
    nouns.put("drift", DriftCommand::new);
    nouns.put("playbooks", PlaybooksCommand::new);
    nouns.put("runs", RunsCommand::new);
    nouns.put("asks", AsksCommand::new);
    nouns.put("letters", LettersCommand::new);
    nouns.put("define", DefineCommand::new);
    nouns.put("ledger", LedgerCommand::new);
    nouns.put("clock", ClockCommand::new);
    nouns.put("installation", InstallationCommand::new);
    nouns.put("sign-ins", SignInsCommand::new);
    nouns.put("duties", DutiesCommand::new);
    nouns.put("held", HeldCommand::new);
    nouns.put("export", ExportCommand::new);
    nouns.put("work", WorkCommand::new);
    nouns.put("jobs", JobsCommand::new);
    nouns.put("help", CommandLine.HelpCommand::new);
    return nouns;
  }

  @Override
  public void run() {
    spec.commandLine().usage(System.out);
  }

  public static void main(String[] arguments) {
    System.setOut(
        new PrintStream(new FileOutputStream(FileDescriptor.out), true, StandardCharsets.UTF_8));
    System.setErr(
        new PrintStream(new FileOutputStream(FileDescriptor.err), true, StandardCharsets.UTF_8));
    System.exit(commandLine(arguments).execute(arguments));
  }

  /**
   * The command, ready to run these words. Only the noun they begin with is built, because building
   * all of them takes longer than what most commands do; without a noun all are, for the help.
   */
  static CommandLine commandLine(String... words) {
    var top = new CommandLine(new Glenmoor());
    if (words.length > 0 && NOUNS.containsKey(words[0]) && !words[0].equals("help")) {
      top.addSubcommand(words[0], NOUNS.get(words[0]).get());
    } else {
      NOUNS.forEach((noun, command) -> top.addSubcommand(noun, command.get()));
    }
    return top.setCaseInsensitiveEnumValuesAllowed(true)
        .setExecutionExceptionHandler((failed, command, parsed) -> {
          if (failed instanceof Client.Failed refused) {
            System.err.println(refused.getMessage());
            return refused.exit();
          }
          throw failed;
        });
  }
}
