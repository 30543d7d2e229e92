-- Worker numbers are compared without regard to case; the key is what is compared. It is computed at first, so that the record through time has it too, and kept from then on.
set @@session.system_versioning_alter_history = keep;

alter table person
  add column worker_key varchar(64) as (lower(worker_number)) stored after worker_number;

alter table person
  modify column worker_key varchar(64) not null,
  drop key person_worker,
  add unique key person_worker (worker_key);

-- One feed of a source is taken at a time: this is the source while it is read, and null afterwards.
alter table feed
  add column reading_source varchar(64) null,
  add column held_change bigint not null default 0,
  add unique key feed_reading (reading_source);

alter table feed_staged
  add column source varchar(64) not null default '';

-- The same feed can mean the same thing for a person only once: where several services read it at once, the first event counts.
delete later
from event later
join event earlier on earlier.person_id = later.person_id and earlier.feed_id = later.feed_id and earlier.kind = later.kind and earlier.id < later.id;

alter table event
  add unique key event_once (person_id, feed_id, kind);

-- A change that waits for somebody else to release it, and what it brings, in parts.
create table held_change (
  id bigint not null primary key,
  kind varchar(20) not null,
  what varchar(300) not null,
  state varchar(12) not null,
  sentence varchar(2000) not null,
  measured json not null,
  forecast longtext not null,
  details json not null,
  brought_by varchar(64) not null,
  brought_at datetime(6) not null,
  decided_by varchar(64) not null default '',
  decided_at datetime(6) null,
  note varchar(1000) not null default '',
  work_id bigint not null default 0,
  released_at datetime(6) null,
  key held_change_state (state, id)
) engine = innodb default charset = utf8mb4 collate = utf8mb4_bin;

create table held_part (
  change_id bigint not null,
  number int not null,
  bytes longblob not null,
  primary key (change_id, number)
) engine = innodb default charset = utf8mb4 collate = utf8mb4_bin;
