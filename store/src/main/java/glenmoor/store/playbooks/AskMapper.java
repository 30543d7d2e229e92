package glenmoor.store.playbooks;

import glenmoor.core.playbooks.AskView;
import java.time.Instant;
import java.util.Collection;
import java.util.List;
import org.apache.ibatis.annotations.Param;
import org.jspecify.annotations.Nullable;

/** Rows of {@code ask}: what runs ask somebody. */
public interface AskMapper {
  /**
   * A question.
   *
   * @param whom as the playbook says it
   * @param duty the duty whose holders are asked; empty where it is the manager
   * @param application for which that duty is held; empty for everything
   */
  record AskRow(
      Long id,
      Long runId,
      Integer step,
      Long personId,
      String question,
      String whom,
      String duty,
      String application,
      Instant askedAt,
      Instant lapsesAt,
      String state,
      String answeredBy,
      @Nullable Instant answeredAt,
      String reason) {}

  /** Asks; where the step has asked before, that question is asked anew. */
  void insert(AskRow ask);

  @Nullable AskRow ofStep(@Param("run") long run, @Param("step") int step);

  @Nullable AskRow lock(@Param("id") long id);

  void answer(
      @Param("id") long id,
      @Param("state") String state,
      @Param("by") String by,
      @Param("now") Instant now,
      @Param("reason") String reason);

  /** When it is looked at again, or lapses. */
  void lapses(@Param("id") long id, @Param("at") Instant at);

  /** A run is over: nobody has to answer it any more. */
  void drop(@Param("run") long run, @Param("now") Instant now);

  /**
   * What waits for an answer of somebody.
   *
   * @param manager the key of their worker number, as which routes ask them, too; null for nobody's
   *     manager
   * @param duties their duties, each as {@code duty:application}, the application empty where they
   *     hold it for everything
   * @param everything whether they see all
   */
  List<AskView> open(
      @Param("manager") @Nullable String manager,
      @Param("duties") Collection<String> duties,
      @Param("everything") boolean everything,
      @Param("before") long before,
      @Param("limit") int limit);

  @Nullable AskView byId(@Param("id") long id);
}
