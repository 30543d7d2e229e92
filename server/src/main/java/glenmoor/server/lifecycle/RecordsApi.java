package glenmoor.server.lifecycle;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.people.FactDefinition;
import glenmoor.engine.lifecycle.RecordForms;
import glenmoor.server.Lists;
import glenmoor.server.authorization.Needs;
import jakarta.validation.Valid;
import jakarta.validation.constraints.NotNull;
import java.util.List;
import java.util.Map;
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

  /** A form, and the source it belongs to. */
  record RecordForm(String source, String name, List<FormField> fields) {
    static RecordForm of(RecordForms.Form form) {
      return new RecordForm(
          form.source(), form.name(), form.facts().stream().map(FormField::of).toList());
    }
  }

  /**
   * Somebody's record.
   *
   * @param known whether there is one already
   */
  record RecordShown(String worker, boolean known, Map<String, String> facts) {}

  /** What to write. */
  record RecordWrite(@NotNull String worker, @NotNull Map<String, String> facts) {}

  /**
   * What it came to.
   *
   * @param events how many of each kind; none where nothing was changed
   */
  record RecordWritten(String worker, String feed, Map<String, Integer> events) {}

  private final RecordForms forms;

  RecordsApi(RecordForms forms) {
    this.forms = forms;
  }

  /** The forms there are. */
  @Needs(Permission.LOAD_FEEDS)
  @GetMapping
  Lists.Page<RecordForm> forms(Actor actor) {
    return new Lists.Page<>(forms.forms(actor).stream().map(RecordForm::of).toList(), null);
  }

  /** What was written of somebody; nothing where the worker number is new. */
  @Needs(Permission.LOAD_FEEDS)
  @GetMapping("/{key}")
  RecordShown show(@PathVariable String key, @RequestParam String worker, Actor actor) {
    var written = forms.show(key, worker, actor);
    return new RecordShown(written.worker(), written.known(), written.facts());
  }

  /** Writes somebody's record: checked like a row of a file, and loaded at once. */
  @Needs(Permission.LOAD_FEEDS)
  @PutMapping("/{key}")
  RecordWritten write(@PathVariable String key, @Valid @RequestBody RecordWrite body, Actor actor) {
    var loaded = forms.write(key, body.worker(), body.facts(), actor);
    return new RecordWritten(body.worker().strip(), String.valueOf(loaded.feed()), loaded.events());
  }
}
