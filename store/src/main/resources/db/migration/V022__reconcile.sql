-- One comparison of an application with what is expected of it.
create table reconcile (
  id bigint not null primary key,
  application varchar(64) not null,
  state varchar(12) not null,
  asked_by varchar(64) not null,
  work_id bigint not null,
  started_at datetime(6) not null,
  ended_at datetime(6) null,
  accounts int not null default 0,
  memberships int not null default 0,
  passed_over int not null default 0,
  drifts int not null default 0,
  sentence varchar(1000) not null default '',
  unique key reconcile_work (work_id),
  key reconcile_application (application, id),
  key reconcile_state (state, application)
) engine = innodb default charset = utf8mb4 collate = utf8mb4_bin;

-- What an application listed, kept until the next time. The reference, a digest, is what memberships call an account.
create table found_account (
  reconcile_id bigint not null,
  line int not null,
  reference char(32) character set ascii collate ascii_bin not null,
  native_id text not null,
  native_key binary(32) as (unhex(sha2(native_id, 256))) stored,
  name varchar(400) not null,
  container varchar(400) not null,
  worker varchar(64) not null,
  enabled boolean not null,
  attributes longtext not null,
  account_id bigint null,
  primary key (reconcile_id, line),
  key found_reference (reconcile_id, reference),
  key found_native (reconcile_id, native_key),
  key found_worker (reconcile_id, worker),
  key found_of (reconcile_id, account_id)
) engine = innodb default charset = utf8mb4 collate = utf8mb4_bin;

create table found_holding (
  reconcile_id bigint not null,
  reference char(32) character set ascii collate ascii_bin not null,
  entitlement varchar(130) not null,
  key found_holding_of (reconcile_id, reference, entitlement)
) engine = innodb default charset = utf8mb4 collate = utf8mb4_bin;

-- Rights that an application has and no definition names.
create table found_right (
  application varchar(64) not null,
  kind varchar(16) not null,
  technical_name varchar(200) not null,
  holders int not null,
  reconcile_id bigint not null,
  primary key (application, kind, technical_name)
) engine = innodb default charset = utf8mb4 collate = utf8mb4_bin;

-- What people and accounts that are nobody's are joined by, while a comparison goes on.
create table found_join (
  reconcile_id bigint not null,
  value varchar(400) not null,
  person_id bigint null,
  drift_id bigint null,
  key found_join_value (reconcile_id, value)
) engine = innodb default charset = utf8mb4 collate = utf8mb4_bin;

-- A difference. An open one is there once for each side of an account; the subject is an account of ours, or one that is nobody's.
create table drift (
  id bigint not null primary key,
  application varchar(64) not null,
  kind varchar(24) not null,
  state varchar(12) not null,
  response varchar(12) not null,
  subject varchar(80) not null,
  account_id bigint null,
  person_id bigint null,
  native_id text not null,
  account_name varchar(400) not null,
  aspect varchar(150) not null,
  expected longtext not null,
  found longtext not null,
  first_seen_at datetime(6) not null,
  last_seen_at datetime(6) not null,
  seen_in bigint not null,
  outcome varchar(16) not null default '',
  settled_at datetime(6) null,
  settled_by varchar(64) not null default '',
  reason varchar(1000) not null default '',
  open_key binary(32) as (if(state = 'open', unhex(sha2(concat(application, '|', subject, '|', aspect), 256)), null)) stored,
  unique key drift_open (open_key),
  key drift_application (application, state, kind, id),
  key drift_state (state, id),
  key drift_person (person_id, state),
  key drift_account (account_id, state)
) engine = innodb default charset = utf8mb4 collate = utf8mb4_bin;

-- An account that is nobody's, for a purpose that somebody answers for, until a day.
create table service_account (
  id bigint not null primary key,
  application varchar(64) not null,
  native_id text not null,
  native_key binary(32) as (unhex(sha2(native_id, 256))) stored,
  name varchar(400) not null,
  purpose varchar(1000) not null,
  owner_id bigint not null,
  until_day date not null,
  declared_by varchar(64) not null,
  declared_at datetime(6) not null,
  ended_at datetime(6) null,
  key service_account_native (application, native_key),
  key service_account_owner (owner_id, ended_at)
) engine = innodb default charset = utf8mb4 collate = utf8mb4_bin;

-- When something is due next that a definition gives a schedule to.
create table schedule_due (
  owner varchar(32) not null,
  name varchar(64) not null,
  schedule varchar(200) not null,
  due_at datetime(6) not null,
  primary key (owner, name)
) engine = innodb default charset = utf8mb4 collate = utf8mb4_bin;
