package glenmoor.connect.applications;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.tuple;

import glenmoor.connect.applications.Connector.Membership;
import glenmoor.connect.applications.Connector.Seen;
import glenmoor.connect.applications.Connector.Target;
import glenmoor.core.applications.AccountState;
import glenmoor.core.provisioning.Outcome;
import glenmoor.core.provisioning.ProvisioningCommand;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** Against a schema of its own in the real MariaDB. */
class SqlConnectorTest {
  private static final String SCHEMA = "glenmoor_slipworks";

  private Connection database;
  private Connector connector;

  @BeforeEach
  void make() throws Exception {
    var url =
        "jdbc:mariadb://127.0.0.1:" + Testbed.environment("GLENMOOR_TEST_DATABASE_PORT") + "/";
    database =
        DriverManager.getConnection(
            url,
            "glenmoor",
            Files.readString(Path.of(Testbed.environment("GLENMOOR_TEST_DATABASE_PASSWORD_FILE")))
                .strip());
    run("drop database if exists " + SCHEMA);
    run("create database " + SCHEMA + " character set utf8mb4");
    run("use " + SCHEMA);
    run(
        "create table users (id int auto_increment primary key, login varchar(60) unique, staff_no varchar(20), full_name varchar(100), trade varchar(40), active boolean not null)");
    run(
        "create table user_permission (user_id int, permission varchar(30) not null, primary key (user_id, permission), foreign key (user_id) references users (id) on delete cascade, check (permission <> 'forbidden'))");
    connector = Testbed.open(Testbed.application("sql", settings(), "full_name", "trade"));
  }

  @AfterEach
  void close() throws Exception {
    connector.close();
    run("drop database " + SCHEMA);
    database.close();
  }

  private void run(String statement) throws Exception {
    try (var one = database.createStatement()) {
      one.execute(statement);
    }
  }

  private List<String> rows(String query) throws Exception {
    try (var one = database.createStatement();
        var found = one.executeQuery(query)) {
      var rows = new ArrayList<String>();
      while (found.next()) {
        rows.add(found.getString(1));
      }
      return rows;
    }
  }

  private static Map<String, Object> settings() {
    return settings(Map.of());
  }

  private static Map<String, Object> settings(Map<String, String> others) {
    var read =
        "select id, login as name, staff_no as worker, active as enabled, full_name, trade from users";
    var statements = new TreeMap<String, Object>();
    statements.put("find", read + " where staff_no = :worker");
    statements.put("by-id", read + " where id = :id");
    statements.put(
        "create",
        "insert into users (login, staff_no, full_name, trade, active) values (:name, :worker, :full_name, :trade, :enabled)");
    statements.put(
        "update",
        "update users set login = :name, full_name = :full_name, trade = :trade where id = :id");
    statements.put("enable", "update users set active = :enabled where id = :id");
    statements.put("delete", "delete from users where id = :id");
    statements.put(
        "rights-of", "select permission as `right` from user_permission where user_id = :id");
    statements.put(
        "give", "insert into user_permission (user_id, permission) values (:id, :right)");
    statements.put(
        "take", "delete from user_permission where user_id = :id and permission = :right");
    statements.put("list", read + " order by id");
    statements.put(
        "list-rights", "select user_id as id, permission as `right` from user_permission");
    statements.put(
        "claim", "update users set staff_no = :worker where id = :id and staff_no is null");
    statements.putAll(others);
    return new TreeMap<>(
        Map.of(
            "url",
            "mariadb://127.0.0.1:%s/%s"
                .formatted(Testbed.environment("GLENMOOR_TEST_DATABASE_PORT"), SCHEMA),
            "user",
            "glenmoor",
            "password-file",
            Testbed.environment("GLENMOOR_TEST_DATABASE_PASSWORD_FILE"),
            "statements",
            statements));
  }

  private static Target target(String worker) {
    return Testbed.target(worker, "kerrowu", "", "", false);
  }

  private Outcome carryOut(ProvisioningCommand command) {
    return connector.carryOut(command, target("W-1"), sealed -> sealed);
  }

