package glenmoor.store;

import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.DriverManager;
import java.util.Map;
import org.mybatis.spring.annotation.MapperScan;
import org.springframework.boot.SpringApplication;
import org.springframework.boot.WebApplicationType;
import org.springframework.boot.autoconfigure.SpringBootApplication;
import org.springframework.context.ConfigurableApplicationContext;

/** The real MariaDB that the test script started, with an empty database for this module. */
@SpringBootApplication
@MapperScan("glenmoor.store")
class Database {
  private static final ConfigurableApplicationContext CONTEXT = start();

  private static ConfigurableApplicationContext start() {
    var port = System.getenv("GLENMOOR_TEST_DATABASE_PORT");
    if (port == null) {
      throw new IllegalStateException(
          "GLENMOOR_TEST_DATABASE_PORT is not set: run the tests with ./glenmoor test.");
    }
    try {
      var password =
          Files.readString(Path.of(System.getenv("GLENMOOR_TEST_DATABASE_PASSWORD_FILE"))).strip();
      var url = "jdbc:mariadb://127.0.0.1:" + port + "/";
      try (var connection = DriverManager.getConnection(url, "glenmoor", password);
          var statement = connection.createStatement()) {
        statement.execute("drop database if exists glenmoor_store");
        statement.execute("create database glenmoor_store character set utf8mb4");
      }
      var application = new SpringApplication(Database.class);
      application.setWebApplicationType(WebApplicationType.NONE);
      application.setDefaultProperties(
          Map.of(
              "spring.datasource.url",
                  url + "glenmoor_store?useBulkStmts=true&timezone=UTC&allowLocalInfile=true",
              "spring.datasource.username", "glenmoor",
              "spring.datasource.password", password,
              "mybatis.configuration.map-underscore-to-camel-case", "true",
              "mybatis.configuration.arg-name-based-constructor-auto-mapping", "true",
              "mybatis.configuration.local-cache-scope", "statement",
              "spring.main.banner-mode", "off",
              "logging.level.root", "warn"));
      return application.run();
    } catch (Exception failed) {
      throw new IllegalStateException(failed);
    }
  }

  static <T> T get(Class<T> type) {
    return CONTEXT.getBean(type);
  }
}
