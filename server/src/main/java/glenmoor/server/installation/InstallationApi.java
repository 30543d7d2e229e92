package glenmoor.server.installation;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.engine.Refused;
import glenmoor.engine.installation.Installations;
import glenmoor.engine.installation.Installations.Messages;
import glenmoor.engine.installation.Installations.Shown;
import glenmoor.server.authorization.ForEverybody;
import glenmoor.server.authorization.Needs;
import jakarta.validation.Valid;
import jakarta.validation.constraints.NotNull;
import org.springframework.http.HttpStatus;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

/** Which installation this is: a quiet one plans and shows, and sends nothing. */
@RestController
@RequestMapping("/api/v1/installation")
class InstallationApi {
  /** Why it is made quiet. */
  record MadeQuiet(@NotNull String reason) {}

  /**
   * On what terms it is released.
   *
   * @param messages {@code send} or {@code drop}: what becomes of messages that wait
   */
  record Released(@NotNull String reason, @NotNull String messages) {}

  private final Installations installations;

  InstallationApi(Installations installations) {
    this.installations = installations;
  }

  /** Whether it is quiet, and to whoever may release it, what waits. */
  @ForEverybody
  @GetMapping
  Shown showInstallation(Actor actor) {
    return installations.show(actor);
  }

  /** Keeps it from sending anything. */
  @Needs(Permission.RELEASE_INSTALLATION)
  @PostMapping("/quiet")
  @ResponseStatus(HttpStatus.NO_CONTENT)
  void silenceInstallation(@Valid @RequestBody MadeQuiet body, Actor actor) {
    installations.silence(body.reason(), actor);
  }

  /** Lets a quiet one act. */
  @Needs(Permission.RELEASE_INSTALLATION)
  @PostMapping("/release")
  @ResponseStatus(HttpStatus.NO_CONTENT)
  void releaseInstallation(@Valid @RequestBody Released body, Actor actor) {
    var messages =
        switch (body.messages()) {
          case "send" -> Messages.SEND;
          case "drop" -> Messages.DROP;
          default ->
              throw Refused.mistake(
                  "messages", "messages is “%s”; say send or drop.".formatted(body.messages()));
        };
    installations.release(messages, body.reason(), actor);
  }
}
