package glenmoor.cli;

import picocli.CommandLine.Command;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.ParameterException;
import picocli.CommandLine.Spec;

/** A noun: shows what can be done with it when no verb is given. */
@Command(mixinStandardHelpOptions = true)
public abstract class Group implements Runnable {
  @Spec private CommandSpec spec = CommandSpec.create();

  protected final Client client = new Client(System.getenv());

  @Override
  public void run() {
    spec.commandLine().usage(System.out);
  }

  /** A mistake in the words: said with the command's help, exit 2. */
  protected ParameterException wrong(String sentence) {
    return new ParameterException(spec.commandLine(), sentence);
  }

  /** The service's time zone, in which moments are shown. */
  protected String zone() {
    return client.get("/api/v1/session").path("zone").asString("UTC");
  }
}