  private Outcome create(String name, AccountState state) {
    return carryOut(
        new ProvisioningCommand.Create(
            name, "", Map.of("full_name", "Una “O'Kerrow”; --", "trade", "rigger"), state));
  }

  private static void confirmed(Outcome outcome) {
    assertThat(outcome).isInstanceOf(Outcome.Confirmed.class);
  }

  @Test
  void an_account_lives_its_whole_life_and_each_step_is_read_back() throws Exception {
    confirmed(create("kerrowu", AccountState.DISABLED));
    assertThat(rows("select concat(login, staff_no, active) from users"))
        .containsExactly("kerrowuW-10");
    confirmed(carryOut(new ProvisioningCommand.Enable()));
    confirmed(carryOut(new ProvisioningCommand.Add("x/plan", "plan", "role")));
    confirmed(carryOut(new ProvisioningCommand.Add("x/plan", "plan", "role")));
    assertThat(rows("select permission from user_permission")).containsExactly("plan");
    confirmed(
        carryOut(
            new ProvisioningCommand.Update("una.kerrow", "", Map.of("full_name", "Una Kerrow"))));
    assertThat(rows("select concat_ws('|', login, full_name, trade) from users"))
        .as("an attribute that is not there any more is emptied")
        .containsExactly("una.kerrow|Una Kerrow");
    confirmed(carryOut(new ProvisioningCommand.Remove("x/plan", "plan", "role")));
    confirmed(carryOut(new ProvisioningCommand.Disable()));
    assertThat(rows("select active from users")).containsExactly("0");
    confirmed(carryOut(new ProvisioningCommand.Delete()));
    assertThat(rows("select id from users")).isEmpty();
    assertThat(carryOut(new ProvisioningCommand.Delete())).isInstanceOf(Outcome.Gone.class);
  }

  @Test
  void values_are_values_and_never_a_part_of_a_statement() throws Exception {
    confirmed(create("x'); drop table users; --", AccountState.ENABLED));
    assertThat(rows("select full_name from users")).containsExactly("Una “O'Kerrow”; --");
  }

  @Test
  void creating_twice_adopts_and_a_name_of_somebody_else_is_refused() throws Exception {
    confirmed(create("kerrowu", AccountState.ENABLED));
    assertThat(create("kerrowu", AccountState.ENABLED))
        .isInstanceOfSatisfying(
            Outcome.Confirmed.class, done -> assertThat(done.note()).contains("adopted"));
    run("insert into users (login, staff_no, active) values ('brae', null, 1)");
    assertThat(
            connector.carryOut(
                new ProvisioningCommand.Create("brae", "", Map.of(), AccountState.ENABLED),
                target("W-2"),
                sealed -> sealed))
        .isInstanceOfSatisfying(
            Outcome.Refused.class, refused -> assertThat(refused.reason()).contains("brae"));
    assertThat(rows("select id from users")).hasSize(2);
  }

  @Test
  void a_worker_number_that_only_looks_alike_is_another_ones() throws Exception {
    run("insert into users (login, staff_no, active) values ('una', 'w-1', 1)");
    assertThat(carryOut(new ProvisioningCommand.Disable())).isInstanceOf(Outcome.Gone.class);
    assertThat(rows("select active from users")).containsExactly("1");
  }

  @Test
  void two_users_with_one_worker_number_are_nobodys_guess() throws Exception {
    run("insert into users (login, staff_no, active) values ('una', 'W-1', 1), ('una2', 'W-1', 1)");
    assertThat(carryOut(new ProvisioningCommand.Disable()))
        .isInstanceOfSatisfying(
            Outcome.Refused.class, refused -> assertThat(refused.reason()).contains("Two users"));
    assertThat(rows("select distinct active from users")).containsExactly("1");
  }

  @Test
  void what_the_database_does_not_allow_is_refused_without_the_values() {
    confirmed(create("kerrowu", AccountState.ENABLED));
    assertThat(carryOut(new ProvisioningCommand.Add("x/f", "forbidden", "role")))
        .isNotInstanceOf(Outcome.Confirmed.class)
        .asString()
        .doesNotContain("forbidden'");
  }

