package glenmoor.store.erasure;

import java.util.List;
import java.util.Map;

/**
 * Where something stands that says who a person is, and what is left there of it. Identities, keys
 * of definitions, days and states stay: with them what happened can be told, and not to whom.
 *
 * @param table its name
 * @param set what its columns become, as SQL; empty where the rows go
 * @param where which rows are theirs, as SQL over {@code #{id}}, {@code #{worker}} and {@code
 *     #{now}}
 */
public record PersonalText(String table, String set, String where) {
  private static final String THEIRS = "person_id = #{id}";
  private static final String OF_RUNS =
      "run_id in (select r.id from playbook_run r where r.person_id = #{id})";
  private static final String OF_LINES =
      "line_id in (select l.id from request_line l where l.person_id = #{id})";
  private static final String OF_ACCOUNTS =
      "account_id in (select a.id from account a where a.person_id = #{id})";

  /** In this order: what refers to a row goes before it. */
  public static final List<PersonalText> ALL =
      List.of(
          new PersonalText("event", "changes = '[]'", THEIRS),
          new PersonalText("feed_reject", "", "worker = #{worker}"),
          new PersonalText("trouble", "", THEIRS),
          new PersonalText("operation", "payload = '{}', reason = ''", THEIRS),
          new PersonalText("deviation", "reason = '', end_reason = ''", THEIRS),
          new PersonalText(
              "drift",
              "native_id = '', account_name = '', expected = '', found = '', reason = ''",
              THEIRS),
          new PersonalText(
              "message",
              "address = '', subject = '', body = '', html = '', sealed = '', reason = '', answer = ''",
              "(person_id = #{id} or recipient_id = #{id})"),
          new PersonalText("playbook_step", "what = ''", OF_RUNS),
          new PersonalText("playbook_run", "reason = ''", THEIRS),
          new PersonalText(
              "question_stage",
              "reason = ''",
              "line_id in (select a.id from ask a where a.person_id = #{id})"),
          new PersonalText("ask", "question = '', reason = ''", THEIRS),
          new PersonalText("cut_off", "reason = '', end_reason = ''", THEIRS),
          new PersonalText("revocation", "reason = '', release_reason = ''", THEIRS),
          // Why a rule no longer gives something is said in words of ours; the rest was typed in.
          new PersonalText(
              "access_grant", "end_reason = ''", THEIRS + " and basis != 'birthright'"),
          new PersonalText("exemption", "reason = '', control = ''", THEIRS),
          new PersonalText("request_note", "text = ''", OF_LINES),
          new PersonalText("request_stage", "reason = ''", OF_LINES),
          new PersonalText(
              "request_line",
              "reason = '', answers = '{}', exempt_control = '', end_reason = ''",
              THEIRS),
          new PersonalText(
              "campaign_remark",
              "text = ''",
              "item_id in (select i.id from campaign_item i where i.person_id = #{id})"),
          new PersonalText(
              "campaign_item",
              "sort_name = #{worker}, account = '', reason = '', note = ''",
              THEIRS),
          new PersonalText("partner_ask", "mail = '', said = '{}'", "worker_number = #{worker}"),
          new PersonalText(
              "pushed_person",
              "user_name = id, user_key = id, external_id = '', resource = '{}', deleted_at = coalesce(deleted_at, #{now}), alive = null",
              "worker_key = lower(#{worker})"),
          new PersonalText("told_use", "", "worker = #{worker}"),
          new PersonalText("account_name", "freed_at = coalesce(freed_at, #{now})", OF_ACCOUNTS),
          new PersonalText("access_use", "", OF_ACCOUNTS),
          new PersonalText("holding", "", OF_ACCOUNTS),
          new PersonalText("lane", "", OF_ACCOUNTS),
          new PersonalText("account", "", THEIRS));

  /** Tables with rows of people in which nothing says who they are, and why. */
  public static final Map<String, String> NOTHING_PERSONAL =
      Map.ofEntries(
          Map.entry("account_order", "what a playbook ordered"),
          Map.entry("reapproval", "which package, and when"),
          Map.entry("campaign_assign", "empty but while a round is launched"),
          Map.entry("campaign_person", "empty but while a round is launched"),
          Map.entry("campaign_reviewer", "who judged, as an identity"),
          Map.entry("campaign_round", "whom it is about, as an identity"),
          Map.entry("conflict", "which rule, and when"),
          Map.entry("conflict_found", "which rule"),
          Map.entry("decision_key", "a hash, and when it ends"),
          Map.entry("erasure", "the terms, until the past is forgotten"),
          Map.entry("away_period", "days"),
          Map.entry("feed_staged", "empty but while a feed is written"),
          Map.entry("found_account", "what applications have; who is erased has no account there"),
          Map.entry("found_join", "empty but while an application is reconciled"),
          Map.entry("login", "given another name by the mapper"),
          Map.entry("newcomer", "days"),
          Map.entry("person", "erased by the mapper"),
          Map.entry("question_approver", "who was asked, as an identity"),
          Map.entry("request_approver", "who was asked, as an identity"));
}
