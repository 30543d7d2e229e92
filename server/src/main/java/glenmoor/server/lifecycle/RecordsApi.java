package glenmoor.server.lifecycle;

import glenmoor.core.authorization.Actor;
import glenmoor.core.people.FactDefinition;
import glenmoor.engine.lifecycle.RecordForms;
import glenmoor.server.Lists;
import glenmoor.server.authorization.ForEverybody;
import jakarta.validation.Valid;
import jakarta.validation.constraints.NotNull;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import org.jspecify.annotations.Nullable;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/** Records that the people desk writes itself. */
@RestController
@RequestMapping("/api/v1/records")
class RecordsApi {
  /**
   * What a form asks for.
   *
   * @param type text, number, date, yes-no or person
   */
  record FormField(String fact, String name, String type, boolean required, int longest) {
    static FormField of(FactDefinition fact) {
      return new FormField(
          fact.key(), fact.name(), fact.type().word(), fact.required(), fact.longest());
    }
  }

  /**
   * A form, and the source it belongs to.
   *
   * @param numbers whether worker numbers are made up
   * @param agreed whether somebody new counts only once that was agreed to
   */
  record RecordForm(
      String source, String name, boolean numbers, boolean agreed, List<FormField> fields) {
    static RecordForm of(RecordForms.Form form) {
      return new RecordForm(
          form.source(),
          form.name(),
          form.numbers(),
          form.agreed(),
          form.facts().stream().map(FormField::of).toList());
    }
  }

  /**
   * Somebody's record.
   *
   * @param known whether there is one already
   */
  record RecordShown(String worker, boolean known, Map<String, String> facts) {}

  /**
   * What to write.
   *
   * @param worker left out to have a number made up
   * @param reason what they are needed for, where that has to be agreed to
   */
  record RecordWrite(
      @Nullable String worker, @NotNull Map<String, String> facts, @Nullable String reason) {}

  /**
   * What it came to.
   *
   * @param events how many of each kind; none where nothing was changed
   * @param waits whether they count only once that was agreed to
   */
  record RecordWritten(String worker, String feed, Map<String, Integer> events, boolean waits) {}

  private final RecordForms forms;

  RecordsApi(RecordForms forms) {
    this.forms = forms;
  }

  /** The forms there are. */
  @ForEverybody
  @GetMapping
  Lists.Page<RecordForm> forms(Actor actor) {
    return new Lists.Page<>(forms.forms(actor).stream().map(RecordForm::of).toList(), null);
  }

  /** What was written of somebody; nothing where the worker number is new. */
  @ForEverybody
  @GetMapping("/{key}")
  RecordShown show(@PathVariable String key, @RequestParam String worker, Actor actor) {
    var written = forms.show(key, worker, actor);
    return new RecordShown(written.worker(), written.known(), written.facts());
  }

  /** Writes somebody's record: checked like a row of a file, and loaded at once. */
  @ForEverybody
  @PutMapping("/{key}")
  RecordWritten write(@PathVariable String key, @Valid @RequestBody RecordWrite body, Actor actor) {
    var entered =
        forms.write(
            key,
            Objects.requireNonNullElse(body.worker(), ""),
            body.facts(),
            Objects.requireNonNullElse(body.reason(), ""),
            actor);
    var loaded = entered.loaded();
    return new RecordWritten(
        entered.worker(), String.valueOf(loaded.feed()), loaded.events(), entered.waits());
  }
}
