package glenmoor.engine.provisioning;

import glenmoor.core.access.Catalogue;
import glenmoor.core.access.Grant.Basis;
import glenmoor.core.people.Standing;
import glenmoor.core.provisioning.Cause;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.store.access.GrantMapper;
import glenmoor.store.access.GrantMapper.GrantRow;
import glenmoor.store.access.RevocationMapper;
import glenmoor.store.access.RevocationMapper.RevocationRow;
import jakarta.inject.Named;
import java.util.Collection;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import java.util.stream.Collectors;

/**
 * Says in a sentence what an operation follows from, as {@link Cause} stores it. Two queries for a
 * page of operations.
 */
@Named
public final class CauseTexts {
  private final RevocationMapper revocations;
  private final GrantMapper grants;
  private final Catalogues catalogues;

  CauseTexts(RevocationMapper revocations, GrantMapper grants, Catalogues catalogues) {
    this.revocations = revocations;
    this.grants = grants;
    this.catalogues = catalogues;
  }

  /** A sentence for each cause; the cause itself where there is no better one. */
  public Map<String, String> of(Collection<String> causes) {
    var catalogue = catalogues.current();
    var revoked = byId(causes, "revocation", revocations::byIds, RevocationRow::id);
    var granted = byId(causes, "grant", grants::byIds, GrantRow::id);
    var said = new HashMap<String, String>();
    for (var cause : causes) {
      said.computeIfAbsent(cause, each -> sentence(each, revoked, granted, catalogue));
    }
    return said;
  }

  private static <T> Map<Long, T> byId(
      Collection<String> causes,
      String kind,
      Function<List<Long>, List<T>> rows,
      Function<T, Long> id) {
    var ids =
        causes.stream()
            .filter(cause -> cause.matches(kind + ":\\d{1,18}"))
            .map(cause -> Long.parseLong(rest(cause)))
            .distinct()
            .toList();
    return ids.isEmpty()
        ? Map.of()
        : rows.apply(ids).stream().collect(Collectors.toMap(id, row -> row));
  }

  private static String kind(String cause) {
    return cause.contains(":") ? cause.substring(0, cause.indexOf(':')) : cause;
  }

  private static String rest(String cause) {
    return cause.substring(cause.indexOf(':') + 1);
  }

  private static String sentence(
      String cause,
      Map<Long, RevocationRow> revoked,
      Map<Long, GrantRow> granted,
      Catalogue catalogue) {
    return switch (kind(cause)) {
      case "revocation" ->
          found(cause, revoked)
              .map(row ->
                  "“%s” was revoked by %s: %s"
                      .formatted(catalogue.name(row.target()), row.decidedBy(), row.reason()))
              .orElse(cause);
      case "grant" -> found(cause, granted).map(row -> grant(row, catalogue)).orElse(cause);
      case "request-line" -> "A request was approved (line %s).".formatted(rest(cause));
      case "birthright" ->
          "The birthright “%s” decides it (definitions %s)."
              .formatted(rest(cause).replaceFirst("@.*", ""), rest(cause).replaceFirst(".*@", ""));
      case "standing" -> standing(rest(cause));
      case "cut-off" -> "The person was cut off.";
      case "brought-back" -> "The person was brought back after a cut-off.";
      case "order" -> "A playbook or an adoption ordered it.";
      case "hold-over" -> "The account's hold is over.";
      case "facts" -> "A fact of the person changed.";
      case "definitions" -> "The definitions changed (%s).".formatted(rest(cause));
      case "drift" -> "A difference in the application was decided on.";
      case "run" -> "A playbook run (%s).".formatted(rest(cause));
      case "date" -> "A date came.";
      default -> cause;
    };
  }

  private static <T> Optional<T> found(String cause, Map<Long, T> rows) {
    return rest(cause).matches("\\d{1,18}")
        ? Optional.ofNullable(rows.get(Long.parseLong(rest(cause))))
        : Optional.empty();
  }

  private static String grant(GrantRow row, Catalogue catalogue) {
    var name = catalogue.name(row.target());
    var basis =
        switch (Basis.ofWord(row.basis())) {
          case BIRTHRIGHT -> "birthright";
          case REQUEST -> "request";
          case DIRECT -> "direct grant";
          case DISCOVERED -> "adopted grant";
        };
    return row.endsAt() == null
        ? "“%s” was granted (%s).".formatted(name, basis)
        : "“%s” (%s) ended%s."
            .formatted(name, basis, row.endReason().isEmpty() ? "" : ": " + row.endReason());
  }

  private static String standing(String word) {
    for (var each : Standing.values()) {
      if (each.word().equals(word)) {
        return switch (each) {
          case EXPECTED -> "The person's first day is ahead.";
          case ACTIVE -> "The person is active.";
          case ON_LEAVE -> "The person is on leave.";
          case LEFT -> "The person has left.";
          case ERASED -> "The person was erased.";
        };
      }
    }
    return word;
  }
}
