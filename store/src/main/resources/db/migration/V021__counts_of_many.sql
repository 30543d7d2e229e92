-- What is counted for each application is counted in indexes: accounts by their state, and what was settled since midnight.
set @@session.system_versioning_alter_history = keep;

alter table account
  add key account_seen (application, seen_state);

alter table operation
  add key operation_settled (state, settled_at, application);