  @Test
  void whoever_is_disabled_is_signed_out_and_nobody_else_is() throws Exception {
    run("create table signed_in (user_id int, since datetime(6) default now(6))");
    var statements =
        Map.of(
            "sessions", "select user_id from signed_in where user_id = :id",
            "end-sessions", "delete from signed_in where user_id = :id");
    connector.close();
    connector =
        Testbed.open(Testbed.application("sql", settings(statements), "full_name", "trade"));
    confirmed(create("kerrowu", AccountState.ENABLED));
    run("insert into users (login, staff_no, full_name, active) values ('tarnb', 'W-2', 'Bo', 1)");
    run("insert into signed_in (user_id) select id from users");
    run("insert into signed_in (user_id) select id from users where staff_no = 'W-1'");
    confirmed(carryOut(new ProvisioningCommand.Enable()));
    assertThat(rows("select count(*) from signed_in"))
        .as("enabling ends none")
        .containsExactly("3");
    assertThat(carryOut(new ProvisioningCommand.Disable()).sentence())
        .isEqualTo("ended 2 sessions");
    assertThat(rows("select u.login from signed_in s join users u on u.id = s.user_id"))
        .containsExactly("tarnb");
    assertThat(carryOut(new ProvisioningCommand.Disable()).sentence()).isEmpty();
  }

  @Test
  void a_session_that_goes_on_is_not_taken_for_ended() throws Exception {
    run("create table signed_in (user_id int)");
    var statements =
        Map.of(
            "sessions", "select user_id from signed_in where user_id = :id",
            "end-sessions", "delete from signed_in where user_id = -:id");
    connector.close();
    connector =
        Testbed.open(Testbed.application("sql", settings(statements), "full_name", "trade"));
    confirmed(create("kerrowu", AccountState.ENABLED));
    run("insert into signed_in (user_id) select id from users");
    assertThat(carryOut(new ProvisioningCommand.Disable()))
        .isInstanceOfSatisfying(
            Outcome.Unproven.class,
            unproven -> assertThat(unproven.reason()).contains("1 of their sessions still go on"));
    assertThat(rows("select active from users")).containsExactly("0");
  }

  @Test
  void a_statement_that_changes_nothing_is_not_believed() {
    connector.close();
    connector =
        Testbed.open(
            Testbed.application(
                "sql",
                settings(Map.of("enable", "update users set active = active where id = :id")),
                "full_name",
                "trade"));
    confirmed(create("kerrowu", AccountState.ENABLED));
    assertThat(carryOut(new ProvisioningCommand.Disable())).isInstanceOf(Outcome.Unproven.class);
  }

  @Test
  void wrong_statements_wrong_credentials_and_a_database_that_is_away_are_told_apart() {
    try (var wrong =
        Testbed.open(
            Testbed.application("sql", settings(Map.of("find", "select nothing from nowhere"))))) {
      assertThat(wrong.carryOut(new ProvisioningCommand.Enable(), target("W-1"), s -> s))
          .isInstanceOf(Outcome.WrongSettings.class);
      assertThat(wrong.examine(List.of()).missing())
          .anyMatch(each -> each.contains("The statement find"));
    }
    try (var wrong =
        Testbed.open(
            Testbed.application(
                "sql", settings(Map.of("find", "select * from users where id = :shoe"))))) {
      assertThat(wrong.carryOut(new ProvisioningCommand.Enable(), target("W-1"), s -> s))
          .isInstanceOfSatisfying(
              Outcome.WrongSettings.class,
              told -> assertThat(told.reason()).contains("names a value that is not there"));
    }
    var settings = settings();
    settings.put("user", "nobody");
    try (var shut = Testbed.open(Testbed.application("sql", settings))) {
      assertThat(shut.carryOut(new ProvisioningCommand.Enable(), target("W-1"), s -> s))
          .isInstanceOf(Outcome.WrongCredentials.class);
      assertThat(shut.test().well()).isFalse();
    }
    settings.put("url", "mariadb://127.0.0.1:9/" + SCHEMA);
    try (var away = Testbed.open(Testbed.application("sql", settings))) {
      assertThat(away.carryOut(new ProvisioningCommand.Enable(), target("W-1"), s -> s))
          .isInstanceOf(Outcome.Unreachable.class);
      assertThatThrownBy(() -> away.list(each -> {})).isInstanceOf(Connector.CannotRead.class);
    }
  }

