package glenmoor.engine.provisioning;

import static org.assertj.core.api.Assertions.assertThat;

import glenmoor.core.applications.AccountState;
import glenmoor.core.provisioning.Order;
import java.util.Map;
import java.util.stream.Stream;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

class OrderJsonTest {
  static Stream<Order> everyKind() {
    return Stream.of(
        new Order.Create("una", "ou=westholm", Map.of("cn", "Una “K”"), AccountState.DISABLED),
        new Order.Update("una", "", Map.of()),
        new Order.Enable(),
        new Order.Disable(),
        new Order.Add("directory/crew", "crew", "group"),
        new Order.Remove("quaybook/sell", "SELL", "role"),
        new Order.SetPassword("sealed"),
        new Order.Delete());
  }

  @ParameterizedTest
  @MethodSource("everyKind")
  void an_order_that_was_kept_is_the_same_order(Order order) {
    assertThat(OrderJson.read(order.word(), OrderJson.write(order))).isEqualTo(order);
  }
}
