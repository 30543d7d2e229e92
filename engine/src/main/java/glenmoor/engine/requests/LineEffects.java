package glenmoor.engine.requests;

import glenmoor.core.access.Catalogue;
import glenmoor.core.access.Entitlement;
import glenmoor.core.access.Grant.Basis;
import glenmoor.core.access.GrantedBy;
import glenmoor.core.conflicts.ConflictRule;
import glenmoor.core.people.Standing;
import glenmoor.core.requests.Ask;
import glenmoor.core.requests.AskKind;
import glenmoor.core.requests.Offer;
import glenmoor.core.requests.OfferKind;
import glenmoor.core.requests.Term;
import glenmoor.core.requests.Unaskable;
import glenmoor.engine.access.Granting;
import glenmoor.engine.conflicts.Prevention;
import glenmoor.store.access.GrantMapper;
import glenmoor.store.people.FactsJson;
import glenmoor.store.requests.ReapprovalMapper;
import glenmoor.store.requests.RequestMapper.LineRow;
import jakarta.inject.Named;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/**
 * What a line comes to when it is agreed to: from when until when, which conflicts it would cause,
 * whether it is possible yet, and the grant itself.
 */
@Named
final class LineEffects {
  private final GrantMapper grants;
  private final ReapprovalMapper reapprovals;
  private final Granting granting;
  private final Prevention prevention;

  LineEffects(
      GrantMapper grants, ReapprovalMapper reapprovals, Granting granting, Prevention prevention) {
    this.grants = grants;
    this.reapprovals = reapprovals;
    this.granting = granting;
    this.prevention = prevention;
  }

  /** The rules that a line would break as the world is now. */
  List<ConflictRule> conflicts(LoadedLine loaded, Catalogue catalogue, Instant now) {
    var line = loaded.line();
    var kind = kind(line);
    if (!kind.gives()) {
      return List.of();
    }
    // What is extended or changed is held only for as long as this line gives it.
    var about = kind.replaces() ? about(line) : null;
    return prevention.caused(
        line.personId(),
        about == null ? "" : about.basisKey(),
        Ask.gives(line.packageKey(), LineRuns.selected(line), catalogue)
            .map(Entitlement::key)
            .collect(Collectors.toSet()),
        end(line, catalogue, now),
        catalogue,
        now);
  }

  /** When what a line gives would end; null for never, and where that cannot be told. */
  private @Nullable Instant end(LineRow line, Catalogue catalogue, Instant now) {
    try {
      return times(line, catalogue, now).end();
    } catch (Unaskable over) {
      return null;
    }
  }

  /** No way leads here; if one ever did, nothing would be given by it. */
  static Optional<String> notAllowed(LineRow line, List<ConflictRule> found) {
    return found.isEmpty() || line.exemptUntil() != null
        ? Optional.empty()
        : Optional.of(
            "It would break “%s”, and nobody has allowed that.".formatted(found.getFirst().name()));
  }

  /** From when, and until when, a line would be given at a moment. */
  record Times(Instant start, @Nullable Instant end) {}

  /**
   * @throws Unaskable if it has no time to run any more
   */
  Times times(LineRow line, Catalogue catalogue, Instant now) {
    var term = Term.of(line.term()).orElseThrow();
    return switch (kind(line)) {
      case NEW, RESUME -> {
        var day = line.startDay();
        var wanted = day == null ? now : day.atStartOfDay(catalogue.zone()).toInstant();
        var start = wanted.isAfter(now) ? wanted : now;
        yield new Times(start, term.end(start, line.lastDay(), catalogue.zone()));
      }
      case EXTEND -> {
        var again = reapprovals.ofLine(line.id());
        if (again != null) {
          // Approved again, it lasts as long as it would have, and no longer.
          lasting(line, now);
          yield new Times(now, again.endBefore());
        }
        var until = lasting(line, now).endsAt();
        if (until == null) {
          throw new Unaskable("kind", "What it was to extend has no end any more.");
        }
        yield new Times(until, term.end(until, line.lastDay(), catalogue.zone()));
      }
      case CHANGE -> {
        // What has not begun does not begin by it.
        var changed = lasting(line, now);
        yield new Times(
            changed.startsAt().isAfter(now) ? changed.startsAt() : now, changed.endsAt());
      }
      case REMOVE ->
          new Times(now, Ask.removed(line.lastDay(), lasting(line, now).endsAt(), catalogue, now));
    };
  }

  static AskKind kind(LineRow line) {
    return AskKind.ofWord(line.kind()).orElseThrow();
  }

  /**
   * What a line is about, while that is not over.
   *
   * @throws Unaskable if it is
   */
  private GrantMapper.GrantRow lasting(LineRow line, Instant now) {
    var grant = about(line);
    var until = grant == null ? null : grant.endsAt();
    if (grant == null || until != null && !until.isAfter(now)) {
      throw new Unaskable("kind", "What it was about is over.");
    }
    return grant;
  }

