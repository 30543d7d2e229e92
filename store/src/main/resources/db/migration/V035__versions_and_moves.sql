set @@session.system_versioning_alter_history = keep;

-- Why a definition was loaded as it stands.
alter table definition
  add column why varchar(1000) not null default '';

-- Moves after which something is asked for anew: once each.
alter table event
  add column asked_anew_at datetime(6) null,
  add key event_asked_anew (kind, asked_anew_at, id);
update event set asked_anew_at = detected_at where kind = 'mover';

-- Of which turns of a grant channels were told: once each. A fault that concerns no grant has grant 0.
create table grant_told (
  grant_id bigint not null,
  what varchar(10) not null,
  -- the operation that failed; 0 for what is no fault
  operation_id bigint not null,
  told_at datetime(6) not null,
  primary key (grant_id, what, operation_id),
  key grant_told_operation (operation_id)
) engine = innodb default charset = utf8mb4 collate = utf8mb4_bin;

alter table access_grant
  add key access_grant_starts (basis, starts_at);