  @Test
  void an_address_can_carry_nothing_but_host_port_and_schema() {
    for (var url :
        List.of(
            "mariadb://127.0.0.1:3306/x?allowMultiQueries=true",
            "mariadb://127.0.0.1:3306/x&user=root",
            "mariadb://127.0.0.1:3306",
            "jdbc:mariadb://127.0.0.1/x",
            "mariadb://db.skerryline.example/x")) {
      var settings = settings();
      settings.put("url", url);
      assertThatThrownBy(() -> Testbed.open(Testbed.application("sql", settings)))
          .as(url)
          .isInstanceOf(Settings.BadSetting.class);
    }
  }

  @Test
  void a_statement_that_is_missing_or_means_nothing_is_named() {
    var without = settings();
    without.put("statements", Map.of("find", "select 1"));
    assertThatThrownBy(() -> Testbed.open(Testbed.application("sql", without)))
        .hasMessageContaining("no statement by-id");
    assertThatThrownBy(
            () -> Testbed.open(Testbed.application("sql", settings(Map.of("finds", "select 1")))))
        .hasMessageContaining("finds");
  }

  @Test
  void a_column_tells_of_the_last_use() throws Exception {
    run("alter table users add column seen datetime");
    run(
        "insert into users (login, active, seen) values ('a', 1, '2027-02-14 08:15:00'), ('b', 1, null)");
    var settings =
        settings(
            Map.of(
                "list",
                "select id, login as name, staff_no as worker, active as enabled, full_name, trade, seen as last_seen, login as no_moment from users order by id"));
    for (var column : List.of("last_seen", "no_moment", "no_column")) {
      settings.put("last-used", column);
      try (var telling = Testbed.open(Testbed.application("sql", settings, "full_name", "trade"))) {
        var seen = new ArrayList<Seen>();
        telling.list(seen::add);
        assertThat(seen)
            .as(column)
            .extracting(Seen::lastUsed)
            .containsExactly(
                column.equals("last_seen") ? Instant.parse("2027-02-14T08:15:00Z") : null, null);
      }
    }
  }

  @Test
  void all_users_and_rights_are_listed_and_a_stray_one_is_claimed_or_deleted() throws Exception {
    confirmed(create("kerrowu", AccountState.ENABLED));
    confirmed(carryOut(new ProvisioningCommand.Add("x/plan", "plan", "role")));
    run("insert into users (login, active) values ('stray', 0), ('other', 1)");
    var seen = new ArrayList<Seen>();
    connector.list(seen::add);
    assertThat(seen)
        .extracting(Seen::name, Seen::worker, Seen::enabled)
        .containsExactly(
            tuple("kerrowu", "W-1", true), tuple("stray", "", false), tuple("other", "", true));
    assertThat(seen.getFirst().attributes()).containsEntry("trade", "rigger");
    var held = new ArrayList<Membership>();
    connector.memberships(held::add);
    assertThat(held).containsExactly(new Membership(seen.getFirst().reference(), "role", "plan"));
    confirmed(connector.claim(seen.get(1).nativeId(), "W-9"));
    assertThat(rows("select staff_no from users where login = 'stray'")).containsExactly("W-9");
    assertThat(connector.deleteStray(seen.get(1).nativeId()))
        .as("it is somebody's now")
        .isInstanceOf(Outcome.Refused.class);
    assertThat(connector.claim(seen.getFirst().nativeId(), "W-9"))
        .isInstanceOf(Outcome.Refused.class);
    confirmed(connector.deleteStray(seen.get(2).nativeId()));
    assertThat(connector.deleteStray(seen.get(2).nativeId())).isInstanceOf(Outcome.Gone.class);
  }
}
