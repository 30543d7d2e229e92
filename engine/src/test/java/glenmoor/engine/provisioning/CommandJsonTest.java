package glenmoor.engine.provisioning;

import static org.assertj.core.api.Assertions.assertThat;

import glenmoor.core.applications.AccountState;
import glenmoor.core.provisioning.ProvisioningCommand;
import java.util.Map;
import java.util.stream.Stream;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

class CommandJsonTest {
  static Stream<ProvisioningCommand> everyKind() {
    return Stream.of(
        new ProvisioningCommand.Create(
            "una", "ou=westholm", Map.of("cn", "Una “K”"), AccountState.DISABLED),
        new ProvisioningCommand.Update("una", "", Map.of()),
        new ProvisioningCommand.Enable(),
        new ProvisioningCommand.Disable(),
        new ProvisioningCommand.Add("directory/crew", "crew", "group"),
        new ProvisioningCommand.Remove("quaybook/sell", "SELL", "role"),
        new ProvisioningCommand.SetPassword("sealed"),
        new ProvisioningCommand.Delete());
  }

  @ParameterizedTest
  @MethodSource("everyKind")
  void an_order_that_was_kept_is_the_same_order(ProvisioningCommand command) {
    assertThat(CommandJson.read(command.word(), CommandJson.write(command))).isEqualTo(command);
  }
}
