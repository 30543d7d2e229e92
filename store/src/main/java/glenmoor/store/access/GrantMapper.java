package glenmoor.store.access;

import glenmoor.core.access.Grant;
import glenmoor.core.people.ValueCount;
import java.time.Instant;
import java.util.Collection;
import java.util.List;
import org.apache.ibatis.annotations.Param;
import org.jspecify.annotations.NullMarked;
import org.jspecify.annotations.Nullable;

/** Rows of {@code access_grant}. */
@NullMarked
public interface GrantMapper {
  /**
   * One grant.
   *
   * @param decidedAt when somebody decided on it; null where a rule gives it
   */
  record GrantRow(
      Long id,
      Long personId,
      String targetKind,
      String targetKey,
      String basis,
      String basisKey,
      @Nullable Instant decidedAt,
      Instant startsAt,
      @Nullable Instant endsAt,
      String endReason) {
    /** What it gives. */
    public Grant.Target target() {
      return targetKind.equals("package")
          ? new Grant.Target.OfPackage(targetKey)
          : new Grant.Target.OfEntitlement(targetKey);
    }
  }

  /** All grants of people there ever were. */
  List<GrantRow> of(@Param("people") Collection<Long> people);

  /** Their grants that are not over: in force, or still to begin. */
  List<GrantRow> lasting(@Param("people") Collection<Long> people, @Param("now") Instant now);

  /** Somebody's grants that ended between two moments. */
  List<GrantRow> ended(
      @Param("person") long person, @Param("from") Instant from, @Param("to") Instant to);

  /**
   * A grant with its holder.
   *
   * @param facts as JSON
   */
  record HolderRow(
      Long grant,
      Long person,
      String worker,
      String name,
      String facts,
      String basis,
      String basisKey,
      Instant startsAt,
      @Nullable Instant endsAt) {}

  /** Who has a package, or will, by the order of their grants. */
  List<HolderRow> held(
      @Param("target") String target,
      @Param("now") Instant now,
      @Param("after") long after,
      @Param("limit") int limit);

  /** How many people have a package, or will, by a value of one of their facts; most first. */
  List<ValueCount> heldBy(
      @Param("target") String target, @Param("fact") String fact, @Param("now") Instant now);

  @Nullable GrantRow byId(@Param("id") long id);

  List<GrantRow> byIds(@Param("ids") Collection<Long> ids);

  /**
   * Somebody's grants that rest on the same thing, whether they are over or not: packages first.
   */
  List<GrantRow> alike(
      @Param("person") long person,
      @Param("basis") String basis,
      @Param("basisKey") String basisKey);

  /**
   * Grants of packages that were asked for, end within a time, and of which that was not told yet.
   *
   * @param offers only of these
   */
  List<GrantRow> endingUntold(
      @Param("now") Instant now,
      @Param("until") Instant until,
      @Param("offers") Collection<String> offers,
      @Param("limit") int limit);

  /** When the first of them ends after a moment; null for none. */
  @Nullable Instant nextEnd(@Param("after") Instant after);

  void noteTold(
      @Param("grant") long grant, @Param("endsAt") Instant endsAt, @Param("now") Instant now);

  /** How many people have each of some packages, or will. */
  List<ValueCount> holders(@Param("targets") Collection<String> targets, @Param("now") Instant now);

  /** Somebody's grants that rest on the same thing and are not over, for writing. */
  List<GrantRow> lockAlike(
      @Param("person") long person,
      @Param("basis") String basis,
      @Param("basisKey") String basisKey,
      @Param("now") Instant now);

  /** When a grant ends, as {@code SqlTime} writes it, or null where it ends no more; and why. */
  record Ended(long id, @Nullable String endsAt, String reason) {}

  /** Writes when grants end, all in one statement: a JSON array of {@link Ended}. */
  void end(@Param("ends") String ends);

  int any();
}
