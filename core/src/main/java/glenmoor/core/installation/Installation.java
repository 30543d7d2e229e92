package glenmoor.core.installation;

import java.time.Instant;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/**
 * What a database knows of the installation it belongs to.
 *
 * @param identity the name that the settings gave when it was last released, or its address
 * @param quietSince since when it is quiet: it plans and shows, and sends nothing; null if it acts
 * @param reason why it is quiet; empty if it acts
 */
public record Installation(String identity, @Nullable Instant quietSince, String reason) {

  /**
   * What a service finds when it starts.
   *
   * @param identity of the settings that it was started with
   * @param asked whether the settings say that it shall be quiet
   * @param used whether the database has any record of the past
   * @param older whether the record ends before what this service has seen of it
   */
  public record Found(String identity, boolean asked, boolean used, boolean older) {}

  public boolean quiet() {
    return quietSince != null;
  }

  /**
   * Why a service that starts has to be quiet: a copy or a restored database must not act in the
   * place of the original. Nothing where it may act.
   *
   * @param known what the database says; null where it says nothing yet
   */
  public static Optional<String> quietReason(@Nullable Installation known, Found found) {
    if (known != null && known.quiet()) {
      return Optional.of(known.reason());
    }
    if (found.asked()) {
      return Optional.of("The settings say so (GLENMOOR_QUIET=yes).");
    }
    if (known == null) {
      return found.used()
          ? Optional.of("This database has a past, and does not say which installation it is.")
          : Optional.empty();
    }
    if (!known.identity().equals(found.identity())) {
      return Optional.of(
          "This database belongs to the installation “%s”, and this service was started as “%s”: it may be a copy."
              .formatted(known.identity(), found.identity()));
    }
    return found.older() ? Optional.of(OLDER) : Optional.empty();
  }

  /** That a database was set back while a service was running, or since it ran. */
  public static final String OLDER =
      "The record ends before what this service has seen: the database is an older copy.";
}