  private GrantMapper.@Nullable GrantRow about(LineRow line) {
    var grant = line.aboutGrant();
    return grant == null ? null : grants.byId(grant);
  }

  /** What a condition of a stage sees of a line. */
  Map<String, Object> view(LoadedLine loaded, int conflicts, Catalogue catalogue, Instant now) {
    var line = loaded.line();
    Long days;
    try {
      var times = times(line, catalogue, now);
      days = Ask.days(times.start(), times.end(), catalogue.zone());
    } catch (Unaskable over) {
      days = 0L;
    }
    return Ask.view(
        FactsJson.person(loaded.subject(), catalogue.facts()),
        kind(line),
        days,
        Ask.risk(Ask.gives(line.packageKey(), LineRuns.selected(line), catalogue)),
        conflicts,
        LineRuns.answers(line),
        catalogue);
  }

  /** Why a line can come to nothing any more; nothing where it can. */
  Optional<String> impossible(LoadedLine loaded, Catalogue catalogue, Instant now) {
    var line = loaded.line();
    var subject = FactsJson.person(loaded.subject(), catalogue.facts());
    // Whoever was cut off may come back, and whoever moved may be in no audience any more: what
    // they
    // have is decided on all the same.
    var again = reapprovals.ofLine(line.id()) != null;
    var standing =
        Standing.of(
            again ? subject.bySource() : subject, now.atZone(catalogue.zone()).toLocalDate());
    if (standing.isGone()) {
      return Optional.of("%s has left.".formatted(loaded.subject().name()));
    }
    if (kind(line).gives()) {
      var rolePackage = catalogue.packages().get(line.packageKey());
      if (rolePackage == null || rolePackage.retired().isPresent()) {
        return Optional.of("The package is not there any more.");
      }
      Optional<Offer> offer =
          Optional.ofNullable(catalogue.defined().all(OfferKind.class).get(line.offer()));
      if (offer.isEmpty() || !again && !Ask.isFor(offer.get(), subject, catalogue)) {
        return Optional.of("It is not offered to %s any more.".formatted(loaded.subject().name()));
      }
    }
    try {
      times(line, catalogue, now);
    } catch (Unaskable over) {
      return Optional.of(String.valueOf(over.getMessage()));
    }
    return Optional.empty();
  }

  /**
   * Gives, ends or prolongs what was agreed to, inside the caller's transaction. What is given with
   * a conflict ends with the exemption from it at the latest.
   */
  void give(
      LoadedLine loaded,
      List<ConflictRule> conflicts,
      Catalogue catalogue,
      Instant now,
      Mover mover) {
    var line = loaded.line();
    var times = times(line, catalogue, now);
    var cause = "request:" + loaded.request().id();
    var until = line.exemptUntil();
    var end = times.end();
    if (!conflicts.isEmpty() && until != null) {
      prevention.exempt(
          loaded.subject(),
          conflicts,
          new Prevention.Terms(
              line.reason(), line.exemptControl(), line.exemptBy(), until, line.id()),
          now);
      end = end == null || end.isAfter(until) ? until : end;
    }
    var by = mover.login();
    switch (kind(line)) {
      case NEW, RESUME ->
          granting.give(given(loaded, Map.of(), times.start(), end), by, cause, now);
      case EXTEND -> granting.end(loaded.subject(), lasting(line, now), end, "", by, cause, now);
      case CHANGE -> {
        var changed = lasting(line, now);
        var decided = decided(changed);
        granting.end(loaded.subject(), changed, now, "changed by " + cause, by, cause, now);
        granting.give(given(loaded, decided, times.start(), end), by, cause, now);
      }
      case REMOVE ->
          granting.end(
              loaded.subject(),
              lasting(line, now),
              times.end(),
              line.reason().isBlank() ? "removed by " + cause : line.reason(),
              by,
              cause,
              now);
    }
  }

  /** When it was decided that somebody shall have what a grant gives, by its key. */
  private Map<String, Instant> decided(GrantMapper.GrantRow grant) {
    return grants.alike(grant.personId(), grant.basis(), grant.basisKey()).stream()
        .filter(each -> each.decidedAt() != null)
        .collect(
            Collectors.toMap(
                GrantMapper.GrantRow::targetKey,
                each -> Objects.requireNonNull(each.decidedAt()),
                (one, other) -> one));
  }

  private static Granting.Given given(
      LoadedLine loaded, Map<String, Instant> decided, Instant start, @Nullable Instant end) {
    var line = loaded.line();
    return new Granting.Given(
        loaded.subject(),
        line.packageKey(),
        LineRuns.selected(line),
        decided,
        Basis.REQUEST,
        new GrantedBy(line.offer(), line.id()).key(),
        start,
        end,
        line.reason());
  }
}
