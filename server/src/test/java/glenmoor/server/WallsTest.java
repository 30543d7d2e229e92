package glenmoor.server;

import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.classes;
import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.methods;
import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.noClasses;
import static com.tngtech.archunit.library.Architectures.layeredArchitecture;
import static com.tngtech.archunit.library.dependencies.SlicesRuleDefinition.slices;
import static org.assertj.core.api.Assertions.assertThat;

import com.tngtech.archunit.base.DescribedPredicate;
import com.tngtech.archunit.core.domain.JavaClass;
import com.tngtech.archunit.core.domain.JavaClasses;
import com.tngtech.archunit.core.domain.JavaModifier;
import com.tngtech.archunit.core.importer.ClassFileImporter;
import com.tngtech.archunit.core.importer.ImportOption;
import com.tngtech.archunit.lang.ArchCondition;
import com.tngtech.archunit.lang.ConditionEvents;
import com.tngtech.archunit.lang.SimpleConditionEvent;
import glenmoor.core.authorization.Actor;
import glenmoor.engine.Authorization;
import glenmoor.engine.applications.KnownApplications;
import glenmoor.engine.people.Visible;
import glenmoor.server.authorization.ForEverybody;
import glenmoor.server.authorization.ForNobody;
import glenmoor.server.authorization.Needs;
import jakarta.inject.Named;
import java.time.Instant;
import java.time.LocalDate;
import java.util.List;
import java.util.stream.Collectors;
import org.junit.jupiter.api.Test;
import org.springframework.web.bind.annotation.RequestMapping;

/** The walls of the house: imports only go down, and each floor keeps to its trade. */
class WallsTest {
  private static final JavaClasses HOUSE =
      new ClassFileImporter()
          .withImportOption(new ImportOption.DoNotIncludeTests())
          .importPackages("glenmoor");

  @Test
  void imports_only_go_down() {
    layeredArchitecture()
        .consideringOnlyDependenciesInLayers()
        .layer("server")
        .definedBy("glenmoor.server..")
        .layer("engine")
        .definedBy("glenmoor.engine..")
        .layer("store")
        .definedBy("glenmoor.store..")
        .layer("connect")
        .definedBy("glenmoor.connect..")
        .layer("core")
        .definedBy("glenmoor.core..")
        .whereLayer("server")
        .mayNotBeAccessedByAnyLayer()
        .whereLayer("engine")
        .mayOnlyBeAccessedByLayers("server")
        .whereLayer("store")
        .mayOnlyBeAccessedByLayers("engine")
        .whereLayer("connect")
        .mayOnlyBeAccessedByLayers("engine")
        .whereLayer("core")
        .mayOnlyBeAccessedByLayers("engine", "store", "connect", "server")
        .check(HOUSE);
  }

  @Test
  void core_knows_no_framework_no_sql_no_http_and_no_files() {
    noClasses()
        .that()
        .resideInAPackage("glenmoor.core..")
        .should()
        .dependOnClassesThat()
        .resideInAnyPackage(
            "org.springframework..",
            "java.sql..",
            "javax.sql..",
            "java.net..",
            "java.nio.file..",
            "java.io..",
            "tools.jackson..",
            "org.apache.ibatis..")
        .check(HOUSE);
  }

  @Test
  void core_has_no_clock_of_its_own() {
    noClasses()
        .that()
        .resideInAPackage("glenmoor.core..")
        .should()
        .callMethod(Instant.class, "now")
        .orShould()
        .callMethod(LocalDate.class, "now")
        .check(HOUSE);
  }

  @Test
  void transactions_live_in_the_engine() {
    noClasses()
        .that()
        .resideInAnyPackage("glenmoor.server..", "glenmoor.connect..")
        .should()
        .dependOnClassesThat()
        .haveFullyQualifiedName("org.springframework.transaction.support.TransactionTemplate")
        .check(HOUSE);
  }

  @Test
  void only_connect_speaks_ldap_and_http_to_applications() {
    noClasses()
        .that()
        .resideInAnyPackage("glenmoor.engine..", "glenmoor.store..", "glenmoor.server..")
        .should()
        .dependOnClassesThat()
        .resideInAnyPackage("com.unboundid..", "java.net.http..")
        .check(HOUSE);
  }

