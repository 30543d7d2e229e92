-- What people ask for in one go.
create table request (
  id bigint not null primary key,
  asked_by varchar(64) not null,
  -- the person who asks; null where that is none
  asker_id bigint null,
  asked_at datetime(6) not null,
  -- the same ask sent twice is one
  once_key varchar(100) null,
  unique key request_once (once_key),
  key request_asker (asker_id, id)
) engine = innodb default charset = utf8mb4 collate = utf8mb4_bin;

create table request_line (
  id bigint not null primary key,
  request_id bigint not null,
  kind varchar(10) not null,
  person_id bigint not null,
  offer varchar(64) not null,
  package_key varchar(130) not null,
  route varchar(64) not null,
  reason varchar(1000) not null,
  -- by question, and the entitlements they select
  answers text not null,
  selected text not null,
  -- as it was asked for
  start_day date null,
  last_day date null,
  term varchar(40) not null,
  -- the conflict rules that it would break, as last looked; and on what terms that was allowed
  conflicts text not null,
  exempt_control varchar(1000) not null default '',
  exempt_until datetime(6) null,
  exempt_by varchar(64) not null default '',
  -- the grant it extends
  about_grant bigint null,
  -- open, or how it ended
  state varchar(12) not null,
  ended_at datetime(6) null,
  end_reason varchar(1000) not null,
  -- when its clock has something to do
  due_at datetime(6) null,
  -- what was so when it was last asked who decides
  manager_key varchar(64) not null,
  catalogue bigint not null,
  looked_at datetime(6) not null,
  revision int not null default 1,
  -- as long as it is open: for one person and package there is one of a kind
  open_key varchar(220) null,
  unique key request_line_open (open_key),
  key request_line_request (request_id),
  key request_line_person (person_id, id),
  key request_line_due (state, due_at),
  key request_line_looked (state, looked_at),
  key request_line_offer (offer, state, id)
) engine = innodb default charset = utf8mb4 collate = utf8mb4_bin;

create table request_stage (
  line_id bigint not null,
  number int not null,
  -- the stage as its route said it when it was asked for
  said text not null,
  -- ahead, open, held, or how it was settled
  state varchar(10) not null,
  opened_at datetime(6) null,
  -- from when its clock counts: again from when it went on to others
  since datetime(6) null,
  stood_seconds bigint not null default 0,
  nudged int not null default 0,
  standby_joined boolean not null default false,
  went_on boolean not null default false,
  held_by bigint null,
  held_at datetime(6) null,
  held_until datetime(6) null,
  settled_at datetime(6) null,
  settled_by bigint null,
  -- who in truth, where it was in another's place
  settled_login varchar(64) not null default '',
  reason varchar(1000) not null default '',
  primary key (line_id, number)
) engine = innodb default charset = utf8mb4 collate = utf8mb4_bin;

create table request_approver (
  line_id bigint not null,
  stage int not null,
  -- who is meant, and who acts
  named_id bigint not null,
  person_id bigint not null,
  came_as varchar(10) not null,
  agreed boolean not null,
  -- whether it waits for them
  waits boolean not null,
  primary key (line_id, stage, named_id),
  key request_approver_person (person_id, waits, line_id),
  key request_approver_waits (waits, named_id)
) engine = innodb default charset = utf8mb4 collate = utf8mb4_bin;

-- What was said and done about a line, in order.
create table request_note (
  id bigint not null primary key,
  request_id bigint not null,
  line_id bigint null,
  stage int null,
  at datetime(6) not null,
  by_login varchar(64) not null,
  -- in whose place; null for in one's own
  for_person bigint null,
  what varchar(16) not null,
  text varchar(2000) not null,
  key request_note_request (request_id, id)
) engine = innodb default charset = utf8mb4 collate = utf8mb4_bin;

-- Of which grants it was told that they end soon, and when they were to end then.
create table grant_notice (
  grant_id bigint not null primary key,
  ends_at datetime(6) not null,
  told_at datetime(6) not null
) engine = innodb default charset = utf8mb4 collate = utf8mb4_bin;

-- What leads an approver from a letter or a chat to one decision: good once, for one person and line.
create table decision_key (
  key_hash binary(32) not null primary key,
  line_id bigint not null,
  person_id bigint not null,
  made_at datetime(6) not null,
  expires_at datetime(6) not null,
  used_at datetime(6) null,
  key decision_key_line (line_id)
) engine = innodb default charset = utf8mb4 collate = utf8mb4_bin;

-- A conflict that is allowed, for a reason, with a control in its place, until a moment.
create table exemption (
  id bigint not null primary key,
  person_id bigint not null,
  rule_key varchar(64) not null,
  reason varchar(1000) not null,
  control varchar(1000) not null,
  given_by varchar(64) not null,
  given_at datetime(6) not null,
  until_at datetime(6) not null,
  line_id bigint null,
  ended_at datetime(6) null,
  key exemption_person (person_id, rule_key),
  key exemption_rule (rule_key, until_at)
) engine = innodb default charset = utf8mb4 collate = utf8mb4_bin;

-- Who acts for somebody between two days.
create table away_period (
  id bigint not null primary key,
  person_id bigint not null,
  deputy_id bigint not null,
  from_day date not null,
  until_day date not null,
  made_by varchar(64) not null,
  made_at datetime(6) not null,
  ended_at datetime(6) null,
  key away_period_person (person_id, ended_at)
) engine = innodb default charset = utf8mb4 collate = utf8mb4_bin;

set @@session.system_versioning_alter_history = keep;
alter table access_grant
  add key access_grant_ends (basis, ends_at);
