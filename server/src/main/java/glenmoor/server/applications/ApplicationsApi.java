package glenmoor.server.applications;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.engine.applications.ApplicationService;
import glenmoor.engine.applications.ApplicationService.Summary;
import glenmoor.engine.applications.ApplicationService.TestResult;
import glenmoor.server.Lists;
import glenmoor.server.authorization.Needs;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;

/** Applications and their health. */
@RestController
@RequestMapping("/api/v1/applications")
class ApplicationsApi {
  private final ApplicationService applications;

  ApplicationsApi(ApplicationService applications) {
    this.applications = applications;
  }

  @Needs(Permission.SEE_APPLICATIONS)
  @GetMapping
  Lists.Page<Summary> list(Actor actor) {
    return new Lists.Page<>(applications.list(actor), null);
  }

  /** Asks the application for something small, and counts its accounts. */
  @Needs(Permission.TEST_APPLICATIONS)
  @PostMapping("/{key}/test")
  TestResult test(@PathVariable String key, Actor actor) {
    return applications.test(key, actor);
  }
}