  @Test
  void no_room_is_called_after_nothing() {
    classes()
        .should()
        .resideOutsideOfPackages("..util..", "..common..", "..manager..", "..helper..", "..impl..")
        .check(HOUSE);
  }

  @Test
  void every_package_says_that_nothing_is_null_unless_it_says_so() {
    var marked =
        HOUSE.stream()
            .filter(each -> each.getSimpleName().equals("package-info"))
            .filter(each -> each.isAnnotatedWith("org.jspecify.annotations.NullMarked"))
            .map(JavaClass::getPackageName)
            .collect(Collectors.toSet());
    var all =
        HOUSE.stream()
            .filter(each -> !each.getSimpleName().equals("package-info"))
            .map(JavaClass::getPackageName)
            .collect(Collectors.toSet());
    all.removeAll(marked);
    // Where a package cannot say it, each of its classes does.
    assertThat(HOUSE.stream())
        .filteredOn(each -> all.contains(each.getPackageName()))
        .filteredOn(each -> each.isTopLevelClass())
        .allMatch(each -> each.isAnnotatedWith("org.jspecify.annotations.NullMarked"));
  }

  @Test
  void each_address_says_who_it_is_for() {
    methods()
        .that()
        .areMetaAnnotatedWith(RequestMapping.class)
        .should()
        .beAnnotatedWith(Needs.class)
        .orShould()
        .beAnnotatedWith(ForEverybody.class)
        .orShould()
        .beAnnotatedWith(ForNobody.class)
        .check(HOUSE);
  }

  @Test
  void no_arrow_runs_back_up_between_rooms() {
    for (var floor : List.of("core", "store", "connect", "engine", "server")) {
      slices().matching("glenmoor." + floor + ".(*)..").should().beFreeOfCycles().check(HOUSE);
    }
  }

  @Test
  void whoever_is_told_who_asks_decides_whether_they_may() {
    classes()
        .that()
        .resideInAPackage("glenmoor.engine..")
        .and(
            DescribedPredicate.describe(
                "have a public method that is told who asks",
                (JavaClass each) ->
                    each.isAnnotatedWith(Named.class)
                        && each.getMethods().stream()
                            .filter(method -> method.getModifiers().contains(JavaModifier.PUBLIC))
                            .anyMatch(method ->
                                method.getRawParameterTypes().stream()
                                    .anyMatch(type -> type.isEquivalentTo(Actor.class)))))
        .should()
        .dependOnClassesThat()
        .belongToAnyOf(Authorization.class, Visible.class, KnownApplications.class)
        .orShould(callOf(Actor.class.getName(), "may"))
        // Whom an offer is for, and who may ask for them, is asked in one place.
        .orShould(callOf("glenmoor.engine.requests.Asking", "mayAsk"))
        .orShould(callOf("glenmoor.engine.requests.Asking", "check"))
        .orShould(callOf("glenmoor.engine.requests.Concerned", "concerns"))
        // So is whom a conflict concerns.
        .orShould(callOf("glenmoor.engine.conflicts.ConflictConcerns", "row"))
        // And whom a round, a review and an item.
        .orShould(callOf("glenmoor.engine.campaigns.CampaignConcerns", "judged"))
        .orShould(callOf("glenmoor.engine.campaigns.CampaignConcerns", "seen"))
        .orShould(callOf("glenmoor.engine.campaigns.CampaignConcerns", "round"))
        .check(HOUSE);
  }

  private static ArchCondition<JavaClass> callOf(String owner, String name) {
    return new ArchCondition<>("call " + owner + "." + name) {
      @Override
      public void check(JavaClass each, ConditionEvents events) {
        var calls =
            each.getMethodCallsFromSelf().stream()
                .anyMatch(call ->
                    call.getTarget().getName().equals(name)
                        && call.getTargetOwner().getName().equals(owner));
        events.add(
            new SimpleConditionEvent(
                each, calls, each.getName() + (calls ? " asks" : " never asks") + " " + name));
      }
    };
  }
}
