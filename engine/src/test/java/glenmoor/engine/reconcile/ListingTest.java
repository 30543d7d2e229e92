package glenmoor.engine.reconcile;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import glenmoor.connect.applications.Connector;
import java.util.ArrayList;
import java.util.TreeMap;
import java.util.concurrent.atomic.AtomicInteger;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;

@Timeout(20)
class ListingTest {
  private static Connector.Seen account(int number) {
    return new Connector.Seen(
        "r" + number, "n" + number, "name" + number, "", "", true, new TreeMap<>(), null);
  }

  @Test
  void everything_is_given_in_its_order_and_to_the_last_line() {
    var given = new ArrayList<String>();
    try (var listing =
        new Listing(reader -> {
          for (var number = 0; number < 30_001; number++) {
            reader.account(account(number));
          }
          reader.membership(new Connector.Membership("r1", "group", "Charts"));
        })) {
      listing.each(seen -> given.add(seen.name()), seen -> given.add(seen.technicalName()));
    }
    assertThat(given).hasSize(30_002).startsWith("name0", "name1").endsWith("name30000", "Charts");
  }

  @Test
  void what_stops_the_reading_is_told_after_what_was_read() {
    var given = new AtomicInteger();
    try (var listing =
        new Listing(reader -> {
          for (var number = 0; number < 1_000; number++) {
            reader.account(account(number));
          }
          throw new Connector.CannotRead("It stopped answering.");
        })) {
      assertThatThrownBy(() -> listing.each(seen -> given.incrementAndGet(), seen -> {}))
          .hasCauseInstanceOf(Connector.CannotRead.class);
    }
    assertThat(given).hasValue(1_000);
  }

  @Test
  void an_application_that_has_nothing_ends_at_once() {
    try (var listing = new Listing(reader -> {})) {
      listing.each(
          seen -> {
            throw new AssertionError(seen);
          },
          seen -> {});
    }
  }

  @Test
  void whoever_stops_comparing_stops_the_reading_and_interrupts_nobody() {
    var interrupted = new ArrayList<Boolean>();
    var read = new AtomicInteger();
    assertThatThrownBy(
            () -> {
              try (var listing =
                  new Listing(reader -> {
                    try {
                      while (true) {
                        reader.account(account(read.incrementAndGet()));
                      }
                    } finally {
                      interrupted.add(Thread.currentThread().isInterrupted());
                    }
                  })) {
                listing.each(
                    seen -> {
                      throw new IllegalStateException("cancelled");
                    },
                    seen -> {});
              }
            })
        .hasMessage("cancelled");
    assertThat(interrupted).containsExactly(false);
    assertThat(read.get()).as("no more than some batches ahead").isLessThan(30_000);
  }
}
