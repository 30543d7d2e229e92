package glenmoor.engine.jobs;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Assignment;
import glenmoor.core.authorization.Duty;
import glenmoor.core.authorization.Permission;
import glenmoor.core.jobs.Job;
import glenmoor.engine.EngineTest;
import glenmoor.engine.Refused;
import glenmoor.engine.TestEnvironment;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.SequenceInputStream;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.Set;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.atomic.AtomicInteger;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** Long work: how far it is, what it came to, and who does it when a service dies. */
class JobsTest extends EngineTest {
  private static final Actor EVA =
      new Actor("eva", "Eva Holm", null, List.of(Assignment.of(Duty.AUDITOR)));
  private static final Actor BO =
      new Actor("bo", "Bo Tarn", "W-2", List.of(Assignment.of(Duty.PEOPLE_DESK)));

  /** What the crates are counted by. */
  private interface Count {
    Object of(Crates input, Actor actor, WorkProgress progress);
  }

  record Crates(int from) {}

  /** Counts crates, as each test says. */
  private static final class Counting implements LongWork<Crates> {
    private volatile Count count = (input, actor, progress) -> Map.of("crates", input.from());
    private final List<String> ends = new ArrayList<>();

    @Override
    public String kind() {
      return "crates";
    }

    @Override
    public Class<Crates> input() {
      return Crates.class;
    }

    @Override
    public List<Class<?>> results() {
      return List.of(Map.class);
    }

    @Override
    public Object run(Crates input, Actor actor, WorkProgress progress) {
      return count.of(input, actor, progress);
    }

    @Override
    public void ended(Crates input, long work, boolean done, String sentence) {
      ends.add(done ? "done" : sentence);
    }
  }

  private final Counting crates = new Counting();

  @BeforeEach
  void counted() {
    environment.jobs.doneBy(crates);
  }

  private long begin(Count count) {
    crates.count = count;
    return environment.jobs.begin(crates, "counting crates", new Crates(10), TestEnvironment.ISA);
  }

  private static void await(CountDownLatch latch) {
    try {
      latch.await();
    } catch (InterruptedException stopped) {
      throw new IllegalStateException(stopped);
    }
  }

  @Test
  void it_can_be_left_and_come_back_to() {
    var halfway = new CountDownLatch(1);
    var id =
        begin((input, actor, progress) -> {
          progress.at(5, 10, "5 crates counted");
          await(halfway);
          return Map.of("crates", input.from());
        });
    TestEnvironment.eventually(() -> environment.jobs.of(id, TestEnvironment.ISA).done() == 5);
    assertThat(environment.jobs.of(id, TestEnvironment.ISA).sentence())
        .isEqualTo("5 crates counted");
    assertThat(environment.jobs.of(id, TestEnvironment.ISA).endedAt()).isNull();
    assertThat(environment.jobs.list(true, null, 9, TestEnvironment.ISA)).hasSize(1);
    halfway.countDown();
    var ended = environment.ended(id);
    assertThat(ended.state()).isEqualTo("done");
    assertThat(ended.result()).isEqualTo("{\"crates\":10}");
    assertThat(environment.jobs.list(true, null, 9, TestEnvironment.ISA)).isEmpty();
    assertThat(environment.jobs.list(false, null, 9, TestEnvironment.ISA).getFirst().id())
        .isEqualTo(id);
    assertThat(crates.ends).containsExactly("done");
  }

  @Test
  void what_is_refused_says_the_sentence_and_each_mistake() {
    var ended =
        environment.ended(
            begin((input, actor, progress) -> {
              throw new Refused(
                  Refused.Reason.BAD_INPUT,
                  "The crate is shut.",
                  List.of(new Refused.Mistake("crates.yaml:3", "It is nailed.")));
            }));
    assertThat(ended.state()).isEqualTo("refused");
    assertThat(ended.sentence()).isEqualTo("The crate is shut.");
    assertThat(ended.errors()).contains("crates.yaml:3", "It is nailed.");
    assertThat(crates.ends).containsExactly("The crate is shut.");
  }

