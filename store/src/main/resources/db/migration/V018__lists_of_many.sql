-- Lists are served by their indexes to the last page, whoever asks: names in full, whom somebody reports to, and the dates that come.
set @@session.system_versioning_alter_history = keep;

alter table person
  add column manager_key varchar(64) as (left(lower(json_value(facts, '$.manager')), 64)) stored,
  drop key person_name,
  add key person_name (search_name, id),
  add key person_manager (manager_key),
  add key person_starts (starts_on),
  add key person_ends (ends_on),
  add key person_leave_from (leave_from),
  add key person_leave_to (leave_to);

alter table ledger_entry
  add key ledger_actor (actor, happened_at, id),
  add key ledger_what (what, happened_at, id);
