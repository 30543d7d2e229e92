package glenmoor.server.identity;

import glenmoor.core.authorization.Actor;
import glenmoor.core.identity.IssuedToken;
import glenmoor.engine.Refused;
import glenmoor.engine.identity.SignIns;
import glenmoor.engine.identity.Tokens;
import glenmoor.server.Lists;
import glenmoor.server.authorization.ForEverybody;
import glenmoor.server.authorization.ForNobody;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.validation.Valid;
import jakarta.validation.constraints.NotNull;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.springframework.http.HttpStatus;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

/** Tokens for programs. */
@RestController
@RequestMapping("/api/v1/tokens")
class TokensApi {
  private static final int USUAL_DAYS = 30;
  private static final int MOST_DAYS = 366;

  /**
   * A token to make.
   *
   * @param permissions all that it shall carry; none named is all of its owner's
   */
  record TokenBody(
      @NotNull String login,
      @NotNull String password,
      @Nullable String note,
      @Nullable Integer days,
      @Nullable List<@NotNull String> permissions) {}

  /**
   * A token, without what would let somebody use it.
   *
   * @param state {@code in-force}, {@code expired} or {@code revoked}
   */
  record TokenShown(
      String key,
      String login,
      String note,
      List<String> permissions,
      String state,
      Instant createdAt,
      Instant expiresAt,
      @Nullable Instant revokedAt,
      String revokedBy) {
    static TokenShown of(IssuedToken row) {
      return new TokenShown(
          row.key(),
          row.login(),
          row.note(),
          row.permissions().isEmpty() ? List.of() : List.of(row.permissions().split(",")),
          state(row),
          row.createdAt(),
          row.expiresAt(),
          row.revokedAt(),
          row.revokedBy());
    }

    private static String state(IssuedToken row) {
      if (row.revokedAt() != null) {
        return "revoked";
      }
      return row.expiresAt().isAfter(Instant.now()) ? "in-force" : "expired";
    }
  }

  private final SignIns signIns;
  private final Tokens tokens;

  TokensApi(SignIns signIns, Tokens tokens) {
    this.signIns = signIns;
    this.tokens = tokens;
  }

  /** Makes a token; asks for the password again, so that a session is not enough. */
  @ForNobody
  @PostMapping
  Tokens.Token make(@Valid @RequestBody TokenBody body, HttpServletRequest request) {
    var days = body.days() == null ? USUAL_DAYS : body.days();
    if (days < 1 || days > MOST_DAYS) {
      throw Refused.badInput("A token is good for 1 to 366 days; this says " + days + ".");
    }
    var wanted =
        new Tokens.Wanted(
            body.note() == null ? "" : body.note(),
            Duration.ofDays(days),
            Tokens.read(body.permissions() == null ? List.of() : body.permissions()));
    return tokens.make(
        signIns.signIn(body.login(), body.password(), request.getRemoteAddr()), wanted);
  }

  @ForEverybody
  @GetMapping
  Lists.Page<TokenShown> list(Actor actor) {
    return new Lists.Page<>(tokens.list(actor).stream().map(TokenShown::of).toList(), null);
  }

  @ForEverybody
  @DeleteMapping("/{key}")
  @ResponseStatus(HttpStatus.NO_CONTENT)
  void revoke(@PathVariable String key, Actor actor) {
    tokens.revoke(key, actor);
  }
}