  @Test
  void what_fails_is_not_left_running_and_not_tried_again() {
    var tries = new AtomicInteger();
    var ended =
        environment.ended(
            begin((input, actor, progress) -> {
              tries.incrementAndGet();
              throw new IllegalStateException("the floor gave way");
            }));
    assertThat(ended.state()).isEqualTo("failed");
    assertThat(ended.sentence()).contains("under work").doesNotContain("floor");
    assertThat(tries).hasValue(1);
  }

  @Test
  void another_service_takes_up_what_a_dead_one_left() {
    environment.queue.die();
    var id = begin((input, actor, progress) -> Map.of("crates", input.from()));
    environment.sql.update("update job set state = 'running', attempts = 1");
    environment.queue.takeUp(id);
    assertThat(environment.ended(id).result()).isEqualTo("{\"crates\":10}");
  }

  @Test
  void what_was_kept_is_never_done_again() {
    environment.queue.die();
    var tries = new AtomicInteger();
    var id =
        begin((input, actor, progress) -> {
          environment.transactions.run(() -> progress.keep(Map.of("crates", 7)));
          if (tries.incrementAndGet() == 1) {
            throw new Error("the service dies here");
          }
          return Map.of("crates", 8);
        });
    assertThatThrownBy(() -> environment.get(JobRunner.class).run(id)).isInstanceOf(Error.class);
    assertThat(environment.jobs.of(id, TestEnvironment.ISA).open()).isTrue();
    environment.queue.takeUp(id);
    assertThat(environment.ended(id).result()).isEqualTo("{\"crates\":7}");
    assertThat(tries).hasValue(1);
  }

  @Test
  void work_that_kills_every_service_is_given_up() {
    environment.queue.die();
    var id =
        begin((input, actor, progress) -> {
          throw new Error("out of memory");
        });
    for (var i = 0; i < 3; i++) {
      assertThatThrownBy(() -> environment.get(JobRunner.class).run(id)).isInstanceOf(Error.class);
    }
    assertThat(environment.get(JobRunner.class).run(id)).isEmpty();
    assertThat(environment.jobs.of(id, TestEnvironment.ISA).state()).isEqualTo("failed");
    assertThat(environment.jobs.of(id, TestEnvironment.ISA).sentence()).contains("3 times");
  }

  @Test
  void waiting_for_something_else_counts_as_no_attempt() {
    var tries = new AtomicInteger();
    var id =
        begin((input, actor, progress) -> {
          if (tries.incrementAndGet() < 9) {
            throw new LongWork.NotYet("the hold is shut");
          }
          return Map.of("crates", 1);
        });
    assertThat(environment.ended(id).state()).isEqualTo("done");
    assertThat(tries).hasValue(9);
  }

  @Test
  void it_can_be_cancelled_while_it_goes_on() {
    var cancelled = new CountDownLatch(1);
    var id =
        begin((input, actor, progress) -> {
          progress.at(1, 10, "1 crate counted");
          await(cancelled);
          progress.at(2, 10, "2 crates counted");
          return Map.of("crates", 10);
        });
    TestEnvironment.eventually(() -> environment.jobs.of(id, TestEnvironment.ISA).done() == 1);
    environment.jobs.cancel(id, TestEnvironment.ISA);
    assertThat(environment.jobs.of(id, TestEnvironment.ISA).cancelWanted()).isTrue();
    cancelled.countDown();
    var ended = environment.ended(id);
    assertThat(ended.state()).isEqualTo("cancelled");
    assertThat(ended.result()).isEqualTo("null");
    assertThat(crates.ends).containsExactly("It was cancelled, and nothing was changed.");
    assertThatThrownBy(() -> environment.jobs.cancel(id, TestEnvironment.ISA))
        .hasMessageContaining("was cancelled");
  }

  @Test
  void what_is_done_but_for_the_rest_cannot_be_cancelled() {
    var kept = new CountDownLatch(1);
    var go = new CountDownLatch(1);
    var id =
        begin((input, actor, progress) -> {
          environment.transactions.run(() -> progress.keep(Map.of("crates", 7)));
          kept.countDown();
          await(go);
          progress.at(1, 1, "the rest");
          return Map.of("crates", 7);
        });
    await(kept);
    assertThatThrownBy(() -> environment.jobs.cancel(id, TestEnvironment.ISA))
        .hasMessageContaining("what it does is done");
    go.countDown();
    assertThat(environment.ended(id).state()).isEqualTo("done");
  }

