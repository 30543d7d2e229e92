-- State, name, container and attributes are as they will be once the queue is done; seen_state is what was confirmed.
create table account (
  id bigint not null primary key,
  person_id bigint not null,
  application varchar(64) not null,
  base_name varchar(200) not null,
  number int not null,
  name varchar(210) not null,
  container varchar(400) not null,
  attributes json not null,
  state varchar(12) not null,
  seen_state varchar(12) not null default 'none',
  native_id varchar(200) not null default '',
  held_since datetime(6) null,
  next_sequence int not null without system versioning,
  unique key account_person (person_id, application),
  unique key account_name (application, name),
  key account_base (application, base_name, number)
) engine = innodb default charset = utf8mb4 collate = utf8mb4_bin with system versioning;

-- wanted: as it will be once the queue is done; held: as it was confirmed.
create table holding (
  account_id bigint not null,
  entitlement varchar(130) not null,
  wanted boolean not null,
  held boolean not null default false,
  held_since datetime(6) null,
  primary key (account_id, entitlement),
  key holding_entitlement (entitlement, held)
) engine = innodb default charset = utf8mb4 collate = utf8mb4_bin with system versioning;

create table operation (
  id bigint not null primary key,
  account_id bigint not null,
  person_id bigint not null,
  application varchar(64) not null,
  event_id bigint null,
  cause varchar(80) not null,
  sequence int not null,
  kind varchar(16) not null,
  opens_lane boolean not null,
  payload json not null,
  state varchar(12) not null,
  attempts int not null default 0,
  not_before datetime(6) not null,
  reason varchar(1000) not null default '',
  created_at datetime(6) not null,
  sent_at datetime(6) null,
  settled_at datetime(6) null,
  settled_by varchar(64) not null default '',
  unique key operation_lane (account_id, sequence),
  key operation_state (state, application, id),
  key operation_event (event_id, state),
  key operation_person (person_id)
) engine = innodb default charset = utf8mb4 collate = utf8mb4_bin;

-- One row an account that has, or had, something to do: what workers take, in order of due_at, with a lease.
create table lane (
  account_id bigint not null primary key,
  application varchar(64) not null,
  due_at datetime(6) null,
  leased_by varchar(64) null,
  leased_until datetime(6) null,
  key lane_due (application, due_at)
) engine = innodb default charset = utf8mb4 collate = utf8mb4_bin;

create table application_health (
  application varchar(64) not null primary key,
  state varchar(12) not null,
  sentence varchar(1000) not null,
  since datetime(6) not null
) engine = innodb default charset = utf8mb4 collate = utf8mb4_bin;
