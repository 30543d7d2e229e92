package glenmoor.server.identity;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.engine.authorization.Duties;
import glenmoor.engine.identity.SignIns;
import glenmoor.server.Lists;
import glenmoor.server.authorization.Needs;
import jakarta.validation.Valid;
import jakarta.validation.constraints.NotNull;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;

/** Who can sign in. */
@RestController
@RequestMapping("/api/v1/sign-ins")
class SignInsApi {
  /**
   * A sign-in to make or change.
   *
   * @param duties such as {@code auditor} or {@code fixer:directory}; those not named end
   * @param passwordStays whether the password need not be changed at the first sign-in
   */
  record SignInBody(
      @Nullable String name,
      @Nullable String worker,
      @NotNull String password,
      @Nullable Boolean passwordStays,
      @Nullable List<@NotNull String> duties) {}

  record ReasonBody(@Nullable String reason) {}

  private final SignIns signIns;
  private final Duties duties;

  SignInsApi(SignIns signIns, Duties duties) {
    this.signIns = signIns;
    this.duties = duties;
  }

  @Needs(Permission.SEE_SIGN_INS)
  @GetMapping
  Lists.Page<SignIns.SignIn> all(Actor actor) {
    return new Lists.Page<>(signIns.all(actor), null);
  }

  @Needs(Permission.MANAGE_SIGN_INS)
  @PutMapping("/{login}")
  SignIns.SignIn put(@PathVariable String login, @Valid @RequestBody SignInBody body, Actor actor) {
    var wanted = body.duties() == null ? List.<String>of() : body.duties();
    return signIns.put(
        login,
        body.name() == null ? login : body.name(),
        body.worker(),
        body.password(),
        Boolean.TRUE.equals(body.passwordStays()),
        wanted.stream().map(words -> duties.read(words, null, null)).toList(),
        actor);
  }

  /** Takes a sign-in away, with its sessions and tokens. */
  @Needs(Permission.MANAGE_SIGN_INS)
  @PostMapping("/{login}/take-away")
  SignIns.SignIn takeAway(
      @PathVariable String login, @Valid @RequestBody ReasonBody body, Actor actor) {
    return signIns.takeAway(login, body.reason() == null ? "" : body.reason(), actor);
  }
}