  @Test
  void who_asked_for_it_must_still_be_there_when_it_is_done() {
    environment.queue.die();
    var id = begin((input, actor, progress) -> Map.of());
    environment.askers.remove("isa");
    environment.queue.takeUp(id);
    var ended = environment.ended(id);
    assertThat(ended.state()).isEqualTo("refused");
    assertThat(ended.sentence()).contains("may not sign in any more");
  }

  @Test
  void work_may_no_more_than_the_token_that_began_it() {
    var seen = new ArrayList<Permission>();
    crates.count =
        (input, actor, progress) -> {
          seen.addAll(Set.of(Permission.values()).stream().filter(actor::may).toList());
          return Map.of();
        };
    var limited = TestEnvironment.ISA.limitedTo(Set.of(Permission.SEE_FEEDS));
    environment.ended(environment.jobs.begin(crates, "x", new Crates(1), limited));
    assertThat(seen).containsExactly(Permission.SEE_FEEDS);
    seen.clear();
    var nothing = TestEnvironment.ISA.limitedTo(Set.of());
    environment.ended(environment.jobs.begin(crates, "x", new Crates(1), nothing));
    assertThat(seen).isEmpty();
  }

  @Test
  void it_is_shown_to_who_began_it_and_to_those_who_see_everything() {
    environment.askers.put("rona", TestEnvironment.RONA);
    var id = environment.jobs.begin(crates, "counting crates", new Crates(1), TestEnvironment.RONA);
    environment.ended(id);
    assertThat(environment.jobs.of(id, TestEnvironment.RONA).state()).isEqualTo("done");
    assertThat(environment.jobs.of(id, EVA).state()).isEqualTo("done");
    assertThat(environment.jobs.list(false, null, 9, EVA)).extracting(Job::id).contains(id);
    assertThat(environment.jobs.list(false, null, 9, BO)).isEmpty();
    assertThatThrownBy(() -> environment.jobs.of(id, BO)).hasMessageContaining("You have no work");
    assertThatThrownBy(() -> environment.jobs.cancel(id, BO))
        .hasMessageContaining("You have no work");
    assertThatThrownBy(() -> environment.jobs.cancel(id, EVA))
        .hasMessageContaining("only they, or an administrator");
  }

  @Test
  void there_is_no_progress_of_nothing() {
    assertThatThrownBy(() -> environment.jobs.of(12_345_678, TestEnvironment.ISA))
        .hasMessageContaining("12345678");
  }

  @Test
  void content_comes_back_as_it_was_brought_and_is_gone_afterwards() throws IOException {
    var bytes = new byte[3_500_000];
    new Random(7).nextBytes(bytes);
    var work = environment.jobs.next();
    environment.jobs.keep(work, new ByteArrayInputStream(bytes));
    assertThat(environment.number("select count(*) from job_part")).isGreaterThan(2);
    crates.count =
        (input, actor, progress) -> {
          assertThat(progress.file()).hasBinaryContent(bytes);
          return Map.of();
        };
    environment.jobs.begin(work, crates, "x", new Crates(1), TestEnvironment.ISA);
    assertThat(environment.ended(work).state()).isEqualTo("done");
    assertThat(environment.number("select count(*) from job_part")).isZero();
  }

  @Test
  void content_that_breaks_off_leaves_nothing_behind() {
    var cut =
        new InputStream() {
          @Override
          public int read() throws IOException {
            throw new IOException("cut");
          }
        };
    var bytes = new byte[3_500_000];
    new Random(7).nextBytes(bytes);
    var broken = new SequenceInputStream(new ByteArrayInputStream(bytes), cut);
    assertThatThrownBy(() -> environment.jobs.keep(environment.jobs.next(), broken))
        .isInstanceOf(IOException.class);
    assertThat(environment.number("select count(*) from job_part")).isZero();
  }
}
