package glenmoor.server;

import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.classes;
import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.methods;
import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.noClasses;
import static com.tngtech.archunit.library.Architectures.layeredArchitecture;
import static org.assertj.core.api.Assertions.assertThat;

import com.tngtech.archunit.core.domain.JavaClass;
import com.tngtech.archunit.core.domain.JavaClasses;
import com.tngtech.archunit.core.importer.ClassFileImporter;
import com.tngtech.archunit.core.importer.ImportOption;
import glenmoor.server.authorization.ForEverybody;
import glenmoor.server.authorization.ForNobody;
import glenmoor.server.authorization.Needs;
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
        .mayOnlyBeAccessedByLayers("engine", "server")
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
  void a_use_case_decides_before_it_does_anything_who_may() {
    var desks =
        List.of(
            "FeedDesk",
            "DefinitionDesk",
            "OperationDesk",
            "FaultDesk",
            "RetryDesk",
            "HeldChanges",
            "EventDesk",
            "SignIns",
            "Duties",
            "Tokens",
            "Ledger");
    for (var desk : desks) {
      classes()
          .that()
          .haveSimpleName(desk)
          .should()
          .dependOnClassesThat()
          .haveSimpleName("Authorization")
          .check(HOUSE);
    }
  }
}
