package glenmoor.server.requests;

import glenmoor.core.authorization.Actor;
import glenmoor.engine.requests.SavedAsks;
import glenmoor.engine.requests.SavedAsks.SavedLine;
import glenmoor.engine.requests.SavedAsks.SavedSet;
import glenmoor.server.Lists;
import glenmoor.server.authorization.ForEverybody;
import jakarta.validation.Valid;
import jakarta.validation.constraints.NotNull;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import org.jspecify.annotations.Nullable;
import org.springframework.http.HttpStatus;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

/** Sets of what somebody asks for again and again. */
@RestController
@RequestMapping("/api/v1/saved-asks")
class SavedAsksApi {
  /** One thing of it. */
  record NewSavedLine(
      @NotNull String offer,
      @Nullable Map<String, @NotNull String> answers,
      @Nullable String reason) {}

  /** A set to keep, in the place of that of the same name. */
  record NewSavedSet(@NotNull String name, @NotNull List<@NotNull @Valid NewSavedLine> lines) {}

  private final SavedAsks saved;

  SavedAsksApi(SavedAsks saved) {
    this.saved = saved;
  }

  /** Those of whoever asks this, by name. */
  @ForEverybody
  @GetMapping
  Lists.Page<SavedSet> list(
      @RequestParam @Nullable String after,
      @RequestParam(defaultValue = Lists.USUAL_LIMIT) int limit,
      Actor actor) {
    return Lists.part(saved.list(actor.login()), after, limit, each -> String.valueOf(each.id()));
  }

  /** Keeps one. */
  @ForEverybody
  @PostMapping
  @ResponseStatus(HttpStatus.NO_CONTENT)
  void save(@Valid @RequestBody NewSavedSet body, Actor actor) {
    saved.save(
        body.name(),
        body.lines().stream()
            .map(each ->
                new SavedLine(
                    each.offer(),
                    Objects.requireNonNullElse(each.answers(), Map.of()),
                    Objects.requireNonNullElse(each.reason(), "")))
            .toList(),
        actor.login());
  }

  /** Drops one. */
  @ForEverybody
  @DeleteMapping("/{id}")
  @ResponseStatus(HttpStatus.NO_CONTENT)
  void drop(@PathVariable long id, Actor actor) {
    saved.drop(id, actor.login());
  }
}
