package glenmoor.cli.jobs;

import glenmoor.cli.Client;
import glenmoor.cli.Output;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** {@code glenmoor export}. */
@Command(
    name = "export",
    mixinStandardHelpOptions = true,
    description = "Writes a whole list to a CSV file, however long it is.",
    footer = {
      "",
      "Example: glenmoor export people --where location=Westholm --to westholm.csv",
      "         glenmoor export ledger --where subject=person:W-01007 --to una.csv"
    })
public final class ExportCommand implements Runnable {
  private final Client client = new Client(System.getenv());

  @Parameters(paramLabel = "LIST", description = "people, operations or ledger")
  private String list = "";

  @Option(
      names = "--where",
      paramLabel = "FILTER=VALUE",
      description = "Only rows like this; may be given again")
  private @Nullable Map<String, String> where;

  @Option(names = "--to", required = true, paramLabel = "FILE", description = "The file to write")
  private Path file = Path.of("");

  @Mixin private Output output = new Output();

  @Override
  public void run() {
    output.noCsv();
    var body = Client.object("list", list, "filters", where == null ? Map.of() : where);
    var accepted = client.post("/api/v1/exports", body);
    var result = client.await(accepted, output);
    client.save("/api/v1/progress/" + accepted.path("id").asString() + "/file", file);
    output.one(
        result, List.of("%s rows written to %s.".formatted(result.path("rows").asString(), file)));
  }
}
